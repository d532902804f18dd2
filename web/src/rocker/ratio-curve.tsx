import { max, min } from "d3-array";
import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import { useState } from "react";
import { ends, useUnits } from "../quantity/units";
import { useSize } from "../views/use-size";
import type { Pull, Run } from "./targets";

interface Props {
  now: Run;
  /** The previous rocker's, or a found one's that is tried. */
  ghost: Run | null;
  /** The ratio asked for through the travel; null where another target is. */
  target: Run | null;
  travel: number;
  ride: number | null;
  onTravel: (travel: number) => void;
  /** Where the ratio asked for is taken hold of. */
  pulls: Pull[];
  onPull: (name: Pull["name"], ratio: number) => void;
}

const NUDGE = 0.005;

/** Motion ratio over travel, with what is asked of it and what it was before. */
export function RatioCurve({ now, ghost, target, travel, ride, onTravel, pulls, onPull }: Props) {
  const [ref, size] = useSize<HTMLDivElement>();
  const { marks, quantity } = useUnits();
  const runs = [now, ghost, target].filter((run) => run !== null);
  const values = runs.flatMap((run) => run.ratio.filter((value) => value !== null));
  // While the target is pulled the paper stays put.
  const [held, setHeld] = useState<[number, number] | null>(null);
  const [low, high] = held ?? [min(values) ?? 0, max(values) ?? 1];
  const pad = Math.max((high - low) * 0.15, 0.01);
  const x = scaleLinear([now.travels[0] ?? -1, now.travels.at(-1) ?? 1], [54, Math.max(size.width - 16, 55)]);
  const y = scaleLinear([low - pad, high + pad], [Math.max(size.height - 30, 1), 24]);
  const draw = (run: Run) =>
    line<number>(
      (k) => x(run.travels[k] ?? 0),
      (k) => y(run.ratio[k] ?? 0),
    ).defined((k) => run.ratio[k] !== null)(run.travels.map((_, k) => k)) ?? "";
  return (
    <div ref={ref} className="relative h-full min-h-40 border-t border-rule bg-card">
      {size.width > 0 && (
        // biome-ignore lint/a11y/useKeyWithClickEvents: the Jack is worked by keyboard; this is a shortcut to it
        <svg
          role="img"
          aria-label="Motion ratio over wheel travel, damper ÷ wheel"
          width={size.width}
          height={size.height}
          className="absolute inset-0 cursor-pointer text-ink"
          fill="currentColor"
          onClick={(event) => {
            const box = event.currentTarget.getBoundingClientRect();
            onTravel(Math.round(x.invert(event.clientX - box.left)));
          }}
        >
          <text x={10} y={16} fontSize={13} fontWeight={600}>
            Motion ratio, damper ÷ wheel
          </text>
          {marks(...ends(y), 4, "ratio").map((tick) => (
            <g key={tick.value}>
              <path d={`M54 ${y(tick.value)}H${size.width - 16}`} stroke="var(--color-rule)" />
              <text x={48} y={y(tick.value) + 4} fontSize={12} textAnchor="end">
                {tick.words}
              </text>
            </g>
          ))}
          {marks(...ends(x), 7, "travel").map((tick) => (
            <text key={tick.value} x={x(tick.value)} y={size.height - 10} fontSize={12} textAnchor="middle">
              {tick.words}
            </text>
          ))}
          {ride !== null && (
            <path d={`M${x(ride)} 24V${size.height - 30}`} stroke="var(--color-good)" strokeDasharray="4 4" />
          )}
          <path d={`M${x(travel)} 24V${size.height - 30}`} stroke="currentColor" />
          {target && (
            <path
              d={draw(target)}
              fill="none"
              stroke="var(--color-warning)"
              strokeWidth={2}
              strokeDasharray="7 5"
              data-testid="target-line"
            />
          )}
          {ghost && (
            <path
              d={draw(ghost)}
              fill="none"
              stroke="currentColor"
              strokeOpacity={0.4}
              strokeWidth={2}
              strokeDasharray="3 4"
            />
          )}
          <path d={draw(now)} fill="none" stroke="var(--color-link)" strokeWidth={2.8} />
        </svg>
      )}
      {size.width > 0 &&
        pulls.map((pull) => (
          <div
            key={pull.name}
            role="slider"
            tabIndex={0}
            aria-label={pull.words}
            aria-orientation="vertical"
            aria-valuenow={pull.ratio}
            aria-valuetext={quantity(pull.ratio, "ratio", 3)}
            title={`${pull.words}: pull it`}
            data-testid={`pull-${pull.name}`}
            className="absolute grid size-11 cursor-ns-resize touch-none place-items-center"
            style={{ left: x(pull.travel) - 22, top: y(pull.ratio) - 22 }}
            onPointerDown={(event) => {
              event.currentTarget.setPointerCapture(event.pointerId);
              setHeld([low, high]);
            }}
            onPointerMove={(event) => {
              const box = event.currentTarget.offsetParent?.getBoundingClientRect();
              if (held && box) onPull(pull.name, y.invert(event.clientY - box.top));
            }}
            onPointerUp={() => setHeld(null)}
            onPointerCancel={() => setHeld(null)}
            onKeyDown={(event) => {
              const step = { ArrowUp: NUDGE, ArrowDown: -NUDGE }[event.key];
              if (!step) return;
              event.preventDefault();
              onPull(pull.name, pull.ratio + step);
            }}
          >
            <span className="size-3.5 rounded-full border-2 border-card bg-warning" />
          </div>
        ))}
    </div>
  );
}
