/** Shapes of the round view: tubes, coils, bellows, tyres. Geometry for the eye, not for the job. */

import {
  BufferGeometry,
  CatmullRomCurve3,
  Curve,
  Float32BufferAttribute,
  LatheGeometry,
  TubeGeometry,
  Vector2,
  Vector3,
} from "three";
import { ConvexGeometry } from "three/examples/jsm/geometries/ConvexGeometry.js";
import type { Station } from "../api/client";
import type { Spot } from "./envelopes";

/** A part wider than this is drawn as its tubes alone; a smaller one, a rocker say, as a plate too. */
const PLATE_MM = 420;
const ROUND = 40;

export interface Frame {
  tubes: { from: Spot; to: Spot; radius: number }[];
  /** Corners of a plate, for what is cut from one. */
  plate: Spot[] | null;
}

const apart = (a: Spot, b: Spot) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

/** How a part would be made from its points: an axle on its beam, an upright about its hub, an arm from its pivots. */
export function frameOf(members: string[], station: Station, points: Record<string, number[]>): Frame {
  const spindles = station.wheels.map((wheel) => wheel.spindle);
  const centres = station.wheels.map((wheel) => wheel.centre);
  const spots = members.flatMap((name) => {
    const spot = points[name] as Spot | undefined;
    return spot && !spindles.includes(name) ? [{ name, spot }] : [];
  });
  const hubs = spots.filter(({ name }) => centres.includes(name));
  const rest = spots.filter(({ name }) => !centres.includes(name));
  const tube = (from: Spot, to: Spot, radius: number) => ({ from, to, radius });
  const [hub, far] = hubs;
  if (hub && far) {
    const legs = rest.map(({ spot }) => tube(nearestOn(hub.spot, far.spot, spot), spot, 11));
    return { tubes: [tube(hub.spot, far.spot, 38), ...legs], plate: null };
  }
  if (hub) return { tubes: rest.map(({ spot }) => tube(hub.spot, spot, 15)), plate: null };
  const fixed = rest.filter(({ name }) => station.chassis.includes(name));
  const moving = rest.filter(({ name }) => !station.chassis.includes(name));
  const pairs =
    fixed.length && moving.length
      ? fixed.flatMap((one) => moving.map((other) => [one, other] as const))
      : rest.flatMap((one, k) => rest.slice(k + 1).map((other) => [one, other] as const));
  const wide = Math.max(0, ...pairs.map(([one, other]) => apart(one.spot, other.spot)));
  const plate = rest.length > 2 && wide < PLATE_MM ? rest.map(({ spot }) => spot) : null;
  return {
    tubes: pairs.map(([one, other]) => tube(one.spot, other.spot, rest.length === 2 ? 11 : 9)),
    plate,
  };
}

function nearestOn(from: Spot, to: Spot, spot: Spot): Spot {
  const along = new Vector3(...to).sub(new Vector3(...from));
  const part = new Vector3(...spot).sub(new Vector3(...from)).dot(along) / Math.max(along.lengthSq(), 1);
  return new Vector3(...from).addScaledVector(along, Math.min(1, Math.max(0, part))).toArray() as Spot;
}

class Helix extends Curve<Vector3> {
  constructor(
    private readonly length: number,
    private readonly radius: number,
    private readonly turns: number,
  ) {
    super();
  }
  override getPoint(part: number, into = new Vector3()): Vector3 {
    const turn = 2 * Math.PI * this.turns * part;
    return into.set(this.radius * Math.cos(turn), this.length * (part - 0.5), this.radius * Math.sin(turn));
  }
}

/** A coil along y about the origin. */
export function coilOf(length: number, radius: number, wire: number, turns: number): BufferGeometry {
  const room = Math.max(length - wire, 1);
  return new TubeGeometry(new Helix(room, radius, turns), Math.round(turns * 22), wire / 2, 8);
}

/** An air spring along y: end plates and two folds, as wide as it may grow. */
export function bellowsOf(length: number, radius: number): BufferGeometry {
  const neck = radius * 0.72;
  const half = length / 2;
  const profile = new CatmullRomCurve3([
    new Vector3(neck, -half, 0),
    new Vector3(radius * 0.97, -half * 0.72, 0),
    new Vector3(radius, -half * 0.42, 0),
    new Vector3(neck * 1.08, 0, 0),
    new Vector3(radius, half * 0.42, 0),
    new Vector3(radius * 0.97, half * 0.72, 0),
    new Vector3(neck, half, 0),
  ]).getPoints(36);
  return new LatheGeometry(
    profile.map(({ x, y }) => new Vector2(x, y)),
    ROUND,
  );
}

/** A tyre about y with its rim left open, so that what is behind it is seen through the wheel. */
export function tyreOf(radius: number, width: number): BufferGeometry {
  const [half, rim] = [width / 2, radius * 0.66];
  const outline: [number, number][] = [
    [rim, -half * 0.8],
    [rim + (radius - rim) * 0.5, -half],
    [radius * 0.965, -half * 0.93],
    [radius, -half * 0.7],
    [radius, half * 0.7],
    [radius * 0.965, half * 0.93],
    [rim + (radius - rim) * 0.5, half],
    [rim, half * 0.8],
    [rim, -half * 0.8],
  ];
  return new LatheGeometry(
    outline.map(([x, y]) => new Vector2(x, y)),
    64,
  );
}

/** The hull of a part's points; points of one plane as a plate of some thickness. */
export function hullOf(spots: Spot[]): BufferGeometry | null {
  const vectors = spots.map((spot) => new Vector3(...spot));
  const [a, b, c] = vectors;
  if (!a || !b || !c) return null;
  const normal = b.clone().sub(a).cross(c.clone().sub(a));
  const across = normal.length() > 1 ? normal.normalize().multiplyScalar(4) : new Vector3(0, 0, 4);
  try {
    return new ConvexGeometry(vectors.flatMap((v) => [v.clone().add(across), v.clone().sub(across)]));
  } catch {
    return null;
  }
}

/** A floor of squares, 100 mm each. */
export function squares(far: number, middle: Spot): BufferGeometry {
  const places: number[] = [];
  const step = 100;
  const half = Math.ceil(far / 2 / step) * step;
  const [x0, y0] = [Math.round(middle[0] / step) * step, Math.round(middle[1] / step) * step];
  for (let k = -half; k <= half; k += step) {
    places.push(x0 + k, y0 - half, 0, x0 + k, y0 + half, 0);
    places.push(x0 - half, y0 + k, 0, x0 + half, y0 + k, 0);
  }
  return new BufferGeometry().setAttribute("position", new Float32BufferAttribute(places, 3));
}
