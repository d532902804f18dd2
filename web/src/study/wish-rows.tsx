import { useUnits } from "../quantity/units";
import { useSize } from "../views/use-size";
import { type Vehicle, WISHES } from "./study";

interface Props {
  front: Vehicle[];
  /** What is looked at of it: those within the limits. */
  within: Vehicle[];
  chosen: Vehicle | null;
  /** At most so much of each wish may be missed. */
  limits: Record<string, number>;
  onLimit: (wish: string, most: number) => void;
  onPick: (vehicle: Vehicle) => void;
}

const ROW = 52;
const LEFT = 12;
const NEAR = 14;

const missOf = (vehicle: Vehicle, wish: string) => vehicle.misses[wish] ?? 0;

/** The furthest that any vehicle misses each wish; a wish that nobody misses is not shown. */
export const spans = (front: Vehicle[]): Record<string, number> =>
  Object.fromEntries(
    WISHES.map(({ key }) => [key, Math.max(0, ...front.map((one) => missOf(one, key)))] as const).filter(
      ([, most]) => most > 0.01,
    ),
  );

/** Every vehicle that nothing beats, wish by wish: each a dot on six rows, the one in hand a line through them. */
export function WishRows({ front, within, chosen, limits, onLimit, onPick }: Props) {
  const [ref, size] = useSize<HTMLDivElement>();
  const { number } = useUnits();
  const most = spans(front);
  const rows = WISHES.filter(({ key }) => most[key] !== undefined);
  const wide = Math.max(size.width - 2 * LEFT, 1);
  const x = (wish: string, value: number) => LEFT + (wide * value) / (most[wish] ?? 1);
  const y = (row: number) => 30 + row * ROW;
  const kept = new Set(within);
  const spots = (vehicle: Vehicle) => rows.map(({ key }, k) => [x(key, missOf(vehicle, key)), y(k)] as const);
  return (
    <div className="grid grid-cols-[13rem_minmax(0,1fr)] gap-x-3 max-sm:grid-cols-1">
      <ul className="pt-1 max-sm:hidden">
        {rows.map(({ key, name, hint }) => (
          <li key={key} style={{ height: ROW }} className="leading-tight">
            <span className="font-semibold">{name}</span>
            <span className="block text-sm text-soft">{hint}</span>
          </li>
        ))}
      </ul>
      <div className="min-w-0">
        <div
          ref={ref}
          className="relative bg-dye"
          style={{ height: rows.length * ROW + 8 }}
          data-testid="wish-rows"
        >
          {/* biome-ignore lint/a11y/useKeyWithClickEvents: the slider beneath walks along by keyboard; this is a shortcut to it */}
          <svg
            role="img"
            aria-label={`${front.length} vehicles by how far each misses each wish`}
            width={size.width}
            height={rows.length * ROW + 8}
            className="absolute inset-0 cursor-pointer"
            onClick={(event) => {
              const box = event.currentTarget.getBoundingClientRect();
              const [u, v] = [event.clientX - box.left, event.clientY - box.top];
              const near = within
                .map((vehicle) => ({
                  vehicle,
                  away: Math.min(...spots(vehicle).map(([a, b]) => Math.hypot(a - u, b - v))),
                }))
                .sort((a, b) => a.away - b.away)[0];
              if (near && near.away < NEAR) onPick(near.vehicle);
            }}
          >
            {rows.map(({ key }, k) => (
              <g key={key}>
                <path
                  d={`M${LEFT} ${y(k)}H${LEFT + wide}`}
                  stroke="var(--color-scribe)"
                  strokeOpacity={0.35}
                />
                {(most[key] ?? 0) > 1 && (
                  <g stroke="var(--color-scribe)" fill="var(--color-scribe)">
                    <path d={`M${x(key, 1)} ${y(k) - 12}V${y(k) + 12}`} strokeOpacity={0.7} />
                    {k === 0 && (
                      <text x={x(key, 1) + 5} y={y(k) - 14} fontSize={12} stroke="none">
                        just acceptable
                      </text>
                    )}
                  </g>
                )}
              </g>
            ))}
            {front.map((vehicle) =>
              spots(vehicle).map(([u, v], k) => (
                <circle
                  key={`${vehicle.score} ${rows[k]?.key}`}
                  cx={u}
                  cy={v}
                  r={3.4}
                  fill={kept.has(vehicle) ? "var(--color-ride)" : "none"}
                  fillOpacity={0.75}
                  stroke="var(--color-ride)"
                  strokeOpacity={kept.has(vehicle) ? 0.9 : 0.25}
                />
              )),
            )}
            {chosen && (
              <g>
                <polyline
                  points={spots(chosen)
                    .map((spot) => spot.join())
                    .join(" ")}
                  fill="none"
                  stroke="var(--color-marker)"
                  strokeWidth={2}
                />
                {spots(chosen).map(([u, v], k) => (
                  <circle
                    key={rows[k]?.key}
                    cx={u}
                    cy={v}
                    r={6}
                    fill="var(--color-marker)"
                    stroke="var(--color-jet)"
                  />
                ))}
              </g>
            )}
          </svg>
        </div>
        <p className="pt-2 text-sm text-soft">
          How far each may be missed, in times what is just acceptable:
        </p>
        <div className="grid gap-x-4 lg:grid-cols-2">
          {rows.map(({ key, name }) => {
            const value = Math.min(limits[key] ?? Number.POSITIVE_INFINITY, most[key] ?? 0);
            return (
              <label key={key} className="grid min-h-11 grid-cols-[1fr_8rem_3.5rem] items-center gap-2">
                <span className="text-sm leading-tight">{name}, at most</span>
                <input
                  type="range"
                  className="h-11 min-w-0"
                  min={0}
                  max={most[key]}
                  step={(most[key] ?? 1) / 100}
                  value={value}
                  aria-valuetext={`${number(value, "ratio", 1)} times what is just acceptable`}
                  onChange={(event) => onLimit(key, Number(event.target.value))}
                />
                <span className="text-right text-sm font-semibold">{number(value, "ratio", 1)} ×</span>
              </label>
            );
          })}
        </div>
      </div>
    </div>
  );
}
