import { Plus, Trash2 } from "lucide-react";
import { useState } from "react";
import type { Shape, Station } from "../api/client";
import { type Change, movePoint, setUnit, type Vec } from "../bench/edits";
import { QuantityField } from "../quantity/quantity-field";
import { Row } from "../quantity/row";
import { spoken } from "../quantity/spoken";

type Bar = Shape["Bar"];
type Steering = Shape["Steering"];

interface Props {
  station: Station;
  change: Change;
}

const AXES = ["fore–aft", "to the left", "up"];
/** A first bar: the arm this long and level, the drop link this long and plumb, so that it starts out square. */
const ARM = 180;
const DROP = 120;
const DIAMETER = 20;

/** An anti-roll bar: where its drop link meets what moves, where its arm ends, where it is held, what twists. */
export function BarSettings({ station, change }: Props) {
  const spindles = station.wheels.flatMap((wheel) => [wheel.spindle, wheel.centre]);
  const moving = Object.keys(station.points).filter(
    (name) => !station.chassis.includes(name) && !spindles.includes(name),
  );
  const [meets, setMeets] = useState(
    () => moving.find((name) => /eye|push|low/.test(name)) ?? moving[0] ?? "",
  );
  const bars = (station.units ?? []).filter((unit): unit is Bar => unit.kind === "bar");
  return (
    <section aria-label="Anti-roll bar" className="border-b border-rule py-3">
      <h2 className="pb-1 text-lg">Anti-roll bar</h2>
      {bars.map((bar) => (
        <OneBar key={bar.name} bar={bar} station={station} change={change} />
      ))}
      {bars.length === 0 && moving.length > 0 && (
        <>
          <label className="grid grid-cols-[1fr_9.5rem] items-center gap-2 py-0.5">
            <span className="leading-tight">Drop link meets</span>
            <select className="entry" value={meets} onChange={(event) => setMeets(event.target.value)}>
              {moving.map((name) => (
                <option key={name} value={name}>
                  {spoken(name)}
                </option>
              ))}
            </select>
          </label>
          <button type="button" className="press mt-2 px-3" onClick={() => change((s) => withBar(s, meets))}>
            <Plus size={18} aria-hidden /> Fit a bar there
          </button>
        </>
      )}
    </section>
  );
}

function OneBar({ bar, station, change }: Props & { bar: Bar }) {
  const held = bar.ends[1] ?? "";
  const set = (values: Partial<Bar>) => change((s) => setUnit(s, bar.name, values), `bar ${bar.name}`);
  return (
    <>
      <div className="flex items-center justify-between gap-2">
        <p className="text-sm text-soft">
          {spoken(bar.name)}: drop link at {spoken(bar.ends[0] ?? "")}, held at {spoken(held)}; the other end
          is the mirror image
        </p>
        <button
          type="button"
          className="press border-transparent px-3"
          aria-label={`Remove ${spoken(bar.name)}`}
          onClick={() => change((s) => withoutBar(s, bar))}
        >
          <Trash2 size={18} aria-hidden />
        </button>
      </div>
      {bar.rate == null ? (
        <>
          <Row name="Bar diameter">
            <QuantityField
              label="Bar diameter"
              value={bar.diameter ?? DIAMETER}
              dimension="length"
              step={1}
              check={(value) => (value > (bar.bore ?? 0) ? null : "It must be more than its bore.")}
              onCommit={(diameter) => set({ diameter })}
            />
          </Row>
          <Row name="Bore" hint="nothing for a solid bar">
            <QuantityField
              label="Bar bore"
              value={bar.bore ?? 0}
              dimension="length"
              check={(value) =>
                value < 0
                  ? "It cannot be negative."
                  : value < (bar.diameter ?? DIAMETER)
                    ? null
                    : "It must be less than the diameter."
              }
              onCommit={(bore) => set({ bore: bore || null })}
            />
          </Row>
        </>
      ) : (
        <Row name="Twist stiffness" hint="between its arms">
          <QuantityField
            label="Bar twist stiffness"
            value={bar.rate}
            dimension="roll_stiffness"
            check={(value) => (value > 0 ? null : "It must be more than zero.")}
            onCommit={(rate) => set({ rate })}
          />
        </Row>
      )}
      <Row name="Between the arms" hint="the part that twists">
        <QuantityField
          label="Bar between the arms"
          value={bar.length}
          dimension="length"
          check={(value) => (value > 0 ? null : "It must be more than zero.")}
          onCommit={(length) => set({ length })}
        />
      </Row>
      <Place
        name="Arm's end, fore–aft, left, up"
        label="Arm's end"
        at={bar.tip as number[]}
        onPlace={(tip) => set({ tip: tip as Bar["tip"] })}
      />
      <Place
        name="Held at, fore–aft, left, up"
        label="Bar held at"
        at={(station.points[held] ?? [0, 0, 0]) as number[]}
        onPlace={(to) => change((s) => movePoint(s, held, to), `bar ${bar.name}`)}
      />
      <p className="mt-2 text-sm text-soft">
        It works best with arm and drop link square where it stands. Springing says which stock bar is enough.
      </p>
    </>
  );
}

