import { useMutation } from "@tanstack/react-query";
import { answer, client, type Project } from "../api/client";
import type { DraftInHand } from "../bench/draft";

/** Whether this wheel stands for both sides, and the press that gives the other side a station of its own. */
export function OtherSide({
  document,
  index,
  edit,
}: {
  document: Project;
  index: number;
  edit: DraftInHand["edit"];
}) {
  const station = document.stations[index];
  const part = useMutation({
    mutationFn: () =>
      answer(
        client.POST("/api/layouts/apart", {
          body: { document: document as unknown as Record<string, unknown>, station: index },
        }),
      ),
    onSuccess: (made) => edit(() => made.document as unknown as Project),
  });
  const mirror = useMutation({
    mutationFn: () =>
      answer(
        client.POST("/api/layouts/mirrored", {
          body: { document: document as unknown as Record<string, unknown>, station: index },
        }),
      ),
    onSuccess: (made) => edit(() => made.document as unknown as Project),
  });
  if (!station || station.kind === "axle") return null;
  const side = station.other_side ?? "mirror";
  return (
    <section aria-label="The other side" className="mt-6">
      <h3 className="font-semibold">The other side</h3>
      {side === "mirror" ? (
        <>
          <p className="text-sm text-soft">
            This station stands for both sides, one the mirror image of the other.
          </p>
          <button
            type="button"
            className="press mt-2"
            disabled={part.isPending}
            onClick={() => part.mutate()}
          >
            Give the other side a station of its own
          </button>
        </>
      ) : (
        <p className="text-sm text-soft">
          {side === "alone"
            ? "There is none: this wheel stands alone."
            : `It is a station of its own: ${side}.`}
        </p>
      )}
      {document.stations.some((its) => its.name === side) && (
        <button
          type="button"
          className="press mt-2"
          disabled={mirror.isPending}
          onClick={() => mirror.mutate()}
        >
          Make {side} the mirror image of this side
        </button>
      )}
      {mirror.isError && (
        <p role="alert" className="mt-2 border-l-4 border-fault pl-2 text-sm">
          {mirror.error.message}
        </p>
      )}
      {part.isError && (
        <p role="alert" className="mt-2 border-l-4 border-fault pl-2 text-sm">
          {part.error.message}
        </p>
      )}
    </section>
  );
}
