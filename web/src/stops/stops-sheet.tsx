import { useMemo, useState } from "react";
import type { Project, Station, StationView } from "../api/client";
import type { DraftInHand } from "../bench/draft";
import { type Change, editStation, setUnit } from "../bench/edits";
import { type Solved, useSolved } from "../bench/solved";
import { isOn } from "../findings/families";
import { Judged } from "../findings/judged";
import { useRemedies } from "../findings/remedies";
import { BesideJack, reachable, Unsolved } from "../jack/beside-jack";
import { AddUnit } from "../layout/add-unit";
import { type Span, type TapeSpread, widest } from "../layout/figure-rows";
import { useBetween, useTape } from "../layout/tape";
import { Mark } from "../marks/mark";
import { QuantityField } from "../quantity/quantity-field";
import { bothOf } from "../quantity/sides";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { Ladder } from "./ladder";
import { subjectOf } from "./lanes";
import { type Tried, WhatIf, withTried } from "./what-if";

interface Props {
  document: Project;
  index: number;
  solved: Solved;
  hand: DraftInHand;
  travel: number;
  onTravel: (travel: number) => void;
}

/** What ends the travel, each way, and in what order? */
export function StopsSheet({ document, index, solved, hand, travel, onTravel }: Props) {
  const station = document.stations[index] as Station;
  const [tried, setTried] = useState<Tried>({});
  const trying = Object.values(tried).some((by) => by !== 0);
  const triedStation = useMemo(() => withTried(station, tried), [station, tried]);
  const triedDocument = useMemo(
    () => editStation(document, index, () => triedStation),
    [document, index, triedStation],
  );
  const whatIf = useSolved(triedDocument, trying ? index : -1);
  const view = (trying ? whatIf.view : null) ?? solved.view;
  const shown = trying ? triedStation : station;
  const { quantity } = useUnits();
  const at = reachable(view, travel);
  const remedies = useRemedies(document, index, trying ? undefined : view?.findings);
  const tape = useTape(document, index, !solved.refused && !trying && view ? solved.of : null).data;
  const change = (to: (station: Station) => Station, key = "") =>
    hand.edit((doc) => editStation(doc, index, to), key);
  return (
    <BesideJack
      station={shown}
      view={view}
      travel={at}
      onTravel={onTravel}
      busy={solved.busy || (trying && whatIf.busy)}
    >
      {view ? (
        <div className="grid h-full grid-cols-[minmax(0,1fr)_400px] lg:grid-rows-[minmax(0,1fr)] max-lg:h-auto max-lg:grid-cols-1">
          <div className="max-lg:h-[520px]">
            <Ladder view={view} bump={shown.travel.bump} droop={shown.travel.droop} travel={at} />
          </div>
          <div className="min-h-0 overflow-y-auto border-l border-rule px-4 pb-8 max-lg:overflow-visible max-lg:border-l-0">
            {trying && (
              <p
                role="status"
                className="sticky top-0 z-10 mt-3 border-2 border-press bg-paper p-2 font-semibold dark:border-marker"
              >
                {whatIf.refused && whatIf.refused.code !== "offline"
                  ? `What is tried cannot be: ${whatIf.refused.message}`
                  : "What is shown here is only tried."}
              </p>
            )}
            <Order view={view} way="bump" onTravel={onTravel} tape={tape} />
            <Order view={view} way="droop" onTravel={onTravel} tape={tape} />
            {tape && tape.ends.length > 0 && (
              <p className="border-b border-rule py-2 text-sm text-soft">
                Small figures: 90 % range, places measured to {quantity(tape.tape, "length")}.
              </p>
            )}
            <WhatIf
              station={station}
              tried={tried}
              onTried={setTried}
              onKeep={() => {
                change((s) => withTried(s, tried));
                setTried({});
              }}
            />
            <StopFields station={station} change={change} />
            <AddUnit document={document} index={index} change={change} kinds={["bump_stop", "strap"]} />
            <Judged
              findings={view.findings.filter(isOn("stops"))}
              remedies={remedies}
              change={change}
              onTravel={onTravel}
            />
            <p className="mt-4 border-l-4 border-warning pl-2 text-sm">
              Cycle by jack with the springs out and the vehicle on stands, chocked. Never drive without
              straps, stops or dampers. Straps and their tabs take many times the wheel's weight: have them
              looked at by somebody who signs for it.
            </p>
          </div>
        </div>
      ) : (
        <Unsolved message={solved.refused?.message} />
      )}
    </BesideJack>
  );
}

