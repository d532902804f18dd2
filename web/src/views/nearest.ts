/** Where solids come nearest: shown while the Jack stands near the height at which they do. */

import type { StationView } from "../api/client";

type Near = StationView["nearest"][number];

const HERE_MM = 4;

/** The clearances that are nearest about where the wheels stand now: mm of travel, mm of one wheel up. */
export function nearestHere(view: StationView | null, travel: number, articulation: number): Near[] {
  return (view?.nearest ?? []).filter(
    (near) =>
      Math.abs(near.travel - travel) <= HERE_MM && Math.abs(near.articulation - articulation) <= HERE_MM,
  );
}

export function middleOf(places: number[][]): [number, number, number] {
  const [one = [], other = []] = places;
  return [0, 1, 2].map((k) => ((one[k] ?? 0) + (other[k] ?? 0)) / 2) as [number, number, number];
}
