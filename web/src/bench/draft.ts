/** The document being worked on: every change can be undone, and none is lost to a reload. */

import { useCallback, useEffect, useMemo, useReducer } from "react";
import type { Project, Shape } from "../api/client";
import { ownUnsaved } from "./unsaved";

interface Step {
  document: Project;
  /**
   * Changes with the same key are one step till the hand ends it: a field's typing by Enter or by leaving it, a
   * nudge by a moment's rest.
   */
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
  /** What a press that changed it said of why: offered when it is saved. */
  why: string;
}

type Action =
  | { do: "edit"; change: (document: Project) => Project; key: string; at: number; typing: boolean }
  | { do: "end" }
  | { do: "undo" }
  | { do: "redo" }
  | { do: "saved"; revision: Shape["RevisionOut"] }
  | { do: "rebase"; revision: Shape["RevisionOut"] }
  | { do: "take up"; base: number; document: Project; recovered: boolean }
  | { do: "because"; why: string }
  | { do: "discard" };

const MERGE_MS = 900;
const MOST_STEPS = 200;

function reduce(draft: Draft, action: Action): Draft {
  switch (action.do) {
    case "edit": {
      const document = action.change(draft.now.document);
      if (document === draft.now.document) return draft;
      const merge =
        action.key !== "" &&
        action.key === draft.now.key &&
        (action.typing || Math.abs(action.at - draft.now.at) < MERGE_MS);
      const past = merge ? draft.past : [...draft.past, draft.now].slice(-MOST_STEPS);
      return { ...draft, now: { document, key: action.key, at: action.at }, past, future: [] };
    }
    case "end":
      return draft.now.key === "" ? draft : { ...draft, now: { ...draft.now, key: "" } };
    case "undo": {
      const before = draft.past.at(-1);
      if (!before) return draft;
      // The step that is returned to starts afresh: a new nudge must not melt into it.
      const now = { ...before, key: "" };
      return { ...draft, now, past: draft.past.slice(0, -1), future: [draft.now, ...draft.future], why: "" };
    }
    case "redo": {
      const [next, ...future] = draft.future;
      if (!next) return draft;
      return { ...draft, now: { ...next, key: "" }, past: [...draft.past, draft.now], future };
    }
    case "saved":
      return {
        ...draft,
        base: action.revision.number,
        saved: documentOf(action.revision),
        recovered: false,
        why: "",
      };
    case "rebase":
      return { ...draft, base: action.revision.number, saved: documentOf(action.revision) };
    case "take up":
      return {
        ...draft,
        base: action.base,
        now: { document: action.document, key: "", at: 0 },
        past: [...draft.past, draft.now],
        future: [],
        recovered: action.recovered,
      };
    case "because":
      return { ...draft, why: action.why };
    case "discard":
      return {
        ...draft,
        why: "",
        now: { document: draft.saved, key: "", at: 0 },
        past: [...draft.past, draft.now],
        future: [],
        recovered: false,
      };
  }
}

export function documentOf(revision: Shape["RevisionOut"]): Project {
  return revision.document;
}

interface Start {
  revision: Shape["RevisionOut"];
  user: string;
}

function start({ revision, user }: Start): Draft {
  const saved = documentOf(revision);
  const plain: Draft = {
    base: revision.number,
    saved,
    now: { document: saved, key: "", at: 0 },
    past: [],
    future: [],
    recovered: false,
    why: "",
  };
  const unsaved = ownUnsaved(user, revision.job);
  if (!unsaved || same(unsaved.document, saved)) return plain;
  return {
    ...plain,
    base: unsaved.base,
    now: { document: unsaved.document, key: "", at: 0 },
    past: [{ document: saved, key: "", at: 0 }],
    recovered: true,
  };
}

export function same(one: unknown, other: unknown): boolean {
  return JSON.stringify(one) === JSON.stringify(other);
}

export interface DraftInHand {
  draft: Draft;
  dirty: boolean;
  edit: (change: (document: Project) => Project, key?: string) => void;
  /** Say why what was just changed was changed. */
  because: (why: string) => void;
  undo: () => void;
  redo: () => void;
  markSaved: (revision: Shape["RevisionOut"]) => void;
  /** Stand on somebody else's newer revision, keeping what is in hand. */
  rebase: (revision: Shape["RevisionOut"]) => void;
  discard: () => void;
  /** Take up unsaved changes of another tab; undo brings back what was in hand. `recovered` where nobody pressed for it. */
  takeUp: (base: number, document: Project, recovered?: boolean) => void;
}

const isText = (target: EventTarget | null): boolean =>
  target instanceof HTMLTextAreaElement || (target instanceof HTMLInputElement && target.type === "text");

const isTyping = (): boolean => isText(document.activeElement);

/** Hold the draft of one job, kept until it is saved. */
export function useDraft(newest: Shape["RevisionOut"], user: string): DraftInHand {
  const [draft, act] = useReducer(reduce, { revision: newest, user }, start);
  const { now, saved } = draft;
  useEffect(() => {
    const ends = (event: Event) => {
      if (!isText(event.target)) return;
      if (event instanceof KeyboardEvent && event.key !== "Enter") return;
      act({ do: "end" });
    };
    // After the field's own handlers: what they change still belongs to the step that ends.
    document.addEventListener("focusout", ends);
    document.addEventListener("keydown", ends);
    return () => {
      document.removeEventListener("focusout", ends);
      document.removeEventListener("keydown", ends);
    };
  }, []);
  // Undone all the way is the very document that was saved; the texts are compared only where it is not.
  const dirty = useMemo(() => now.document !== saved && !same(now.document, saved), [now.document, saved]);
  return {
    draft,
    dirty,
    edit: useCallback(
      (change, key = "") => act({ do: "edit", change, key, at: Date.now(), typing: isTyping() }),
      [],
    ),
    because: useCallback((why) => act({ do: "because", why }), []),
    undo: useCallback(() => act({ do: "undo" }), []),
    redo: useCallback(() => act({ do: "redo" }), []),
    markSaved: useCallback((revision) => act({ do: "saved", revision }), []),
    rebase: useCallback((revision) => act({ do: "rebase", revision }), []),
    discard: useCallback(() => act({ do: "discard" }), []),
    takeUp: useCallback(
      (base, document, recovered = false) => act({ do: "take up", base, document, recovered }),
      [],
    ),
  };
}
