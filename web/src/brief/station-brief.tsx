import type { Station } from "../api/client";
import type { Change } from "../bench/edits";
import type { Dimension } from "../quantity/quantity";
import { QuantityField } from "../quantity/quantity-field";
import { RideDatum } from "./ride-datum";

const ADJUSTERS = [
  ["", "not said yet"],
  ["perch", "the spring perch"],
  ["rod", "the length of a rod"],
  ["pressure", "the pressure in the bags"],
] as const;

/** What one station must do and carry. */
export function StationBrief({
  station,
  finished,
  change,
}: {
  station: Station;
  finished: number | null;
  change: Change;
}) {
  const mass = (key: "corner" | "unsprung" | "finished", value: number) =>
    change((s) => ({ ...s, mass: { ...s.mass, [key]: value } }));
  const travel = (key: "bump" | "droop" | "at", value: number) =>
    change((s) => ({ ...s, travel: { ...s.travel, [key]: value } }));
  const tyre = (key: "tyre_radius" | "tyre_width", value: number) =>
    change((s) => ({ ...s, wheels: s.wheels.map((its) => ({ ...its, [key]: value })) }));
  const wheel = station.wheels[0];
  const rows: [
    string,
    string,
    number,
    Dimension,
    (value: number) => void,
    (value: number) => string | null,
  ][] = [
    [
      "Mass at this wheel now",
      "unsprung included",
      station.mass.corner,
      "mass",
      (v) => mass("corner", v),
      (v) => (v > station.mass.unsprung ? null : "It must be more than the unsprung mass."),
    ],
    [
      "Unsprung part of it",
      "wheel, brake, half of the arms",
      station.mass.unsprung,
      "mass",
      (v) => mass("unsprung", v),
      (v) => (v >= 0 && v < station.mass.corner ? null : "It must be less than the corner mass."),
    ],
    [
      "The same when finished",
      station.mass.finished == null && finished !== null
        ? "worked out from the parts still to come"
        : "with every part that is still to come",
      station.mass.finished ?? finished ?? station.mass.corner,
      "mass",
      (v) => mass("finished", v),
      (v) => (v > station.mass.unsprung ? null : "It must be more than the unsprung mass."),
    ],
    [
      "Tyre radius",
      "floor to the middle of the hub, loaded",
      wheel?.tyre_radius ?? 0,
      "length",
      (v) => tyre("tyre_radius", v),
      (v) => (v > 0 && v <= 2000 ? null : "Give 1 mm to 2 m."),
    ],
    [
      "Tyre width",
      "at its widest",
      wheel?.tyre_width ?? 0,
      "length",
      (v) => tyre("tyre_width", v),
      (v) => (v > 0 && v <= 2000 ? null : "Give 1 mm to 2 m."),
    ],
    [
      "Bump wanted",
      "up from drawn",
      station.travel.bump,
      "length",
      (v) => travel("bump", v),
      (v) => (v >= 0 && v <= 1000 ? null : "Give 0 to 1000 mm."),
    ],
    [
      "Droop wanted",
      "down from drawn",
      station.travel.droop,
      "length",
      (v) => travel("droop", v),
      (v) => (v >= 0 && v <= 1000 ? null : "Give 0 to 1000 mm."),
    ],
    [
      "Should stand at",
      "wheel travel from drawn, 0 is as drawn",
      station.travel.at ?? 0,
      "travel",
      (v) => travel("at", v),
      (v) =>
        v <= station.travel.bump && v >= -station.travel.droop
          ? null
          : "It must lie within the wanted travel.",
    ],
  ];
  return (
    <section aria-label={station.name}>
      <h2 className="text-xl">{station.name}</h2>
      {rows.map(([name, hint, value, dimension, commit, check]) => (
        <div key={name} className="grid grid-cols-[1fr_10.5rem] items-center gap-2 border-b border-rule py-1">
          <span className="leading-tight">
            {name}
            <span className="block text-sm text-soft">{hint}</span>
          </span>
          <QuantityField label={name} value={value} dimension={dimension} check={check} onCommit={commit} />
        </div>
      ))}
      {station.mass.finished != null && (
        <button
          type="button"
          className="mt-1 min-h-11 text-link underline"
          onClick={() => change((s) => ({ ...s, mass: withoutFinished(s.mass) }))}
        >
          Work the finished mass out from the list of parts instead
        </button>
      )}
      <RideDatum station={station} change={change} />
      <div className="grid grid-cols-[1fr_10.5rem] items-center gap-2 border-b border-rule py-1">
        <label htmlFor="adjuster" className="leading-tight">
          Height is set by
          <span className="block text-sm text-soft">once it stands on its weight</span>
        </label>
        <select
          id="adjuster"
          className="entry"
          value={station.adjusting?.by ?? ""}
          onChange={(event) => change((s) => withAdjusting(s, event.target.value, s.adjusting?.reach ?? 15))}
        >
          {ADJUSTERS.map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
      </div>
      {station.adjusting && (
        <div className="grid grid-cols-[1fr_10.5rem] items-center gap-2 border-b border-rule py-1">
          <span className="leading-tight">
            Up and down by
            <span className="block text-sm text-soft">at the wheel, from where it should stand</span>
          </span>
          <QuantityField
            label="Height to be set, each way"
            value={station.adjusting.reach}
            dimension="length"
            check={(value) => (value >= 0 && value <= 300 ? null : "Give 0 to 300 mm.")}
            onCommit={(reach) => change((s) => withAdjusting(s, s.adjusting?.by ?? "", reach))}
          />
        </div>
      )}
      <p className="mt-2 border-l-4 border-warning pl-2 text-sm">
        Weigh with the vehicle level, on stands and chocked until the scales are under it. A spring bought for
        today's mass is the wrong spring if parts are still to come.
      </p>
    </section>
  );
}

function withAdjusting(station: Station, by: string, reach: number): Station {
  const { adjusting: _, ...rest } = station;
  return by ? ({ ...rest, adjusting: { by, reach } } as Station) : (rest as Station);
}

function withoutFinished(mass: Station["mass"]): Station["mass"] {
  const { finished: _, ...rest } = mass;
  return rest as Station["mass"];
}
