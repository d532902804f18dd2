import { useState } from "react";
import type { Project } from "../api/client";
import { isStopped } from "../api/working";
import type { DraftInHand } from "../bench/draft";
import { Fold } from "../bench/fold";
import { WorkingLine } from "../bench/working-line";
import { OnTheJack, useSide } from "../beside/on-the-jack";
import { useMoney } from "../quantity/money";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { Waiting } from "../session/states";
import { Costs } from "./costs";
import { PlanCard } from "./plan-card";
import { letGo, NAME, type Plan, promised, type Right, taken, usePlans } from "./plans";

interface Props {
  document: Project;
  hand: DraftInHand;
}

/** What is the least to do for all of it to be well? */
export function RightSheet({ document, hand }: Props) {
  const { money } = useMoney();
  const asked = usePlans(document);
  const [seen, setSeen] = useState<Plan | null>(null);
  const found = asked.data;
  if (seen) return <OnBoth document={document} plan={seen} onClose={() => setSeen(null)} />;
  const held = document.work?.held ?? [];
  return (
    <div className="min-h-0 flex-1 overflow-y-auto p-4 max-lg:overflow-visible">
      <div className="mx-auto max-w-6xl">
        {asked.isFetching && <Waiting what="Trying what can be turned, moved, bought and cut" />}
        <WorkingLine name={NAME} error={asked.error} again={() => void asked.refetch()} />
        {asked.isError && !isStopped(asked.error) && (
          <p className="flex flex-wrap items-center gap-3 py-2 text-fault">
            {asked.error.message}
            <button type="button" className="press" onClick={() => void asked.refetch()}>
              Try again
            </button>
          </p>
        )}
        {found && <Told found={found} />}
        {held.length > 0 && (
          <section aria-label="Held" className="flex flex-wrap items-center gap-2 border-b border-rule py-2">
            <h2 className="text-lg">Stays as it is</h2>
            {held.map((name) => (
              <button
                key={name}
                type="button"
                className="press px-3"
                aria-label={`Let go of ${spoken(name)}`}
                onClick={() => hand.edit((now) => letGo(now, name))}
              >
                {spoken(name.replace("/", ", "))} ×
              </button>
            ))}
          </section>
        )}
        {found && (
          <ol aria-label="Plans" className="grid gap-4 py-4">
            {found.plans.map((plan, number) => (
              <li key={plan.why}>
                <PlanCard
                  plan={plan}
                  first={number === 0}
                  before={found.before}
                  document={document}
                  hand={hand}
                  onSee={() => setSeen(plan)}
                  onTake={() => {
                    hand.edit((now) => taken(now, plan));
                    hand.because(promised(plan, money));
                  }}
                />
              </li>
            ))}
          </ol>
        )}
        {found && (
          <Fold title="What a change costs here" hint={`an hour at ${money(found.rate)}`}>
            <Costs found={found} hand={hand} />
          </Fold>
        )}
        <p className="py-3 text-soft">
          A plan clears what this program judges. Loads, welds and the law of the road are for who signs for
          the work: check every changed mount on the floor before it is cut.
        </p>
      </div>
    </div>
  );
}

/** What there is now, and what cannot be had together. */
function Told({ found }: { found: Right }) {
  const { quantity } = useUnits();
  const { fault, warning } = found.before;
  const many = (count: number, word: string) => `${count} ${word}${count === 1 ? "" : "s"}`;
  return (
    <>
      {found.plans.length === 0 && (
        <p className="py-2 text-xl">
          {fault === 0
            ? `No fault to put right${warning ? `; ${many(warning, "warning")} to look at` : ""}.`
            : "No change known here clears what is wrong."}
        </p>
      )}
      {found.plans.length > 0 && (
        <p className="py-2 text-xl">
          {many(fault, "fault")} and {many(warning, "warning")} now.{" "}
          {found.plans.length === 1 ? "One plan" : `${found.plans.length} plans`}, the cheapest first.
        </p>
      )}
      {found.cannot.length > 0 && (
        <section
          aria-label="Cannot be had together"
          className="my-2 border-l-4 border-fault bg-card px-4 py-2"
        >
          <h2 className="text-lg">These cannot be had together; any one of them alone would settle it</h2>
          <ul>
            {found.cannot.map((way) => (
              <li key={`${way.station} ${way.what}`} className="py-0.5">
                {spoken(way.station)}:{" "}
                {way.before !== null && way.after !== null
                  ? `${way.what === "travel.at" ? "stand at" : (way.what.split(".")[1] ?? "")} ${quantity(way.after, "length")} instead of ${quantity(way.before, "length")}`
                  : way.by !== null
                    ? `${spoken(way.what.split("/").at(-1) ?? "")} ${quantity(way.by, "length")} ${way.way === "up" || way.way === "down" ? "further " : ""}${way.way}`
                    : `${spoken(way.what.split("/").at(-1) ?? "")} otherwise`}
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

/** Before and after on one Jack, by station. */
function OnBoth({ document, plan, onClose }: { document: Project; plan: Plan; onClose: () => void }) {
  const names = Object.keys(plan.figures);
  const [name, setName] = useState(names[0] ?? document.stations[0]?.name ?? "");
  const index = Math.max(
    document.stations.findIndex((station) => station.name === name),
    0,
  );
  const left = useSide(document, document, index);
  const right = useSide(document, plan.document as Project, index);
  const head = (word: string) => <p className="p-2 font-semibold">{word}</p>;
  return (
    <OnTheJack
      left={left}
      right={right}
      names={["Now", "With the plan"]}
      heads={[head("Now"), head("With the plan")]}
      title="Before and after on the Jack"
    >
      {names.length > 1 && (
        <select
          aria-label="Station"
          className="entry w-auto"
          value={name}
          onChange={(event) => setName(event.target.value)}
        >
          {names.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
      )}
      <button type="button" className="press" onClick={onClose}>
        Back to the plans
      </button>
    </OnTheJack>
  );
}
