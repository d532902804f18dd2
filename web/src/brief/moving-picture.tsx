import type { Shape } from "../api/client";

type Layout = Shape["LayoutOut"];

const WIDE = 220;
const TALL = 138;

/** An arrangement seen from the front (or, on the centreline, from the side): at droop, as drawn, at bump. */
export function MovingPicture({ layout }: { layout: Layout }) {
  const across = layout.wheels.length > 1 ? 1 : acrossOf(layout);
  const place = (point: string, row: number): [number, number] => {
    const at = layout.points[point]?.[row] ?? [0, 0, 0];
    return [across === 1 ? -(at[1] ?? 0) : -(at[0] ?? 0), -(at[2] ?? 0)];
  };
  const every = Object.keys(layout.points).flatMap((point) => [0, 1, 2].map((row) => place(point, row)));
  for (const wheel of layout.wheels)
    for (const row of [0, 2]) {
      const [x, y] = place(wheel, row);
      every.push([x - layout.tyre_radius, y - layout.tyre_radius], [x + layout.tyre_radius, y]);
    }
  const xs = every.map(([x]) => x);
  const ys = [...every.map(([, y]) => y), 0];
  const [left, right] = [Math.min(...xs) - 30, Math.max(...xs) + 30];
  const [top, foot] = [Math.min(...ys) - 30, Math.max(...ys) + 30];
  const scale = Math.min(WIDE / (right - left), TALL / (foot - top));
  const put = ([x, y]: [number, number]) =>
    `${((x - (left + right) / 2) * scale + WIDE / 2).toFixed(1)} ${((y - foot) * scale + TALL).toFixed(1)}`;
  return (
    <svg aria-hidden viewBox={`0 0 ${WIDE} ${TALL}`} className="block h-36 w-full bg-dye">
      <path
        d={`M0 ${((0 - foot) * scale + TALL).toFixed(1)}H${WIDE}`}
        stroke="var(--color-scribe)"
        strokeWidth={1}
        opacity={0.7}
      />
      {[0, 2, 1].map((row) => (
        <g
          key={row}
          opacity={row === 1 ? 1 : 0.26}
          fill="none"
          stroke="var(--color-scribe)"
          strokeLinecap="square"
        >
          {layout.wheels.map((wheel) => (
            <Tyre
              key={wheel}
              at={put(place(wheel, row))}
              side={across === 0}
              radius={layout.tyre_radius * scale}
            />
          ))}
          {Object.entries(layout.bodies).map(([body, points]) => {
            const outline = points.filter((p) => !p.startsWith("spindle"));
            const path = outline.map((p) => put(place(p, row))).join("L");
            return (
              <path
                key={body}
                d={`M${path}${outline.length > 2 ? "Z" : ""}`}
                strokeWidth={outline.length > 2 ? 1.4 : 2.2}
                fill={outline.length > 2 && row === 1 ? "rgb(233 237 247 / 0.14)" : "none"}
              />
            );
          })}
          {layout.units.map(([kind, one, other]) => (
            <path
              key={`${one} ${other} ${kind}`}
              d={`M${put(place(one ?? "", row))}L${put(place(other ?? "", row))}`}
              stroke="var(--color-marker)"
              strokeWidth={kind === "air_spring" ? 9 : kind === "damper" ? 2.4 : 4.5}
              strokeDasharray={kind === "coilover" || kind === "spring" ? "3 2.4" : undefined}
            />
          ))}
        </g>
      ))}
    </svg>
  );
}

/** A single wheel or an arm in the plane of the car is seen from the side: 0; others from the front: 1. */
function acrossOf(layout: Layout): 0 | 1 {
  const span = (axis: number) => {
    const values = Object.values(layout.points).map((rows) => rows[1]?.[axis] ?? 0);
    return Math.max(...values) - Math.min(...values);
  };
  return span(0) > 1.15 * span(1) ? 0 : 1;
}

function Tyre({ at, side, radius }: { at: string; side: boolean; radius: number }) {
  const [x = 0, y = 0] = at.split(" ").map(Number);
  return side ? (
    <circle cx={x} cy={y} r={radius} strokeWidth={1} />
  ) : (
    <rect x={x - radius * 0.3} y={y - radius} width={radius * 0.6} height={radius * 2} strokeWidth={1} />
  );
}
