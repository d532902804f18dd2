import { Fragment, type ReactNode } from "react";
import type { Station, StationView } from "../api/client";
import { type Place, placeOf, valueAt } from "../jack/travel";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { type TapeSpread, useBetween } from "./tape";

interface Props {
  units: Station["units"];
  wheels: Station["wheels"];
  view: StationView;
  place: Place;
  range: Station["travel"];
  tape?: TapeSpread | undefined;
}

/** Where it stands on its weight, and between what that lies as well as the places are known. */
export function RideFigures({ view, tape }: { view: StationView; tape?: TapeSpread | undefined }) {
  const { quantity } = useUnits();
  const between = useBetween();
  const ride = view.ride;
  if (!ride) return null;
  return (
    <section aria-label="At ride height" className="border-b-2 border-ink pb-2">
      <h2 className="text-lg">At ride height</h2>
      <dl className="mt-1 grid grid-cols-2 gap-x-4 gap-y-1">
        <Small
          name="Stands at"
          value={quantity(ride.travel, "travel")}
          between={between(tape?.ride_travel, "travel")}
          id="ride-travel"
        />
        <Small
          name="Frequency"
          value={quantity(ride.frequency, "frequency")}
          between={between(tape?.frequency, "frequency")}
          id="ride-frequency"
        />
        <Small
          name="Wheel rate"
          value={quantity(ride.wheel_rate, "rate")}
          between={between(tape?.wheel_rate, "rate")}
          id="ride-rate"
        />
        <Small name="Sag from droop" value={quantity(ride.sag, "length")} id="ride-sag" />
        {view.datum?.stands != null && (
          <Small
            name={`${view.datum.name.charAt(0).toUpperCase()}${view.datum.name.slice(1)}, above the floor`}
            value={quantity(view.datum.stands, "length")}
            between={between(tape?.datum, "length")}
            id="ride-height"
          />
        )}
      </dl>
      <p className="min-h-5 pt-1 text-sm text-soft">
        {tape?.ride_travel &&
          `Small: between what nine in ten come out, places measured to ${quantity(tape.tape, "length")}.`}
      </p>
    </section>
  );
}

