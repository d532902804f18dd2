import { extent } from "d3-array";
import { scaleLinear } from "d3-scale";
import { useState } from "react";
import { ends, useUnits } from "../quantity/units";
import { useSize } from "../views/use-size";
import type { Candidate } from "./search";
import { TRAITS, traitOf } from "./traits";

interface Props {
  found: Candidate[];
  onPick: (candidate: Candidate) => void;
}

const NEAR = 22;
const SHOWN = 300;

/** Every rocker found by two traits: good ones solid, those that give something up hollow. Pick one to prove it. */
export function Scatter({ found, onPick }: Props) {
  const [ref, size] = useSize<HTMLDivElement>();
  const { marks } = useUnits();
  const [across, setAcross] = useState("size");
  const [up, setUp] = useState("rod_swing");
  const [at, setAt] = useState(0);
  const shown = found
    .slice(0, SHOWN)
    .filter((one) => one.traits[across] !== undefined && one.traits[up] !== undefined);
  const [tx, ty] = [traitOf(across), traitOf(up)];
  if (!tx || !ty || shown.length < 2) return null;
  const grown = (values: number[]): [number, number] => {
    const [low = 0, high = 1] = extent(values);
    const pad = Math.max((high - low) * 0.06, 1e-4);
    return [low - pad, high + pad];
  };
  const x = scaleLinear(grown(shown.map((one) => one.traits[across] ?? 0)), [
    48,
    Math.max(size.width - 12, 49),
  ]);
  const y = scaleLinear(grown(shown.map((one) => one.traits[up] ?? 0)), [Math.max(size.height - 28, 1), 12]);
  const spots = shown.map((one) => [x(one.traits[across] ?? 0), y(one.traits[up] ?? 0)] as const);
  const chosen = Math.min(at, shown.length - 1);
  const select = (label: string, value: string, set: (key: string) => void) => (
    <select
      aria-label={label}
      className="entry min-w-0 flex-1"
      value={value}
      onChange={(event) => set(event.target.value)}
    >
      {TRAITS.map((trait) => (
        <option key={trait.key} value={trait.key}>
          {trait.name}
        </option>
      ))}
    </select>
  );
  return (
    <section aria-label="All that were found" className="flex h-full flex-col px-2">
      <h3 className="truncate pt-1 text-sm">
        <span className="text-base font-semibold">All that were found.</span> Solid: meets its targets.
      </h3>
      <div className="flex gap-2 py-1">
        {select("Upward", up, setUp)}
        {select("Across", across, setAcross)}
      </div>
      <div
        ref={ref}
        role="group"
        aria-roledescription="chart"
        aria-label={`Rockers found, ${ty.name} against ${tx.name}. Arrow keys go through them, Enter tries the one in hand.`}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it is worked by keyboard
        tabIndex={0}
        className="relative min-h-0 flex-1 bg-dye"
        data-testid="scatter"
        onKeyDown={(event) => {
          const step = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
          const one = shown[chosen];
          if (step) setAt((chosen + step + shown.length) % shown.length);
          else if (event.key === "Enter" && one) onPick(one);
          else return;
          event.preventDefault();
        }}
        onClick={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          const [u, v] = [event.clientX - box.left, event.clientY - box.top];
          const away = spots.map(([a, b]) => Math.hypot(a - u, b - v));
          const near = away.indexOf(Math.min(...away));
          const one = shown[near];
          if (one && (away[near] ?? NEAR) < NEAR) {
            setAt(near);
            onPick(one);
          }
        }}
      >
        {size.width > 0 && (
          <svg
            aria-hidden
            width={size.width}
            height={size.height}
            className="absolute inset-0 text-scribe"
            fill="var(--color-scribe)"
          >
            {marks(...ends(y), 4, ty.dimension).map((tick) => (
              <g key={tick.value}>
                <path
                  d={`M48 ${y(tick.value)}H${size.width - 12}`}
                  stroke="var(--color-scribe)"
                  opacity={0.16}
                />
                <text x={43} y={y(tick.value) + 4} fontSize={12} textAnchor="end">
                  {tick.words}
                </text>
              </g>
            ))}
            {marks(...ends(x), 5, tx.dimension).map((tick) => (
              <text key={tick.value} x={x(tick.value)} y={size.height - 9} fontSize={12} textAnchor="middle">
                {tick.words}
              </text>
            ))}
            {spots.map(([u, v], k) => {
              const good = (shown[k]?.score ?? 99) < 4;
              return (
                <circle
                  key={shown[k]?.numbers.join() ?? k}
                  cx={u}
                  cy={v}
                  r={k === chosen ? 7 : 4}
                  fill={k === chosen ? "var(--color-marker)" : good ? "var(--color-ride)" : "none"}
                  stroke={k === chosen ? "var(--color-jet)" : "var(--color-ride)"}
                  strokeOpacity={0.8}
                />
              );
            })}
          </svg>
        )}
      </div>
    </section>
  );
}
