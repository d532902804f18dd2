import { useId, useState } from "react";
import { newKey, now } from "../prove/proving";
import type { SurveyInHand } from "../survey/store";
import type { Step } from "./steps";

/** What a person can say of a step that nothing else shows: the braces are on, it is ordered, it has come. */
export function Doing({ step, survey }: { step: Step; survey: SurveyInHand }) {
  if (step.step === "guard" && step.state !== "done" && survey.survey.guards.length > 0)
    return <Word step={step} survey={survey} />;
  if (step.step === "order" && (step.state === "next" || step.state === "may"))
    return <Ordered step={step} survey={survey} />;
  if (step.step === "cycle" && step.come.length > 0) return <Came step={step} survey={survey} />;
  return null;
}

function Word({ step, survey }: { step: Step; survey: SurveyInHand }) {
  const [text, setText] = useState("");
  const id = useId();
  const sign = () => {
    if (!text.trim()) return;
    survey.put("record", newKey(), {
      kind: "confirmed",
      when: now(),
      step: step.step,
      initials: text.trim(),
    });
    setText("");
  };
  return (
    <form
      className="flex items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        sign();
      }}
    >
      <label htmlFor={id} className="text-sm">
        The braces are on: initials
        <input
          id={id}
          className="entry block w-20 text-center"
          maxLength={4}
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
      </label>
      <button type="submit" className="press">
        Sign
      </button>
    </form>
  );
}

function Ordered({ step, survey }: { step: Step; survey: SurveyInHand }) {
  const [due, setDue] = useState("");
  const id = useId();
  return (
    <form
      className="flex items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        survey.put("record", newKey(), {
          kind: "ordered",
          when: now(),
          what: "everything",
          ...(step.station === null ? {} : { station: step.station }),
          ...(due ? { due } : {}),
        });
      }}
    >
      <label htmlFor={id} className="text-sm">
        Expected on
        <input
          id={id}
          type="date"
          className="entry block w-40"
          value={due}
          onChange={(event) => setDue(event.target.value)}
        />
      </label>
      <button type="submit" className="press">
        All of it is ordered
      </button>
    </form>
  );
}

function Came({ step, survey }: { step: Step; survey: SurveyInHand }) {
  return (
    <button
      type="button"
      className="press"
      onClick={() =>
        survey.put("record", newKey(), {
          kind: "came",
          when: now(),
          what: "everything",
          ...(step.station === null ? {} : { station: step.station }),
        })
      }
    >
      All of it has come
    </button>
  );
}