type Event = StationView["ledger"]["bump"][number];

const AT_THE_END_MM = 0.05; // nothing, as a tenth is shown

/** Everything on one way in the order in which it is met, with what is left to the wanted end. */
function Order({
  view,
  way,
  onTravel,
  tape,
}: {
  view: StationView;
  way: "bump" | "droop";
  onTravel: (travel: number) => void;
  tape: TapeSpread | undefined;
}) {
  const { number, quantity } = useUnits();
  const between = useBetween();
  const events = view.ledger[way];
  const early = tape?.hard_first[way] ?? 0;
  return (
    <section aria-label={`On the way to ${way}`} className="border-b border-rule py-3">
      <h2 className="text-lg">{way === "bump" ? "Going up, in this order" : "Going down, in this order"}</h2>
      {events.length === 0 && (
        <p className="text-soft">Nothing touches, even half as far again as is wanted.</p>
      )}
      <ol>
        {events.map((event) => (
          <li key={`${event.kind} ${event.subjects.join(" ")}`}>
            <button
              type="button"
              onClick={() => onTravel(event.travel)}
              className="grid min-h-11 w-full grid-cols-[6.9rem_minmax(0,1fr)_7.5rem] items-baseline gap-2 border-b border-rule py-1.5 text-left"
            >
              <span className="whitespace-nowrap text-xl font-bold tabular-nums">
                {quantity(event.travel, "travel")}
              </span>
              <span className={event.takes === "soft" ? "" : "font-semibold"}>
                {subjectOf(event)}
                <span className="block text-sm font-normal text-soft">{event.said}</span>
              </span>
              <span className="text-right text-sm leading-tight text-soft">
                {Math.abs(event.past_wanted) < AT_THE_END_MM
                  ? "at the wanted end"
                  : `${quantity(Math.abs(event.past_wanted), "length")} ${event.past_wanted > 0 ? "past" : "short of"} the wanted end`}
                <span className="block min-h-[1.1em] text-ink" data-testid={`between-${way}-${event.kind}`}>
                  {between(metBetween(tape, way, event), "travel")}
                </span>
              </span>
            </button>
          </li>
        ))}
      </ol>
      {early >= SELDOM && early <= 1 - SELDOM && (
        <p className="flex items-start gap-2 pt-2">
          <Mark mark="warning" size={20} />
          <span>
            Measured to {quantity(tape?.tape ?? 0, "length")}, {number(100 * early, "ratio", 0)} in a hundred
            built like this meet metal before a {way === "bump" ? "bump stop" : "strap"}.
          </span>
        </p>
      )}
    </section>
  );
}

/** Of geometries: where fewer meet metal first, or fewer do not, it is not the tape that decides. */
const SELDOM = 0.01;

/** Between what an event comes; of both sides together, what holds both. */
function metBetween(tape: TapeSpread | undefined, way: string, event: Event): Span {
  const who = subjectOf(event);
  return tape?.ends
    .filter((end) => end.way === way && end.kind === event.kind)
    .filter(({ unit }) => spoken(unit) === who || bothOf(spoken(unit)) === who)
    .map(({ travel }): Span => travel)
    .reduce<Span>(widest, undefined);
}

/** The two things that are set at the bench: strap length and where a stop touches. */
function StopFields({ station, change }: { station: Station; change: Change }) {
  const stops = (station.units ?? []).filter((unit) => unit.kind === "strap" || unit.kind === "bump_stop");
  if (!stops.length) return null;
  return (
    <section aria-label="Set them" className="border-b border-rule py-3">
      <h2 className="pb-1 text-lg">Set them</h2>
      {stops.map((unit) => {
        const key = unit.kind === "strap" ? "length" : "contact";
        const name = unit.kind === "strap" ? "taut at" : "touches at";
        return (
          <div key={unit.name} className="grid grid-cols-[1fr_9.5rem] items-center gap-2 py-0.5">
            <span className="leading-tight">
              {spoken(unit.name)}, {name}
            </span>
            <QuantityField
              label={`${unit.name} ${name}`}
              value={unit.kind === "strap" ? unit.length : (unit.contact ?? 0)}
              dimension="length"
              step={1}
              check={(value) => (value > 0 ? null : "It must be longer than zero.")}
              onCommit={(value) => change((s) => setUnit(s, unit.name, { [key]: value }), `set ${unit.name}`)}
            />
          </div>
        );
      })}
      <p className="text-sm text-soft">Arrow keys: 1 mm, Shift 10, Alt 0.1, between the mounts.</p>
    </section>
  );
}
