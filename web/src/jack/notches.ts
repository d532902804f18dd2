/** What stands along the rail: where what happens, with labels that do not sit on one another. */

import type { StationView } from "../api/client";

export interface Notch {
  travel: number;
  words: string;
  mark: "fault" | "ride" | "stop";
}

/** One notch for each event; the two sides of an axle at the same height are one. */
export function notchesOf(view: StationView, bump: number, droop: number): Notch[] {
  const found = new Map<string, Notch>();
  for (const limit of [...view.ledger.bump, ...view.ledger.droop]) {
    if (limit.kind === "strap_end") continue; // what matters on the rail is where it comes taut
    const words = limit.short;
    const meant = limit.takes === "soft";
    const inside = !meant && limit.travel >= -droop && limit.travel <= bump;
    found.set(`${words} ${limit.travel.toFixed(0)}`, {
      travel: limit.travel,
      words,
      mark: inside ? "fault" : "stop",
    });
  }
  const notches = [...found.values()];
  if (view.ride) notches.push({ travel: view.ride.travel, words: "ride", mark: "ride" });
  return notches.sort((a, b) => b.travel - a.travel);
}

/** Push label heights (px, downward) apart until each has its room, keeping their order. */
export function spread(heights: number[], room: number, top: number, bottom: number): number[] {
  const placed = [...heights];
  for (let k = 1; k < placed.length; k++) {
    placed[k] = Math.max(placed[k] ?? 0, (placed[k - 1] ?? 0) + room);
  }
  const last = placed.length - 1;
  if (last >= 0 && (placed[last] ?? 0) > bottom) placed[last] = bottom;
  for (let k = last - 1; k >= 0; k--) {
    placed[k] = Math.min(placed[k] ?? 0, (placed[k + 1] ?? 0) - room);
  }
  return placed.map((height) => Math.max(height, top - room));
}

/** The same on a rail with a handle on it, that covers `clear` px either way: labels stand above it or below it. */
export function spreadAround(
  heights: number[],
  room: number,
  top: number,
  bottom: number,
  handle: number,
  clear: number,
): number[] {
  const [over, under] = [handle - clear, handle + clear];
  const above = heights.filter((height) => over >= top && (height <= handle || under > bottom)).length;
  const below = heights.slice(above).map((height) => Math.max(height, under));
  return [
    ...spread(heights.slice(0, above), room, top, over),
    ...spread(below, room, Math.min(under, bottom), bottom),
  ];
}
