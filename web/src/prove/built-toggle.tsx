import { useState } from "react";
import { answer, client, type Project, Refused } from "../api/client";
import type { DraftInHand } from "../bench/draft";
import type { SurveyInHand } from "../survey/store";

interface Props {
  document: Project;
  hand: DraftInHand;
  survey: SurveyInHand;
}

/** Every sheet as its cycles say that it was likely built, and pressed again as it is drawn. */
export function BuiltToggle({ document, hand, survey }: Props) {
  const [shown, setShown] = useState<{ drawn: Project; built: Project } | null>(null);
  const [said, setSaid] = useState("");
  const [busy, setBusy] = useState(false);
  const built = shown !== null && document === shown.built;
  if (!survey.records.some((one) => one.body.kind === "cycle")) return null;
  const show = async () => {
    setSaid("");
    setBusy(true);
    try {
      const { document: next } = await answer(
        client.POST("/api/prove/take", {
          body: {
            document,
            records: survey.records.map((one) => one.body),
          },
        }),
      );
      const its = next;
      setShown({ drawn: document, built: its });
      hand.edit(() => its);
    } catch (refused) {
      setSaid(refused instanceof Refused ? refused.message : "It could not be worked out.");
    } finally {
      setBusy(false);
    }
  };
  return (
    <span aria-busy={busy} className="flex items-center">
      <button
        type="button"
        aria-pressed={built}
        disabled={busy}
        title="As its cycles say that it was likely built; nothing is saved by looking"
        className={`press px-3 ${built ? "press-main" : ""}`}
        onClick={() => {
          if (built) hand.edit(() => shown.drawn);
          else void show();
        }}
      >
        As built
      </button>
      <span role="status" className={said ? "max-w-48 pl-2 text-sm leading-tight" : "sr-only"}>
        {said}
      </span>
    </span>
  );
}
