/** Where the Jack stands among the solved rows, and values between them. */

import type { StationView } from "../api/client";

export interface Place {
  /** Rows on either side, and the share of the way from the first to the second. */
  low: number;
  high: number;
  share: number;
}

/** The rows around a travel (mm); travels are sorted. */
export function placeOf(travels: number[], travel: number): Place {
  let low = 0;
  let high = travels.length - 1;
  if (travel <= (travels[low] ?? 0)) return { low, high: low, share: 0 };
  if (travel >= (travels[high] ?? 0)) return { low: high, high, share: 0 };
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if ((travels[middle] ?? 0) <= travel) low = middle;
    else high = middle;
  }
  const from = travels[low] ?? 0;
  const to = travels[high] ?? from;
  return { low, high, share: to > from ? (travel - from) / (to - from) : 0 };
}

/** A column's value at a place; null where it is not known. */
export function valueAt(column: (number | null)[] | null | undefined, place: Place): number | null {
  const from = column?.[place.low];
  const to = column?.[place.high];
  if (from == null || to == null) return null;
  return from + (to - from) * place.share;
}

/** Rows with only what the linkage can reach: points come that way already. */
export function reachedOnly<T>(column: T[], view: StationView): T[] {
  return column.filter((_, row) => view.reached[row]);
}

/** Every point at a travel, mm. */
export function pointsAt(
  view: StationView,
  reachedTravels: number[],
  travel: number,
): Record<string, number[]> {
  const place = placeOf(reachedTravels, travel);
  const found: Record<string, number[]> = {};
  for (const [name, rows] of Object.entries(view.points)) {
    const from = rows[place.low];
    const to = rows[place.high];
    if (from && to)
      found[name] = from.map((value, axis) => value + ((to[axis] ?? value) - value) * place.share);
  }
  return found;
}
