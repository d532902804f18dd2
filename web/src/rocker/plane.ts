/** The rocker's own plane on paper, and what a drag may do in it. Geometry for the drawing. */

import type { Shape, Station } from "../api/client";
import { movePoint, type Vec } from "../bench/edits";

export type Rocker = Shape["RockerOut"];
type Spot = [number, number, number];

/** Looked at along its bolt: which way is right, up and toward the eye. */
export interface Look {
  pivot: Spot;
  right: Spot;
  up: Spot;
  eye: Spot;
}

const dot = (a: number[], b: number[]) => a.reduce((sum, value, k) => sum + value * (b[k] ?? 0), 0);
const cross = (a: Spot, b: Spot): Spot => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const unit = (a: number[]): Spot => {
  const size = Math.hypot(...a) || 1;
  return a.map((value) => value / size) as Spot;
};

/** Where the pivot stands in the plane of the rod's joint, and which way its bolt points. */
function bolt(points: Record<string, number[]>, rocker: Rocker): { pivot: Spot; axis: Spot } {
  const [one = [0, 0, 0], other = [1, 0, 0]] = rocker.pivots.map((name) => points[name] ?? [0, 0, 0]);
  const axis = unit(other.map((value, k) => value - (one[k] ?? 0)));
  const joint = points[rocker.rod_joint] ?? one;
  const along = dot(
    joint.map((value, k) => value - (one[k] ?? 0)),
    axis,
  );
  return { pivot: one.map((value, k) => value + along * (axis[k] ?? 0)) as Spot, axis };
}

/** Up on paper is up at the vehicle, as far as the plane allows; the bolt points at the eye. */
export function lookAt(station: Station, rocker: Rocker): Look {
  const { pivot, axis } = bolt(station.points as Record<string, number[]>, rocker);
  const most = axis.reduce((best, value, k) => (Math.abs(value) > Math.abs(axis[best] ?? 0) ? k : best), 0);
  const eye = axis.map((value) => ((axis[most] ?? 1) < 0 ? -value : value)) as Spot;
  const wanted: Spot = Math.abs(eye[2]) < 0.9 ? [0, 0, 1] : [-1, 0, 0];
  const up = unit(wanted.map((value, k) => value - dot(wanted, eye) * (eye[k] ?? 0)));
  return { pivot, right: cross(up, eye), up, eye };
}

/** Where a rocker's pivot stands on paper, of any set of points. */
export const pivotOf = (look: Look, points: Record<string, number[]>, rocker: Rocker) =>
  flat(look, bolt(points, rocker).pivot);

export function flat(look: Look, place: number[]): [number, number] {
  const arm = place.map((value, k) => value - (look.pivot[k] ?? 0));
  return [dot(arm, look.right), dot(arm, look.up)];
}

/** Where a place goes that is moved within the plane, mm. */
export function shifted(look: Look, place: number[], right: number, up: number): Vec {
  return place.map((value, k) => value + right * (look.right[k] ?? 0) + up * (look.up[k] ?? 0)) as Vec;
}

export interface Locks {
  /** Arms keep their lengths; the angle between them stays; holes stand on a grid of so many mm (0 is none). */
  arms: boolean;
  angle: boolean;
  grid: number;
}

export type Grip = "joint" | "eye" | "pivot" | "far";

export const GRIPS: Record<Grip, string> = {
  joint: "rod's joint",
  eye: "damper's joint",
  pivot: "pivot",
  far: "damper's far end",
};

/** The point, or the two pivots, that a grip takes hold of. */
export function pointsOf(rocker: Rocker, grip: Grip): string[] {
  if (grip === "pivot") return rocker.pivots;
  return [{ joint: rocker.rod_joint, eye: rocker.eye, far: rocker.far }[grip]];
}

/** The station with a grip put to a place on paper (mm), the locks kept; a grid of holes is counted from the pivot. */
export function dragged(
  station: Station,
  rocker: Rocker,
  look: Look,
  grip: Grip,
  to: [number, number],
  locks: Locks,
): Station {
  const [p, q] = pivotOf(look, station.points as Record<string, number[]>, rocker);
  const from = (name: string) => (station.points[name] ?? [0, 0, 0]) as number[];
  const moves: Record<string, [number, number]> = {};
  const arm = (name: string): [number, number] => {
    const [u, v] = flat(look, from(name));
    return [u - p, v - q];
  };
  const put = (name: string, [u, v]: [number, number]) => {
    const [a, b] = arm(name);
    moves[name] = [u - a, v - b];
  };
  const snapped = (place: [number, number]): [number, number] =>
    locks.grid > 0
      ? [Math.round(place[0] / locks.grid) * locks.grid, Math.round(place[1] / locks.grid) * locks.grid]
      : place;
  if (grip === "joint" || grip === "eye") {
    const name = pointsOf(rocker, grip)[0] ?? "";
    const old = arm(name);
    const long = Math.hypot(...old);
    let place = snapped([to[0] - p, to[1] - q]);
    if (locks.arms) place = scaled(place, long);
    put(name, place);
    if (locks.angle) {
      const other = grip === "joint" ? rocker.eye : rocker.rod_joint;
      put(other, turned(arm(other), Math.atan2(place[1], place[0]) - Math.atan2(old[1], old[0])));
    }
  } else if (grip === "pivot") {
    for (const name of rocker.pivots) moves[name] = [to[0] - p, to[1] - q];
  } else put(rocker.far, [to[0] - p, to[1] - q]);
  let next = station;
  for (const [name, [right, up]] of Object.entries(moves)) {
    next = withMirror(next, station, name, shifted(look, from(name), right, up));
  }
  // The rod is made to fit what is drawn: a length that was set before would turn the rocker.
  const { [rocker.rod]: _, ...links } = (next.links ?? {}) as NonNullable<Station["links"]>;
  return { ...next, links } as Station;
}

const scaled = ([u, v]: [number, number], long: number): [number, number] => {
  const size = Math.hypot(u, v) || 1;
  return [(u * long) / size, (v * long) / size];
};

const turned = ([u, v]: [number, number], by: number): [number, number] => [
  u * Math.cos(by) - v * Math.sin(by),
  u * Math.sin(by) + v * Math.cos(by),
];

const MIRROR_MM = 25;

/** The station with a point moved, and on an axle its mirror image on the other side. */
function withMirror(next: Station, before: Station, name: string, to: Vec): Station {
  const moved = movePoint(next, name, to);
  if (before.kind !== "axle") return moved;
  const [x = 0, y = 0, z = 0] = before.points[name] ?? [];
  const image = Object.entries(before.points).find(
    ([other, place]) =>
      other !== name &&
      Math.abs((place[0] ?? 0) - x) < MIRROR_MM &&
      Math.abs((place[1] ?? 0) + y) < MIRROR_MM &&
      Math.abs((place[2] ?? 0) - z) < MIRROR_MM,
  );
  return image ? movePoint(moved, image[0], [to[0], -to[1], to[2]]) : moved;
}

/** The station with a found rocker's points, its rod as drawn. */
export function withRocker(station: Station, points: Record<string, number[]>, rod: string): Station {
  const moved = Object.entries(points).reduce(
    (its, [name, place]) => movePoint(its, name, place as Vec),
    station,
  );
  const { [rod]: _, ...links } = (moved.links ?? {}) as NonNullable<Station["links"]>;
  return { ...moved, links } as Station;
}
