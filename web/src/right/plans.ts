/** The plans that put a job right: asked for, held, and what a change costs. */

import { useQuery } from "@tanstack/react-query";
import { answer, client, type Project, type Shape } from "../api/client";
import { followed } from "../api/working";
import type { Dimension } from "../quantity/quantity";

export type Right = Shape["RightOut"];
export type Plan = Shape["RightPlanOut"];
export type PlanChange = Shape["RightChangeOut"];
type Work = NonNullable<Project["work"]>;
export type State = NonNullable<Work["state"]>[string];

/** What it is worked out under. */
export const NAME = "right";

/** Ask for the plans of a document; the answer of a document never changes. */
export function usePlans(document: Project) {
  const { survey: _, records: __, ...asked } = document;
  return useQuery({
    queryKey: ["right", JSON.stringify(asked)],
    queryFn: ({ signal }) =>
      answer(
        followed(
          NAME,
          (headers) =>
            client.POST("/api/right", { body: { document: asked as Project, plans: 5 }, headers, signal }),
          signal,
        ),
      ),
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
}

/** A document with something of its work said; what stands there stays. */
function withWork(document: Project, work: Partial<Work>): Project {
  return { ...document, work: { ...document.work, ...work } as Work };
}

/** Hold things, so that no plan changes them. */
export function hold(document: Project, names: string[]): Project {
  return withWork(document, { held: [...new Set([...(document.work?.held ?? []), ...names])] });
}

/** Let go of what was held. */
export function letGo(document: Project, name: string): Project {
  return withWork(document, { held: (document.work?.held ?? []).filter((one) => one !== name) });
}

/** Say how far the work on points and bodies has come. */
export function setState(document: Project, names: string[], state: State): Project {
  const its = { ...document.work?.state };
  for (const name of names) its[name] = state;
  return withWork(document, { state: its });
}

/** Say what a kind of change costs here. */
export function setCost(document: Project, key: string, cost: Shape["RightCostOut"]): Project {
  return withWork(document, { costs: { ...document.work?.costs, [key]: cost } });
}

/** Say what an hour costs here. */
export function setRate(document: Project, rate: number): Project {
  return withWork(document, { costs: { ...document.work?.costs, rate } });
}

/** Put a plan's stations into the document in hand; all else of it stays. */
export function taken(document: Project, plan: Plan): Project {
  return { ...document, stations: (plan.document as Project).stations };
}

/** What a plan promises, as the reason of the revision that is saved with it: the log then says beside it what came. */
export function promised(plan: Plan, money: (amount: number) => string): string {
  const count = (many: number, word: string) => `${many} ${word}${many === 1 ? "" : "s"}`;
  const left = `${count(plan.after.fault, "fault")} and ${count(plan.after.warning, "warning")}`;
  const changes = count(plan.changes.length, "change");
  return `Put right (${plan.why}, ${changes}): promised ${left}, ${plan.hours} h, ${money(plan.money)} for parts`;
}

export const WHY: Record<string, string> = {
  "least cost": "Least cost",
  "least work": "Least work",
  "nothing to wait for": "Nothing to wait for",
  "keeps the parts": "Keeps the parts",
  "keeps the height": "Keeps the height",
};

export const KEYS: Record<string, string> = {
  turned: "Turned: perch, rod, pressure, adjuster",
  hole: "Another hole that is there",
  shimmed: "Spacers, up to 10 mm",
  shelf: "Off the shelf, fitted",
  stop: "A bump stop bought",
  strap: "A strap bought",
  spring: "A spring bought",
  damper: "A damper bought",
  rod: "A rod cut again",
  moved_drawn: "A mount moved on the drawing",
  moved_tacked: "A mount moved, tacked",
  moved_welded: "A mount moved, welded",
  rocker_drawn: "A rocker redrawn",
  rocker_made: "A rocker cut again",
  room: "Something in the way moved",
};

export const FIGURES: [keyof Plan["figures"][string], string, Dimension][] = [
  ["ride", "Stands at", "travel"],
  ["wheel_rate", "Wheel rate", "rate"],
  ["frequency", "Frequency", "frequency"],
  ["ratio", "Motion ratio", "ratio"],
];
