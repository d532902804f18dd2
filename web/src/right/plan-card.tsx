import { Hand } from "lucide-react";
import type { Project } from "../api/client";
import type { DraftInHand } from "../bench/draft";
import { Mark } from "../marks/mark";
import { useMoney } from "../quantity/money";
import { useSay } from "../quantity/sentence";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { FIGURES, hold, type Plan, type PlanChange, type Right, type State, setState, WHY } from "./plans";

interface Props {
  plan: Plan;
  first: boolean;
  before: Right["before"];
  document: Project;
  hand: DraftInHand;
  onSee: () => void;
  onTake: () => void;
}

/** One plan: what to do in its order, what it costs, what it does and leaves. */
export function PlanCard({ plan, first, before, document, hand, onSee, onTake }: Props) {
  const wishes = plan.gives_up > 0;
  return (
    <section aria-label={WHY[plan.why]} className="border border-edge bg-card p-4">
      <div className="flex flex-wrap items-baseline gap-x-5 gap-y-1">
        <h2 className="text-2xl">{WHY[plan.why]}</h2>
        <Price plan={plan} />
        <span className="flex-1" />
        <span className="flex items-center gap-2">
          <Mark mark={plan.after.fault ? "fault" : plan.after.warning ? "warning" : "good"} size={22} />
          {before.fault} → {plan.after.fault} faults, {before.warning} → {plan.after.warning} warnings
        </span>
      </div>
      {wishes && <p className="pt-1 font-semibold">Gives up part of what was wanted.</p>}
      <ol className="pt-2">
        {plan.changes.map((change, number) => (
          <Change
            key={JSON.stringify([change.station, change.say])}
            change={change}
            number={number + 1}
            document={document}
            hand={hand}
          />
        ))}
      </ol>
      <Figures plan={plan} />
      {plan.holds_in !== null && (
        <p className="pt-2 text-soft">
          Measured a little otherwise, within the tape’s error, no fault comes back in{" "}
          {Math.round(plan.holds_in * 100)} of 100.
        </p>
      )}
      <Left plan={plan} />
      <div className="flex flex-wrap gap-2 pt-3">
        <button type="button" className={`press ${first ? "press-main" : ""}`} onClick={onTake}>
          Take this plan
        </button>
        <button type="button" className="press" onClick={onSee}>
          Before and after on the Jack
        </button>
      </div>
    </section>
  );
}

function Price({ plan }: { plan: Plan }) {
  const { money } = useMoney();
  const parts = [`${shown(plan.hours)} h`, `${money(plan.money)} for parts`];
  if (plan.days) parts.push(`${shown(plan.days)} days to wait`);
  return (
    <span>
      <b>{money(plan.cost)}</b> altogether: {parts.join(", ")}
    </span>
  );
}

const shown = (value: number): string => String(Math.round(value * 10) / 10);

const MOVED = ["drawn", "tacked", "welded"] as const;
const CUT = ["drawn", "made"] as const;

function Change({
  change,
  number,
  document,
  hand,
}: {
  change: PlanChange;
  number: number;
  document: Project;
  hand: DraftInHand;
}) {
  const { money } = useMoney();
  const say = useSay();
  const states: readonly State[] = change.key.startsWith("moved")
    ? MOVED
    : change.key.startsWith("rocker")
      ? CUT
      : [];
  const station = document.stations.find((one) => one.name === change.station);
  const its = change.holds.filter((name) => {
    const rest = name.slice(change.station.length + 1);
    return states === CUT ? rest in (station?.bodies ?? {}) : (station?.chassis ?? []).includes(rest);
  });
  const text = say(change.say);
  return (
    <li className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-rule py-1.5">
      <span className="w-6 text-right font-bold">{number}</span>
      <span className="min-w-64 flex-1">
        <span className="text-soft">{spoken(change.station)}: </span>
        {text}
        {change.both && !text.includes("both sides") && <span className="text-soft"> Both sides.</span>}
      </span>
      {its.length > 0 && (
        <select
          aria-label={`How far ${spoken((its[0] ?? "").slice(change.station.length + 1))} is`}
          className="entry w-auto"
          value={document.work?.state?.[its[0] ?? ""] ?? "drawn"}
          onChange={(event) => hand.edit((now) => setState(now, its, event.target.value as State))}
        >
          {states.map((state) => (
            <option key={state}>{state}</option>
          ))}
        </select>
      )}
      <span className="w-36 text-right text-soft">
        {shown(change.hours)} h{change.money ? `, ${money(change.money)}` : ""}
      </span>
      <button
        type="button"
        className="press px-3"
        aria-label={`Hold: ${text}`}
        title="Leave this as it is; the plans follow"
        onClick={() => hand.edit((now) => hold(now, change.holds))}
      >
        <Hand size={18} aria-hidden /> Hold
      </button>
    </li>
  );
}

function Figures({ plan }: { plan: Plan }) {
  const { quantity } = useUnits();
  const told = (value: number | null | undefined, dimension: Parameters<typeof quantity>[1]) =>
    value === null || value === undefined ? "nowhere" : quantity(value, dimension);
  return (
    <table className="mt-3 border-collapse">
      <tbody>
        {Object.entries(plan.figures).map(([station, its]) => (
          <tr key={station}>
            <th scope="row" className="pr-4 text-left font-semibold">
              {spoken(station)}
            </th>
            {FIGURES.map(([key, name, dimension]) => {
              const [was, now] = [told(its[key][0], dimension), told(its[key][1], dimension)];
              return (
                <td key={key} className="pr-5">
                  <span className="text-soft">{name} </span>
                  {was === now ? was : `${was} → ${now}`}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Left({ plan }: { plan: Plan }) {
  const say = useSay();
  const left = plan.left
    .filter((one) => one.mark === "fault")
    .concat(plan.left.filter((one) => one.mark !== "fault"));
  if (!left.length) return <p className="pt-2">No faults or warnings left.</p>;
  return (
    <details className="pt-2">
      <summary className="min-h-11 cursor-pointer py-2">
        {left.length === 1 ? "One thing is" : `${left.length} things are`} still to look at
      </summary>
      <ul>
        {left.map((one) => (
          <li key={`${one.station} ${one.code} ${say(one.what)}`} className="flex items-start gap-2 py-0.5">
            <Mark mark={one.mark} size={20} />
            <span>
              {one.station && <span className="text-soft">{spoken(one.station)}: </span>}
              {say(one.what)}
            </span>
          </li>
        ))}
      </ul>
    </details>
  );
}
