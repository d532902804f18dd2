/** The document being worked on: every change can be undone, and none is lost to a reload. */

import { useCallback, useEffect, useReducer } from "react";
import type { Project, Shape } from "../api/client";

interface Step {
  document: Project;
  /** Changes with the same key within a moment are one step: holding an arrow key is one nudge. */
  key: string;
  at: number;
}

export interface Draft {
  /** The revision it stands on. */
  base: number;
  saved: Project;
  now: Step;
  past: Step[];
  future: Step[];
  /** Brought back from this browser after a reload or a failed save. */
  recovered: boolean;
}

type Action =
  | { do: "edit"; change: (document: Project) => Project; key: string; at: number }
  | { do: "undo" }
  | { do: "redo" }
  | { do: "saved"; revision: Shape["RevisionOut"] }
  | { do: "rebase"; revision: Shape["RevisionOut"] }
  | { do: "discard" };

const MERGE_MS = 900;
const MOST_STEPS = 200;

function reduce(draft: Draft, action: Action): Draft {
  switch (action.do) {
    case "edit": {
      const document = action.change(draft.now.document);
      if (document === draft.now.document) return draft;
      const merge = action.key !== "" && action.key === draft.now.key && action.at - draft.now.at < MERGE_MS;
      const past = merge ? draft.past : [...draft.past, draft.now].slice(-MOST_STEPS);
      return { ...draft, now: { document, key: action.key, at: action.at }, past, future: [] };
    }
    case "undo": {
      const before = draft.past.at(-1);
      if (!before) return draft;
      // The step that is returned to starts afresh: a new nudge must not melt into it.
      const now = { ...before, key: "" };
      return { ...draft, now, past: draft.past.slice(0, -1), future: [draft.now, ...draft.future] };
    }
    case "redo": {
      const [next, ...future] = draft.future;
      if (!next) return draft;
      return { ...draft, now: { ...next, key: "" }, past: [...draft.past, draft.now], future };
    }
    case "saved":
      return { ...draft, base: action.revision.number, saved: documentOf(action.revision), recovered: false };
    case "rebase":
      return { ...draft, base: action.revision.number, saved: documentOf(action.revision) };
    case "discard":
      return {
        ...draft,
        now: { document: draft.saved, key: "", at: 0 },
        past: [...draft.past, draft.now],
        future: [],
        recovered: false,
      };
  }
}

export function documentOf(revision: Shape["RevisionOut"]): Project {
  return revision.document as unknown as Project;
}

const keyOf = (job: string) => `jugatrix-draft-${job}`;

function start(revision: Shape["RevisionOut"]): Draft {
  const saved = documentOf(revision);
  const plain: Draft = {
    base: revision.number,
    saved,
    now: { document: saved, key: "", at: 0 },
    past: [],
    future: [],
    recovered: false,
  };
  try {
    const kept = JSON.parse(localStorage.getItem(keyOf(revision.job)) ?? "null");
    if (!kept || same(kept.document, saved)) return plain;
    return {
      ...plain,
      base: kept.base,
      now: { document: kept.document, key: "", at: 0 },
      past: [{ document: saved, key: "", at: 0 }],
      recovered: true,
    };
  } catch {
    return plain;
  }
}

export function same(one: unknown, other: unknown): boolean {
  return JSON.stringify(one) === JSON.stringify(other);
}

export interface DraftInHand {
  draft: Draft;
  dirty: boolean;
  edit: (change: (document: Project) => Project, key?: string) => void;
  undo: () => void;
  redo: () => void;
  markSaved: (revision: Shape["RevisionOut"]) => void;
  /** Stand on somebody else's newer revision, keeping what is in hand. */
  rebase: (revision: Shape["RevisionOut"]) => void;
  discard: () => void;
}

/** Hold the draft of one job, kept in this browser until it is saved. */
export function useDraft(newest: Shape["RevisionOut"]): DraftInHand {
  const [draft, act] = useReducer(reduce, newest, start);
  const dirty = !same(draft.now.document, draft.saved);
  useEffect(() => {
    const key = keyOf(newest.job);
    if (dirty) localStorage.setItem(key, JSON.stringify({ base: draft.base, document: draft.now.document }));
    else localStorage.removeItem(key);
  }, [dirty, draft.base, draft.now.document, newest.job]);
  return {
    draft,
    dirty,
    edit: useCallback((change, key = "") => act({ do: "edit", change, key, at: Date.now() }), []),
    undo: useCallback(() => act({ do: "undo" }), []),
    redo: useCallback(() => act({ do: "redo" }), []),
    markSaved: useCallback((revision) => act({ do: "saved", revision }), []),
    rebase: useCallback((revision) => act({ do: "rebase", revision }), []),
    discard: useCallback(() => act({ do: "discard" }), []),
  };
}
