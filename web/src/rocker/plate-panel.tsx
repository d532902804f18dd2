import type { Station } from "../api/client";
import type { Change } from "../bench/edits";
import { QuantityField } from "../quantity/quantity-field";
import { useUnits } from "../quantity/units";
import { hull, path } from "../views/projection";
import type { Rocker } from "./plane";

interface Props {
  rocker: Rocker;
  change: Change;
}

type Size = "thickness" | "gap" | "pivot_bore" | "rod_hole" | "damper_hole" | "edge";

const SIZES: [Size, string, string][] = [
  ["thickness", "Plate", "thickness of each"],
  ["gap", "Between a pair", "where rod end and eye stand"],
  ["pivot_bore", "Pivot bore", "over the bearing or bush"],
  ["rod_hole", "Rod's hole", "for its bolt"],
  ["damper_hole", "Damper's hole", "for its bolt"],
  ["edge", "Metal outside every hole", "to the edge of the plate"],
];

const HOLES: Record<string, string> = { pivot: "pivot bore", rod: "rod's hole", damper: "damper's hole" };

/** The rocker as it is cut and set up, in figures and in outline. */
export function PlatePanel({ rocker, change }: Props) {
  const { quantity } = useUnits();
  const { plate, cut } = rocker;
  const reading = (value: number | null) => (value === null ? "end on" : quantity(value, "angle", 1));
  const rows: [string, string, string][] = [
    ["Rod arm", quantity(plate.rod_arm, "length"), "pivot to the rod's bolt"],
    ["Damper arm", quantity(plate.damper_arm, "length"), "pivot to the damper's bolt"],
    ["Angle between the arms", quantity(plate.included, "angle", 1), ""],
    ["Rod, centre to centre", quantity(plate.rod, "length"), "as drawn"],
    [
      "Damper's bolt along the pivot",
      quantity(Math.abs(plate.offset), "length"),
      "from the rod's: spacers or a second plate",
    ],
    ["Pivot bolt, from the front", reading(plate.front), "angle finder on the bolt, from level"],
    ["Pivot bolt, from the side", reading(plate.side), "from level"],
    ["Pivot bolt, from above", reading(plate.top), "from straight ahead"],
    [
      "Rod out of the rocker's plane",
      quantity(plate.rod_tilt, "angle", 1),
      "most over the travel: its rod end takes it",
    ],
    [
      "Damper out of the plane",
      quantity(plate.damper_tilt, "angle", 1),
      "most over the travel: its eye takes it",
    ],
    ["Whole width", quantity(cut.width, "length"), cut.count === 2 ? "both plates and the gap" : "one plate"],
  ];
  const set = (values: Partial<Record<Size | "count", number>>) =>
    change((station) => {
      const now = Object.fromEntries([...SIZES.map(([key]) => [key, cut[key]]), ["count", cut.count]]);
      return {
        ...station,
        plates: { ...(station.plates ?? {}), [rocker.rocker]: { ...now, ...values } },
      } as Station;
    });
  return (
    <section aria-label="The plate">
      <Outline rocker={rocker} />
      <dl>
        {rows.map(([name, value, hint]) => (
          <div key={name} className="flex items-baseline justify-between gap-3 border-b border-rule py-1.5">
            <dt className="leading-tight">
              {name}
              {hint && <span className="block text-sm text-soft">{hint}</span>}
            </dt>
            <dd className="whitespace-nowrap text-lg font-bold">{value}</dd>
          </div>
        ))}
      </dl>
      <h3 className="pt-4 font-semibold">How it is cut{cut.given ? "" : ", usual sizes"}</h3>
      <label className="grid grid-cols-[1fr_9.5rem] items-center gap-2 border-b border-rule py-1">
        <span>Made of</span>
        <select
          className="entry w-full"
          value={cut.count}
          onChange={(event) => set({ count: Number(event.target.value) })}
        >
          <option value={1}>one plate</option>
          <option value={2}>a pair of plates</option>
        </select>
      </label>
      {SIZES.filter(([key]) => key !== "gap" || cut.count === 2).map(([key, name, hint]) => (
        <div key={key} className="grid grid-cols-[1fr_9.5rem] items-center gap-2 border-b border-rule py-1">
          <span className="leading-tight">
            {name}
            <span className="block text-sm text-soft">{hint}</span>
          </span>
          <QuantityField
            label={name}
            value={cut[key]}
            dimension="length"
            check={(value) =>
              value > (key === "gap" ? -1e-9 : 0) && value <= 200 ? null : "Give 0 to 200 mm."
            }
            onCommit={(value) => set({ [key]: value })}
          />
        </div>
      ))}
      <ul className="pt-2" aria-label="Between the holes">
        {cut.metal.map((one) => (
          <li key={`${one.one} ${one.other}`} className="flex gap-2 py-0.5 text-sm">
            <span aria-hidden className={one.good ? "font-bold text-good" : "font-bold text-warning"}>
              {one.good ? "✓" : "✕"}
            </span>
            <span>
              {HOLES[one.one]} to {HOLES[one.other]}: {quantity(one.metal, "length")} of metal,{" "}
              {quantity(one.wanted, "length")} is wanted;{" "}
              {one.heads >= 0
                ? `${quantity(one.heads, "length")} between what stands on them`
                : `bolt heads overlap by ${quantity(-one.heads, "length")}`}
              .
            </span>
          </li>
        ))}
      </ul>
      <p className="mt-3 border-l-4 border-warning pl-2 text-sm">
        Cut it in card first, then in thin sheet, and cycle both before plate is cut. Weld only sound steel;
        what the plate must carry is for somebody who signs for it.
      </p>
    </section>
  );
}

