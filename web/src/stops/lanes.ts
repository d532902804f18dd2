/** What is free where: one lane for each part that can end the travel, from its lowest to its highest event. */

import type { StationView } from "../api/client";

type Event = StationView["ledger"]["bump"][number];

export interface Lane {
  subject: string;
  /** mm of travel; null where nothing was met in what was searched. */
  low: Event | null;
  high: Event | null;
  /** Where a soft stop has given all it can. */
  lowEnd: Event | null;
  highEnd: Event | null;
}

export const SAID: Record<string, string> = {
  damper_extended: "damper tops out",
  damper_compressed: "damper bottoms",
  coil_solid: "coil goes solid",
  coil_loose: "coil comes loose",
  strap_taut: "strap comes taut",
  strap_end: "strap has stretched to its end",
  bump_stop_contact: "bump stop touches",
  bump_stop_solid: "bump stop is flat",
  bag_min_height: "bag at its least height",
  bag_max_height: "bag at its greatest height",
  linkage_reach: "linkage reaches no further",
  joint_bind: "joint binds",
  shaft_bind: "shaft joint binds",
  shaft_short: "shaft bottoms",
  shaft_long: "shaft pulls out",
  metal_contact: "metal touches metal",
};

const ENDS = new Set(["strap_end", "bump_stop_solid"]);
export const SOFT = new Set(["strap_taut", "bump_stop_contact"]);

/** One lane for each subject; a coil has a lane beside its damper's. */
export function lanesOf(ledger: StationView["ledger"]): Lane[] {
  const lanes = new Map<string, Lane>();
  const lane = (event: Event) => {
    const coil = event.kind.startsWith("coil") ? " coil" : "";
    const subject = `${(event.subject ?? "linkage").replaceAll("_", " ")}${coil}`;
    const found = lanes.get(subject) ?? { subject, low: null, high: null, lowEnd: null, highEnd: null };
    lanes.set(subject, found);
    return found;
  };
  for (const event of ledger.bump) {
    const its = lane(event);
    if (ENDS.has(event.kind)) its.highEnd ??= event;
    else its.high ??= event;
  }
  for (const event of ledger.droop) {
    const its = lane(event);
    if (ENDS.has(event.kind)) its.lowEnd ??= event;
    else its.low ??= event;
  }
  return [...lanes.values()];
}
