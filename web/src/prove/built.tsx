import { useState } from "react";
import { answer, client, type Project, Refused } from "../api/client";
import type { DraftInHand } from "../bench/draft";
import { useSay } from "../quantity/sentence";
import { useUnits } from "../quantity/units";
import type { SurveyInHand } from "../survey/store";
import type { Proof } from "./proving";

interface Props {
  document: Project;
  hand: DraftInHand;
  survey: SurveyInHand;
  proof: Proof | undefined;
  station: string;
}

/** What is likely different from the drawing, and what to measure to know. */
export function AsBuilt({ document, hand, survey, proof, station }: Props) {
  const say = useSay();
  const { quantity, number } = useUnits();
  const [said, setSaid] = useState("");
  const cycle = proof?.cycles.filter((one) => one.station === station && one.rms !== null).at(-1);
  if (!cycle)
    return (
      <p className="py-3 text-soft">Cycle {station} first: three jack positions at least, better nine.</p>
    );
  const take = async () => {
    try {
      const { document: next } = await answer(
        client.POST("/api/prove/take", {
          body: {
            document,
            records: survey.records.map((one) => one.body),
            record: cycle.record,
          },
        }),
      );
      hand.edit(() => next);
      setSaid("Applied: every sheet now shows it as it was likely built. Undo, or save it as a revision.");
    } catch (refused) {
      setSaid(refused instanceof Refused ? refused.message : "It could not be applied.");
    }
  };
  const worst = cycle.built.reduce(
    (one, other) => (other.sigma > one.sigma ? other : one),
    cycle.built[0] as (typeof cycle.built)[number],
  );
  return (
    <section aria-label="As built" className="pt-2">
      <h3 className="font-semibold">What would explain it, each by itself</h3>
      {cycle.misread.length > 0 && (
        <p className="py-1">
          {cycle.misread.length === 1 ? "Row" : "Rows"} {cycle.misread.map((row) => row.row).join(" and ")} of
          the cycle {cycle.misread.length === 1 ? "does" : "do"} not fit the others, and{" "}
          {cycle.misread.length === 1 ? "is" : "are"} not counted here: see under Cycle.
        </p>
      )}
      {cycle.causes.length === 0 && (
        <p className="py-1">
          {cycle.fits
            ? `${cycle.misread.length ? "Without it nothing" : "Nothing"} needs explaining: it moves as it is drawn, within what the tape and the rule can tell.`
            : "It does not move as it is drawn, and nothing that is looked for explains it by itself: cycle it again."}
        </p>
      )}
      <ol>
        {cycle.causes.map((cause) => (
          <li
            key={cause.say.words + cause.say.names.join()}
            className="border-b border-rule py-1.5 text-lg leading-tight"
          >
            {say(cause.say)}
          </li>
        ))}
      </ol>
      {cycle.tell && (
        <p className="py-2 leading-snug">
          This cycle cannot tell the first of them apart.{" "}
          <span className="font-semibold">{say(cycle.tell)}</span>
        </p>
      )}
      <h3 className="pt-3 font-semibold">As built</h3>
      <dl>
        {cycle.ride && (
          <div className="flex justify-between gap-3 border-b border-rule py-1">
            <dt>It stands, from as drawn</dt>
            <dd className="font-bold">
              {quantity(cycle.ride[0] ?? 0, "travel")} ± {quantity(1.645 * (cycle.ride[1] ?? 0), "length")}
            </dd>
          </div>
        )}
        {cycle.built.length > 0 && (
          <div className="flex justify-between gap-3 border-b border-rule py-1">
            <dt>Motion ratio (damper ÷ wheel), through the cycle</dt>
            <dd className="text-right font-bold">
              {number(Math.min(...cycle.built.map((row) => row.ratio)), "ratio")} to{" "}
              {number(Math.max(...cycle.built.map((row) => row.ratio)), "ratio")}
              <span className="block text-sm font-normal">
                each ± {number(1.645 * worst.sigma, "ratio")} at worst
              </span>
            </dd>
          </div>
        )}
      </dl>
      {cycle.moved > 0 && (
        <button type="button" className="press press-main mt-3 w-full" onClick={() => void take()}>
          Use it as built
        </button>
      )}
      <p role="status" className="pt-2 text-sm">
        {said}
      </p>
    </section>
  );
}
