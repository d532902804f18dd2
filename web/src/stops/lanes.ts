/** What is free where: one lane for each part that can end the travel, from its lowest to its highest event. */

import type { StationView } from "../api/client";
import { spoken } from "../quantity/spoken";

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

/** What an event happens to, as it is said. */
export const subjectOf = (event: Event) => event.subjects.map(spoken).join(" and ") || "linkage";

const BOTH = " (both sides)";

/** One lane for each subject; a coil has a lane beside its damper's, and sides that are alike share theirs. */
export function lanesOf(ledger: StationView["ledger"]): Lane[] {
  const lanes = new Map<string, Lane>();
  const told = [...ledger.bump, ...ledger.droop].map(subjectOf);
  const shared = new Set(told.filter((name) => name.endsWith(BOTH)).map((name) => name.replace(BOTH, "")));
  const lane = (event: Event) => {
    const coil = event.kind.startsWith("coil") ? " coil" : "";
    const name = subjectOf(event).replace(BOTH, "");
    // One side of a pair that is said once elsewhere; the first of the two is what ends the travel.
    const stem = name.replace(/ ?\b(left|right)\b/i, "").trim();
    const subject = `${shared.has(stem) ? stem : name}${coil}`;
    const found = lanes.get(subject) ?? { subject, low: null, high: null, lowEnd: null, highEnd: null };
    lanes.set(subject, found);
    return found;
  };
  for (const event of ledger.bump) {
    const its = lane(event);
    if (event.spent) its.highEnd ??= event;
    else its.high ??= event;
  }
  for (const event of ledger.droop) {
    const its = lane(event);
    if (event.spent) its.lowEnd ??= event;
    else its.low ??= event;
  }
  return [...lanes.values()];
}
