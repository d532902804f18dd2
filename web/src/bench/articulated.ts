/** An axle with one wheel up and the other down: its points through heave, asked for as the handle moves. */

import { useQuery } from "@tanstack/react-query";
import { answer, client, type Project, type Shape } from "../api/client";

export type Articulated = Shape["ArticulatedOut"];

/** The articulated axle for the document as it stands, or null when the axle is level. */
export function useArticulated(document: Project, station: number, articulation: number): Articulated | null {
  const found = useQuery({
    queryKey: ["articulated", station, articulation, document],
    queryFn: () =>
      answer(
        client.POST("/api/articulated", {
          body: { document, station, articulation },
        }),
      ),
    enabled: articulation !== 0,
    placeholderData: (before) => before,
    gcTime: 0,
    retry: false,
  });
  return articulation !== 0 ? (found.data ?? null) : null;
}
