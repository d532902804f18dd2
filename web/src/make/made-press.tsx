import { Check } from "lucide-react";
import { newKey, now } from "../prove/proving";
import type { SurveyInHand } from "../survey/store";
import type { Part } from "./choosing";

/** Says that a part is made, to the figures that it has now: if the drawing is changed later, that is seen. */
export function MadePress({ part, hand }: { part: Part; hand: SurveyInHand }) {
  const its = hand.records.filter(
    ({ body }) => body.kind === "made" && body.station === part.station && body.part === part.name,
  );
  const last = its.at(-1);
  if (last)
    return (
      <button
        type="button"
        className="press px-3 text-sm"
        aria-label={`Made; undo: ${part.name}`}
        onClick={() => {
          for (const one of its) hand.drop("record", one.key);
        }}
      >
        <Check size={16} aria-hidden /> Made {new Date(last.body.when).toLocaleDateString()} ×
      </button>
    );
  const figures = Object.fromEntries(
    part.figures.flatMap((one) =>
      one.value !== null && ["length", "angle"].includes(one.measures) ? [[one.key, one.value]] : [],
    ),
  );
  return (
    <button
      type="button"
      className="press px-3 text-sm"
      onClick={() =>
        hand.put("record", newKey(), {
          kind: "made",
          when: now(),
          station: part.station,
          part: part.name,
          figures,
        })
      }
    >
      It is made
    </button>
  );
}
