import { Plus, Trash2 } from "lucide-react";
import type { Shape, Station } from "../api/client";
import { type Change, movePoint, type Vec } from "../bench/edits";
import { QuantityField } from "../quantity/quantity-field";
import { Row } from "../quantity/row";
import { spoken } from "../quantity/spoken";

type Shaft = Shape["Shaft"];

interface Props {
  station: Station;
  change: Change;
}

const AXES = ["fore–aft", "to the left", "up"];

/** Half shafts: an inner joint on the chassis, an outer one at the hub, what the joints allow, and how they plunge. */
export function Shafts({ station, change }: Props) {
  const shafts = (station.shafts ?? []) as Shaft[];
  const set = (at: number, values: Partial<Shaft>) =>
    change(
      (s) => ({
        ...s,
        shafts: (s.shafts ?? []).map((its, k) => (k === at ? { ...its, ...values } : its)),
      }),
      `shaft ${at}`,
    );
  return (
    <section aria-label="Half shafts" className="border-t border-rule px-2 pt-3">
      <h2 className="text-lg">Half shafts</h2>
      {shafts.map((shaft, k) => {
        const inner = shaft.ends[0] ?? "";
        const place = (station.points[inner] ?? [0, 0, 0]) as number[];
        const long = lengthOf(station, shaft);
        return (
          <section
            // biome-ignore lint/suspicious/noArrayIndexKey: its place in the list is its own
            key={k}
            aria-label={shaft.name}
            className="border-b border-rule py-2"
          >
            <div className="flex items-center justify-between gap-2">
              <p className="font-semibold">
                {shaft.name}
                <span className="block text-sm font-normal text-soft">
                  from {spoken(inner)} to {spoken(shaft.ends[1] ?? "")}
                </span>
              </p>
              <button
                type="button"
                className="press border-transparent px-3"
                aria-label={`Remove ${shaft.name}`}
                onClick={() => change((s) => withoutShaft(s, k))}
              >
                <Trash2 size={18} aria-hidden />
              </button>
            </div>
            <p className="text-sm text-soft">Inner joint, fore–aft, left, up</p>
            <div className="grid grid-cols-3 gap-1">
              {place.map((value, axis) => (
                <QuantityField
                  key={AXES[axis]}
                  compact
                  label={`${shaft.name} inner joint ${AXES[axis]}`}
                  value={value}
                  dimension="length"
                  step={1}
                  onCommit={(to) =>
                    change(
                      (s) => movePoint(s, inner, place.map((old, n) => (n === axis ? to : old)) as Vec),
                      `shaft ${k}`,
                    )
                  }
                />
              ))}
            </div>
            <Row name="Joints allow" hint="degrees each way">
              <QuantityField
                label={`${shaft.name} joints allow`}
                value={shaft.rated}
                dimension="angle"
                digits={1}
                check={(value) => (value > 0 && value <= 90 ? null : "Joints allow up to 90°.")}
                onCommit={(rated) => set(k, { rated })}
              />
            </Row>
            <Row name="Radius" hint="what it takes of the room">
              <QuantityField
                label={`${shaft.name} radius`}
                value={shaft.radius ?? 0}
                dimension="length"
                check={(value) => (value > 0 ? null : "It must be more than zero.")}
                onCommit={(radius) => set(k, { radius })}
              />
            </Row>
            {(["least", "most"] as const).map((end) => (
              <Row
                key={end}
                name={end === "least" ? "Shortest" : "Longest"}
                hint={end === "least" ? "plunge bottomed" : "plunge pulled apart"}
              >
                <QuantityField
                  label={`${shaft.name} ${end === "least" ? "shortest" : "longest"}`}
                  value={shaft.length?.[end] ?? Math.round(long + (end === "least" ? -20 : 20))}
                  blank={!shaft.length}
                  dimension="length"
                  check={(value) => plungeFault(end, value, shaft, long)}
                  onCommit={(value) => set(k, { length: plunge(shaft, long, end, value) })}
                />
              </Row>
            ))}
          </section>
        );
      })}
      <button type="button" className="press my-3 px-3" onClick={() => change(withShaft)}>
        <Plus size={18} aria-hidden /> Half shaft
      </button>
    </section>
  );
}

function lengthOf(station: Station, shaft: Shaft): number {
  const [one, other] = shaft.ends.map((name) => (station.points[name] ?? [0, 0, 0]) as number[]);
  return Math.hypot(...(one ?? []).map((value, k) => value - (other?.[k] ?? 0)));
}

function plunge(
  shaft: Shaft,
  long: number,
  end: "least" | "most",
  value: number,
): NonNullable<Shaft["length"]> {
  const now = shaft.length ?? { least: Math.round(long - 20), most: Math.round(long + 20) };
  return { ...now, [end]: value };
}

function plungeFault(end: "least" | "most", value: number, shaft: Shaft, long: number): string | null {
  const next = plunge(shaft, long, end, value);
  if (value <= 0) return "It must be longer than zero.";
  return next.least < next.most ? null : "The shortest is shorter than the longest.";
}

/** The station with a half shaft from a new place on the chassis to the first hub that has none. */
function withShaft(station: Station): Station {
  const taken = new Set((station.shafts ?? []).map((its) => its.ends[1]));
  const wheel = station.wheels.find((its) => !taken.has(its.centre)) ?? station.wheels[0];
  const hub = (station.points[wheel?.centre ?? ""] ?? [0, 0, 0]) as number[];
  const names = new Set(Object.keys(station.points));
  let inner = "shaft_inner";
  for (let k = 2; names.has(inner); k++) inner = `shaft_inner_${k}`;
  const name = `half shaft${(station.shafts ?? []).length ? ` ${(station.shafts ?? []).length + 1}` : ""}`;
  const shaft = {
    name,
    ends: [inner, wheel?.centre ?? ""],
    axes: [
      [0, 1, 0],
      [0, 1, 0],
    ],
    rated: 22,
    radius: 14,
  };
  return {
    ...station,
    points: { ...station.points, [inner]: [hub[0] ?? 0, Math.round((hub[1] ?? 0) * 0.35), hub[2] ?? 0] },
    chassis: [...station.chassis, inner],
    shafts: [...(station.shafts ?? []), shaft],
  } as Station;
}

/** The station without a shaft, and without its inner place if nothing else stands on it. */
function withoutShaft(station: Station, at: number): Station {
  const gone = station.shafts?.[at]?.ends[0] ?? "";
  const shafts = (station.shafts ?? []).filter((_, k) => k !== at);
  const used =
    Object.values(station.bodies).some((members) => members.includes(gone)) ||
    (station.units ?? []).some((unit) => unit.ends.includes(gone)) ||
    shafts.some((shaft) => shaft.ends.includes(gone));
  if (used) return { ...station, shafts };
  const { [gone]: _, ...points } = station.points;
  return { ...station, shafts, points, chassis: station.chassis.filter((name) => name !== gone) } as Station;
}
