import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import {
  answer,
  client,
  isOfTheJob,
  OFFLINE,
  type Project,
  Refused,
  SIGNED_OUT,
  type StationView,
} from "../api/client";

export interface Solved {
  /** The newest good answer, and the document it belongs to. */
  view: StationView | null;
  of: Project | null;
  refused: Refused | null;
  busy: boolean;
  /** Ask again: after signing in. */
  retry: () => void;
}

interface Asked extends Omit<Solved, "retry" | "busy"> {
  /** The document that all has been said of. */
  settled: Project | null;
}
const NOTHING: Asked = { view: null, of: null, refused: null, settled: null };
const RETRY_MS = 2000;
/** A whole answer that takes no longer than this is asked for at once. */
const AT_ONCE_MS = 220;

/** Keep a station solved (none at −1): one question at a time, always the newest, so a nudge never queues. */
export function useSolved(document: Project, station: number): Solved {
  const [solved, setSolved] = useState<Asked>(NOTHING);
  const wanted = useRef({ document, station });
  const asking = useRef(false);
  const here = useRef(true);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const took = useRef(Number.POSITIVE_INFINITY);

  const ask = useCallback(async () => {
    if (asking.current) return;
    asking.current = true;
    clearTimeout(timer.current);
    let question = wanted.current;
    for (;;) {
      question = wanted.current;
      const began = performance.now();
      // Where clearances take long they come second, so that a nudge is on screen at once; else all of it comes together.
      const whole = took.current < AT_ONCE_MS;
      let next = await put(question.document, question.station, whole);
      if (!here.current) break;
      const more = next.view ? !next.view.complete : !whole && next.refused?.code === OFFLINE;
      if (more && wanted.current === question) {
        const quick = next;
        if (quick.view)
          setSolved((before) => ({ ...before, ...quick, view: withRoomsOf(before, quick.view) }));
        next = await put(question.document, question.station, true);
        if (!here.current) break;
      }
      if (next.view?.complete) took.current = performance.now() - began;
      const stale = wanted.current !== question;
      const sameStation = wanted.current.station === question.station;
      // An answer to an older question still shows the way while the newest one is asked.
      const settled = stale ? null : question.document;
      if (!stale || (next.view && sameStation)) setSolved((before) => ({ ...before, ...next, settled }));
      if (!stale) {
        const again = next.refused && !isOfTheJob(next.refused) && next.refused.code !== SIGNED_OUT;
        if (again) timer.current = setTimeout(() => void ask(), RETRY_MS);
        break;
      }
    }
    asking.current = false;
  }, []);

  useEffect(() => {
    here.current = true;
    return () => {
      here.current = false;
      asking.current = false;
      clearTimeout(timer.current);
    };
  }, []);

  useEffect(() => {
    if (wanted.current.station !== station) {
      setSolved(NOTHING);
      took.current = Number.POSITIVE_INFINITY;
    }
    wanted.current = { document, station };
    if (station >= 0) void ask();
  }, [document, station, ask]);

  // Told from what is at hand: to say that a question is out would draw the whole sheet once more.
  const busy = solved.settled !== document;
  return useMemo(() => ({ ...solved, busy, retry: () => void ask() }), [solved, busy, ask]);
}

const RANK: Record<string, number> = { fault: 0, warning: 1, good: 2 };

/** A view whose clearances are still to come, with those of the view before it: they seldom change at once. */
function withRoomsOf(before: Asked, view: StationView | null | undefined): StationView | null {
  if (!view) return null;
  const rooms = (before.view?.findings ?? []).filter((finding) => finding.rooms);
  const findings = [...view.findings, ...rooms];
  findings.sort((a, b) => (RANK[a.mark] ?? 0) - (RANK[b.mark] ?? 0));
  return { ...view, findings };
}

async function put(document: Project, station: number, rooms: boolean): Promise<Partial<Asked>> {
  try {
    const body = { document, station, rooms };
    return { view: await answer(client.POST("/api/solve", { body })), of: document, refused: null };
  } catch (error) {
    return { refused: error instanceof Refused ? error : new Refused("failed", String(error)) };
  }
}
