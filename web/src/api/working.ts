/**
 * Long work that is waited for: how far it is, and an end of it.
 *
 * Each question gets a key of its own, which goes with it in a header; by it the shop's computer is asked how far it is, whichever of
 * its processes does it. What nobody wants any more is stopped there too.
 */

import { useSyncExternalStore } from "react";
import { type Answer, client, Refused } from "./client";
import { newName } from "./names";

/** Shorter work shows nothing. */
const SHOWS_MS = 500;
const LOOKS_MS = 300;

export interface Working {
  key: string;
  /** 0 to 1, and what comes next; null before anything is told. */
  share: number | null;
  what: string;
  stopping: boolean;
}

const going = new Map<string, Working>();
const listeners = new Set<() => void>();

function put(name: string, now: Working | null) {
  if (now) going.set(name, now);
  else going.delete(name);
  for (const tell of listeners) tell();
}

/** What is worked out under a name, once it takes long enough to be worth saying. */
export function useWorking(name: string): Working | undefined {
  return useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      return () => {
        listeners.delete(tell);
      };
    },
    () => going.get(name),
  );
}

const end = (key: string) =>
  client.DELETE("/api/working/{working_key}", { params: { path: { working_key: key } } }).catch(() => {});

/** Ask something long: `ask` sends the headers with its question. A question that is given up is stopped where it is worked out. */
export async function followed<T>(
  name: string,
  ask: (headers: Record<string, string>) => Promise<Answer<T>>,
  signal?: AbortSignal,
): Promise<Answer<T>> {
  const key = newName();
  const mine = () => going.get(name)?.key === key;
  const look = async () => {
    const got = await client
      .GET("/api/working/{working_key}", { params: { path: { working_key: key } } })
      .catch(() => null);
    if (!waiting) return;
    if (got?.data) {
      const { share, what } = got.data;
      put(name, { key, share, what, stopping: mine() && (going.get(name)?.stopping ?? false) });
    }
    timer = setTimeout(() => void look(), LOOKS_MS);
  };
  let waiting = true;
  let timer = setTimeout(() => void look(), SHOWS_MS);
  const given = () => void end(key);
  signal?.addEventListener("abort", given);
  try {
    return await ask({ "X-Working": key });
  } finally {
    waiting = false;
    clearTimeout(timer);
    signal?.removeEventListener("abort", given);
    if (mine()) put(name, null);
  }
}

/** Ask something that nobody watches: it is stopped where it is worked out once nobody wants it any more. */
export async function stoppable<T>(
  ask: (headers: Record<string, string>) => Promise<Answer<T>>,
  signal: AbortSignal,
): Promise<Answer<T>> {
  const key = newName();
  const given = () => void end(key);
  signal.addEventListener("abort", given);
  try {
    return await ask({ "X-Working": key });
  } finally {
    signal.removeEventListener("abort", given);
  }
}

/** Ask for an end of what is worked out under a name. */
export function stopWorking(name: string): void {
  const now = going.get(name);
  if (!now) return;
  put(name, { ...now, stopping: true });
  void end(now.key);
}

/** Whether a question was stopped by who asked it. */
export const isStopped = (error: unknown) => error instanceof Refused && error.code === "stopped";
