import type { ReactNode } from "react";

/** The shop's door: a scribed rocker beside what is asked of whoever comes in. */
export function DoorFrame({ children }: { children: ReactNode }) {
  return (
    <main className="grid min-h-full lg:grid-cols-[1fr_30rem]">
      <div className="relative hidden overflow-hidden bg-press lg:block">
        <DoorDrawing />
      </div>
      <div className="flex flex-col justify-center gap-6 p-8">
        <div>
          <h1 className="text-4xl">Jugatrix</h1>
          <p className="mt-2 text-lg text-soft">
            Where the mounts go, what they do, and what stops the wheel.
          </p>
        </div>
        {children}
        <a href="/licences.txt" className="text-sm text-soft underline">
          Licences of what ships with Jugatrix
        </a>
      </div>
    </main>
  );
}

const GRID = Array.from({ length: 17 }, (_, k) => `M${k * 50} 0V800M0 ${k * 50}H600`).join("");
const TURNS = Array.from({ length: 9 }, (_, k) => `M${196 - k * 15} ${263 + k * 14}l22 26`).join("");

/** A scribed rocker: two arcs from one pivot, a rod and a damper square to their arms. */
function DoorDrawing() {
  return (
    <svg
      aria-hidden
      viewBox="0 0 600 800"
      className="absolute inset-0 h-full w-full"
      preserveAspectRatio="xMidYMid slice"
    >
      <g stroke="var(--color-scribe)" fill="none">
        <g opacity=".12">
          <path d={GRID} />
        </g>
        <g opacity=".55" strokeDasharray="2 7">
          <circle cx="300" cy="330" r="150" />
          <circle cx="300" cy="330" r="105" />
        </g>
        <path d="M300 330 413 231M300 330 225 257" strokeWidth="3" />
        <path d="M413 231 560 560" strokeWidth="5" />
        <path d="M225 257 60 412" strokeWidth="5" />
        <path d="M300 330 413 231 225 257Z" fill="var(--color-scribe)" fillOpacity=".12" />
        <g strokeWidth="2.5">
          <path d={TURNS} />
        </g>
        <g fill="var(--color-press)" strokeWidth="3">
          <circle cx="413" cy="231" r="9" />
          <circle cx="225" cy="257" r="9" />
          <circle cx="560" cy="560" r="9" />
          <rect x="289" y="319" width="22" height="22" />
          <path d="M289 341 311 319" />
        </g>
        <circle cx="413" cy="231" r="17" stroke="var(--color-marker)" strokeWidth="4" />
      </g>
    </svg>
  );
}
