/** The figures where the Jack stands, as rows: what, whose, how much. */

import type { Shape, Station, StationView } from "../api/client";
import { type Place, placeOf, valueAt } from "../jack/travel";
import type { Dimension } from "../quantity/quantity";
import type { Said } from "../quantity/sides";
import { spoken } from "../quantity/spoken";
import type { useUnits } from "../quantity/units";

export type TapeSpread = Shape["SpreadOut"];

type Units = ReturnType<typeof useUnits>;
type Part = NonNullable<Station["units"]>[number];
export type Span = number[] | null | undefined;

/** What meets the wheel only now and then: its ratio at ride says nothing. */
export const SELDOM_MET = new Set(["strap", "bump_stop", "bar"]);

export interface FigureRow extends Said {
  value: string;
  unit?: string;
  note?: string;
  /** The intervals of its figures, as they stand; nothing in their place while they are worked out. */
  spans?: Span[] | undefined;
  dimension?: Dimension;
  digits?: number;
  id?: string;
}

/** An axle with one wheel up, and where it is looked at. */
export interface Crossed {
  articulation: number;
  lengths: Shape["ArticulatedOut"]["lengths"];
  place: Place;
}

/** The interval that holds two. */
export function widest(one: Span, other: Span): Span {
  if (!one || !other) return one ?? other;
  const [low = 0, middle = 0, high = 0] = one;
  return [Math.min(low, other[0] ?? low), middle, Math.max(high, other[2] ?? high)];
}

/** What a unit does. */
export function unitRows(
  part: Part,
  view: StationView,
  place: Place,
  range: Station["travel"],
  { number, quantity, unit }: Units,
  crossed?: Crossed,
): FigureRow[] {
  if (part.kind === "bar") return [];
  const who = spoken(part.name);
  const trace = view.units[part.name];
  const ratio = valueAt(trace?.motion_ratio, place);
  const length = crossed ? valueAt(crossed.lengths[part.name], crossed.place) : valueAt(trace?.length, place);
  const pressure = valueAt(trace?.pressure, place);
  const what = part.kind === "air_spring" ? "bag" : part.kind === "spring" ? "spring" : "damper";
  const lean = view.strokes[part.name];
  const left = view.preload_left[part.name];
  const rows: FigureRow[] = [];
  if (!SELDOM_MET.has(part.kind)) {
    const rise = riseOf(trace?.motion_ratio, view, range);
    rows.push({
      what: "Motion ratio",
      who,
      value: ratio === null ? "–" : number(ratio, "ratio"),
      note: ratio
        ? `${what} ÷ wheel · ${number(1 / ratio, "ratio", 2)} wheel ÷ ${what}${rise === null ? "" : ` · ${saidRise(rise, number)}`}`
        : `${what} ÷ wheel`,
      id: `ratio-${part.name}`,
    });
  }
  if (lean?.installed_angle != null && lean.path_share != null)
    rows.push({
      what: "Leans from its path",
      who,
      value: number(lean.installed_angle, "angle", 1),
      unit: "°",
      note: `at ride: ${number(100 * lean.path_share, "ratio", 1)} % of its movement goes into the damper`,
      id: `lean-${part.name}`,
    });
  rows.push({
    what: part.kind === "air_spring" ? "Height" : "Eye to eye",
    who,
    value: length === null ? "–" : number(length, "length"),
    unit: unit("length"),
    note: unitNote(part, view, quantity),
  });
  if (left !== undefined)
    rows.push({
      what: "Preload left",
      who,
      value: number(left, "length"),
      unit: unit("length"),
      note: left < 0 ? "loose by this at full droop" : "stack still squeezed at full droop",
      id: `preload-${part.name}`,
    });
  if (pressure !== null)
    rows.push({
      what: "Pressure",
      who,
      value: number(pressure, "pressure"),
      unit: unit("pressure"),
      note: "gauge, valve shut at ride height",
      id: `pressure-${part.name}`,
    });
  return rows;
}

/** What all of them do at the wheel. */
export function wholeRows(view: StationView, place: Place, { number, quantity, unit }: Units): FigureRow[] {
  const rate = valueAt(view.wheel_rate, place);
  const share = valueAt(view.rate_from_ratio, place);
  const force = valueAt(view.wheel_force, place);
  return [
    {
      what: "Wheel rate",
      who: "",
      value: rate === null ? "–" : number(rate, "rate"),
      unit: unit("rate"),
      note:
        rate === null || share === null
          ? "not known without every force"
          : `spring ${number(rate - share, "rate")}, changing ratio ${number(share, "rate")}`,
      id: "rate",
    },
    {
      what: "Wheel force",
      who: "",
      value: force === null ? "–" : number(force, "force"),
      unit: unit("force"),
      note: `carries ${quantity(view.weight, "force")} at ride`,
    },
  ];
}

