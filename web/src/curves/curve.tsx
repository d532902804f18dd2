import { extent } from "d3-array";
import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import { useMemo } from "react";
import { useSize } from "../views/use-size";

interface Props {
  name: string;
  /** Said beside the name: which way round, or which unit. */
  unit: string;
  /** The number at the Jack, already formatted. */
  shown: string;
  travels: number[];
  values: (number | null)[];
  travel: number;
  at: number | null;
  bump: number;
  droop: number;
  ride: number | null;
  format: (value: number) => string;
  onTravel: (travel: number) => void;
}

const LOW = 14;
const HIGH = 8;

/** One quantity against wheel travel; the cursor follows the Jack, and a press moves it. */
export function Curve(props: Props) {
  const { name, unit, shown, travels, values, travel, at, bump, droop, ride, format, onTravel } = props;
  const [ref, size] = useSize<HTMLDivElement>();
  const rows = useMemo(
    () =>
      travels
        .map((z, k) => [z, values[k]] as const)
        .filter(([z, value]) => value != null && z >= -droop - 1e-6 && z <= bump + 1e-6) as [
        number,
        number,
      ][],
    [travels, values, droop, bump],
  );
  const [least = 0, most = 1] = extent(rows, ([, value]) => value);
  // A flat line is drawn flat, not blown up to its own rounding.
  const spare = Math.max((most - least) * 0.12, Math.abs(most) * 0.01, 1e-6);
  const x = scaleLinear([-droop, bump], [6, Math.max(size.width - 6, 7)]);
  const y = scaleLinear([least - spare, most + spare], [Math.max(size.height - LOW, 1), HIGH]);
  const draw = line<[number, number]>(
    ([z]) => x(z),
    ([, value]) => y(value),
  );
  const inside = travel >= -droop - 1e-6 && travel <= bump + 1e-6;
  return (
    <figure className="flex min-h-0 min-w-0 flex-col bg-paper px-3 pb-2 pt-2">
      <figcaption className="flex items-baseline justify-between gap-2">
        <span className="min-w-0 leading-tight">
          <span className="block font-semibold">{name}</span>
          <span className="block text-sm text-soft">{unit}</span>
        </span>
        <span className="whitespace-nowrap text-xl font-bold" data-testid={`curve-${name}`}>
          {shown}
        </span>
      </figcaption>
      <div ref={ref} className="relative min-h-16 flex-1">
        {size.width > 0 && rows.length > 0 && (
          <svg
            aria-hidden
            width={size.width}
            height={size.height}
            className="absolute inset-0"
            onPointerDown={(event) => {
              const box = event.currentTarget.getBoundingClientRect();
              onTravel(Math.round(x.invert(event.clientX - box.left)));
            }}
          >
            <path d={`M6 ${size.height - LOW}H${size.width - 6}`} stroke="var(--color-rule)" />
            {ride !== null && (
              <path
                d={`M${x(ride)} ${HIGH}V${size.height - LOW}`}
                stroke="var(--color-edge)"
                strokeDasharray="3 4"
              />
            )}
            <path d={draw(rows) ?? ""} fill="none" stroke="var(--color-link)" strokeWidth={2.4} />
            {inside && (
              <path d={`M${x(travel)} 2V${size.height - LOW}`} stroke="var(--color-ink)" strokeWidth={1.6} />
            )}
            {inside && at !== null && (
              <circle
                cx={x(travel)}
                cy={y(at)}
                r={6}
                fill="var(--color-marker)"
                stroke="var(--color-jet)"
                strokeWidth={1.6}
              />
            )}
            <text x={6} y={size.height - 2} fontSize={11.5} fill="var(--color-soft)">
              {(rows[0]?.[0] ?? -droop) > -droop + 0.5 ? "last" : "droop"}{" "}
              <tspan fill="var(--color-ink)">{format(rows[0]?.[1] ?? 0)}</tspan>
            </text>
            <text
              x={size.width - 6}
              y={size.height - 2}
              textAnchor="end"
              fontSize={11.5}
              fill="var(--color-soft)"
            >
              {(rows.at(-1)?.[0] ?? bump) < bump - 0.5 ? "last" : "bump"}{" "}
              <tspan fill="var(--color-ink)">{format(rows.at(-1)?.[1] ?? 0)}</tspan>
            </text>
          </svg>
        )}
        {size.width > 0 && rows.length === 0 && <p className="pt-4 text-sm text-soft">Not known here.</p>}
      </div>
    </figure>
  );
}
