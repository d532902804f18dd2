import { Printer } from "lucide-react";
import { Fragment, type ReactNode, useState } from "react";
import { Link } from "react-router";
import type { Project } from "../api/client";
import { isStopped } from "../api/working";
import { WorkingLine } from "../bench/working-line";
import { useMoney } from "../quantity/money";
import { useSay } from "../quantity/sentence";
import { spoken } from "../quantity/spoken";
import { Waiting } from "../session/states";
import type { SurveyInHand } from "../survey/store";
import { Doing } from "./doing";
import { StepSign } from "./step-sign";
import { hours, NAME, STATES, type Step, type StepState, sheetOf, toDo, useSteps } from "./steps";

interface Props {
  job: string;
  revision: number;
  document: Project;
  survey: SurveyInHand;
}

/** What comes next, what must wait and for what, and what would be spoilt. */
export function NextSheet({ job, revision, document, survey }: Props) {
  const asked = useSteps(job, revision, document, survey);
  const steps = asked.data;
  const [picked, setPicked] = useState("");
  return (
    <div className="min-h-0 flex-1 overflow-y-auto p-4 max-lg:overflow-visible">
      <div className="mx-auto max-w-6xl">
        {!steps && asked.isFetching && <Waiting what="Working out what is done" />}
        <WorkingLine name={NAME} error={asked.error} again={() => void asked.refetch()} />
        {asked.isError && !isStopped(asked.error) && <p className="py-2 text-fault">{asked.error.message}</p>}
        {steps && (
          <>
            <div className="flex items-start justify-between gap-4">
              <p className="py-1 text-xl">{inShort(steps)}</p>
              <button type="button" className="press no-print" onClick={() => window.print()}>
                <Printer size={18} aria-hidden /> Print for the wall
              </button>
            </div>
            <ul aria-label="To do now" className="grid gap-3 py-2 lg:grid-cols-2">
              {toDo(steps).map((step) => (
                <li key={keyOf(step)}>
                  <Card step={step} job={job} document={document} survey={survey} />
                </li>
              ))}
            </ul>
            <Board
              steps={steps}
              picked={picked}
              onPick={setPicked}
              opened={(step) => <Card opened step={step} job={job} document={document} survey={survey} />}
            />
            <p className="py-3 text-soft">
              Whether a step is done is worked out from readings, findings, parts and records. A person
              answers for stands, springs out, welds and torque; where a rule or an engineer has to sign, this
              does not.
            </p>
          </>
        )}
      </div>
    </div>
  );
}

const keyOf = (step: Step) => `${step.station ?? ""}/${step.step}`;
const where = (step: Step) => (step.station === null ? "The vehicle" : spoken(step.station));

function inShort(steps: Step[]): string {
  const done = steps.filter((one) => one.state === "done").length;
  const again = steps.filter((one) => one.state === "again").length;
  const words = `${done} of ${steps.length} steps are done.`;
  return again ? `${words} ${again === 1 ? "One was" : `${again} were`} undone by a later change.` : words;
}

/** One step: what it says, why, what it waits for or would spoil, and where it is done. */
function Card({
  step,
  job,
  document,
  survey,
  opened = false,
}: {
  step: Step;
  opened?: boolean;
  job: string;
  document: Project;
  survey: SurveyInHand;
}) {
  const { money } = useMoney();
  const say = useSay();
  const [low = 0, , high = 0] = step.hours;
  return (
    <section
      aria-label={`${step.name}, ${where(step)}${opened ? ", opened" : ""}`}
      className={`h-full border bg-card p-3 ${step.state === "next" ? "border-edge border-l-4 border-l-marker" : step.state === "again" ? "border-fault border-l-4" : "border-rule"}`}
    >
      <h2 className="flex items-center gap-2 text-xl leading-tight">
        <StepSign state={step.state} large />
        <span>
          {step.name}
          <span className="block text-base font-normal">
            {where(step)} · {STATES[step.state as StepState]}
            {step.state !== "done" && ` · ${hours(low)} to ${hours(high)}`}
          </span>
        </span>
      </h2>
      <p className="pt-2 leading-snug">{say(step.say)}</p>
      {step.state !== "next" && step.why && <p className="leading-snug text-soft">{step.why}</p>}
      {step.spoils && (
        <p className="mt-2 border-l-4 border-warning pl-2 leading-snug">
          <span className="font-semibold">Done now, this may be wasted.</span> {say(step.spoils.say)}{" "}
          {[
            step.spoils.money ? `${money(Math.round(step.spoils.money))} in parts` : "",
            step.spoils.hours ? `${hours(step.spoils.hours)} of work` : "",
          ]
            .filter(Boolean)
            .join(", ")}
        </p>
      )}
      {step.waits_for.length > 0 && (
        <p className="pt-1 leading-snug">
          <span className="font-semibold">Waits for</span> {step.waits_for.slice(0, 4).map(spoken).join("; ")}
          {step.waits_for.length > 4 && ` and ${step.waits_for.length - 4} more`}
        </p>
      )}
      <div className="no-print flex flex-wrap items-end gap-2 pt-2">
        <Link className="press press-main" to={sheetOf(job, step, document)}>
          Go to {step.sheet[0]?.toUpperCase()}
          {step.sheet.slice(1)}
        </Link>
        <Doing step={step} survey={survey} />
      </div>
    </section>
  );
}