/** The figures where the Jack stands. */
export function Figures({ units = [], wheels, view, place, range, tape }: Props) {
  const { number, quantity, unit } = useUnits();
  const rate = valueAt(view.wheel_rate, place);
  const share = valueAt(view.rate_from_ratio, place);
  const force = valueAt(view.wheel_force, place);
  const travel = valueAt(view.travels, place);
  return (
    <section aria-label="At the Jack">
      <h2 className="pt-3 text-lg">
        At the Jack
        {travel !== null && (
          <span className="hidden print:inline">, wheel at {quantity(travel, "travel")}</span>
        )}
      </h2>
      <dl>
        {units.map((part) => {
          const trace = view.units[part.name];
          const ratio = valueAt(trace?.motion_ratio, place);
          const length = valueAt(trace?.length, place);
          const pressure = valueAt(trace?.pressure, place);
          const name = units.length > 1 ? `, ${spoken(part.name)}` : "";
          if (part.kind === "bar") return null;
          const what = part.kind === "air_spring" ? "bag" : part.kind === "spring" ? "spring" : "damper";
          const rise = riseOf(trace?.motion_ratio, view, range);
          const lean = view.strokes[part.name];
          return (
            <Fragment key={part.name}>
              {part.kind !== "strap" && part.kind !== "bump_stop" && (
                <Figure
                  name={`Motion ratio${name}`}
                  value={ratio === null ? "–" : number(ratio, "ratio")}
                  note={
                    ratio
                      ? `${what} per wheel · ${number(1 / ratio, "ratio", 2)} wheel per ${what}${rise === null ? "" : ` · ${saidRise(rise, number)}`}`
                      : `${what} per wheel`
                  }
                  id={`ratio-${part.name}`}
                />
              )}
              {lean?.installed_angle != null && lean.path_share != null && (
                <Figure
                  name={`Leans from its path${name}`}
                  value={number(lean.installed_angle, "angle", 1)}
                  unit="°"
                  note={`at ride: ${number(100 * lean.path_share, "ratio", 1)} % of its eye's path squeezes it`}
                  id={`lean-${part.name}`}
                />
              )}
              <Figure
                name={`${part.kind === "air_spring" ? "Height" : "End to end"}${name}`}
                value={length === null ? "–" : number(length, "length")}
                unit={unit("length")}
                note={unitNote(part, view, quantity)}
              />
              {view.preload_left[part.name] !== undefined && (
                <Figure
                  name={`Preload left${name}`}
                  value={number(view.preload_left[part.name] ?? 0, "length")}
                  unit={unit("length")}
                  note={
                    (view.preload_left[part.name] ?? 0) < 0
                      ? "loose by this at full droop"
                      : "stack still squeezed at full droop"
                  }
                  id={`preload-${part.name}`}
                />
              )}
              {pressure !== null && (
                <Figure
                  name={`Pressure${name}`}
                  value={number(pressure, "pressure")}
                  unit={unit("pressure")}
                  note="gauge, valve shut at ride height"
                  id={`pressure-${part.name}`}
                />
              )}
            </Fragment>
          );
        })}
        <Figure
          name="Wheel rate"
          value={rate === null ? "–" : number(rate, "rate")}
          unit={unit("rate")}
          note={
            rate === null || share === null
              ? "not known without every force"
              : `spring ${number(rate - share, "rate")}, changing ratio ${number(share, "rate")}`
          }
          id="rate"
        />
        <Figure
          name="Wheel force"
          value={force === null ? "–" : number(force, "force")}
          unit={unit("force")}
          note={`carries ${quantity(view.weight, "force")} at ride`}
        />
        {Object.entries(view.wheels).map(([name, wheel]) => {
          const camber = valueAt(wheel.camber, place);
          const toe = valueAt(wheel.toe, place);
          if (camber === null || toe === null) return null;
          const who = wheels.length > 1 ? `, ${name}` : "";
          return (
            <Figure
              key={name}
              name={`Camber · toe${who}`}
              value={`${number(camber, "angle")} · ${number(toe, "angle")}`}
              unit="°"
              note="top out and front in are positive"
            />
          );
        })}
        {view.angles
          .filter((angle) => !angle.is_unit)
          .map((angle) => {
            const now = valueAt(angle.angle, place);
            return (
              <Figure
                key={angle.rod}
                name={`${capital(angle.rod)} to ${spoken(angle.rocker)} arm`}
                value={now === null ? "–" : number(now, "angle", 1)}
                unit="°"
                note={
                  angle.at_ride === null ? "square is 90°" : `${number(angle.at_ride, "angle", 1)}° at ride`
                }
              />
            );
          })}
      </dl>
      <WheelFigures view={view} tape={tape} />
    </section>
  );
}

/** What the wheels do by themselves about where it stands. */
function WheelFigures({ view, tape }: Pick<Props, "view" | "tape">) {
  const { number, quantity, unit } = useUnits();
  const between = useBetween();
  const { wheels, steering_axis: axis, lock } = view.wheel_angles;
  const several = Object.keys(wheels ?? {}).length > 1;
  if (!Object.keys(wheels ?? {}).length) return null;
  return (
    <section aria-label="The wheel’s own angles">
      <h2 className="pt-3 text-lg">The wheel’s own angles, at ride height</h2>
      <dl>
        {Object.entries(wheels ?? {}).map(([name, its]) => (
          <Fragment key={name}>
            <Figure
              name={`Bump steer${several ? `, ${spoken(name)}` : ""}`}
              value={number(Math.abs(its.bump_steer), "angle")}
              unit="°"
              note={`in 25 mm up or down${its.rim_mm === null ? "" : `, ${quantity(Math.abs(its.rim_mm), "length")} over the tyre`}`}
              between={between(sizeOf(tape?.wheel_angles[name]?.bump_steer), "angle")}
              id={`bump-steer-${name}`}
            />
            <Figure
              name={`Camber gain${several ? `, ${spoken(name)}` : ""}`}
              value={number(its.camber_gain, "angle")}
              unit="°"
              note="in 25 mm of bump; top in is negative"
              between={between(tape?.wheel_angles[name]?.camber_gain, "angle")}
            />
          </Fragment>
        ))}
        {axis && (
          <>
            <Figure
              name="Caster · kingpin"
              value={`${number(axis.caster, "angle", 1)} · ${number(axis.kingpin, "angle", 1)}`}
              unit="°"
              note={`from ${spoken(axis.lower)} to ${spoken(axis.upper)}; top rearward and in are positive`}
              between={both(between, tape?.steering_axis?.caster, tape?.steering_axis?.kingpin, "angle")}
              id="caster"
            />
            <Figure
              name="Scrub · trail"
              value={`${number(axis.scrub, "length")} · ${number(axis.trail, "length")}`}
              unit={unit("length")}
              note="tyre outside, and behind, where the axis meets the floor"
              between={both(between, tape?.steering_axis?.scrub, tape?.steering_axis?.trail, "length")}
              id="scrub"
            />
          </>
        )}
        {lock && (
          <Figure
            name="Full lock, inner · outer"
            value={`${number(lock.inner, "angle", 1)} · ${number(lock.outer, "angle", 1)}`}
            unit="°"
            note={
              lock.ackermann === null
                ? "give the wheelbase for Ackermann"
                : `${quantity(lock.ackermann, "share")} of Ackermann`
            }
          />
        )}
      </dl>
    </section>
  );
}

