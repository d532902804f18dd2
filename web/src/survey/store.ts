/** A job's survey as it is entered: on screen at once, in this browser at once, on the server when it answers. */

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useSyncExternalStore } from "react";
import { answer, client, type FileRecord, FORGED, mayPass, Refused, type Shape } from "../api/client";
import { rememberAnswer } from "../api/line";
import { keep, kept } from "../api/storage";
import { onForgotten } from "../session/own";

export type Item = Shape["ItemOut"];
export type Kind =
  | "reading"
  | "photo"
  | "guard"
  | "mark"
  | "tool"
  | "record"
  | "stickers"
  | "picture"
  | "camera";

export interface Reading {
  kind: string;
  values?: number[];
  of?: string;
  at?: string;
  between?: string[];
  along?: string[];
  pair?: string[];
  seen?: string;
  sigma?: number;
  tool?: string;
  note?: string;
  left_out?: boolean;
}

export interface Guard {
  name: string;
  between: string[];
  before: number[];
  after?: number[];
  when_before?: string;
  when_after?: string;
  signed?: string;
}

/** A sticker's place; or that, with a side of its own, mm, and how far its face stands off the place. */
export type Sticker = string | { place: string; size?: number; stands_off?: number };

export interface Stickers {
  size?: number;
  places: Record<string, Sticker>;
}

export interface TakenPicture {
  file: string;
  camera: string;
}

/** Something entered and not on the server yet; `body` null takes it out. `said` is why the server would not have it. */
interface Waiting {
  kind: Kind;
  key: string;
  body: unknown;
  at: string;
  said?: string;
}

const RETRY_MS = 3000;
const AFTER_MS = 120;
const place = (user: string, job: string) => `jugatrix-readings:${user}:${job}`;
const sending = new Set<string>();

// Not a query: what is entered is on screen before the next key is pressed, or a quick hand types into the reading before.
const lists = new Map<string, Waiting[]>();
const reasons = new Map<string, string>();
const listeners = new Set<() => void>();

onForgotten.add(() => {
  lists.clear();
  reasons.clear();
  for (const tell of listeners) tell();
});

function setWhy(user: string, job: string, why: string) {
  if ((reasons.get(place(user, job)) ?? "") === why) return;
  reasons.set(place(user, job), why);
  for (const tell of listeners) tell();
}

function listen(tell: () => void) {
  listeners.add(tell);
  return () => {
    listeners.delete(tell);
  };
}

function waitingOf(user: string, job: string): Waiting[] {
  const key = place(user, job);
  const known = lists.get(key);
  if (known) return known;
  const found = readWaiting(user, job);
  lists.set(key, found);
  return found;
}

function readWaiting(user: string, job: string): Waiting[] {
  try {
    const found = JSON.parse(kept(place(user, job)) ?? "[]");
    return Array.isArray(found) ? found : [];
  } catch {
    return [];
  }
}

