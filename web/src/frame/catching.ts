/** What a tube's end catches when it is drawn: places of the frame, mounts, marks of the survey, other tubes; and what that puts in. */

import type { Project } from "../api/client";
import type { Plan } from "../views/projection";
import { addNode, freeName, type Member, setMember, withFrame } from "./frame";

/** Something that an end is put on: a place of the frame, a named place, a tube in between, or nothing but where it is. */
export interface Caught {
  kind: "node" | "named" | "tube" | "free";
  name: string;
  at: number[];
}

/** How near the pointer has to come, in pixels. */
const NEAR_PX = 18;
/** Two that lie so near one another in the plan are told apart by which is nearer to whoever looks. */
const SAME_PX = 3;
/** A tube is not caught so near to its own end, mm: its place is. */
const END_MM = 25;
/** A place that is put down anywhere, to this, mm. */
const ROUND_MM = 5;

/** Where a place of the frame stands; null where its name is gone. */
export function placeOf(document: Project, at: number[] | string): number[] | null {
  if (typeof at !== "string") return at;
  const [station, point] = [at.slice(0, at.indexOf("/")), at.slice(at.indexOf("/") + 1)];
  const its = document.stations.find((one) => one.name === station)?.points[point];
  return its ?? document.survey?.marks?.[at] ?? null;
}

/** Every place of the frame itself. */
export function nodesOf(document: Project): Map<string, number[]> {
  const found = new Map<string, number[]>();
  for (const [name, at] of Object.entries(document.frame?.nodes ?? {})) {
    const place = placeOf(document, at as number[] | string);
    if (place) found.set(name, place);
  }
  return found;
}

/** The places that an end may be put on, those of the frame first. */
function places(document: Project): Caught[] {
  const own = [...nodesOf(document)].map(([name, at]) => ({ kind: "node", name, at }) as Caught);
  const named = new Set(Object.values(document.frame?.nodes ?? {}).filter((at) => typeof at === "string"));
  const mounts = document.stations
    .filter((station) => !station.variant_of)
    .flatMap((station) =>
      station.chassis.map((point) => ({
        kind: "named" as const,
        name: `${station.name}/${point}`,
        at: station.points[point] ?? [0, 0, 0],
      })),
    );
  const marks = Object.entries(document.survey?.marks ?? {}).map(([name, at]) => ({
    kind: "named" as const,
    name,
    at: at as number[],
  }));
  return [...own, ...[...mounts, ...marks].filter((one) => !named.has(one.name))];
}

/** Which of two is nearer to whoever looks at a plan. */
const towards = (plan: Plan, at: readonly number[]) =>
  at[plan === "front" ? 0 : plan === "side" ? 1 : 2] ?? 0;

/** What is under the pointer, px; null where nothing is. */
export function caught(
  document: Project,
  plan: Plan,
  pointer: readonly number[],
  toPixels: (at: readonly number[]) => readonly number[],
): Caught | null {
  const away = (at: readonly number[]) => {
    const [x = 0, y = 0] = toPixels(at);
    return Math.hypot(x - (pointer[0] ?? 0), y - (pointer[1] ?? 0));
  };
  const near = places(document)
    .map((one) => ({ one, far: away(one.at) }))
    .filter(({ far }) => far < NEAR_PX);
  const least = Math.min(...near.map(({ far }) => far));
  const alike = near.filter(({ far }) => far < least + SAME_PX);
  alike.sort((a, b) => towards(plan, b.one.at) - towards(plan, a.one.at));
  return alike[0]?.one ?? onTube(document, plan, pointer, toPixels);
}

