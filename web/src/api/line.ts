/**
 * The line to the shop's computer, and what is known while it is away.
 *
 * What was answered is kept in this browser; the same question without a line gets the same answer again, so a station
 * that was solved can be jacked and read under the car. What was never asked waits. Sent later in order: see survey/store.
 */

import { clear, createStore, get, keys, set, type UseStore } from "idb-keyval";
import { useSyncExternalStore } from "react";

const READ =
  /^\/api\/(session|jobs|parts|usual-limits|layouts|instruments|people|survey\/tools|jobs\/[\w-]+(\/(survey|book|revisions|people|drafts|photographs))?)$/;
const WORKED =
  /^\/api\/(solve|articulated|sensitivity|vehicle|brief|prove|survey|survey\/\w+|make|springs|pressures|standings|bars|dampers)$/;
const MOST_KEPT = 120;
const MOST_LETTERS = 4_000_000;
const ASKS_MS = 4000;
const RESTS_MS = 600;

let store: UseStore | null = null;
const answers = () => {
  store ??= createStore("jugatrix-answers", "answers");
  return store;
};

let away = false;
const listeners = new Set<() => void>();
let asking: ReturnType<typeof setInterval> | undefined;

function setAway(next: boolean) {
  if (next === away) return;
  away = next;
  clearInterval(asking);
  // Only while it is away: a sheet at rest asks nothing.
  if (away)
    asking = setInterval(
      () =>
        void fetch("/health")
          .then(() => setAway(false))
          .catch(() => {}),
      ASKS_MS,
    );
  for (const tell of listeners) tell();
}

/** Whether the shop's computer cannot be reached just now. */
export function useAway(): boolean {
  return useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      return () => {
        listeners.delete(tell);
      };
    },
    () => away,
  );
}

/** Ask the shop's computer; without a line, give what it answered the last time. */
export async function ask(request: Request): Promise<Response> {
  const path = new URL(request.url).pathname;
  const keeps = request.method === "GET" ? READ.test(path) : request.method === "POST" && WORKED.test(path);
  // Asked first: what the answer will be kept under is worked out while it is on its way.
  const copy = keeps ? request.clone() : null;
  const sent = fetch(request);
  const keyed = copy ? keyOf(copy, path).catch(() => null) : Promise.resolve(null);
  try {
    const response = await sent;
    setAway(false);
    if (keeps && response.ok) void keepWhenKnown(keyed, response.clone());
    return response;
  } catch (failed) {
    if (request.signal.aborted) throw failed;
    setAway(true);
    const key = await keyed;
    const kept = key ? await recall(key.is) : undefined;
    if (kept === undefined) throw failed;
    return new Response(kept, { headers: { "Content-Type": "application/json" } });
  }
}

/** Keep what an address now answers, where this browser knows it before it asks again. */
export async function rememberAnswer(path: string, value: unknown): Promise<void> {
  await remember(path, new Response(JSON.stringify(value)));
}

/** Forget every answer: somebody else may sit down here. */
export const forgetAnswers = () => clear(answers()).catch(() => {});

interface Key {
  is: string;
  /** What is worked out: of one of these only the last answer is kept. */
  of: string;
}

async function keyOf(request: Request, path: string): Promise<Key | null> {
  if (request.method === "GET") return { is: path + new URL(request.url).search, of: "" };
  if (!globalThis.crypto?.subtle) return null; // without TLS there is no working without a line either
  const body = await request.arrayBuffer();
  const sum = new Uint8Array(await crypto.subtle.digest("SHA-256", body));
  const asked = new TextDecoder().decode(body);
  const about = Array.from(asked.matchAll(/"(?:station|rooms)":\w+/g), ([words]) => words);
  return {
    is: `${path} ${Array.from(sum.slice(0, 12), (one) => one.toString(16).padStart(2, "0")).join("")}`,
    of: `${path} ${about.join()}`,
  };
}

async function keepWhenKnown(keyed: Promise<Key | null>, response: Response): Promise<void> {
  const key = await keyed;
  if (key) rememberAtRest(key, response);
}

const waiting = new Map<string, ReturnType<typeof setTimeout>>();

/** Keep what was read at once; of what is worked out while a hand moves only the last, when the hand rests. */
function rememberAtRest(key: Key, response: Response): void {
  if (!key.of) return void remember(key.is, response);
  clearTimeout(waiting.get(key.of));
  waiting.set(
    key.of,
    setTimeout(() => void remember(key.is, response), RESTS_MS),
  );
}

async function remember(key: string, response: Response): Promise<void> {
  try {
    const text = await response.text();
    if (text.length > MOST_LETTERS) return;
    await set(key, { text, at: Date.now() }, answers());
    const all = await keys(answers());
    if (all.length > MOST_KEPT) await letGo(all);
  } catch {
    // A browser that keeps nothing works with a line only.
  }
}

/** Of what was worked out, the oldest goes; what was read is little, and stays. */
async function letGo(all: IDBValidKey[]): Promise<void> {
  const { del } = await import("idb-keyval");
  const worked = all.filter((key) => String(key).includes(" "));
  const aged = await Promise.all(
    worked.map(
      async (key) => [key, ((await get(key, answers())) as { at: number } | undefined)?.at ?? 0] as const,
    ),
  );
  aged.sort((one, other) => one[1] - other[1]);
  await Promise.all(aged.slice(0, Math.max(1, aged.length / 2)).map(([key]) => del(key, answers())));
}

async function recall(key: string): Promise<string | undefined> {
  try {
    return ((await get(key, answers())) as { text: string } | undefined)?.text;
  } catch {
    return undefined;
  }
}
