import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { ChevronLeft } from "lucide-react";
import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { answer, client, importProject, type Shape } from "../api/client";
import { followed, isStopped } from "../api/working";
import { WorkingLine } from "../bench/working-line";
import { Mark } from "../marks/mark";
import { useMoney } from "../quantity/money";
import { Trouble, Waiting } from "../session/states";
import { ThemeButton } from "../session/theme";

type Exercise = Shape["ExerciseOut"];
type Played = Shape["PlayedOut"];

const NAME = "practice";
const CARS = 100_000;
const anyCar = () => 1 + Math.floor(Math.random() * CARS);

/** A made-up car to get wrong before a customer's. */
export function PracticePage() {
  const list = useQuery({
    queryKey: ["practice"],
    queryFn: () => answer(client.GET("/api/practice")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const [open, setOpen] = useState<Exercise | null>(null);
  return (
    <div className="flex min-h-full flex-col">
      <header className="flex min-h-14 flex-wrap items-center gap-3 bg-steel px-3 py-1.5 text-soapstone">
        <Link to="/" className="press press-dark px-2" aria-label="All jobs">
          <ChevronLeft size={20} aria-hidden />
        </Link>
        <h1 className="text-xl font-bold">Practise on a made-up car</h1>
        <ThemeButton className="press press-dark ml-auto" />
      </header>
      <main className="mx-auto grid w-full max-w-4xl gap-4 p-4 sm:p-6">
        {list.isPending && <Waiting what="Loading the exercises" />}
        {list.isError && (
          <Trouble title="The exercises cannot be shown" detail={list.error.message}>
            <button type="button" className="press press-main" onClick={() => list.refetch()}>
              Try again
            </button>
          </Trouble>
        )}
        {list.data && !open && (
          <>
            <p className="text-lg">
              Every car has a frame that is a little off, tools with their own errors, and two readings that
              are misread. You decide; it is cut, welded and looked at as any job is. Nobody pays for it.
            </p>
            <ul className="grid gap-3 sm:grid-cols-2">
              {list.data.map((one) => (
                <li key={one.key}>
                  <button
                    type="button"
                    className="block min-h-20 w-full border border-edge bg-card p-3 text-left hover:border-press"
                    onClick={() => setOpen(one)}
                  >
                    <span className="block text-xl font-semibold">{one.title}</span>
                    <span className="text-soft">
                      {one.forks.length} {one.forks.length === 1 ? "decision" : "decisions"}
                    </span>
                  </button>
                </li>
              ))}
            </ul>
          </>
        )}
        {open && <Play key={open.key} exercise={open} onClose={() => setOpen(null)} />}
      </main>
    </div>
  );
}

/** One exercise: decision after decision, then what came of it. */
function Play({ exercise, onClose }: { exercise: Exercise; onClose: () => void }) {
  const { money } = useMoney();
  // A car can be handed on: the same number is the same car.
  const asked = Number(useSearchParams()[0].get("car"));
  const [car, setCar] = useState(() =>
    Number.isInteger(asked) && asked > 0 && asked <= CARS ? asked : anyCar(),
  );
  const [takes, setTakes] = useState<Record<string, string>>({});
  const played = useMutation({
    mutationFn: (body: Shape["PlayIn"]) =>
      answer(
        followed(NAME, (headers) =>
          client.POST("/api/practice/{key}", { params: { path: { key: exercise.key } }, body, headers }),
        ),
      ),
  });
  const next = exercise.forks.find((fork) => !(fork.key in takes));
  const take = (key: string, way: string) => {
    const now = { ...takes, [key]: way };
    setTakes(now);
    if (exercise.forks.every((fork) => fork.key in now)) played.mutate({ seed: car, takes: now });
  };
  const again = (to: number) => {
    setCar(to);
    setTakes({});
    played.reset();
  };
  return (
    <section aria-label={exercise.title}>
      <h2 className="text-2xl">{exercise.title}</h2>
      <p className="text-soft">Car {car}</p>
      <ol className="mt-2">
        {exercise.forks.map(
          (fork) =>
            fork.key in takes && (
              <li key={fork.key} className="flex flex-wrap gap-x-3 border-b border-rule py-2">
                <span className="text-soft">{fork.asks}</span>
                <span className="font-semibold">{takes[fork.key]}</span>
              </li>
            ),
        )}
      </ol>
      {next && (
        <div className="py-3" data-testid="fork">
          <p className="text-xl">{next.asks}</p>
          {next.hours !== null && (
            <p className="text-soft">
              {next.hours} h{next.money ? `, ${money(next.money)}` : ""}, if it is done once
            </p>
          )}
          <div className="mt-2 grid gap-2 sm:grid-cols-2">
            {next.ways.map((way) => (
              <button
                key={way}
                type="button"
                className="press min-h-16 justify-start px-4 text-left text-lg"
                onClick={() => take(next.key, way)}
              >
                {way}
              </button>
            ))}
          </div>
        </div>
      )}
      {played.isPending && <Waiting what="Cutting, welding and looking at it" />}
      <WorkingLine name={NAME} error={played.error} again={() => played.mutate({ seed: car, takes })} />
      {played.isError && !isStopped(played.error) && (
        <p role="alert" className="text-fault">
          {played.error.message}
        </p>
      )}
      {played.data && <Account told={played.data} />}
      <div className="mt-4 flex flex-wrap gap-3">
        {Object.keys(takes).length > 0 && (
          <>
            <button type="button" className="press" onClick={() => again(car)}>
              The same car again
            </button>
            <button type="button" className="press" onClick={() => again(anyCar())}>
              Another car
            </button>
          </>
        )}
        <button type="button" className="press" onClick={onClose}>
          All exercises
        </button>
      </div>
    </section>
  );
}

/** What came of it, and what it cost. */
function Account({ told }: { told: Played }) {
  const { money } = useMoney();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const open = useMutation({
    mutationFn: () =>
      importProject(new File([JSON.stringify(told.car)], "practice.json", { type: "application/json" })),
    onSuccess: async (job) => {
      await queries.invalidateQueries({ queryKey: ["jobs"] });
      navigate(`/jobs/${job.id}`);
    },
  });
  const wrong = told.mistakes.length > 0 || told.came.some((one) => !one.well);
  const missed = told.slips.filter((one) => !one.found);
  return (
    <div className="mt-3 border border-edge bg-card p-4" data-testid="account">
      <h3 className="text-xl">
        {wrong ? "It stands, and something is wrong" : "It stands as it was wanted"}
      </h3>
      <p className="text-soft">This was about {told.about}.</p>
      <ul className="mt-2">
        {told.came.map((one) => (
          <li key={`${one.what} ${one.decision}`} className="flex gap-3 py-1">
            <Mark mark={one.well ? "good" : "fault"} size={22} />
            <span>
              <span className="text-soft">{one.what}: </span>
              {one.say.replace(/-(?=\d)/g, "−")}
            </span>
          </li>
        ))}
        {told.mistakes.map((one) => (
          <li key={one.decision} className="flex gap-3 py-1">
            <Mark mark="fault" size={22} />
            <span className="font-semibold">{one.say}</span>
          </li>
        ))}
        {told.slips.map((one) => (
          <li key={one.say} className="flex gap-3 py-1">
            <Mark mark={one.found ? "good" : "warning"} size={22} />
            <span>
              {one.say}: {one.found ? "found, and read again" : "nobody noticed"}
            </span>
          </li>
        ))}
      </ul>
      <dl className="mt-3 grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
        <dt className="text-soft">Hours</dt>
        <dd>{told.hours.toFixed(1)} h</dd>
        <dt className="text-soft">Money for parts</dt>
        <dd>{money(told.money)}</dd>
        <dt className="text-soft">Hours and parts together, at the shop’s rate</dt>
        <dd>{money(Math.round(told.cost))}</dd>
        <dt className="text-soft">Readings taken</dt>
        <dd>
          {told.readings}; {told.enough} check one another
        </dd>
        <dt className="text-soft">Pieces cut twice</dt>
        <dd>{told.cut_twice}</dd>
        {told.costliest && (
          <>
            <dt className="text-soft">What cost most</dt>
            <dd>
              “{told.costliest.asks}” {money(Math.round(told.costliest.cost))} more than the other way, the
              rest of the day the same
            </dd>
          </>
        )}
      </dl>
      {missed.length > 0 && (
        <p className="mt-2">
          A reading that nothing checks is believed: the designed list checks every one by others.
        </p>
      )}
      <button
        type="button"
        className="press press-main mt-3"
        disabled={open.isPending}
        onClick={() => open.mutate()}
      >
        Open this car as a job
      </button>
      {open.isError && <p role="alert">{open.error.message}</p>}
    </div>
  );
}
