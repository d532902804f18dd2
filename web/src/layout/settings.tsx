import { Minus, Plus, Trash2 } from "lucide-react";
import { useState } from "react";
import type { Project, Station } from "../api/client";
import { type Change, editStation, setUnit, turnRod, windPerch } from "../bench/edits";
import { Fold } from "../bench/fold";
import { Fields } from "../fields/fields";
import type { Part } from "../fields/schema";
import type { Dimension } from "../quantity/quantity";
import { QuantityField } from "../quantity/quantity-field";
import { Row } from "../quantity/row";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { AddUnit } from "./add-unit";
import { BarSettings, SteeringSettings } from "./bar-and-steering";
import { UnknownSpring } from "./unknown-spring";

interface Props {
  document: Project;
  station: Station;
  index: number;
  /** Rates of springs as they were solved, N/mm, by unit. */
  rates: Record<string, (number | null)[]>;
  edit: (change: (document: Project) => Project, key?: string) => void;
}

const above =
  (least: number, words: string) =>
  (value: number): string | null =>
    value > least ? null : words;

/** What is turned, weighed and fitted: rod adjusters, units, masses, wanted travel. */
export function Settings({ document, station, index, rates, edit }: Props) {
  const change = (to: (station: Station) => Station, key = "") =>
    edit((document) => editStation(document, index, to), key);
  return (
    <div className="pb-6">
      <Rods station={station} change={change} />
      {(station.units ?? [])
        .filter((unit) => unit.kind !== "bar")
        .map((unit) => (
          <UnitSettings
            key={unit.name}
            unit={unit}
            points={Object.keys(station.points)}
            rates={rates[unit.name] ?? []}
            change={change}
          />
        ))}
      <AddUnit document={document} index={index} change={change} />
      <BarSettings station={station} change={change} />
      <SteeringSettings station={station} change={change} />
      <Section title="Mass at this wheel">
        <Row name="Corner, all of it">
          <QuantityField
            label="Corner mass"
            value={station.mass.corner}
            dimension="mass"
            check={above(
              station.mass.unsprung,
              "It must be more than the unsprung mass, which is part of it.",
            )}
            onCommit={(corner) => change((s) => ({ ...s, mass: { ...s.mass, corner } }))}
          />
        </Row>
        <Row name="Unsprung part of it">
          <QuantityField
            label="Unsprung mass"
            value={station.mass.unsprung}
            dimension="mass"
            check={(value) =>
              value < 0
                ? "It cannot be negative."
                : value < station.mass.corner
                  ? null
                  : "It must be less than the corner mass."
            }
            onCommit={(unsprung) => change((s) => ({ ...s, mass: { ...s.mass, unsprung } }))}
          />
        </Row>
      </Section>
      <Section title="Travel that is wanted">
        {(["bump", "droop"] as const).map((way) => (
          <Row key={way} name={way === "bump" ? "Up from drawn (bump)" : "Down from drawn (droop)"}>
            <QuantityField
              label={`Wanted ${way}`}
              value={station.travel[way]}
              dimension="length"
              check={(value) =>
                value < 0 ? "Leave the minus sign off." : value > 1000 ? "That is more than a metre." : null
              }
              onCommit={(value) => change((s) => ({ ...s, travel: { ...s.travel, [way]: value } }))}
            />
          </Row>
        ))}
      </Section>
    </div>
  );
}

function Section({
  title,
  out,
  children,
}: {
  title: string;
  /** Takes it off the station, where it can be. */
  out?: () => void;
  children: React.ReactNode;
}) {
  return (
    <section className="border-b border-rule py-3" aria-label={title}>
      <div className="flex items-center justify-between">
        <h2 className="pb-1 text-lg">{title}</h2>
        {out && (
          <button
            type="button"
            className="press border-transparent px-3"
            aria-label={`Remove the ${title.toLowerCase()}`}
            onClick={out}
          >
            <Trash2 size={18} aria-hidden />
          </button>
        )}
      </div>
      {children}
    </section>
  );
}

