import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { answer, client, type Shape } from "../api/client";
import { stoppable } from "../api/working";
import { Mark } from "../marks/mark";
import { StepSign } from "../next/step-sign";
import { STATES, type Step, type StepState, toDo } from "../next/steps";
import { useSay } from "../quantity/sentence";
import { spoken } from "../quantity/spoken";
import { finishWords, PLAN, type Plan, weekQuery, written } from "../week/week";

export type OnTheWall = Shape["OnTheWall"];

/** One job as the wall shows it; kept by its revision, and asked again when somebody comes back to the wall. */
export const wallQuery = (id: string) => ({
  queryKey: ["wall", id],
  // It is stopped where it is worked out once a job is opened: nobody waits for the wall then.
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    answer(
      stoppable(
        (headers) =>
          client.GET("/api/jobs/{job_id}/next", { params: { path: { job_id: id } }, headers, signal }),
        signal,
      ),
    ),
  retry: false,
  // Readings and records change what comes next without a new revision.
  staleTime: 0,
  refetchOnMount: "always" as const,
});

const ROOM = "mt-2 min-h-[5.5rem] overflow-hidden";

/** What a job says of itself on the wall: what comes next, what it waits for, how far it is. */
export function NextOnWall({ job, calm }: { job: string; calm: boolean }) {
  const asked = useQuery({ ...wallQuery(job), enabled: calm });
  const say = useSay();
  // Its room is kept from the start: nothing below it moves when it comes.
  if (asked.isPending) return <p className={`${ROOM} text-soft`}>Working out what comes next …</p>;
  if (asked.isError) return <p className={`${ROOM} text-soft`}>{asked.error.message}</p>;
  if (asked.data.refused) return <p className={`${ROOM} text-fault`}>{asked.data.refused}</p>;
  const steps = asked.data.steps;
  const first = toDo(steps)[0];
  const waits = steps.find((one) => one.state === "waits" && one.come.length > 0);
  return (
    <div className={ROOM}>
      {first ? (
        <Link
          to={`/jobs/${job}/next`}
          className="flex min-h-11 items-start gap-2 leading-snug"
          aria-label={`What comes next: ${first.name}${first.station === null ? "" : `, ${spoken(first.station)}`}`}
        >
          <StepSign state={first.state} />
          <span className="line-clamp-2">
            <span className="font-semibold">
              {first.name}
              {first.station !== null && `, ${spoken(first.station)}`}
            </span>{" "}
            {say(first.say)}
          </span>
        </Link>
      ) : (
        <p className="font-semibold">Everything is done.</p>
      )}
      <div className="flex items-center gap-4">
        <HowFar steps={steps} />
        {waits && (
          <p className="flex min-w-0 items-center gap-2 pt-2 text-sm">
            <StepSign state="waits" />
            <span className="line-clamp-1">
              {waits.come[0]?.what}
              {waits.come[0]?.due ? `, due ${new Date(waits.come[0].due).toLocaleDateString()}` : ", no date"}
            </span>
          </p>
        )}
      </div>
    </div>
  );
}

/** By when a job is wanted, and when it is done as far as the week was last looked at. */
export function DatesOnWall({ job, calm }: { job: string; calm: boolean }) {
  const queries = useQueryClient();
  const week = useQuery({ ...weekQuery, enabled: calm });
  const wanted = week.data?.shop.wanted?.[job];
  const its = queries.getQueryData<Plan>(PLAN)?.jobs.find((one) => one.id === job);
  const likely = its?.finish?.[1];
  if (!wanted && !its) return null;
  return (
    <p className="flex flex-wrap items-center gap-x-2 text-sm">
      {wanted && likely && likely > wanted && <Mark mark="fault" size={18} />}
      {wanted && <span>wanted by {written(wanted)}</span>}
      {its && (
        <Link to="/week" className="underline underline-offset-2">
          {its.done ? "" : "done "}
          {finishWords(its)}
        </Link>
      )}
    </p>
  );
}

/** How far each step is over all stations, in the order of the work. */
function HowFar({ steps }: { steps: Step[] }) {
  const kinds = [...new Set(steps.map((one) => one.step))];
  const worst: StepState[] = ["again", "next", "may", "not_yet", "waits", "done"];
  const done = steps.filter((one) => one.state === "done").length;
  return (
    <p className="flex shrink-0 items-center gap-2 pt-2">
      <span className="flex gap-0.5" aria-hidden>
        {kinds.map((kind) => {
          const its = steps.filter((one) => one.step === kind);
          const state = worst.find((one) => its.some((step) => step.state === one)) ?? "waits";
          return <span key={kind} title={STATES[state]} className={`h-3 w-4 ${BAR[state]}`} />;
        })}
      </span>
      <span className="text-sm text-soft">
        {done} of {steps.length} steps done
      </span>
    </p>
  );
}

const BAR: Record<StepState, string> = {
  done: "bg-good",
  next: "bg-marker outline outline-edge",
  may: "border border-edge",
  waits: "bg-rule",
  not_yet: "bg-rule",
  again: "bg-fault",
};

/** The vehicle from above, to scale, front to the left. */
export function SmallDrawing({ job, calm }: { job: string; calm: boolean }) {
  const asked = useQuery({ ...wallQuery(job), enabled: calm });
  const drawn = asked.data?.drawn;
  if (!drawn?.tyres.length) return <div className="h-28 w-44 shrink-0 bg-dye max-sm:hidden" aria-hidden />;
  const xs = drawn.tyres.flatMap(([x = 0, , long = 0]) => [x, x + long]);
  const ys = drawn.tyres.flatMap(([, y = 0, , wide = 0]) => [y, y + wide]);
  const lines = drawn.lines.flat();
  const left = Math.min(...xs, ...lines.map(([x = 0]) => x));
  const right = Math.max(...xs, ...lines.map(([x = 0]) => x));
  const low = Math.min(...ys, ...lines.map(([, y = 0]) => y), -300);
  const high = Math.max(...ys, ...lines.map(([, y = 0]) => y), 300);
  const room = 0.06 * (right - left);
  // Ahead is to the left of the drawing, the left side below: as one looks down at it from its left.
  return (
    <svg
      aria-hidden
      className="h-28 w-44 shrink-0 bg-dye max-sm:hidden"
      viewBox={`${-right - room} ${low - room} ${right - left + 2 * room} ${high - low + 2 * room}`}
      preserveAspectRatio="xMidYMid meet"
    >
      <line
        x1={-right - room}
        x2={-left + room}
        y1={0}
        y2={0}
        className="stroke-scribe/40"
        strokeWidth={1}
        vectorEffect="non-scaling-stroke"
        strokeDasharray="6 4 1 4"
      />
      {drawn.tyres.map(([x = 0, y = 0, long = 0, wide = 0]) => (
        <rect
          key={`${x} ${y}`}
          x={-x - long}
          y={y}
          width={long}
          height={wide}
          className="fill-none stroke-soapstone"
          strokeWidth={2}
          vectorEffect="non-scaling-stroke"
        />
      ))}
      {drawn.lines.map((line) => (
        <polyline
          key={line.join(" ")}
          points={line.map(([x = 0, y = 0]) => `${-x},${y}`).join(" ")}
          className="fill-none stroke-scribe"
          strokeWidth={1.2}
          vectorEffect="non-scaling-stroke"
        />
      ))}
    </svg>
  );
}