interface BoardProps {
  steps: Step[];
  picked: string;
  onPick: (key: string) => void;
  opened: (step: Step) => ReactNode;
}

/** Every step of every station in the order of the work; the one that is pressed opens under its row. */
function Board({ steps, picked, onPick, opened }: BoardProps) {
  const stations = [...new Set(steps.map((one) => one.station))].filter((one) => one !== null);
  const kinds = [...new Map(steps.map((one) => [one.step, one.name])).entries()];
  const ordered = kinds.sort(([one], [other]) => ORDER.indexOf(one) - ORDER.indexOf(other));
  return (
    <div className="overflow-x-auto py-2">
      <table className="w-full min-w-xl table-fixed border-collapse">
        <caption className="sr-only">Every step, by station</caption>
        <thead>
          <tr className="border-b-2 border-edge text-left align-bottom">
            <th scope="col" className="w-44 py-1 pr-3 font-semibold">
              Step
            </th>
            {stations.map((station) => (
              <th key={station} scope="col" className="px-1 py-1 font-semibold leading-tight">
                {spoken(station)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {ordered.map(([key, name]) => {
            const its = steps.filter((one) => one.step === key);
            const whole = its.find((one) => one.station === null);
            const seen = its.find((one) => keyOf(one) === picked);
            return (
              <Fragment key={key}>
                <tr className="border-b border-rule">
                  <th scope="row" className="py-0.5 pr-3 text-left font-semibold">
                    {name}
                  </th>
                  {whole ? (
                    <td colSpan={stations.length}>
                      <Cell step={whole} picked={picked} onPick={onPick} />
                    </td>
                  ) : (
                    stations.map((station) => {
                      const step = its.find((one) => one.station === station);
                      return (
                        <td key={station}>{step && <Cell step={step} picked={picked} onPick={onPick} />}</td>
                      );
                    })
                  )}
                </tr>
                {seen && (
                  <tr>
                    <td colSpan={stations.length + 1} className="py-2">
                      <div role="status">{opened(seen)}</div>
                    </td>
                  </tr>
                )}
              </Fragment>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

const ORDER = [
  "brief",
  "guard",
  "survey",
  "layout",
  "rocker",
  "springing",
  "stops",
  "order",
  "make",
  "tack",
  "cycle",
  "weld",
  "weigh",
  "set",
  "drive",
];

function Cell({ step, picked, onPick }: { step: Step; picked: string; onPick: (key: string) => void }) {
  const here = picked === keyOf(step);
  return (
    <button
      type="button"
      aria-pressed={here}
      aria-label={`${step.name}${step.station === null ? "" : `, ${where(step)}`}: ${STATES[step.state as StepState]}${step.station === null ? ", the whole vehicle" : ""}`}
      className={`flex min-h-11 w-full items-center gap-2 px-1 text-left ${here ? "outline-2 -outline-offset-2 outline-marker" : ""}`}
      onClick={() => onPick(here ? "" : keyOf(step))}
    >
      <StepSign state={step.state} />
      <span className={step.state === "done" ? "text-soft" : ""}>
        {STATES[step.state as StepState]}
        {step.station === null && <span className="text-soft">, the whole vehicle</span>}
      </span>
    </button>
  );
}