/** The place on a tube's middle line that is under the pointer. */
function onTube(
  document: Project,
  plan: Plan,
  pointer: readonly number[],
  toPixels: (at: readonly number[]) => readonly number[],
): Caught | null {
  const nodes = nodesOf(document);
  const found: { one: Caught; far: number }[] = [];
  for (const member of document.frame?.members ?? []) {
    const [from, to] = member.ends.map((end) => nodes.get(end));
    if (!from || !to) continue;
    const [[x = 0, y = 0], [u = 0, v = 0]] = [toPixels(from), toPixels(to)];
    const long = (u - x) ** 2 + (v - y) ** 2;
    if (long < 1) continue;
    const share = (((pointer[0] ?? 0) - x) * (u - x) + ((pointer[1] ?? 0) - y) * (v - y)) / long;
    const mm = Math.hypot(...to.map((c, k) => c - (from[k] ?? 0)));
    if (share * mm < END_MM || (1 - share) * mm < END_MM) continue;
    const at = from.map((c, k) => Math.round(10 * (c + share * ((to[k] ?? 0) - c))) / 10);
    const [px = 0, py = 0] = toPixels(at);
    const far = Math.hypot(px - (pointer[0] ?? 0), py - (pointer[1] ?? 0));
    if (far < NEAR_PX) found.push({ one: { kind: "tube", name: member.name, at }, far });
  }
  found.sort((a, b) => towards(plan, b.one.at) - towards(plan, a.one.at));
  return found[0]?.one ?? null;
}

/** A place anywhere in the plan's own plane through another. */
export function anywhere(plan: Plan, uv: readonly [number, number], through: readonly number[]): Caught {
  const [u, v] = uv.map((c) => ROUND_MM * Math.round(c / ROUND_MM)) as [number, number];
  const [x = 0, y = 0, z = 0] = through;
  const at = plan === "front" ? [x, u, v] : plan === "side" ? [-u, y, v] : [-v, u, z];
  return { kind: "free", name: "", at };
}

/** A document with a place of the frame where an end was put, and that place's name. */
function withPlace(document: Project, end: Caught): [Project, string] {
  if (end.kind === "node") return [document, end.name];
  const stem = end.kind === "named" ? (end.name.split("/").at(-1) ?? end.name) : `on ${end.name}`;
  const name = freeName(
    Object.keys(document.frame?.nodes ?? {}),
    end.kind === "free" ? "place" : stem.replaceAll("_", " "),
  );
  const put = addNode(document, name, end.kind === "named" ? end.name : end.at);
  return [end.kind === "tube" ? cutAt(put, end.name, name, end.at) : put, name];
}

/** A tube cut in two at a place in between, welded to itself there; mounts stand on whichever half they are nearer to. */
function cutAt(document: Project, member: string, node: string, at: number[]): Project {
  const nodes = nodesOf(document);
  return withFrame(document, (frame) => {
    const members = frame.members ?? [];
    const its = members.find((one) => one.name === member);
    if (!its) return frame;
    const [first = "", last = ""] = its.ends;
    const [held = "welded", holds = "welded"] = its.ends_held ?? [];
    const name = freeName(
      members.map((one) => one.name),
      member,
    );
    const one = { ...its, ends: [first, node], ends_held: [held, "welded"] } as Member;
    const other = { ...its, name, ends: [node, last], ends_held: ["welded", holds] } as Member;
    const [a, b] = [nodes.get(first) ?? at, nodes.get(last) ?? at];
    const along = (p: readonly number[]) =>
      p.reduce((sum, c, k) => sum + (c - (a[k] ?? 0)) * ((b[k] ?? 0) - (a[k] ?? 0)), 0);
    const carries = Object.entries(frame.carries ?? {}).map(([mount, on]) => {
      const place = placeOf(document, mount);
      return [
        mount,
        on.member === member && place && along(place) > along(at) ? { ...on, member: name } : on,
      ];
    });
    const cut = members.flatMap((which) => (which.name === member ? [one, other] : [which]));
    return { ...frame, members: cut, carries: Object.fromEntries(carries) };
  });
}

