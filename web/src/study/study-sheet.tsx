import { useState } from "react";
import type { Project } from "../api/client";
import type { DraftInHand } from "../bench/draft";
import { useUnits } from "../quantity/units";
import { Trouble, Waiting } from "../session/states";
import { AskingPanel } from "./asking";
import { type Asking, type Study, useStudy, useUsual, withVehicle } from "./study";
import { VehicleInHand } from "./vehicle-in-hand";
import { WishRows } from "./wish-rows";

interface Props {
  job: string;
  document: Project;
  hand: DraftInHand;
}

const FIRST_COUNT = 1_000_000;

/** Which mounts, rockers and springs, of all stations together, come nearest to what the whole vehicle is to be? */
export function StudySheet({ job, document, hand }: Props) {
  const { study, begin, stop, goOn, trouble } = useStudy(job);
  const now = study.data;
  const usual = useUsual(job, document, now !== undefined && now.asked === null);
  const [mine, setMine] = useState<Asking | null>(null);
  const [limits, setLimits] = useState<Record<string, number>>({});
  const [picked, setPicked] = useState<number | null>(null);
  if (study.isError) return <Trouble title="The study cannot be read" detail={study.error.message} />;
  const asking = mine ?? now?.asked ?? (usual.data ? { ...usual.data, candidates: FIRST_COUNT } : null);
  if (!now || !asking)
    return usual.isError ? (
      <Trouble title="This job cannot be studied yet" detail={usual.error.message} />
    ) : (
      <Waiting what="Opening the job" />
    );
  const front = now.front;
  const within = front.filter((one) =>
    Object.entries(limits).every(([wish, most]) => (one.misses[wish] ?? 0) <= most + 1e-9),
  );
  const chosen = within.find((one) => one.score === picked) ?? within[0] ?? null;
  const place = chosen ? within.indexOf(chosen) : 0;
  const partly = now.asked !== null && now.done < now.parts;
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_380px] max-lg:grid-cols-1">
      <div className="min-h-0 overflow-y-auto p-4 max-lg:overflow-visible">
        <Progress now={now} />
        {front.length ? (
          <>
            <WishRows
              front={front}
              within={within}
              chosen={chosen}
              limits={limits}
              onLimit={(wish, most) => setLimits({ ...limits, [wish]: most })}
              onPick={(vehicle) => setPicked(vehicle.score)}
            />
            {chosen ? (
              <>
                <label className="mt-4 grid grid-cols-[auto_minmax(0,1fr)_auto] items-center gap-3">
                  <span className="font-semibold">Walk along</span>
                  <input
                    type="range"
                    className="h-11 min-w-0"
                    min={0}
                    max={within.length - 1}
                    value={place}
                    aria-valuetext={`number ${place + 1} of ${within.length}`}
                    onChange={(event) => setPicked(within[Number(event.target.value)]?.score ?? null)}
                  />
                  <span>
                    {place + 1} of {within.length}
                  </span>
                </label>
                <VehicleInHand
                  job={job}
                  vehicle={chosen}
                  running={now.running}
                  onTake={(taken) => hand.edit((doc) => withVehicle(doc, taken))}
                />
              </>
            ) : (
              <p className="mt-4 border-l-4 border-warning pl-2">
                None of the {front.length} is within these limits. Loosen one of them.
              </p>
            )}
          </>
        ) : (
          <Nothing now={now} />
        )}
      </div>
      <div className="min-h-0 overflow-y-auto border-l border-rule px-4 pb-8 max-lg:overflow-visible max-lg:border-l-0 max-lg:border-t">
        <div className="sticky top-0 z-10 flex flex-wrap gap-2 border-b border-rule bg-paper py-3">
          {now.running ? (
            <button type="button" className="press" onClick={() => stop.mutate()} disabled={stop.isPending}>
              Stop, keep what was found
            </button>
          ) : (
            <>
              <button
                type="button"
                className="press press-main"
                disabled={begin.isPending}
                onClick={() => {
                  setPicked(null);
                  setLimits({});
                  begin.mutate({ document, asking });
                }}
              >
                {now.asked ? "Start again" : "Start the study"}
              </button>
              {partly && (
                <button
                  type="button"
                  className="press"
                  onClick={() => goOn.mutate()}
                  disabled={goOn.isPending}
                >
                  Take it up again
                </button>
              )}
            </>
          )}
          {trouble && (
            <p role="alert" className="w-full border-l-4 border-fault pl-2 text-sm">
              {trouble.message}
            </p>
          )}
        </div>
        <AskingPanel asking={asking} onAsking={setMine} damper={firstDamper(document)} />
      </div>
    </div>
  );
}

/** The lengths of the first damper that the job has, mm; something usual where it has none. */
function firstDamper(document: Project): { extended: number; compressed: number } {
  for (const unit of document.stations.flatMap((station) => station.units ?? []))
    if (unit.kind === "coilover" || unit.kind === "damper")
      return { extended: unit.extended, compressed: unit.compressed };
  return { extended: 400, compressed: 280 };
}

/** How far it is, in words and as a bar. */
function Progress({ now }: { now: Study }) {
  const { number } = useUnits();
  if (!now.asked) return null;
  const whole = (count: number) => count.toLocaleString("en-GB");
  return (
    <div className="pb-3">
      <p role="status" data-testid="study-status">
        {now.before !== null &&
          `Waiting: two studies work at a time on this machine, ${now.before ? `and ${now.before} more ${now.before === 1 ? "stands" : "stand"} before this one. ` : "and this one is next. "}`}
        {whole(now.vehicles)} vehicles looked at in {number(now.seconds, "ratio", 0)} s
        {now.running && `, of ${whole(now.asked.candidates)} asked for`}. {now.front.length} that nothing else
        beats. {now.said}
        {now.lost.length > 0 && ` ${now.lost.length} parts could not be done and were left out.`}
      </p>
      {now.running && (
        <div className="mt-1 h-2 bg-rule" aria-hidden>
          <div
            className="h-2 bg-press dark:bg-marker"
            style={{ width: `${(100 * now.done) / Math.max(now.parts, 1)}%` }}
          />
        </div>
      )}
    </div>
  );
}

function Nothing({ now }: { now: Study }) {
  if (now.running)
    return <Waiting what={now.before === null ? "The first part is being done" : "Waiting for its turn"} />;
  return (
    <div className="max-w-2xl pt-6 text-lg">
      <p className="pb-2 text-xl font-semibold">
        {now.asked ? "Nothing within these limits stands at its ride height" : "All stations at once"}
      </p>
      <p>
        {now.asked
          ? "Give the mounts more room, or more springs to choose from, and start again."
          : "Say what the vehicle is to be and what may be otherwise, on the right. The study tries mounts, rocker pivots and springs of all stations together, turns every perch so that each wheel stands where it is wanted, and keeps the vehicles that no other beats in everything. Clearances are judged when one of them is looked at."}
      </p>
    </div>
  );
}
