import { useQueryClient } from "@tanstack/react-query";
import { answer, client, type Project, Refused } from "../api/client";
import type { DraftInHand } from "../bench/draft";

/** Take a document over as one step and one revision; what could not be saved stays in hand and is said. */
export function useTaking(job: string, hand: DraftInHand) {
  const queries = useQueryClient();
  return async (document: Project, reason: string): Promise<string> => {
    hand.edit(() => document);
    try {
      const revision = await answer(
        client.POST("/api/jobs/{job_id}/revisions", {
          params: { path: { job_id: job } },
          body: { parent: hand.draft.base, reason, document },
        }),
      );
      hand.markSaved(revision);
      void queries.invalidateQueries({ queryKey: ["revisions", job] });
      void queries.invalidateQueries({ queryKey: ["jobs"] });
      return `Applied and saved as revision ${revision.number}.`;
    } catch (refused) {
      const why = refused instanceof Refused ? refused.message : "";
      return `Applied to the drawing, not saved yet. ${why}`;
    }
  };
}
