import { Download, Pencil } from "lucide-react";
import { useState } from "react";
import { client, type Project } from "../api/client";
import { isStopped } from "../api/working";
import type { DraftInHand } from "../bench/draft";
import { Fold } from "../bench/fold";
import { MadeFile } from "../bench/made-file";
import { WorkingLine } from "../bench/working-line";
import { Mark } from "../marks/mark";
import { Heads } from "../quantity/heads";
import { useSay } from "../quantity/sentence";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { Waiting } from "../session/states";
import { PlanChoice } from "../views/plan-choice";
import type { Plan } from "../views/projection";
import { type Caught, drawn, moved, runsOf, withRuns } from "./catching";
import { type Carried, NAME, onceEach, taken, useCarried } from "./frame";
import { FrameDrawing } from "./frame-drawing";
import { MemberForm, NodeForm } from "./frame-forms";
import { MemberTable, NodeTable } from "./frame-tables";
import { MemberPanel, type Size, SizePick, USUAL } from "./member-panel";
import { NodePanel } from "./node-panel";

interface Props {
  job: string;
  document: Project;
  hand: DraftInHand;
}

const TIMES = [1, 20, 50, 100] as const;

/** Does the chassis carry it? */
export function FrameSheet({ job, document, hand }: Props) {
  const asked = useCarried(document);
  const [picked, setPicked] = useState<string | null>(null);
  const [caseName, setCaseName] = useState("");
  const [plan, setPlan] = useState<Plan>("front");
  const [times, setTimes] = useState<number>(20);
  const [drawing, setDrawing] = useState(false);
  const [size, setSize] = useState<Size>(USUAL);
  const [trouble, setTrouble] = useState("");
  const [node, setNode] = useState<string | null>(null);
  const pick = (member: string | null) => {
    setNode(null);
    setPicked(member);
  };
  const pickNode = (one: string) => {
    setPicked(null);
    setNode(one);
  };
  const members = document.frame?.members ?? [];
  const found = members.length ? (asked.data ?? null) : null;
  const worst = [...(found?.members ?? [])].sort((one, other) => other.share - one.share)[0];
  const shown = found?.cases.find((one) => one.name === (caseName || worst?.case)) ?? found?.cases[0] ?? null;
  const own = members.find((one) => one.name === picked?.replace(/, other side$/, ""));
  const tube = (from: Caught, to: Caught) => {
    const put = drawn(document, from, to, size);
    setTrouble(put ? "" : "There is a tube between these two already, or they are one place.");
    if (!put) return;
    hand.edit((now) => drawn(now, from, to, size)?.[0] ?? now);
    pick(put[1]);
  };
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_400px] max-lg:grid-cols-1">
      <div className="min-h-0 overflow-y-auto max-lg:overflow-visible">
        <FrameDrawing
          document={document}
          found={found}
          shown={drawing ? null : shown}
          times={times}
          picked={picked}
          onPick={pick}
          plan={plan}
          drawing={drawing}
          onTube={tube}
          onMove={(node, at) => hand.edit((now) => moved(now, node, at), `place ${node} dragged`)}
          onNode={pickNode}
          onAdvice={(one) => hand.edit((now) => taken(now, one))}
        />
        {trouble && (
          <p role="alert" className="bg-card px-4 py-2 text-fault">
            {trouble}
          </p>
        )}
        <div className="flex flex-wrap items-center gap-3 border-b border-rule px-4 py-2">
          <PlanChoice plan={plan} onPlan={setPlan} />
          <button
            type="button"
            aria-pressed={drawing}
            className="press px-3 aria-pressed:border-press aria-pressed:bg-press aria-pressed:text-white"
            onClick={() => {
              setDrawing(!drawing);
              setTrouble("");
            }}
          >
            <Pencil size={18} aria-hidden /> Draw tubes
          </button>
          {drawing ? (
            <SizePick size={size} onSize={setSize} />
          ) : (
            found && (
              <CaseAndTimes
                found={found}
                shown={shown}
                onCase={setCaseName}
                times={times}
                onTimes={setTimes}
              />
            )
          )}
        </div>
        {asked.isLoading && <Waiting what="Working out what comes to the mounts" />}
        <div className="px-4">
          <WorkingLine name={NAME} error={asked.error} again={() => void asked.refetch()} />
          {asked.isError && !isStopped(asked.error) && (
            <p className="py-2 text-fault">{asked.error.message}</p>
          )}
        </div>
        {found && found.members.length > 0 ? (
          <div className="p-4">
            <MemberTable document={document} found={found} hand={hand} picked={picked} onPick={pick} />
            <Mounts found={found} />
          </div>
        ) : (
          !asked.isLoading && (
            <p className="p-6 text-xl">
              Draw the tubes that the mounts are welded to: press <b>Draw tubes</b>, then where one begins and
              where it ends. Then say where the rest of the chassis holds them.
            </p>
          )
        )}
      </div>
      <aside className="min-h-0 overflow-y-auto border-l border-rule px-4 pb-6 max-lg:overflow-visible max-lg:border-l-0">
        {node !== null && (
          <NodePanel key={node} document={document} node={node} hand={hand} onDone={() => setNode(null)} />
        )}
        {own && (
          <MemberPanel key={own.name} job={job} member={own} hand={hand} onDone={() => setPicked(null)} />
        )}
        {found && <Found found={found} />}
        {found && <AdviceList found={found} hand={hand} />}
        <FromMake document={document} hand={hand} />
        <Fold title="Draw a tube" hint="between two places, from a list">
          <MemberForm document={document} hand={hand} />
        </Fold>
        <Fold title="Places" hint={`${Object.keys(document.frame?.nodes ?? {}).length} of the frame`}>
          <NodeTable document={document} hand={hand} onPick={pickNode} />
          <NodeForm document={document} hand={hand} />
        </Fold>
        {members.length > 0 && <InSpace document={document} />}
        <p className="pt-3 text-sm text-soft">
          Linear and without fatigue: a first look at what a bracket stands on, no certificate. Welding on a
          chassis frame is for who may, by the maker’s and the road’s rules.
        </p>
      </aside>
    </div>
  );
}