/** How the wheels lean and turn. */
export function wheelRows(view: StationView, place: Place, { number }: Units): FigureRow[] {
  return Object.entries(view.wheels).flatMap(([name, wheel]) => {
    const camber = valueAt(wheel.camber, place);
    const toe = valueAt(wheel.toe, place);
    if (camber === null || toe === null) return [];
    return {
      what: "Camber · toe",
      who: spoken(name),
      value: `${number(camber, "angle")} · ${number(toe, "angle")}`,
      unit: "°",
      note: "top out and front in are positive",
    };
  });
}

/** How rods stand to the arms that they push. */
export function angleRows(view: StationView, place: Place, { number }: Units): FigureRow[] {
  return view.angles
    .filter((angle) => !angle.is_unit)
    .map((angle) => {
      const now = valueAt(angle.angle, place);
      return {
        what: `${capital(angle.rod)} to ${spoken(angle.rocker)} arm`,
        who: "",
        value: now === null ? "–" : number(now, "angle", 1),
        unit: "°",
        note: angle.at_ride === null ? "square is 90°" : `${number(angle.at_ride, "angle", 1)}° at ride`,
      };
    });
}

/** What the wheels do by themselves about where it stands. */
export function ownAngleRows(
  view: StationView,
  tape: TapeSpread | undefined,
  { number, quantity, unit }: Units,
): FigureRow[] {
  const { wheels, steering_axis: axis, lock } = view.wheel_angles;
  const rows: FigureRow[] = Object.entries(wheels ?? {}).flatMap(([name, its]) => {
    const who = spoken(name);
    const spread = tape?.wheel_angles[name];
    return [
      {
        what: "Bump steer",
        who,
        value: number(Math.abs(its.bump_steer), "angle"),
        unit: "°",
        note: `in 25 mm up or down${its.rim_mm === null ? "" : `, ${quantity(Math.abs(its.rim_mm), "length")} over the tyre`}`,
        spans: [sizeOf(spread?.bump_steer)],
        dimension: "angle",
        id: `bump-steer-${name}`,
      },
      {
        what: "Camber gain",
        who,
        value: number(its.camber_gain, "angle"),
        unit: "°",
        note: "in 25 mm of bump; top in is negative",
        spans: [spread?.camber_gain],
        dimension: "angle",
        id: `camber-gain-${name}`,
      },
    ];
  });
  if (!rows.length) return rows;
  const of = tape?.steering_axis;
  if (axis)
    rows.push(
      {
        what: "Caster · kingpin",
        who: "",
        value: `${number(axis.caster, "angle", 1)} · ${number(axis.kingpin, "angle", 1)}`,
        unit: "°",
        note: `from ${spoken(axis.lower)} to ${spoken(axis.upper)}; top rearward and in are positive`,
        spans: [of?.caster, of?.kingpin],
        dimension: "angle",
        digits: 1,
        id: "caster",
      },
      {
        what: "Scrub · trail",
        who: "",
        value: `${number(axis.scrub, "length")} · ${number(axis.trail, "length")}`,
        unit: unit("length"),
        note: "tyre outside, and behind, where the axis meets the floor",
        spans: [of?.scrub, of?.trail],
        dimension: "length",
        id: "scrub",
      },
    );
  if (lock)
    rows.push({
      what: "Full lock, inner · outer",
      who: "",
      value: `${number(lock.inner, "angle", 1)} · ${number(lock.outer, "angle", 1)}`,
      unit: "°",
      note:
        lock.ackermann === null
          ? "give the wheelbase for Ackermann"
          : `${quantity(lock.ackermann, "share")} of Ackermann`,
    });
  return rows;
}

/** The interval of a value's size: one that may be to either side begins at nothing. */
function sizeOf(span: Span): Span {
  if (!span) return undefined;
  const [low = 0, middle = 0, high = 0] = span;
  if (low >= 0) return span;
  return high <= 0 ? [-high, -middle, -low] : [0, Math.abs(middle), Math.max(-low, high)];
}

function capital(name: string): string {
  const words = spoken(name);
  return words.charAt(0).toUpperCase() + words.slice(1);
}

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
