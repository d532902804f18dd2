/** What this browser keeps of one person: it goes with the sign-out, and is never shown to the next. */

import { forgetAnswers } from "../api/line";
import { forget, keep, kept, keysOf } from "../api/storage";

const WHOSE = "jugatrix-whose";
const LEAVING = "jugatrix-leaving";
const READINGS = (user: string) => `jugatrix-readings:${user}:`;
const DRAFTS = (user: string) => `jugatrix-draft:${user}:`;

/** Told when what is kept of somebody is forgotten: what a sheet still holds in memory goes too. */
export const onForgotten = new Set<() => void>();

/** Make what was answered belong to somebody; another's is forgotten first. True where something was. */
export async function belongTo(user: string | null): Promise<boolean> {
  if (kept(WHOSE) === (user ?? "")) return false;
  await forgetAnswers();
  keep(WHOSE, user ?? "");
  return true;
}

export interface Unsent {
  /** Readings and records that the server does not have. */
  entries: number;
  /** Jobs with changes that no revision has. */
  jobs: number;
}

/** What would be lost with a sign-out. */
export function unsentOf(user: string): Unsent {
  let entries = 0;
  for (const key of keysOf(READINGS(user))) {
    try {
      const waiting: unknown = JSON.parse(kept(key) ?? "[]");
      if (Array.isArray(waiting)) entries += waiting.length;
    } catch {
      // No entry that could be sent.
    }
  }
  const jobs = new Set(keysOf(DRAFTS(user)).map((key) => key.slice(DRAFTS(user).length).split(":")[0]));
  return { entries, jobs: jobs.size };
}

/** Forget all that this browser keeps of somebody. */
export async function forgetOwn(user: string | null): Promise<void> {
  if (user) for (const key of [...keysOf(READINGS(user)), ...keysOf(DRAFTS(user))]) forget(key);
  for (const tell of onForgotten) tell();
  await forgetAnswers();
  keep(WHOSE, "");
}

/** Whether somebody signed out here without a line: his session ends as soon as there is one. */
export const isLeaving = () => kept(LEAVING) !== null;
export const leave = () => keep(LEAVING, "1");
export const left = () => forget(LEAVING);
