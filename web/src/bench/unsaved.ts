/** Unsaved changes, kept in this browser at once and on the server within a second, by user, job and tab. */

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { answer, client, type Project } from "../api/client";
import { forget, keep, kept, keysOf, otherTabs, tabName } from "../api/storage";

export interface Unsaved {
  base: number;
  document: Project;
  /** When, in ms; and which tab made them. */
  at: number;
  tab: string;
}

/** Where what is in hand is kept now. */
export type KeptWhere = "saved" | "server" | "browser" | "nowhere";

const SEND_MS = 600;
const start = (user: string, job: string) => `jugatrix-draft:${user}:${job}:`;

/** What this tab itself had in hand before it was loaded again; null if there is nothing, or nothing that can be shown. */
export function ownUnsaved(user: string, job: string): Unsaved | null {
  if (new URLSearchParams(location.search).has("plain")) return null;
  return read(kept(start(user, job) + tabName()), tabName());
}

function read(text: string | null, tab: string): Unsaved | null {
  try {
    const found = JSON.parse(text ?? "null");
    if (!found || typeof found.base !== "number" || !isDrawable(found.document)) return null;
    return { base: found.base, document: found.document, at: Number(found.at) || 0, tab };
  } catch {
    return null;
  }
}

/** Whether a document has the form that the sheets draw; sound or not is the engine's to say. */
export function isDrawable(document: unknown): document is Project {
  const project = document as Partial<Project> | null;
  if (!project || typeof project !== "object" || project.format !== "jugatrix-project") return false;
  if (typeof project.name !== "string" || !Array.isArray(project.stations)) return false;
  return project.stations.every((station) => {
    if (!station || typeof station !== "object" || typeof station.name !== "string") return false;
    const { points, bodies, chassis, wheels, mass, travel, units } = station;
    const places = points && typeof points === "object" ? Object.values(points) : null;
    return (
      places?.every((place) => Array.isArray(place) && place.length === 3 && place.every(Number.isFinite)) &&
      bodies &&
      typeof bodies === "object" &&
      Object.values(bodies).every(Array.isArray) &&
      Array.isArray(chassis) &&
      Array.isArray(wheels) &&
      (units === undefined || Array.isArray(units)) &&
      typeof mass?.corner === "number" &&
      typeof travel?.bump === "number" &&
      typeof travel?.droop === "number"
    );
  });
}

/** Keep what is in hand while it differs from what is saved; says where it is kept. */
export function useKeeping(
  user: string,
  job: string,
  base: number,
  document: Project,
  dirty: boolean,
): KeptWhere {
  const [where, setWhere] = useState<KeptWhere>("saved");
  const sent = useRef(false);
  useEffect(() => {
    const key = start(user, job) + tabName();
    const params = { path: { job_id: job, tab: tabName() } };
    if (!dirty) {
      forget(key);
      setWhere("saved");
      if (sent.current) void client.DELETE("/api/jobs/{job_id}/drafts/{tab}", { params }).catch(() => {});
      sent.current = false;
      return;
    }
    const here = keep(key, JSON.stringify({ base, document, at: Date.now() }));
    setWhere((before) => (before === "server" ? "server" : here ? "browser" : "nowhere"));
    let current = true;
    const timer = setTimeout(() => {
      const body = { base, document };
      answer(client.PUT("/api/jobs/{job_id}/drafts/{tab}", { params, body }))
        .then(() => {
          sent.current = true;
          if (current) setWhere("server");
        })
        .catch(() => {
          if (current) setWhere(here ? "browser" : "nowhere");
        });
    }, SEND_MS);
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [user, job, base, document, dirty]);
  return where;
}

export interface Offer {
  tab: string;
  at: Date;
  base: number;
  /** Null where this version cannot draw it: it can only be taken out as a file. */
  document: Project | null;
  raw: unknown;
}

/** Unsaved changes of one's own from other tabs, other devices, or a browser that died; `left` is what a closed tab here left. */
export function useOffers(user: string, job: string, saved: Project, dirty: boolean) {
  const queries = useQueryClient();
  const queryKey = ["drafts", user, job];
  const found = useQuery({
    queryKey,
    queryFn: () => answer(client.GET("/api/jobs/{job_id}/drafts", { params: { path: { job_id: job } } })),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
    retry: false,
  });
  const [gone, setGone] = useState<string[]>([]);
  const [open, setOpen] = useState<Set<string> | null>(null);
  useEffect(() => {
    void otherTabs().then(setOpen);
  }, []);
  // What this tab itself had is in hand already; only where the browser kept nothing of it is it offered too.
  const [own, setOwn] = useState(() => ownUnsaved(user, job) !== null);
  useEffect(() => {
    if (dirty) setOwn(true);
  }, [dirty]);
  const offers = new Map<string, Offer>();
  for (const key of keysOf(start(user, job))) {
    const tab = key.slice(start(user, job).length);
    const text = kept(key);
    const its = read(text, tab);
    let raw: unknown = text;
    try {
      raw = JSON.parse(text ?? "null")?.document ?? text;
    } catch {
      // Kept as the text that it is.
    }
    offers.set(tab, {
      tab,
      at: new Date(its?.at ?? 0),
      base: its?.base ?? 0,
      document: its?.document ?? null,
      raw,
    });
  }
  for (const draft of found.data ?? []) {
    const document = isDrawable(draft.document) ? draft.document : null;
    const at = new Date(draft.kept);
    if ((offers.get(draft.tab)?.at.getTime() ?? 0) <= at.getTime())
      offers.set(draft.tab, { tab: draft.tab, at, base: draft.base, document, raw: draft.document });
  }
  if (own) offers.delete(tabName());
  const text = JSON.stringify(saved);
  const shown = [...offers.values()].filter(
    (offer) => !gone.includes(offer.tab) && (!offer.document || JSON.stringify(offer.document) !== text),
  );
  const putAway = (tab: string) => {
    setGone((before) => [...before, tab]);
    forget(start(user, job) + tab);
    const params = { path: { job_id: job, tab } };
    void client
      .DELETE("/api/jobs/{job_id}/drafts/{tab}", { params })
      .then(() => queries.invalidateQueries({ queryKey }))
      .catch(() => {});
  };
  const newest = shown.sort((a, b) => b.at.getTime() - a.at.getTime());
  // What a closed tab of this browser left behind, and nothing beside it, belongs to who has come back.
  const [only] = newest;
  const left =
    only && newest.length === 1 && open && !open.has(only.tab) && keysOf(start(user, job) + only.tab).length
      ? only
      : null;
  return { offers: newest, left, putAway };
}
