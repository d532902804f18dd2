import { useMutation } from "@tanstack/react-query";
import { answer, client, type Project } from "../api/client";
import { about } from "../bench/asked";
import type { DraftInHand } from "../bench/draft";

/** A document made by the server from this one, taken in hand when it comes. */
function useMade(
  path: "/api/layouts/apart" | "/api/layouts/mirrored",
  document: Project,
  index: number,
  edit: DraftInHand["edit"],
) {
  return useMutation({
    mutationFn: () => answer(client.POST(path, { body: about(document, index) })),
    onSuccess: (made) => edit(() => made.document),
  });
}

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
  const part = useMade("/api/layouts/apart", document, index, edit);
  const mirror = useMade("/api/layouts/mirrored", document, index, edit);
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
      {[mirror, part].map(
        (made, k) =>
          made.isError && (
            <p
              key={k === 0 ? "mirror" : "part"}
              role="alert"
              className="mt-2 border-l-4 border-fault pl-2 text-sm"
            >
              {made.error.message}
            </p>
          ),
      )}
    </section>
  );
}
