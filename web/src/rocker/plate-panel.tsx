import { useUnits } from "../quantity/units";
import type { Rocker } from "./plane";

/** The rocker as it is cut and set up, in figures. */
export function PlatePanel({ rocker }: { rocker: Rocker }) {
  const { quantity } = useUnits();
  const plate = rocker.plate;
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
  ];
  return (
    <section aria-label="The plate">
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
      <p className="mt-3 border-l-4 border-warning pl-2 text-sm">
        Cut it in card first, then in thin sheet, and cycle both before plate is cut. Weld only sound steel;
        what the plate must carry is for somebody who signs for it.
      </p>
    </section>
  );
}