/** Everything read on a job, what waits to be sent laid over what is stored. */
export function useSurvey(job: string, user: string) {
  const queries = useQueryClient();
  const itemsKey = useMemo(() => ["survey items", job], [job]);
  const stored = useQuery({
    queryKey: itemsKey,
    queryFn: () => answer(client.GET("/api/jobs/{job_id}/survey", { params: { path: { job_id: job } } })),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const waiting = useSyncExternalStore(listen, () => waitingOf(user, job));
  const why = useSyncExternalStore(listen, () => reasons.get(place(user, job)) ?? "");

  const setWaiting = useCallback(
    (to: (before: Waiting[]) => Waiting[]) => {
      const next = to(waitingOf(user, job));
      keep(place(user, job), JSON.stringify(next));
      lists.set(place(user, job), next);
      for (const tell of listeners) tell();
    },
    [user, job],
  );
  const send = useCallback(async () => {
    if (sending.has(job)) return;
    sending.add(job);
    try {
      for (;;) {
        const next = waitingOf(user, job).find((one) => !one.said);
        if (!next) break;
        const params = { path: { job_id: job, kind: next.kind, key: next.key } };
        const path = "/api/jobs/{job_id}/survey/{kind}/{key}";
        try {
          if (next.body === null) await answer(client.DELETE(path, { params }));
          else await answer(client.PUT(path, { params, body: { body: next.body } }));
          queries.setQueryData<Item[]>(itemsKey, (before) => laid(before ?? [], [next], user));
          // What was sent is known under the car, too.
          void rememberAnswer(`/api/jobs/${job}/survey`, queries.getQueryData(itemsKey));
          setWaiting((before) => before.filter((one) => one !== next && !same(one, next)));
          setWhy(user, job, "");
        } catch (refused) {
          if (!(refused instanceof Refused) || mayPass(refused)) {
            setWhy(user, job, refused instanceof Refused ? refused.message : "The server does not answer.");
            if (refused instanceof Refused && refused.code === FORGED)
              void client.GET("/api/session").catch(() => {}); // brings a token: the next try has it
            break;
          }
          setWaiting((before) =>
            before.map((one) => (same(one, next) ? { ...one, said: refused.message } : one)),
          );
        }
      }
    } finally {
      sending.delete(job);
    }
  }, [queries, itemsKey, setWaiting, job, user]);

  const put = useCallback(
    (kind: Kind, key: string, body: unknown) => {
      const one = { kind, key, body, at: new Date().toISOString() };
      // The newest of one key is the one that counts.
      setWaiting((before) => [...before.filter((other) => other.kind !== kind || other.key !== key), one]);
      // It is kept here already: what it does to the rest is asked first, storing it comes right after.
      setTimeout(() => void send(), AFTER_MS);
    },
    [setWaiting, send],
  );
  const drop = useCallback((kind: Kind, key: string) => put(kind, key, null), [put]);

  const pending = waiting.filter((one) => !one.said).length;
  useEffect(() => {
    if (!pending) return;
    const again = () => void send();
    const first = setTimeout(again, AFTER_MS);
    const timer = setInterval(again, RETRY_MS);
    window.addEventListener("online", again);
    return () => {
      clearTimeout(first);
      clearInterval(timer);
      window.removeEventListener("online", again);
    };
  }, [pending, send]);

  const items = useMemo(() => laid(stored.data ?? [], waiting, user), [stored.data, waiting, user]);
  const survey = useMemo(() => surveyOf(items), [items]);
  const records = useMemo(() => recordsOf(items), [items]);
  return {
    /** Undefined while the first answer is on its way. */
    loaded: stored.data !== undefined || waiting.length > 0 || stored.isError,
    items,
    survey,
    records,
    put,
    drop,
    pending,
    /** Why what waits still does, in the server's own words; empty while it is on its way. */
    why: pending ? why : "",
    refused: waiting.filter((one) => one.said !== undefined),
    reload: () => queries.invalidateQueries({ queryKey: itemsKey }),
  };
}

export type SurveyInHand = ReturnType<typeof useSurvey>;

const same = (one: Waiting, other: Waiting) =>
  one.kind === other.kind && one.key === other.key && one.at === other.at;

function laid(stored: Item[], waiting: Waiting[], user: string): Item[] {
  let found = stored;
  for (const { kind, key, body, at, said } of waiting) {
    if (said !== undefined) continue;
    const there = found.some((item) => item.kind === kind && item.key === key);
    const item = { kind, key, body, by: user, at };
    if (body === null) found = found.filter((one) => one.kind !== kind || one.key !== key);
    else if (there) found = found.map((one) => (one.kind === kind && one.key === key ? item : one));
    else found = [...found, item];
  }
  return found;
}

/** One thing found on the floor, with the key it is stored under. */
export interface Kept {
  key: string;
  body: FileRecord;
}

function recordsOf(items: Item[]): Kept[] {
  return items
    .filter((item) => item.kind === "record")
    .map((item) => {
      const body = item.body as FileRecord;
      return { key: item.key, body: { ...body, by: body.by ?? item.by } };
    })
    .sort((one, other) => (one.body.when < other.body.when ? -1 : one.body.when > other.body.when ? 1 : 0));
}

export interface SurveyFile {
  marks: Record<string, number[]>;
  tools: Record<string, number>;
  readings: Reading[];
  guards: Guard[];
  photos: unknown[];
  /** Coded stickers on places, the pictures taken of them, and cameras whose lens is known. */
  stickers: Stickers | null;
  pictures: TakenPicture[];
  cameras: Record<string, unknown>;
  /** Keys of the readings and guards, in the order in which they stand in the lists. */
  keys: string[];
  guardKeys: string[];
}

function surveyOf(items: Item[]): SurveyFile {
  const of = (kind: Kind) => items.filter((item) => item.kind === kind);
  const named = <T>(kind: Kind) => Object.fromEntries(of(kind).map((item) => [item.key, item.body as T]));
  return {
    marks: named<number[]>("mark"),
    tools: named<number>("tool"),
    readings: of("reading").map((item) => item.body as Reading),
    guards: of("guard").map((item) => item.body as Guard),
    photos: of("photo").map((item) => item.body),
    stickers: (of("stickers")[0]?.body as Stickers | undefined) ?? null,
    pictures: of("picture").map((item) => item.body as TakenPicture),
    cameras: named<unknown>("camera"),
    keys: of("reading").map((item) => item.key),
    guardKeys: of("guard").map((item) => item.key),
  };
}

/** The survey as the project file has it. */
export const asFile = ({
  marks,
  tools,
  readings,
  guards,
  photos,
  stickers,
  pictures,
  cameras,
}: SurveyFile): Record<string, unknown> => ({
  marks,
  tools,
  readings,
  guards,
  photos,
  ...(stickers ? { stickers } : {}),
  ...(pictures.length ? { pictures } : {}),
  ...(Object.keys(cameras).length ? { cameras } : {}),
});