/** The plate's outline about its holes: a circle of metal about each, and the tangents between them. */
function Outline({ rocker }: { rocker: Rocker }) {
  const { plate, cut } = rocker;
  const turn = (plate.included * Math.PI) / 180;
  const holes: [number, number, number][] = [
    [0, 0, cut.pivot_bore / 2],
    [plate.rod_arm, 0, cut.rod_hole / 2],
    [plate.damper_arm * Math.cos(turn), -plate.damper_arm * Math.sin(turn), cut.damper_hole / 2],
  ];
  const wide = (pick: 0 | 1, sign: number) =>
    Math.max(...holes.map((hole) => sign * hole[pick] + hole[2] + cut.edge)) * sign;
  const [x0, x1, y0, y1] = [wide(0, -1), wide(0, 1), wide(1, -1), wide(1, 1)];
  const rim = holes.flatMap(([x, y, r]) =>
    Array.from({ length: 48 }, (_, k): [number, number] => [
      x + (r + cut.edge) * Math.cos((k * Math.PI) / 24),
      y + (r + cut.edge) * Math.sin((k * Math.PI) / 24),
    ]),
  );
  return (
    <svg
      role="img"
      aria-label="Outline of the plate about its three holes"
      viewBox={`${x0 - 6} ${y0 - 6} ${x1 - x0 + 12} ${y1 - y0 + 12}`}
      className="mb-2 h-44 w-full bg-dye"
      data-testid="outline"
    >
      <path
        d={path(hull(rim), true)}
        fill="var(--color-soapstone)"
        fillOpacity={0.16}
        stroke="var(--color-soapstone)"
        strokeWidth={1.6}
        vectorEffect="non-scaling-stroke"
      />
      {holes.map(([x, y, r]) => (
        <circle
          key={`${x} ${y}`}
          cx={x}
          cy={y}
          r={r}
          fill="var(--color-dye)"
          stroke="var(--color-soapstone)"
          strokeWidth={1.6}
          vectorEffect="non-scaling-stroke"
        />
      ))}
      <path
        d={path(holes.map(([x, y]) => [x, y] as [number, number]))}
        fill="none"
        stroke="var(--color-soapstone)"
        strokeDasharray="4 3"
        strokeWidth={1}
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  );
}
