import { useState } from "react";
import type { Project } from "../api/client";
import { isStopped } from "../api/working";
import type { DraftInHand } from "../bench/draft";
import { Fold } from "../bench/fold";
import { WorkingLine } from "../bench/working-line";
import { Mark } from "../marks/mark";
import { Heads } from "../quantity/heads";
import { useSay } from "../quantity/sentence";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { Waiting } from "../session/states";
import { PlanChoice } from "../views/plan-choice";
import type { Plan } from "../views/projection";
import { type Carried, NAME, onceEach, taken, useCarried } from "./frame";
import { FrameDrawing } from "./frame-drawing";
import { MemberForm, NodeForm } from "./frame-forms";
import { MemberTable, NodeTable } from "./frame-tables";

interface Props {
  document: Project;
  hand: DraftInHand;
}

const TIMES = [1, 20, 50, 100] as const;

/** Does the chassis carry it? */
export function FrameSheet({ document, hand }: Props) {
  const asked = useCarried(document);
  const [picked, setPicked] = useState<string | null>(null);
  const [caseName, setCaseName] = useState("");
  const [plan, setPlan] = useState<Plan>("front");
  const [times, setTimes] = useState<number>(20);
  const found = asked.data ?? null;
  const worst = [...(found?.members ?? [])].sort((one, other) => other.share - one.share)[0];
  const shown = found?.cases.find((one) => one.name === (caseName || worst?.case)) ?? found?.cases[0] ?? null;
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_400px] max-lg:grid-cols-1">
      <div className="min-h-0 overflow-y-auto max-lg:overflow-visible">
        {asked.isLoading && <Waiting what="Working out what comes to the mounts" />}
        <div className="px-4">
          <WorkingLine name={NAME} error={asked.error} again={() => void asked.refetch()} />
          {asked.isError && !isStopped(asked.error) && (
            <p className="py-2 text-fault">{asked.error.message}</p>
          )}
        </div>
        {found && found.members.length > 0 ? (
          <>
            <FrameDrawing
              document={document}
              found={found}
              shown={shown}
              times={times}
              picked={picked}
              onPick={setPicked}
              plan={plan}
            />
            <div className="flex flex-wrap items-center gap-3 border-b border-rule px-4 py-2">
              <PlanChoice plan={plan} onPlan={setPlan} />
              <label className="flex min-w-0 flex-1 items-center gap-2">
                Load case
                <select
                  className="entry min-w-0 flex-1"
                  value={shown?.name ?? ""}
                  onChange={(event) => setCaseName(event.target.value)}
                >
                  {found.cases.map((one) => (
                    <option key={one.name}>{one.name}</option>
                  ))}
                </select>
              </label>
              <label className="flex items-center gap-2">
                movement drawn
                <select
                  className="entry w-auto"
                  value={times}
                  onChange={(event) => setTimes(Number(event.target.value))}
                >
                  {TIMES.map((one) => (
                    <option key={one} value={one}>
                      {one} times
                    </option>
                  ))}
                </select>
              </label>
            </div>
            <div className="p-4">
              <MemberTable document={document} found={found} hand={hand} picked={picked} onPick={setPicked} />
              <Mounts found={found} />
            </div>
          </>
        ) : (
          !asked.isLoading && (
            <p className="p-6 text-xl">
              Draw the tubes that the mounts are welded to: places first, then a tube between two of them,
              then where the rest of the chassis holds them.
            </p>
          )
        )}
      </div>
      <aside className="min-h-0 overflow-y-auto border-l border-rule px-4 pb-6 max-lg:overflow-visible max-lg:border-l-0">
        {found && <Found found={found} />}
        {found && <AdviceList found={found} hand={hand} />}
        <Fold title="Draw a tube" hint="between two places">
          <MemberForm document={document} hand={hand} />
        </Fold>
        <Fold title="Places" hint={`${Object.keys(document.frame?.nodes ?? {}).length} of the frame`}>
          <NodeTable document={document} hand={hand} />
          <NodeForm document={document} hand={hand} />
        </Fold>
        <p className="pt-3 text-sm text-soft">
          Linear and without fatigue: a first look at what a bracket stands on, no certificate. Welding on a
          chassis frame is for who may, by the maker’s and the road’s rules.
        </p>
      </aside>
    </div>
  );
}

