import { isOfTheJob } from "../api/client";
import type { Solved } from "../bench/solved";
import { Mark } from "../marks/mark";
import { useSay } from "../quantity/sentence";
import { useUnits } from "../quantity/units";
import { isOn } from "./families";

/** The sentence above the sheet. */
export function Verdict({ solved, sheet }: { solved: Solved; sheet: string }) {
  const say = useSay();
  const { quantity } = useUnits();
  const { view, refused } = solved;
  const question = QUESTIONS[sheet] ?? QUESTIONS.layout ?? "";
  if (refused && !isOfTheJob(refused)) {
    return <VerdictLine question={question} mark="warning" words={refused.message} />;
  }
  if (refused)
    return (
      <VerdictLine
        question={question}
        mark="fault"
        words="The linkage cannot be put together as it is drawn now."
      />
    );
  if (!view) return <VerdictLine question={question} mark="" words="Solving …" />;
  if (sheet === "stops") {
    const said = (end: "bump" | "droop") => {
      const its = view.findings.filter((finding) => finding.end === end);
      return its.find((finding) => finding.leads) ?? its[0];
    };
    const ends = [said("bump"), said("droop")].filter((finding) => finding !== undefined);
    const worst = view.findings.find(isOn("stops"))?.mark ?? "good";
    const words = ends.map((finding) => say(finding.what)).join(" ");
    return <VerdictLine question={question} mark={worst} words={words || say(view.verdict)} />;
  }
  if (sheet === "rocker") {
    const its = view.findings.filter(isOn("rocker"));
    const words = its
      .slice(0, 2)
      .map((finding) => say(finding.what))
      .join(" ");
    return <VerdictLine question={question} mark={its[0]?.mark ?? ""} words={words || say(view.verdict)} />;
  }
  if (sheet === "springing") {
    const worst = view.findings.find(isOn("springing"));
    const bad = worst && worst.mark !== "good";
    const words = !view.ride
      ? say(view.ride_fault ?? view.verdict)
      : `It stands at ${quantity(view.ride.travel, "travel")} on ${quantity(view.ride.wheel_rate, "rate")} at the wheel, and rides at ${quantity(view.ride.frequency, "frequency")}.${bad ? ` ${say(worst.what)}` : ""}`;
    return <VerdictLine question={question} mark={worst?.mark ?? "good"} words={words} />;
  }
  const worst = view.findings[0]?.mark ?? "good";
  return <VerdictLine question={question} mark={worst} words={say(view.verdict)} />;
}

const QUESTIONS: Record<string, string> = {
  layout: "Do the mounts fit through the whole travel?",
  rocker: "Which rocker, which pivot, which angle?",
  springing: "What carries it where it is wanted?",
  stops: "What ends the travel, each way?",
};

export function VerdictLine({ question, mark, words }: { question: string; mark: string; words: string }) {
  return (
    <div className="flex min-w-0 flex-1 items-center gap-3">
      {mark && <Mark mark={mark} />}
      <div className="min-w-0">
        <p className="text-sm leading-tight text-soft">{question}</p>
        <p role="status" data-testid="verdict" className="text-lg lg:line-clamp-2 font-bold leading-tight">
          {words}
        </p>
      </div>
    </div>
  );
}