/** Rods that can be set: every two-point body, with its adjuster's turns. */
function Rods({ station, change }: { station: Station; change: Change }) {
  const rods = Object.entries(station.bodies).filter(([, members]) => members.length === 2);
  const [rod, setRod] = useState(() => (rods.find(([name]) => station.rods?.[name]) ?? rods[0])?.[0] ?? "");
  const [usual, setPitch] = useState(1.5);
  const { quantity } = useUnits();
  const chosen = rods.find(([name]) => name === rod);
  if (!chosen) return null;
  const [one, other] = chosen[1].map((name) => station.points[name] ?? [0, 0, 0]);
  const drawn = Math.hypot(...(one ?? []).map((value, k) => value - (other?.[k] ?? 0)));
  const length = station.links?.[rod]?.length ?? drawn;
  const its = station.rods?.[rod];
  const pitch = its?.pitch ?? usual;
  // A left-hand and a right-hand thread: one turn moves the ends by two pitches.
  const perTurn = 2 * pitch;
  const turns = (length - drawn) / perTurn;
  const setRodEnds = (ends: Record<string, unknown>) =>
    change((s) => ({ ...s, rods: { ...s.rods, [rod]: ends } }) as Station);
  const set = (to: number, key = "") => change((s) => turnRod(s, rod, to, length, drawn), key);
  const turn = (by: number) => set(length + by * perTurn, `turn ${rod}`);
  return (
    <Section title="Rod length">
      <label className="grid grid-cols-[1fr_9.5rem] items-center gap-2 py-0.5">
        <span>Rod</span>
        <select className="entry" value={rod} onChange={(event) => setRod(event.target.value)}>
          {rods.map(([name]) => (
            <option key={name} value={name}>
              {spoken(name)}
            </option>
          ))}
        </select>
      </label>
      <div className="my-2 flex items-center gap-2">
        <button type="button" className="press px-3" onClick={() => turn(-0.5)} aria-label="½ turn shorter">
          <Minus size={18} aria-hidden /> ½ turn
        </button>
        <p className="flex-1 text-center">
          <span className="block text-2xl font-bold" data-testid="turns">
            {turns === 0
              ? "as drawn"
              : `${turns > 0 ? "+" : "−"}${Math.abs(turns)
                  .toFixed(2)
                  .replace(/\.?0+$/, "")} turns`}
          </span>
          <span className="text-sm text-soft">drawn {quantity(drawn, "length", 2)}</span>
        </p>
        <button type="button" className="press px-3" onClick={() => turn(0.5)} aria-label="½ turn longer">
          <Plus size={18} aria-hidden /> ½ turn
        </button>
      </div>
      <Row name="Centre to centre">
        <QuantityField
          label="Rod length, centre to centre"
          value={length}
          dimension="length"
          digits={2}
          check={above(0, "A rod must be longer than zero.")}
          onCommit={(value) => set(value)}
        />
      </Row>
      <Row name="Thread pitch (left and right hand: a turn is two pitches)">
        <QuantityField
          label="Thread pitch"
          value={pitch}
          dimension="length"
          digits={2}
          check={above(0, "A pitch must be more than zero.")}
          onCommit={(next) =>
            its
              ? change((s) => ({ ...s, rods: { ...s.rods, [rod]: { ...its, pitch: next } } }))
              : setPitch(next)
          }
        />
      </Row>
      {its ? (
        <Fold title={`Ends of the ${spoken(rod)}`} hint="thread, what they hold, what is left to turn">
          <Row name="Hands of its threads">
            <select
              className="entry"
              aria-label={`${spoken(rod)} hands of its threads`}
              value={(its.hands ?? ["right", "left"]).join(" ")}
              onChange={(event) => setRodEnds({ ...its, hands: event.target.value.split(" ") })}
            >
              <option value="right left">right and left</option>
              <option value="left right">left and right</option>
              <option value="right right">both right</option>
              <option value="left left">both left</option>
            </select>
          </Row>
          <Fields
            part="Rod"
            values={its as Record<string, unknown>}
            label={spoken(rod)}
            skip={["pitch", "hands"]}
            onChange={setRodEnds}
          />
        </Fold>
      ) : (
        <button
          type="button"
          className="press mt-2 px-3"
          onClick={() => setRodEnds({ thread: 12, pitch: 1.25, engagement: 22.5, longer: 9, shorter: 9 })}
        >
          <Plus size={18} aria-hidden /> Say what ends it has
        </button>
      )}
    </Section>
  );
}

type UnitValues = NonNullable<Station["units"]>[number];

/** The station without a unit, and without what was told of it alone: its tank, the room on it, its parts. */
function withoutUnit(station: Station, name: string): Station {
  const next = { ...station, units: (station.units ?? []).filter((unit) => unit.name !== name) } as Station;
  if (station.envelopes)
    next.envelopes = station.envelopes
      .filter((one) => one.on !== name)
      .map((one) => (one.ignore ? { ...one, ignore: one.ignore.filter((its) => its !== name) } : one));
  if (station.joints) next.joints = station.joints.filter((one) => one.rod !== name && one.on !== name);
  if (station.make?.parts)
    next.make = {
      ...station.make,
      parts: station.make.parts.filter(
        (part) =>
          !Object.entries(part).some(([key, value]) => ["unit", "holds"].includes(key) && value === name),
      ),
    };
  if (!station.tanks) return next;
  const tanks = station.tanks
    .map((tank) => ({ ...tank, bags: tank.bags.filter((bag) => bag !== name) }))
    .filter((tank) => tank.bags.length > 1);
  return { ...next, tanks } as Station;
}

