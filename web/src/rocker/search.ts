/** A search for rockers, part by part, so that it shows as it runs and can be stopped. */

import { useCallback, useRef, useState } from "react";
import { answer, client, type Project, type Shape } from "../api/client";

export type Targets = Shape["TargetsIn"];
export type Candidate = Shape["CandidateOut"];
export type ShortList = Shape["ShortListOut"];
export type Solution = Shape["SolutionOut"];

export interface Search {
  running: boolean;
  /** How many were tried and how many of them fit their room and take the whole travel; parts done and all parts. */
  tried: number;
  fit: number;
  part: number;
  parts: number;
  /** The best so far first. */
  found: Candidate[];
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
  short: null,
  trouble: null,
  of: null,
};
const KEPT = 500;
const PROVED = 40;

export function useSearch(document: Project, station: number) {
  const [search, setSearch] = useState<Search>(NONE);
  const stopped = useRef(false);
  const prove = useCallback(
    async (targets: Targets, numbers: number[][]) =>
      answer(
        client.POST("/api/rockers/refine", {
          body: { document: document as unknown as Record<string, unknown>, station, targets, numbers },
        }),
      ),
    [document, station],
  );
  const run = useCallback(
    async (targets: Targets) => {
      stopped.current = false;
      let now: Search = { ...NONE, running: true, of: { document, targets } };
      setSearch(now);
      try {
        for (let part = 0; part < now.parts && !stopped.current; part++) {
          const body = { document: document as unknown as Record<string, unknown>, station, targets, part };
          const its = await answer(client.POST("/api/rockers/search", { body }));
          const found = [...now.found, ...its.found].sort((a, b) => a.score - b.score).slice(0, KEPT);
          now = {
            ...now,
            tried: now.tried + its.tried,
            fit: now.fit + its.fit,
            part: part + 1,
            parts: its.parts,
            found,
          };
          setSearch(now);
        }
        const short = await prove(
          targets,
          now.found.slice(0, PROVED).map((one) => one.numbers),
        );
        setSearch({ ...now, running: false, short });
      } catch (error) {
        setSearch({
          ...now,
          running: false,
          trouble: error instanceof Error ? error.message : String(error),
        });
      }
    },
    [document, station, prove],
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
      setTrouble(error instanceof Error ? error.message : String(error));
    }
  };
  return { search, run, stop, pick, trouble: search.trouble ?? trouble };
}

export type Searching = ReturnType<typeof useSearch>;