function Place({
  name,
  label,
  at,
  onPlace,
}: {
  name: string;
  label: string;
  at: number[];
  onPlace: (to: Vec) => void;
}) {
  return (
    <>
      <p className="pt-1 text-sm text-soft">{name}</p>
      <div className="grid grid-cols-3 gap-1">
        {at.map((value, axis) => (
          <QuantityField
            key={AXES[axis]}
            compact
            label={`${label} ${AXES[axis]}`}
            value={value}
            dimension="length"
            step={1}
            onCommit={(to) => onPlace(at.map((old, n) => (n === axis ? to : old)) as Vec)}
          />
        ))}
      </div>
    </>
  );
}

/** How a corner is steered: the link that turns it, and how far the rack goes. */
export function SteeringSettings({ station, change }: Props) {
  if (station.kind !== "corner") return null;
  const links = Object.entries(station.bodies)
    .filter(([, members]) => members.length === 2)
    .map(([name]) => name);
  const steering = station.steering as Steering | null | undefined;
  const set = (values: Partial<Steering>) =>
    change((s) => ({ ...s, steering: { ...(s.steering as Steering), ...values } }), "steering");
  return (
    <section aria-label="Steering" className="border-b border-rule py-3">
      <h2 className="pb-1 text-lg">Steering</h2>
      <label className="grid grid-cols-[1fr_9.5rem] items-center gap-2 py-0.5">
        <span className="leading-tight">Link to the rack</span>
        <select
          className="entry"
          value={steering?.tie_rod ?? ""}
          onChange={(event) => {
            const tie_rod = event.target.value;
            if (tie_rod) set({ tie_rod, travel: steering?.travel ?? 60 });
            else change(withoutSteering);
          }}
        >
          <option value="">not steered</option>
          {links.map((name) => (
            <option key={name} value={name}>
              {spoken(name)}
            </option>
          ))}
        </select>
      </label>
      {steering && (
        <>
          <Row name="Rack, each way" hint="from straight ahead to its stop">
            <QuantityField
              label="Rack travel each way"
              value={steering.travel}
              dimension="length"
              check={(value) => (value > 0 ? null : "It must be more than zero.")}
              onCommit={(travel) => set({ travel })}
            />
          </Row>
          <Row name="Wheelbase" hint="for how both wheels turn together">
            <QuantityField
              label="Wheelbase"
              value={steering.wheelbase ?? 2500}
              blank={steering.wheelbase == null}
              dimension="length"
              check={(value) => (value > 0 ? null : "It must be more than zero.")}
              onCommit={(wheelbase) => set({ wheelbase })}
            />
          </Row>
        </>
      )}
    </section>
  );
}

/** The station with a bar behind a moving point: its arm level and aft, its drop link plumb. */
function withBar(station: Station, meets: string): Station {
  const at = (station.points[meets] ?? [0, 0, 0]) as number[];
  const tip = [at[0] ?? 0, at[1] ?? 0, (at[2] ?? 0) + DROP];
  const held = free("bar_held", Object.keys(station.points));
  const name = free(
    "bar",
    (station.units ?? []).map((unit) => unit.name),
  );
  const bar = {
    name,
    kind: "bar",
    ends: [meets, held],
    tip,
    length: Math.max(2 * Math.abs(at[1] ?? 0), 200),
    diameter: DIAMETER,
  } as Bar;
  return {
    ...station,
    points: { ...station.points, [held]: [(tip[0] ?? 0) - ARM, tip[1] ?? 0, tip[2] ?? 0] },
    chassis: [...station.chassis, held],
    units: [...(station.units ?? []), bar],
  };
}

function withoutBar(station: Station, bar: Bar): Station {
  const held = bar.ends[1] ?? "";
  const units = (station.units ?? []).filter((unit) => unit.name !== bar.name);
  const used =
    units.some((unit) => unit.ends.includes(held)) ||
    Object.values(station.bodies).some((members) => members.includes(held));
  if (used) return { ...station, units };
  const { [held]: _, ...points } = station.points;
  return { ...station, units, points, chassis: station.chassis.filter((name) => name !== held) };
}

function withoutSteering(station: Station): Station {
  const { steering: _, ...rest } = station;
  return rest as Station;
}

function free(name: string, taken: string[]): string {
  let [found, k] = [name, 2];
  while (taken.includes(found)) found = `${name}_${k++}`;
  return found;
}