function Found({ found }: { found: Carried }) {
  const say = useSay();
  const { quantity } = useUnits();
  const open = found.findings.filter((one) => one.mark !== "good");
  return (
    <section aria-label="Findings">
      <h2 className="pb-1 pt-3 text-lg">{open.length ? "Look at these" : "The frame carries its mounts"}</h2>
      <p className="text-soft">
        {quantity(found.mass, "mass")} of tube.{" "}
        {Object.entries(found.rates)
          .filter(([, its]) => its.wheel_rate !== null && its.with_give !== its.wheel_rate)
          .map(
            ([station, its]) =>
              `${spoken(station)}: ${quantity(its.wheel_rate ?? 0, "rate")} at the wheel on stiff mounts, ${quantity(its.with_give ?? 0, "rate")} with the frame’s give. `,
          )}
      </p>
      <ul>
        {open.map((one) => (
          <li
            key={`${one.code} ${one.subjects.join(" ")}`}
            className="flex gap-3 border-b border-rule py-2"
            data-testid={`finding-${one.code}`}
          >
            <Mark mark={one.mark} size={22} />
            <div>
              <p className="font-semibold leading-snug">{say(one.what)}</p>
              <p className="text-sm text-soft">{one.why}</p>
              {one.remedy && <p className="text-sm">{say(one.remedy)}</p>}
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}

function AdviceList({ found, hand }: { found: Carried; hand: DraftInHand }) {
  const say = useSay();
  if (!found.advice.length) return null;
  return (
    <section aria-label="Changes tried that help">
      <h2 className="pb-1 pt-3 text-lg">Changes tried that help</h2>
      <ul>
        {found.advice.map((one) => (
          <li key={`${one.kind} ${say(one.say)}`} className="border-b border-rule py-2">
            <p className="leading-snug">{say(one.say)}</p>
            <button
              type="button"
              className="press mt-1"
              aria-label={`${ACT[one.kind]}: ${say(one.say)}`}
              onClick={() => hand.edit((now) => taken(now, one))}
            >
              {ACT[one.kind]}
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

const ACT: Record<string, string> = {
  brace: "Add the brace",
  thicker: "Take the heavier tube",
  thinner: "Take the lighter tube",
  idle: "Remove it",
};

function Mounts({ found }: { found: Carried }) {
  const { quantity } = useUnits();
  return (
    <>
      <h2 className="pb-1 pt-5 text-lg">Mounts</h2>
      <div className="overflow-x-auto">
        <table className="w-full border-collapse text-right">
          <Heads
            names={["Mount", "Stands on", "Most force", "Moves", "Stiffness", "Of the wheel rate"]}
            words={["Stands on"]}
          />
          <tbody>
            {onceEach(found.mounts, (one) => Math.hypot(...one.moves)).map((one) => (
              <tr key={one.name} className="border-b border-rule">
                <th scope="row" className="py-1.5 text-left font-normal">
                  {spoken(one.name.replace("/", ", "))}
                  <span className="block text-sm text-soft">{one.case}</span>
                </th>
                <td className="px-2 text-left">{spoken(one.on)}</td>
                <td className="whitespace-nowrap px-2">{quantity(one.force, "force")}</td>
                <td className="whitespace-nowrap px-2">{quantity(Math.hypot(...one.moves), "length", 2)}</td>
                <td className="px-2">
                  {one.stiffness === null ? "rigid" : quantity(one.stiffness, "rate", 0)}
                </td>
                <td className="pl-2">{one.takes === null ? "–" : `${(100 * one.takes).toFixed(1)} %`}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
