/** A question about one station of the document in hand, asked anew whenever either changes. */

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type Answer, answer, type Project } from "../api/client";

export interface AboutStation {
  document: Record<string, unknown>;
  station: number;
}

/** The body of every question about a station. */
export const about = (document: Project, station: number): AboutStation => ({
  document: document as unknown as Record<string, unknown>,
  station,
});

/** The answer about a station, the one before kept on screen while the next is worked out. `more` are the question's own values. */
export function useAsked<T>(
  name: string,
  document: Project,
  station: number,
  ask: (body: AboutStation) => Promise<Answer<T>>,
  enabled = true,
  more: unknown[] = [],
) {
  return useQuery({
    queryKey: [name, station, document, ...more],
    queryFn: () => answer(ask(about(document, station))),
    enabled,
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 0,
  });
}

/** The answer about the whole job, asked and kept in the same way. */
export function useAskedOfJob<T>(
  name: string,
  document: Project,
  ask: (body: Pick<AboutStation, "document">) => Promise<Answer<T>>,
) {
  return useQuery({
    queryKey: [name, document],
    queryFn: () => answer(ask({ document: document as unknown as Record<string, unknown> })),
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 0,
  });
}
