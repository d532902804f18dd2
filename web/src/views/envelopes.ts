/** Solids for the drawing: places on their skin as drawn, and how what they are tied to carries them along. */

import type { Shape, Station } from "../api/client";

type Envelope = Shape["Envelope"];
export type Spot = [number, number, number];

const add = (a: Spot, b: Spot, by = 1): Spot => [a[0] + by * b[0], a[1] + by * b[1], a[2] + by * b[2]];
const minus = (a: Spot, b: Spot): Spot => add(a, b, -1);
const cross = (a: Spot, b: Spot): Spot => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const size = (a: Spot) => Math.hypot(...a);
const unit = (a: Spot): Spot => {
  const long = size(a) || 1;
  return [a[0] / long, a[1] / long, a[2] / long];
};

const ROUND = 20;

/** Places whose hull is the solid's outline in any view; none for what has no end. */
export function skinOf(envelope: Envelope, station: Station): Spot[] {
  const at = (place: unknown): Spot => (typeof place === "string" ? station.points[place] : place) as Spot;
  const radius = envelope.radius ?? 0;
  if (envelope.shape === "box" && envelope.centre && envelope.size) {
    return corners(at(envelope.centre), envelope.size as Spot, (envelope.turn ?? [0, 0, 0]) as Spot);
  }
  if (envelope.shape === "plate" && envelope.outline) return envelope.outline.map(at);
  if ((envelope.shape === "capsule" || envelope.shape === "cylinder") && envelope.along) {
    const [one, other] = envelope.along.map(at) as [Spot, Spot];
    const along = unit(minus(other, one));
    const side = unit(cross(along, Math.abs(along[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0]));
    const up = cross(along, side);
    const rings = envelope.shape === "cylinder" ? [0] : [0, 0.5, 0.87, 1];
    return [one, other].flatMap((end, which) =>
      rings.flatMap((out) =>
        Array.from({ length: ROUND }, (_, k) => {
          const turn = (2 * Math.PI * k) / ROUND;
          const wide = radius * Math.sqrt(1 - out * out);
          const ring = add(add(end, side, wide * Math.cos(turn)), up, wide * Math.sin(turn));
          return add(ring, along, (which ? 1 : -1) * out * radius);
        }),
      ),
    );
  }
  return [];
}

function corners(centre: Spot, sizes: Spot, turn: Spot): Spot[] {
  const signs = [-0.5, 0.5];
  return signs.flatMap((x) =>
    signs.flatMap((y) =>
      signs.map((z) => add(centre, turned([x * sizes[0], y * sizes[1], z * sizes[2]], turn))),
    ),
  );
}

/** Turned about x, then y, then z, degrees. */
function turned(place: Spot, turn: Spot): Spot {
  const now: Spot = [...place];
  for (const axis of [0, 1, 2] as const) {
    const angle = (turn[axis] * Math.PI) / 180;
    const [i, j] = [(axis + 1) % 3, (axis + 2) % 3] as [0 | 1 | 2, 0 | 1 | 2];
    const [a, b] = [now[i], now[j]];
    now[i] = a * Math.cos(angle) - b * Math.sin(angle);
    now[j] = a * Math.sin(angle) + b * Math.cos(angle);
  }
  return now;
}

/** How a host carries a place from where it was drawn to where its points stand now. */
export function carrierOf(
  host: string | undefined,
  station: Station,
  points: Record<string, number[]>,
): (place: Spot) => Spot {
  const members =
    station.bodies[host ?? ""] ?? (station.units ?? []).find((its) => its.name === host)?.ends ?? [];
  const trio = fairTrio(members, station.points as Record<string, Spot>);
  if (!trio) return (place) => place;
  const before = frame(trio.map((name) => station.points[name] as Spot));
  const after = frame(trio.map((name) => (points[name] ?? station.points[name]) as Spot));
  return (place) => {
    const arm = minus(place, before.origin);
    return before.axes.reduce<Spot>(
      (sum, axis, k) =>
        add(sum, after.axes[k] ?? axis, arm[0] * axis[0] + arm[1] * axis[1] + arm[2] * axis[2]),
      after.origin,
    );
  };
}

/** Three points of a body off one line; a rod has two, and takes the upright for its third direction. */
function fairTrio(members: string[], drawn: Record<string, Spot>): string[] | null {
  const [first, ...rest] = members;
  if (!first || !rest.length) return null;
  const start = drawn[first];
  const far = rest.reduce((best, name) =>
    size(minus(drawn[name] as Spot, start as Spot)) > size(minus(drawn[best] as Spot, start as Spot))
      ? name
      : best,
  );
  const line = unit(minus(drawn[far] as Spot, start as Spot));
  const off = (name: string) => size(cross(line, minus(drawn[name] as Spot, start as Spot)));
  const third = rest.reduce((best, name) => (off(name) > off(best) ? name : best), far);
  return off(third) > 1 ? [first, far, third] : [first, far];
}

function frame(trio: Spot[]): { origin: Spot; axes: Spot[] } {
  const [origin, far, third] = trio as [Spot, Spot, Spot | undefined];
  const one = unit(minus(far, origin));
  const aside = third
    ? minus(third, origin)
    : Math.abs(one[2]) < 0.9
      ? ([0, 0, 1] as Spot)
      : ([1, 0, 0] as Spot);
  const out = unit(cross(one, aside));
  return { origin, axes: [one, cross(out, one), out] };
}
