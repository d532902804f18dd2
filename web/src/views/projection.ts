/**
 * Three plans of one vehicle. World axes: x forward, y left, z up; on paper u goes right and v up.
 *
 * front   looking aft: the vehicle's left is on the right.
 * side    beside it, looking in at the station's own side: on the left side forward is to the left.
 * top     under it, from above: the vehicle's left on the right again, forward is down.
 */

export type Plan = "front" | "side" | "top";
export type Vec = readonly number[];

/** +1 for a station on the left (or an axle), −1 on the right. */
export type Side = 1 | -1;

export interface Box {
  low: [number, number, number];
  high: [number, number, number];
}

const at = (p: Vec, axis: number) => p[axis] ?? 0;

export function project(plan: Plan, side: Side, p: Vec): [number, number] {
  if (plan === "front") return [at(p, 1), at(p, 2)];
  if (plan === "side") return [-side * at(p, 0), at(p, 2)];
  return [at(p, 1), -at(p, 0)];
}

/** The world movement of one millimetre right and up on paper, rounded as it is typed. */
export function unproject(plan: Plan, side: Side, u: number, v: number): [number, number, number] {
  if (plan === "front") return [0, u, v];
  if (plan === "side") return [-side * u, 0, v];
  return [-v, u, 0];
}

export function extent(plan: Plan, side: Side, box: Box): { u: [number, number]; v: [number, number] } {
  const one = project(plan, side, box.low);
  const other = project(plan, side, box.high);
  return {
    u: [Math.min(one[0], other[0]), Math.max(one[0], other[0])],
    v: [Math.min(one[1], other[1]), Math.max(one[1], other[1])],
  };
}

/** How plan coordinates land on a panel: pixels per mm, and the plan point in its middle. */
export interface Paper {
  scale: number;
  middle: [number, number];
  width: number;
  height: number;
}

export function toPaper(paper: Paper, [u, v]: [number, number]): [number, number] {
  return [
    paper.width / 2 + (u - paper.middle[0]) * paper.scale,
    paper.height / 2 - (v - paper.middle[1]) * paper.scale,
  ];
}

/** Corners of the outline around points, anticlockwise; fewer than three come back as they are. */
export function hull(points: [number, number][]): [number, number][] {
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  if (sorted.length < 3) return sorted;
  const half = (list: [number, number][]) => {
    const out: [number, number][] = [];
    for (const p of list) {
      while (out.length > 1 && turn(out[out.length - 2], out[out.length - 1], p) <= 0) out.pop();
      out.push(p);
    }
    out.pop();
    return out;
  };
  return [...half(sorted), ...half(sorted.reverse())];
}

function turn(a: [number, number] | undefined, b: [number, number] | undefined, c: [number, number]): number {
  if (!a || !b) return 0;
  return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
}

/** A tenth of a pixel is as fine as it is seen. */
const fine = (px: number) => Math.round(px * 10) / 10;

export function path(points: [number, number][], closed = false): string {
  if (!points.length) return "";
  let words = "";
  for (const [x, y] of points) words += `${words ? "L" : "M"}${fine(x)} ${fine(y)}`;
  return closed ? `${words}Z` : words;
}

/** A line without points closer together than three pixels: in a curve of travel they are not seen. */
export function thinned(points: [number, number][]): [number, number][] {
  const last = points.length - 1;
  let [x, y] = [Number.POSITIVE_INFINITY, 0];
  return points.filter((p, k) => {
    const near = Math.abs(p[0] - x) + Math.abs(p[1] - y) < 3;
    if (near && k < last) return false;
    [x, y] = p;
    return true;
  });
}
