/** Outlines to draw: tyres, coils, the reach of a station. Geometry for the eye, not for the job. */

import type { Station } from "../api/client";
import { type Box, hull, type Plan, project, type Side, type Vec } from "./projection";

const ROUND = 28;

function cross(a: Vec, b: Vec): [number, number, number] {
  const [ax = 0, ay = 0, az = 0] = a;
  const [bx = 0, by = 0, bz = 0] = b;
  return [ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx];
}

function unit(a: Vec): [number, number, number] {
  const [x = 0, y = 0, z = 0] = a;
  const size = Math.hypot(x, y, z) || 1;
  return [x / size, y / size, z / size];
}

/** A tyre as the outline of its cylinder about the spin axis, in plan coordinates. */
export function tyreOutline(
  plan: Plan,
  side: Side,
  centre: Vec,
  spindle: Vec,
  radius: number,
  width: number,
): [number, number][] {
  const axis = unit(spindle.map((value, k) => value - (centre[k] ?? 0)));
  const across = unit(cross(axis, [1, 0, 0.001]));
  const along = cross(axis, across);
  const rim: [number, number][] = [];
  for (const face of [-0.5, 0.5]) {
    for (let k = 0; k < ROUND; k++) {
      const angle = (2 * Math.PI * k) / ROUND;
      const p = centre.map(
        (value, i) =>
          value +
          face * width * (axis[i] ?? 0) +
          radius * (Math.cos(angle) * (across[i] ?? 0) + Math.sin(angle) * (along[i] ?? 0)),
      );
      rim.push(project(plan, side, p));
    }
  }
  return hull(rim);
}

/** Where a bar's arm ends when its drop link has followed: turned about the bar, the link as long as it was drawn. */
export function barTip(bar: { tip: Vec; axis?: Vec }, drawn: Vec, held: Vec, now: Vec): Vec {
  const axis = unit(bar.axis ?? [0, 1, 0]);
  const minus = (a: Vec, b: Vec) => a.map((value, k) => value - (b[k] ?? 0));
  const dot = (a: Vec, b: Vec) => a.reduce((sum, value, k) => sum + value * (b[k] ?? 0), 0);
  const arm = minus(bar.tip, held);
  const along = dot(axis, arm);
  const centre = held.map((value, k) => value + along * (axis[k] ?? 0));
  const one = minus(bar.tip, centre);
  const two = cross(axis, one);
  const off = minus(now, centre);
  const link = Math.hypot(...minus(bar.tip, drawn));
  // |centre + cos·one + sin·two − now| = link, the turn nearest to drawn of the two.
  const [a, b] = [2 * dot(off, one), 2 * dot(off, two)];
  const c = dot(one, one) + dot(off, off) - link * link;
  const [middle, half] = [
    Math.atan2(b, a),
    Math.acos(Math.max(-1, Math.min(1, c / (Math.hypot(a, b) || 1)))),
  ];
  const turns = [middle - half, middle + half].map((turn) => Math.atan2(Math.sin(turn), Math.cos(turn)));
  const turn = turns.reduce((best, its) => (Math.abs(its) < Math.abs(best) ? its : best));
  return centre.map((value, k) => value + Math.cos(turn) * (one[k] ?? 0) + Math.sin(turn) * (two[k] ?? 0));
}

/** A coil between two paper points: straight ends and turns between, pixels. */
export function coil(
  from: [number, number],
  to: [number, number],
  turns: number,
  wide: number,
): [number, number][] {
  const length = Math.hypot(to[0] - from[0], to[1] - from[1]) || 1;
  const u = [(to[0] - from[0]) / length, (to[1] - from[1]) / length] as const;
  const across = [-u[1], u[0]] as const;
  const points: [number, number][] = [from];
  for (let k = 0; k <= turns * 2; k++) {
    const along = length * (0.12 + (0.76 * k) / (turns * 2));
    const off = k % 2 ? wide : -wide;
    points.push([from[0] + u[0] * along + across[0] * off, from[1] + u[1] * along + across[1] * off]);
  }
  points.push(to);
  return points;
}

/** The room a station takes, tyres and floor with it. */
export function boxOf(station: Station): Box {
  const low: Box["low"] = [Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY, 0];
  const high: Box["high"] = [Number.NEGATIVE_INFINITY, Number.NEGATIVE_INFINITY, Number.NEGATIVE_INFINITY];
  const take = (p: Vec, margin: Vec) => {
    for (let axis = 0; axis < 3; axis++) {
      low[axis] = Math.min(low[axis] ?? 0, (p[axis] ?? 0) - (margin[axis] ?? 0));
      high[axis] = Math.max(high[axis] ?? 0, (p[axis] ?? 0) + (margin[axis] ?? 0));
    }
  };
  const spindles = new Set(station.wheels.map((wheel) => wheel.spindle));
  for (const [name, p] of Object.entries(station.points)) {
    if (!spindles.has(name)) take(p, [10, 10, 10]);
  }
  for (const wheel of station.wheels) {
    const centre = station.points[wheel.centre];
    const radius = wheel.tyre_radius ?? 250;
    if (centre) take(centre, [radius, (wheel.tyre_width ?? 150) / 2, radius]);
  }
  return { low, high };
}

/** Which side of the centreline a station is drawn from. */
export function sideOf(station: Station): Side {
  const wheels = station.wheels.map((wheel) => station.points[wheel.centre]?.[1] ?? 0);
  const mean = wheels.reduce((total, y) => total + y, 0) / Math.max(wheels.length, 1);
  return mean < -1 ? -1 : 1;
}
