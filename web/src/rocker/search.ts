/**
 * A search for rockers. While a hand changes what is asked, a small search follows it; once it rests, the whole one runs, part
 * by part, so that it shows as it goes and can be stopped.
 */

import { useCallback, useEffect, useRef, useState } from "react";
import { answer, client, type Project, type Shape } from "../api/client";

export type Targets = Shape["TargetsIn"];
export type Candidate = Shape["CandidateOut"];
export type ShortList = Shape["ShortListOut"];
export type Solution = Shape["SolutionOut"];
export type Glance = Shape["GlanceOut"];
export type Sketch = Shape["SketchOut"];

export interface Search {
  running: boolean;
  /** How many were tried and how many of them fit their room and take the whole travel; parts done and all parts. */
  tried: number;
  fit: number;
  part: number;
  parts: number;
  /** The best so far first. */
  found: Candidate[];
  /** What followed the hand; kept until the short list is proved. */
  glance: Glance | null;
  short: ShortList | null;
  trouble: string | null;
  /** What it was a search for. */
  of: { document: Project; targets: Targets } | null;
}

const NONE: Search = {
  running: false,
  tried: 0,
  fit: 0,
  part: 0,
  parts: 8,
  found: [],
  glance: null,
  short: null,
  trouble: null,
  of: null,
};
const KEPT = 500;
const PROVED = 40;
const RESTS_MS = 700;

export function useSearch(document: Project, station: number) {
  const [search, setSearch] = useState<Search>(NONE);
  /** Counts what was begun: an answer to what is no longer wanted is dropped. */
  const turn = useRef(0);
  const stopped = useRef(false);
  const wanted = useRef<Targets | null>(null);
  const asking = useRef(false);
  const rest = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(
    () => () => {
      turn.current++;
      clearTimeout(rest.current);
    },
    [],
  );
  const body = useCallback(
    (targets: Targets) => ({
      document,
      station,
      targets,
    }),
    [document, station],
  );
  const prove = useCallback(
    async (targets: Targets, numbers: number[][]) =>
      answer(client.POST("/api/rockers/refine", { body: { ...body(targets), numbers } })),
    [body],
  );
  const run = useCallback(
    async (targets: Targets) => {
      const mine = ++turn.current;
      clearTimeout(rest.current);
      stopped.current = false;
      const glance = (was: Search) => (was.of?.targets === targets ? was.glance : null);
      let now: Search = { ...NONE, running: true, of: { document, targets } };
      const show = (next: Search) => {
        now = next;
        if (mine === turn.current) setSearch((was) => ({ ...next, glance: next.short ? null : glance(was) }));
      };
      show(now);
      try {
        for (let part = 0; part < now.parts && !stopped.current; part++) {
          const its = await answer(client.POST("/api/rockers/search", { body: { ...body(targets), part } }));
          if (mine !== turn.current) return;
          show({
            ...now,
            tried: now.tried + its.tried,
            fit: now.fit + its.fit,
            part: part + 1,
            parts: its.parts,
            found: [...now.found, ...its.found].sort((a, b) => a.score - b.score).slice(0, KEPT),
          });
        }
        const best = now.found.slice(0, PROVED).map((one) => one.numbers);
        show({ ...now, running: false, short: await prove(targets, best) });
      } catch (error) {
        show({ ...now, running: false, trouble: words(error) });
      }
    },
    [document, body, prove],
  );
  /** Look at what the newest targets find, one question at a time; run the whole search when no newer ones come. */
  const follow = useCallback(
    async (targets: Targets) => {
      turn.current++;
      stopped.current = true;
      if (asking.current) wanted.current = targets;
      clearTimeout(rest.current);
      rest.current = setTimeout(() => void run(targets), RESTS_MS);
      if (asking.current) return;
      asking.current = true;
      for (let next: Targets | null = targets; next; next = wanted.current) {
        wanted.current = null;
        const its = next;
        const mine = turn.current;
        try {
          const glance = await answer(client.POST("/api/rockers/glance", { body: body(its) }));
          const of = { document, targets: its };
          const { tried, fit, found } = glance;
          setSearch((was) =>
            was.of?.targets === its ? { ...was, glance } : { ...NONE, tried, fit, found, glance, of },
          );
        } catch (error) {
          if (mine === turn.current) setSearch({ ...NONE, trouble: words(error) });
        }
      }
      asking.current = false;
    },
    [document, body, run],
  );
  const stop = useCallback(() => {
    stopped.current = true;
  }, []);
  const [trouble, setTrouble] = useState<string | null>(null);
  /** Prove the one that is picked from those found, and hand it over. */
  const pick = async (candidate: Candidate, onTry: (solution: Solution) => void) => {
    if (!search.of) return;
    setTrouble(null);
    try {
      const solution = (await prove(search.of.targets, [candidate.numbers])).solutions[0];
      if (solution) onTry(solution);
      else setTrouble("The general solver does not take this one; pick another.");
    } catch (error) {
      setTrouble(words(error));
    }
  };
  return { search, run, follow, stop, pick, trouble: search.trouble ?? trouble };
}

const words = (error: unknown) => (error instanceof Error ? error.message : String(error));

export type Searching = ReturnType<typeof useSearch>;
