/** What is chosen of a part goes into the document; what is not stays proposed. */

import type { Shape, Station } from "../api/client";

export type Part = Shape["PartMade"];
export type Choice = Record<string, unknown> & { kind: string; name: string };

const SUBJECT: Record<string, string[]> = {
  rod: ["body"],
  plate: ["body"],
  tab: ["point", "holds"],
  cup: ["unit", "end"],
  adapter: ["unit", "end"],
};

function chosen(station: Station): Choice[] {
  return ((station.make?.parts ?? []) as Choice[]).slice();
}

function sameThing(one: Choice, other: Choice): boolean {
  if (one.kind !== other.kind) return false;
  const keys = SUBJECT[one.kind] ?? ["name"];
  return keys.every((key) => one[key] === other[key]);
}

function withParts(station: Station, parts: Choice[]): Station {
  const make = { ...(station.make ?? {}), parts };
  return { ...station, make } as Station;
}

/** Choose a part: in place of what was chosen for the same thing, else added. */
export function choose(station: Station, choice: Choice): Station {
  const parts = chosen(station);
  const at = parts.findIndex((one) => sameThing(one, choice));
  if (at < 0) parts.push(choice);
  else parts[at] = choice;
  return withParts(station, parts);
}

/** Leave a part to be proposed again, or take it out where nothing is proposed. */
export function unchoose(station: Station, choice: Choice): Station {
  return withParts(
    station,
    chosen(station).filter((one) => !sameThing(one, choice)),
  );
}

/** Whether the document says something of this part. */
export function isChosen(station: Station, part: Part): boolean {
  const choice = part.choice as Choice | null;
  return choice !== null && chosen(station).some((one) => sameThing(one, choice));
}

/** Put a computed remedy into the document. */
export function applyRemedy(station: Station, part: Part, remedy: Shape["PartRemedy"]): Station {
  const [, body = "", holds = ""] = part.subject;
  if (remedy.into === "make") {
    return part.choice ? choose(station, { ...(part.choice as Choice), ...remedy.change }) : station;
  }
  if (remedy.into === "eyes") return withBolt(station, body, holds, remedy.change);
  const its = (station[remedy.into] ?? {}) as Record<string, object>;
  return {
    ...station,
    [remedy.into]: { ...its, [body]: { ...its[body], ...remedy.change } },
  } as Station;
}

/** Turn the bolt of a damper's eye, or of the joint that says it. */
function withBolt(station: Station, point: string, holds: string, change: Record<string, unknown>): Station {
  const units = (station.units ?? []).map((unit) =>
    unit.name === holds && (unit.kind === "coilover" || unit.kind === "damper")
      ? { ...unit, eyes: unit.eyes?.map((eye) => (eye.end === point ? { ...eye, ...change } : eye)) }
      : unit,
  );
  const joints = (station.joints ?? []).map((joint) =>
    joint.point === point && (joint.rod === holds || joint.name === holds) ? { ...joint, ...change } : joint,
  );
  return { ...station, units, joints } as Station;
}