const PARTS: Record<UnitValues["kind"], Part> = {
  coilover: "Coilover",
  spring: "SpringUnit",
  damper: "Damper",
  air_spring: "AirSpring",
  bump_stop: "BumpStop",
  strap: "Strap",
  bar: "Bar",
};

/** What stands above the fold already. */
const SHOWN: Partial<Record<UnitValues["kind"], string[]>> = {
  coilover: ["extended", "compressed", "gas_force", "preload"],
  damper: ["extended", "compressed", "gas_force"],
  air_spring: ["pressure"],
  bump_stop: ["contact"],
  strap: ["length"],
};

const HELD: Partial<Record<UnitValues["kind"], string>> = {
  coilover: "seats, perch, eyes, adapters, how wide it is",
  damper: "eyes, adapters, how wide it is",
  spring: "seats, how wide it is",
  air_spring: "heights, area, rating, width, plates",
  bump_stop: "its curve, what kind it is",
  strap: "stretch, what it is rated, its adjuster",
};

/** What changes of a unit that is bolted to another place at one end: the bolt told for the old one goes with it. */
function between(unit: UnitValues, end: number, point: string): Record<string, unknown> {
  const was = unit.ends[end];
  const ends = unit.ends.map((one, k) => (k === end ? point : one));
  const told = unit.kind === "coilover" || unit.kind === "damper" ? unit.eyes : null;
  const eyes = told ? { eyes: told.filter((eye) => eye.end !== was) } : {};
  return { ends, ...eyes };
}

/** A spring with a curve has no rate beside it, and that of its first two rows when the curve is taken out. */
function ruled(next: Record<string, unknown>, before: Record<string, unknown>): Record<string, unknown> {
  if (next.table && !before.table) return { ...next, rate: null, wire: null, two_loads: null };
  const curve = before.table as number[][] | null | undefined;
  if (next.table || !curve) return next;
  const [[from = 0, weak = 0] = [], [to = 1, strong = 50] = []] = curve;
  return { ...next, table: null, rate: Math.max((strong - weak) / (to - from), 0.1) };
}

