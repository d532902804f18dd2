/** A question about one station of the document in hand, asked anew whenever either changes. */

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { type Answer, answer, type Project } from "../api/client";

export interface AboutStation {
  document: Project;
  station: number;
}

/** The body of every question about a station. */
export const about = (document: Project, station: number): AboutStation => ({
  document,
  station,
});

/**
 * The answer about a station, the one before kept on screen while the next is worked out. One question at a time, then the newest:
 * a hand that moves is followed as fast as answers come, and never queues. `more` are the question's own values.
 */
export function useAsked<T>(
  name: string,
  document: Project,
  station: number,
  ask: (body: AboutStation) => Promise<Answer<T>>,
  enabled = true,
  more: unknown[] = [],
) {
  const own = JSON.stringify(more);
  const [now, setNow] = useState({ document, station, own, ask });
  const behind = now.document !== document || now.station !== station || now.own !== own;
  const found = useQuery({
    queryKey: [name, now.station, now.document, now.own],
    queryFn: () => answer(now.ask(about(now.document, now.station))),
    enabled: enabled && !behind,
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 0,
  });
  useEffect(() => {
    if (enabled && behind && !found.isFetching) setNow({ document, station, own, ask });
  }, [enabled, behind, found.isFetching, document, station, own, ask]);
  return { ...found, isFetching: found.isFetching || (enabled && behind) };
}

/** The answer about the whole job, asked and kept in the same way. */
export function useAskedOfJob<T>(
  name: string,
  document: Project,
  ask: (body: Pick<AboutStation, "document">) => Promise<Answer<T>>,
) {
  return useQuery({
    queryKey: [name, document],
    queryFn: () => answer(ask({ document })),
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 0,
  });
}
