import type { ReactNode } from "react";
import type { Station, StationView } from "../api/client";
import { Jack } from "./jack";

interface Props {
  station: Station;
  view: StationView | null;
  travel: number;
  onTravel: (travel: number) => void;
  busy: boolean;
  children: ReactNode;
}

/** Any sheet that is judged by where the wheel stands: the Jack at its edge, the sheet beside it. */
export function BesideJack({ station, view, travel, onTravel, busy, children }: Props) {
  return (
    <div
      aria-busy={busy}
      className="grid min-h-0 flex-1 print:block grid-cols-[150px_minmax(0,1fr)] lg:grid-rows-[minmax(0,1fr)] max-lg:grid-cols-[140px_minmax(0,1fr)] max-lg:content-start max-sm:grid-cols-[64px_minmax(0,1fr)]"
    >
      <div className="no-print min-h-0 max-lg:sticky max-lg:top-0 max-lg:h-[calc(100vh-8rem)] max-lg:self-start">
        {view ? (
          <Jack
            view={view}
            bump={station.travel.bump}
            droop={station.travel.droop}
            travel={travel}
            onTravel={onTravel}
          />
        ) : (
          <div className="h-full bg-steel" />
        )}
      </div>
      <div className="min-h-0 min-w-0 overflow-y-auto max-lg:overflow-visible">{children}</div>
    </div>
  );
}

/** The Jack's travel, kept within what the linkage reaches. */
export function reachable(view: StationView | null, travel: number): number {
  const reached = view ? view.travels.filter((_, row) => view.reached[row]) : [];
  return Math.min(reached.at(-1) ?? 0, Math.max(reached[0] ?? 0, travel));
}

/** What a sheet says while nothing is solved. */
export function Unsolved({ message }: { message: string | undefined }) {
  return (
    <p className="p-6 text-soft">{message ? `${message} Put it right on the Layout sheet.` : "Solving …"}</p>
  );
}