function UnitSettings({
  unit,
  points,
  rates,
  change,
}: {
  unit: UnitValues;
  points: string[];
  rates: (number | null)[];
  change: Change;
}) {
  const set = (values: Record<string, unknown>) => change((s) => setUnit(s, unit.name, values));
  const field = (
    key: string,
    name: string,
    dimension: Dimension,
    value: number,
    check?: (value: number) => string | null,
    step = 0,
  ) => (
    <Row key={key} name={name}>
      <QuantityField
        label={`${unit.name} ${name}`}
        value={value}
        dimension={dimension}
        step={step}
        {...(check ? { check } : {})}
        onCommit={(next) => set({ [key]: next })}
      />
    </Row>
  );
  const name = spoken(unit.name);
  const title = `${name.charAt(0).toUpperCase()}${name.slice(1)}`;
  return (
    <Section title={title} out={() => change((s) => withoutUnit(s, unit.name))}>
      {(unit.kind === "coilover" || unit.kind === "damper") && (
        <>
          {field(
            "extended",
            "Extended, eye to eye",
            "length",
            unit.extended,
            above(unit.compressed, "It must be longer than compressed."),
          )}
          {field("compressed", "Compressed, eye to eye", "length", unit.compressed, (value) =>
            value <= 0
              ? "It must be longer than zero."
              : value < unit.extended
                ? null
                : "It must be shorter than extended.",
          )}
          {field("gas_force", "Gas force", "force", unit.gas_force ?? 0, (value) =>
            value < 0 ? "It pushes out, so it cannot be negative." : null,
          )}
        </>
      )}
      {unit.kind === "coilover" && (
        <Row name="Preload">
          <QuantityField
            label={`${unit.name} Preload`}
            value={unit.preload ?? 0}
            dimension="length"
            step={1}
            onCommit={(next) => change((s) => windPerch(s, unit.name, next))}
          />
        </Row>
      )}
      {(unit.kind === "coilover" || unit.kind === "spring") &&
        unit.springs.map((spring, k) => {
          const which = unit.springs.length > 1 ? ` ${k + 1}` : "";
          const setSpring = (values: Record<string, number>) =>
            set({ springs: unit.springs.map((s, n) => (n === k ? { ...s, ...values } : s)) });
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: springs have no name; their order is their place in the stack
            <div key={k}>
              <UnknownSpring
                label={`Spring${which}`}
                spring={spring}
                found={rates[k] ?? null}
                onSpring={(next) => set({ springs: unit.springs.map((s, n) => (n === k ? next : s)) })}
              />
              {spring.rate != null && (
                <Row name={`Spring${which} rate`}>
                  <QuantityField
                    label={`${unit.name} spring${which} rate`}
                    value={spring.rate}
                    dimension="rate"
                    step={1}
                    check={above(0, "A rate must be more than zero.")}
                    onCommit={(rate) => setSpring({ rate })}
                  />
                </Row>
              )}
              <Row name={`Spring${which} free length`}>
                <QuantityField
                  label={`${unit.name} spring${which} free length`}
                  value={spring.free_length}
                  dimension="length"
                  check={above(spring.solid_length, "It must be longer than solid.")}
                  onCommit={(free_length) => setSpring({ free_length })}
                />
              </Row>
              <Row name={`Spring${which} solid length`}>
                <QuantityField
                  label={`${unit.name} spring${which} solid length`}
                  value={spring.solid_length}
                  dimension="length"
                  check={(value) =>
                    value < 0
                      ? "It cannot be negative."
                      : value < spring.free_length
                        ? null
                        : "It must be shorter than free."
                  }
                  onCommit={(solid_length) => setSpring({ solid_length })}
                />
              </Row>
            </div>
          );
        })}
      {unit.kind === "air_spring" &&
        field("pressure", "Pressure at ride height", "pressure", unit.pressure, (v) =>
          v < 0 ? "It cannot be negative." : null,
        )}
      {unit.kind === "strap" &&
        field("length", "Length, taut", "length", unit.length, above(0, "It must be longer than zero."))}
      {unit.kind === "bump_stop" &&
        field(
          "contact",
          "Touches at",
          "length",
          unit.contact,
          above(unit.solid, "It must touch before it is squashed flat."),
        )}
      <Fold title={`All of the ${name}`} hint={HELD[unit.kind] ?? "every field there is"}>
        {unit.ends.map((end, k) => (
          <Row key={k ? "to" : "from"} name={k ? "To" : "From"}>
            <select
              className="entry"
              aria-label={`${name} ${k ? "to" : "from"}`}
              value={end}
              onChange={(event) => set(between(unit, k, event.target.value))}
            >
              {points
                .filter((point) => point === end || point !== unit.ends[1 - k])
                .map((point) => (
                  <option key={point} value={point}>
                    {spoken(point)}
                  </option>
                ))}
            </select>
          </Row>
        ))}
        {(unit.kind === "coilover" || unit.kind === "spring") &&
          unit.springs.map((spring, k) => (
            <fieldset
              // biome-ignore lint/suspicious/noArrayIndexKey: springs have no name; their order is their place in the stack
              key={k}
              className="border-l-2 border-rule py-1 pl-3"
            >
              <legend className="font-semibold">
                {unit.springs.length > 1 ? `Spring ${k + 1}` : "Spring"}
              </legend>
              <Fields
                part="Spring"
                values={spring as Record<string, unknown>}
                label={`${name} spring${unit.springs.length > 1 ? ` ${k + 1}` : ""}`}
                skip={["rate", "wire", "two_loads", "free_length", "solid_length"]}
                onChange={(next) =>
                  set({
                    springs: unit.springs.map((its, n) =>
                      n === k ? ruled(next, its as Record<string, unknown>) : its,
                    ),
                  })
                }
              />
            </fieldset>
          ))}
        <Fields
          part={PARTS[unit.kind]}
          values={unit as Record<string, unknown>}
          label={name}
          ends={unit.ends}
          skip={["springs", ...(SHOWN[unit.kind] ?? [])]}
          onChange={set}
        />
      </Fold>
      {unit.kind === "air_spring" && (
        <p className="mt-2 border-l-4 border-warning pl-2 text-sm">
          Air lines, fittings and tank must be rated above the highest pressure used. Let the air out, and
          stand the vehicle on stands, before a hand goes near a bag.
        </p>
      )}
      {(unit.kind === "coilover" || unit.kind === "spring") && (
        <p className="mt-2 border-l-4 border-warning pl-2 text-sm">
          A compressed spring and a gas-charged damper store enough to break a hand: use a spring compressor,
          and never cut or heat a charged body.
        </p>
      )}
    </Section>
  );
}