/** Which case's movement is drawn, and how many times as large. */
function CaseAndTimes({
  found,
  shown,
  onCase,
  times,
  onTimes,
}: {
  found: Carried;
  shown: Carried["cases"][number] | null;
  onCase: (name: string) => void;
  times: number;
  onTimes: (times: number) => void;
}) {
  return (
    <>
      <label className="flex min-w-0 flex-1 items-center gap-2">
        Load case
        <select
          className="entry min-w-0 flex-1"
          value={shown?.name ?? ""}
          onChange={(event) => onCase(event.target.value)}
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
          onChange={(event) => onTimes(Number(event.target.value))}
        >
          {TIMES.map((one) => (
            <option key={one} value={one}>
              {one} times
            </option>
          ))}
        </select>
      </label>
    </>
  );
}

/** The tubes with their ends as they are cut, for whoever has a modeller. */
function InSpace({ document }: { document: Project }) {
  const { survey: _, records: __, ...rest } = document;
  return (
    <p className="flex flex-wrap items-center gap-2 pt-3">
      In space, with their ends as they are cut:
      {(["glb", "stl"] as const).map((form) => (
        <MadeFile
          key={form}
          name={`the frame as ${form.toUpperCase()}`}
          file={`frame.${form}`}
          className="press px-3"
          ask={(headers) =>
            client.POST("/api/make/frame", {
              body: { document: rest as Project, form },
              headers,
              parseAs: "blob",
            })
          }
        >
          <Download size={18} aria-hidden /> {form.toUpperCase()}
        </MadeFile>
      ))}
    </p>
  );
}

/** Towers, hoops and crossbars of Make, to be looked at with the frame and cut with it. */
function FromMake({ document, hand }: { document: Project; hand: DraftInHand }) {
  const runs = runsOf(document);
  if (!runs.length) return null;
  return (
    <section aria-label="From Make" className="border-b border-rule py-3">
      <p className="leading-snug">
        Make has {runs.map(({ run }) => spoken(run.name)).join(", ")}. Brought in here, it is worked out with
        the frame, and Make cuts it from here; its feet are taken as held.
      </p>
      <button type="button" className="press mt-1" onClick={() => hand.edit(withRuns)}>
        Bring in from Make
      </button>
    </section>
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
