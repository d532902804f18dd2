/** Readings in the words of the job. */

import type { Dimension } from "../quantity/quantity";
import { spoken } from "../quantity/spoken";
import type { Reading } from "./store";

export interface KindWords {
  kind: string;
  /** Only for slopes: along what. */
  seen?: string;
  name: string;
  tool: string;
  places: number;
  dimension: Dimension;
  /** What is asked while it is in hand. */
  ask: string;
}

export const KINDS: KindWords[] = [
  { kind: "height", name: "Height", tool: "tape", places: 1, dimension: "length", ask: "up from the floor" },
  {
    kind: "offset",
    name: "From centreline",
    tool: "plumb line",
    places: 1,
    dimension: "length",
    ask: "out from the centreline; left is +",
  },
  {
    kind: "fore_aft",
    name: "From datum line",
    tool: "plumb line",
    places: 1,
    dimension: "length",
    ask: "from the datum line; ahead is +",
  },
  {
    kind: "distance",
    name: "Tape",
    tool: "tape",
    places: 2,
    dimension: "length",
    ask: "along the tape, middle to middle",
  },
  {
    kind: "floor_distance",
    name: "On the floor",
    tool: "plumb line",
    places: 2,
    dimension: "length",
    ask: "between the plumb marks",
  },
  {
    kind: "rise",
    name: "Rise",
    tool: "level",
    places: 2,
    dimension: "length",
    ask: "how much higher the second is",
  },
  {
    kind: "slope",
    seen: "line",
    name: "Slope along it",
    tool: "angle finder",
    places: 2,
    dimension: "angle",
    ask: "above level, along the piece",
  },
  {
    kind: "slope",
    seen: "side",
    name: "Slope, side",
    tool: "angle finder",
    places: 2,
    dimension: "angle",
    ask: "above level, seen from the side",
  },
  {
    kind: "slope",
    seen: "front",
    name: "Slope, front",
    tool: "angle finder",
    places: 2,
    dimension: "angle",
    ask: "above level, seen from the front",
  },
  {
    kind: "mirrored",
    name: "Alike",
    tool: "eye",
    places: 2,
    dimension: "length",
    ask: "ought to be mirror images",
  },
  {
    kind: "angle",
    name: "Angle",
    tool: "angle finder",
    places: 3,
    dimension: "angle",
    ask: "at the first, between the other two",
  },
];

export const wordsOf = (reading: Pick<Reading, "kind" | "seen">): KindWords =>
  KINDS.find((one) => one.kind === reading.kind && (one.seen ?? "line") === (reading.seen ?? "line")) ??
  (KINDS[0] as KindWords);

/** The places that a reading names, in the order in which they are said. */
export const placesOf = (reading: Reading): string[] =>
  reading.of !== undefined
    ? [reading.of]
    : [
        ...(reading.at !== undefined ? [reading.at] : []),
        ...(reading.between ?? reading.along ?? reading.pair ?? []),
      ];

/** A reading of a kind between places. */
export function readingOf(kind: KindWords, places: string[], values: number[]): Reading {
  const base = { kind: kind.kind, ...(kind.kind === "mirrored" ? {} : { values }) };
  if (kind.places === 1) return { ...base, of: places[0] ?? "" };
  if (kind.kind === "angle") return { ...base, at: places[0] ?? "", between: places.slice(1) };
  if (kind.kind === "slope") return { ...base, along: places, seen: kind.seen ?? "line" };
  if (kind.kind === "mirrored") return { ...base, pair: places };
  return { ...base, between: places };
}

/** A place as it is said; with its station where there are several. */
export function placeWords(place: string, short = false): string {
  const cut = place.lastIndexOf("/");
  if (cut < 0) return place;
  const point = spoken(place.slice(cut + 1));
  return short ? point : `${point}, ${place.slice(0, cut)}`;
}

/** What makes two readings the same one: their kind and their places. */
export const sameKey = (kind: string, seen: string | undefined, places: string[]) =>
  `${kind}:${kind === "slope" ? (seen ?? "line") : ""}:${kind === "slope" || kind === "rise" ? places.join("|") : [...places].sort().join("|")}`;
