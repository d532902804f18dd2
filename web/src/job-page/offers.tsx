import { useEffect } from "react";
import type { DraftInHand } from "../bench/draft";
import { type Offer, useOffers } from "../bench/unsaved";

/**
 * Unsaved changes found elsewhere: another tab of one's own, another device, or a browser that died. They are offered;
 * only what a closed tab of this browser left is taken up at once, where it stands on the revision that is open.
 */
export function Offers({ job, user, hand }: { job: string; user: string; hand: DraftInHand }) {
  const { offers, left, putAway } = useOffers(user, job, hand.draft.saved, hand.dirty);
  const takes = left?.document && left.base === hand.draft.base && !hand.dirty ? left : null;
  // biome-ignore lint/correctness/useExhaustiveDependencies: taken up once, when it is known that nobody else holds it
  useEffect(() => {
    if (!takes?.document) return;
    hand.takeUp(takes.base, takes.document, true);
    putAway(takes.tab);
  }, [takes?.tab]);
  return offers.map((offer) => (
    <div
      key={offer.tab}
      role="status"
      className="no-print flex flex-wrap items-center gap-3 border-b border-rule bg-marker/25 px-4 py-2"
    >
      <p className="min-w-0 flex-1 basis-60">
        {offer.document
          ? `There are unsaved changes of yours from another tab, ${said(offer.at)}, on revision ${offer.base}.`
          : "There are unsaved changes of yours that this version cannot show. Save them as a file, or discard them."}
      </p>
      {offer.document && (
        <button
          type="button"
          className="press press-main"
          onClick={() => {
            if (offer.document) hand.takeUp(offer.base, offer.document);
            putAway(offer.tab);
          }}
        >
          Continue here
        </button>
      )}
      <a className="press" href={fileOf(offer)} download={`unsaved-${offer.tab.slice(0, 8)}.json`}>
        As a file
      </a>
      <button type="button" className="press" onClick={() => putAway(offer.tab)}>
        Discard them
      </button>
    </div>
  ));
}

function said(at: Date): string {
  return at.getTime() ? at.toLocaleString() : "from an earlier day";
}

function fileOf(offer: Offer): string {
  const text = typeof offer.raw === "string" ? offer.raw : JSON.stringify(offer.raw, null, 2);
  return `data:application/json;charset=utf-8,${encodeURIComponent(text)}`;
}
