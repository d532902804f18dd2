/** What rockers are compared by, in the words of the bench. */

import type { Dimension } from "../quantity/quantity";

export interface Trait {
  key: string;
  name: string;
  dimension: Dimension;
  digits?: number;
}

export const TRAITS: Trait[] = [
  { key: "rod_swing", name: "Rod off square, worst", dimension: "angle", digits: 0 },
  { key: "size", name: "Both arms together", dimension: "length", digits: 0 },
  { key: "change", name: "Rise of the ratio", dimension: "share", digits: 1 },
  { key: "bow", name: "Deviation from straight, mid-travel", dimension: "share", digits: 1 },
  { key: "ratio", name: "Ratio at ride", dimension: "ratio" },
  { key: "stroke", name: "Stroke used", dimension: "length" },
  { key: "damper_left", name: "Damper left, least", dimension: "length" },
  { key: "tilt", name: "Rod out of the plane", dimension: "angle", digits: 1 },
  { key: "turn", name: "Rocker turns", dimension: "angle", digits: 0 },
  { key: "rod", name: "Rod, centre to centre", dimension: "length" },
  { key: "rod_at_ride", name: "Rod to arm at ride", dimension: "angle", digits: 1 },
  { key: "damper_at_ride", name: "Damper to arm at ride", dimension: "angle", digits: 1 },
];

export const traitOf = (key: string) => TRAITS.find((trait) => trait.key === key);

/** Targets as they are named when one is missed. */
export const MISSES: Record<string, string> = {
  ratio: "the ratio",
  wheel_rate: "the wheel rate",
  stroke: "the stroke",
  change: "the rise of the ratio",
  rod_angle: "the rod's angle",
  damper_angle: "the damper's angle",
  over_centre: "its distance from centre",
  damper_left: "the damper left at its ends",
  far_room: "the room for the damper's far end",
  damper_arm: "the length of the damper arm",
  keep_outs: "the room that other parts take",
  joints: "the room between both bolts",
  bow: "a straight run of the ratio",
  reach: "the travel itself",
};

/** The trait that tells how near a missed target can be come to. */
export const NEAREST: Record<string, string> = {
  ratio: "ratio",
  stroke: "stroke",
  change: "change",
  rod_angle: "rod_at_ride",
  damper_angle: "damper_at_ride",
  damper_left: "damper_left",
  damper_arm: "size",
  bow: "bow",
};
