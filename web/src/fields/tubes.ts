/** The tubes that are picked from: over them and their wall, mm. */

import type { Dimension } from "../quantity/quantity";

const TUBES: [number, number][] = [
  [16, 1.5],
  [20, 2],
  [25, 2],
  [25, 2.5],
  [28, 2.5],
  [30, 3],
  [32, 3],
  [35, 3],
  [38, 3],
  [42, 3.2],
  [48.3, 4],
  [60.3, 5],
];

export function tubeKey(tube: { outside: number; wall: number }): string {
  return `${tube.outside}x${tube.wall}`;
}

export function tubeOptions(
  now: { outside: number; wall: number },
  quantity: (value: number, dimension: Dimension) => string,
): [string, string][] {
  const all = TUBES.some(([o, w]) => o === now.outside && w === now.wall)
    ? TUBES
    : [...TUBES, [now.outside, now.wall] as [number, number]];
  return all.map(([outside, wall]) => [
    tubeKey({ outside, wall }),
    `${quantity(outside, "length")} × ${quantity(wall, "length")}`,
  ]);
}
