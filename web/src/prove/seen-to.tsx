import { ShieldCheck } from "lucide-react";
import type { SurveyInHand } from "../survey/store";
import { newKey, now } from "./proving";

const HOLDS_MS = 12 * 3600 * 1000;

/** Whether somebody said today that a caution is seen to; the record of it if so. */
export function seenTo(hand: SurveyInHand, what: string, station?: string) {
  return hand.records
    .filter(
      ({ body }) =>
        body.kind === "caution" &&
        body.what === what &&
        body.station === station &&
        Date.now() - Date.parse(body.when) < HOLDS_MS,
    )
    .at(-1);
}

interface Props {
  hand: SurveyInHand;
  what: string;
  station?: string;
}

/** A caution that is asked for before the work: said to be seen to once a day, and kept in the job's book. */
export function SeenTo({ hand, what, station }: Props) {
  const seen = seenTo(hand, what, station);
  return (
    <div className="border-l-4 border-warning bg-card p-2 text-sm leading-snug">
      <p>{what}</p>
      {seen ? (
        <p className="flex items-center gap-1 pt-1 font-semibold">
          <ShieldCheck size={16} aria-hidden /> Checked today
          {seen.body.by ? ` by ${seen.body.by}` : ""}
        </p>
      ) : (
        <button
          type="button"
          className="press mt-1 px-3"
          onClick={() =>
            hand.put("record", newKey(), {
              kind: "caution",
              when: now(),
              what,
              ...(station ? { station } : {}),
            })
          }
        >
          All checked
        </button>
      )}
    </div>
  );
}
