/** Words beside the drawing, kept off one another: each tries a few places and takes the first free one. */

export interface Label {
  key: string;
  text: string;
  /** Where it points, px. */
  at: [number, number];
  strong?: boolean;
}

export interface PlacedLabel extends Label {
  x: number;
  y: number;
  width: number;
}

interface Rect {
  x: number;
  y: number;
  w: number;
  h: number;
}

const HIGH = 17;
const overlaps = (a: Rect, b: Rect) =>
  a.x < b.x + b.w && b.x < a.x + a.w && a.y < b.y + b.h && b.y < a.y + a.h;

export function placeLabels(
  labels: Label[],
  taken: [number, number][],
  width: number,
  height: number,
): PlacedLabel[] {
  const blocked: Rect[] = taken.map(([x, y]) => ({ x: x - 9, y: y - 9, w: 18, h: 18 }));
  const placed: PlacedLabel[] = [];
  for (const label of labels) {
    const w = label.text.length * 7.1 + 6;
    const spot = candidates(label.at, w).find(
      (r) =>
        r.x > 4 &&
        r.x + r.w < width - 4 &&
        r.y > 30 &&
        r.y + r.h < height - 4 &&
        !blocked.some((other) => overlaps(r, other)),
    );
    if (!spot) continue;
    blocked.push(spot);
    placed.push({ ...label, x: spot.x + 3, y: spot.y + 13, width: w });
  }
  return placed;
}

function candidates([x, y]: [number, number], w: number): Rect[] {
  const found: Rect[] = [];
  for (const far of [16, 34, 56, 84]) {
    for (const [dx, dy] of [
      [far, -HIGH / 2],
      [-far - w, -HIGH / 2],
      [-w / 2, -far - HIGH],
      [-w / 2, far],
      [far * 0.7, -far - HIGH / 2],
      [-far * 0.7 - w, -far - HIGH / 2],
      [far * 0.7, far],
      [-far * 0.7 - w, far],
    ]) {
      found.push({ x: x + (dx ?? 0), y: y + (dy ?? 0), w, h: HIGH });
    }
  }
  return found;
}