/** Two intervals as their two figures stand: beside each other. */
function both(
  between: ReturnType<typeof useBetween>,
  one: number[] | undefined,
  other: number[] | undefined,
  dimension: "angle" | "length",
): string {
  return one && other ? `${between(one, dimension)} · ${between(other, dimension)}` : "";
}

/** The interval of a value's size: one that may be to either side begins at nothing. */
function sizeOf(span: number[] | undefined): number[] | undefined {
  if (!span) return undefined;
  const [low = 0, middle = 0, high = 0] = span;
  if (low >= 0) return span;
  return high <= 0 ? [-high, -middle, -low] : [0, Math.abs(middle), Math.max(-low, high)];
}

function capital(name: string): string {
  const words = spoken(name);
  return words.charAt(0).toUpperCase() + words.slice(1);
}

type Part = NonNullable<Station["units"]>[number];

function unitNote(part: Part, view: StationView, quantity: (v: number, d: "length") => string): string {
  const stroke = view.strokes[part.name];
  if (stroke) {
    return `left: ${quantity(stroke.left_in_bump, "length")} in bump, ${quantity(stroke.left_in_droop, "length")} in droop`;
  }
  if (part.kind === "strap") return `taut at ${quantity(part.length, "length")}`;
  if (part.kind === "bump_stop") return `touches at ${quantity(part.contact, "length")}`;
  if (part.kind === "air_spring") {
    return `made for ${quantity(part.min_height, "length")} to ${quantity(part.max_height, "length")}`;
  }
  return "between its ends";
}

/** By how much of itself a ratio grows from full droop to full bump; null where either end is not reached. */
function riseOf(
  ratios: (number | null)[] | undefined,
  view: StationView,
  range: Station["travel"],
): number | null {
  const droop = valueAt(ratios, placeOf(view.travels, -range.droop));
  const bump = valueAt(ratios, placeOf(view.travels, range.bump));
  return droop && bump ? bump / droop - 1 : null;
}

function saidRise(
  rise: number,
  number: (value: number, dimension: "ratio", digits: number) => string,
): string {
  if (Math.abs(rise) < 0.0005) return "the same from droop to bump";
  return `${rise > 0 ? "rises" : "falls"} ${number(100 * Math.abs(rise), "ratio", 1)} % from droop to bump`;
}

interface SmallProps {
  name: string;
  value: string;
  /** Its interval; "" keeps its place while it is worked out. */
  between?: string;
  id: string;
}

function Small({ name, value, between, id }: SmallProps) {
  return (
    <div>
      <dt className="text-sm text-soft">{name}</dt>
      <dd className="text-xl font-bold leading-tight" data-testid={id}>
        {value}
      </dd>
      {between !== undefined && (
        <dd className="min-h-5 text-sm leading-tight" data-testid={`${id}-between`}>
          {between}
        </dd>
      )}
    </div>
  );
}

interface FigureProps {
  name: string;
  value: ReactNode;
  unit?: string;
  note?: string;
  /** Its interval; "" keeps its place while it is worked out. */
  between?: string;
  id?: string;
}

function Figure({ name, value, unit, note, between, id }: FigureProps) {
  return (
    <div className="grid grid-cols-[1fr_auto] items-baseline gap-x-3 border-b border-rule py-1.5">
      <dt className="font-semibold leading-tight">{name}</dt>
      <dd className="whitespace-nowrap text-right">
        <span className="text-2xl font-bold" data-testid={id}>
          {value}
        </span>
        {unit && <span className="ml-1 text-sm text-soft">{unit}</span>}
      </dd>
      {note && <dd className="col-span-2 text-sm text-soft">{note}</dd>}
      {between !== undefined && (
        <dd
          className="col-span-2 min-h-5 text-right text-sm leading-tight"
          data-testid={id && `${id}-between`}
        >
          {between}
        </dd>
      )}
    </div>
  );
}