/** A document with a tube between two ends as they were put down, and its name; null where both are one place. */
export function drawn(
  document: Project,
  from: Caught,
  to: Caught,
  size: Pick<Member, "tube" | "metal">,
): [Project, string] | null {
  const [once, one] = withPlace(document, from);
  const [twice, other] = withPlace(once, to);
  const there = (twice.frame?.members ?? []).some(
    (its) => its.ends.includes(one) && its.ends.includes(other),
  );
  if (one === other || there) return null;
  const name = freeName(
    (twice.frame?.members ?? []).map((its) => its.name),
    "tube",
  );
  return [setMember(twice, { name, ends: [one, other], ...size } as Member, null), name];
}

/** A place of the frame moved. */
export function moved(document: Project, node: string, at: number[]): Project {
  return withFrame(document, (frame) => ({ ...frame, nodes: { ...frame.nodes, [node]: at } }));
}

const TOWERS = ["tower", "hoop", "crossbar"];

interface Run {
  kind: string;
  name: string;
  corners: (string | number[])[];
  tube: { outside: number; wall: number; grade?: string };
  holds?: string | null;
}

/** Towers, hoops and crossbars that Make has chosen, by station. */
export function runsOf(document: Project): { station: string; run: Run; mirrored: boolean }[] {
  return document.stations.flatMap((station) =>
    ((station.make?.parts ?? []) as unknown as Run[])
      .filter((part) => TOWERS.includes(part.kind))
      .map((run) => ({
        station: station.name,
        run,
        mirrored: station.kind === "corner" && station.other_side === "mirror" && !station.single,
      })),
  );
}

/** A document whose towers, hoops and crossbars are tubes of the frame, its feet held: Make cuts them from there. */
export function withRuns(document: Project): Project {
  let found = document;
  for (const { station, run, mirrored } of runsOf(document)) {
    // What stands off the centreline on both sides is drawn twice where the frame is not mirrored as a whole.
    const sides = mirrored && document.frame?.mirrored === false ? [1, -1] : [1];
    if (mirrored && sides.length === 1) found = withFrame(found, (frame) => ({ ...frame, mirrored: true }));
    for (const side of sides) found = withRun(found, station, run, side);
    found = {
      ...found,
      stations: found.stations.map((one) =>
        one.name === station && one.make
          ? {
              ...one,
              make: { ...one.make, parts: (one.make.parts ?? []).filter((part) => part.name !== run.name) },
            }
          : one,
      ) as Project["stations"],
    };
  }
  return found;
}

function withRun(document: Project, station: string, run: Run, side: number): Project {
  let found = document;
  const names: string[] = [];
  for (const [k, corner] of run.corners.entries()) {
    const at = typeof corner === "string" ? (placeOf(document, `${station}/${corner}`) ?? [0, 0, 0]) : corner;
    const [x = 0, y = 0, z = 0] = at;
    const name = freeName(
      Object.keys(found.frame?.nodes ?? {}),
      `${run.name} ${k === 0 ? "foot" : `corner ${k}`}`,
    );
    found = addNode(
      found,
      name,
      typeof corner === "string" && side > 0 ? `${station}/${corner}` : [x, side * y, z],
    );
    names.push(name);
  }
  const { outside, wall, grade } = run.tube;
  for (let k = 0; k + 1 < names.length; k++) {
    const name = freeName(
      (found.frame?.members ?? []).map((one) => one.name),
      run.name,
    );
    const ends = [names[k], names[k + 1]];
    found = setMember(found, { name, ends, tube: { outside, wall }, metal: grade ?? "S235" } as Member, null);
    if (run.holds && side > 0 && k + 2 === names.length)
      found = withFrame(found, (frame) => ({
        ...frame,
        carries: { ...frame.carries, [`${station}/${run.holds}`]: { member: name, node: null } },
      }));
  }
  const feet = run.kind === "tower" ? [names[0]] : [names[0], names.at(-1)];
  return withFrame(found, (frame) => ({
    ...frame,
    held: { ...frame.held, ...Object.fromEntries(feet.map((name) => [name ?? "", "fixed" as const])) },
  }));
}
