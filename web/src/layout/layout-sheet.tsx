import { Tabs } from "radix-ui";
import { useMemo, useRef, useState } from "react";
import type { Project, Station } from "../api/client";
import { type Articulated, useArticulated } from "../bench/articulated";
import type { DraftInHand } from "../bench/draft";
import { editStation, movePoint, type Vec } from "../bench/edits";
import type { Solved } from "../bench/solved";
import { Curve } from "../curves/curve";
import { Judged } from "../findings/judged";
import { Mark } from "../findings/mark";
import { useRemedies } from "../findings/remedies";
import { Jack } from "../jack/jack";
import { placeOf, pointsAt, valueAt } from "../jack/travel";
import { useSay } from "../quantity/sentence";
import { useUnits } from "../quantity/units";
import { isOfRocker } from "../rocker/rocker-sheet";
import { Waiting } from "../session/states";
import { isOfSprings } from "../springing/springing-sheet";
import { isOfStops } from "../stops/stops-sheet";
import { usePlaces } from "../views/bands";
import { Plans } from "../views/plans";
import type { Other } from "../views/scribed";
import { Figures, RideFigures } from "./figures";
import { Hardpoints } from "./hardpoints";
import { Millimetre } from "./millimetre";
import { type Placing, PlacingPanel } from "./placing";
import { Room } from "./room";
import { Settings } from "./settings";

interface Props {
  document: Project;
  index: number;
  solved: Solved;
  hand: DraftInHand;
  travel: number;
  onTravel: (travel: number) => void;
}

/** Do the mounts fit through the whole travel? */
export function LayoutSheet({ document, index, solved, hand, travel, onTravel }: Props) {
  const station = document.stations[index] as Station;
  const [picked, setPicked] = useState<string | null>(null);
  const pick = picked !== null && picked in station.points ? picked : null;
  const { view, refused } = solved;
  const failing = refused !== null && refused.code !== "offline";
  const reached = useMemo(() => (view ? view.travels.filter((_, row) => view.reached[row]) : []), [view]);
  const at = Math.min(reached.at(-1) ?? 0, Math.max(reached[0] ?? 0, travel));
  const [crossed, setCrossed] = useState(0);
  const articulated = useArticulated(document, index, view && !failing ? crossed : 0);
  // With one wheel up, what is drawn is the articulated axle; figures and curves stay those of heave.
  const shown = useMemo(
    () => (view && articulated ? { ...view, ...articulated, articulation: view.articulation } : view),
    [view, articulated],
  );
  const shownTravels = useMemo(
    () => (shown ? shown.travels.filter((_, row) => shown.reached[row]) : []),
    [shown],
  );
  const points = useMemo(
    () =>
      shown && !failing && shownTravels.length
        ? pointsAt(shown, shownTravels, at)
        : (station.points as Record<string, number[]>),
    [shown, failing, shownTravels, at, station.points],
  );

  const other = useMemo(() => otherSide(document, station, points), [document, station, points]);
  const change = (to: (station: Station) => Station, key = "") =>
    hand.edit((doc) => editStation(doc, index, to), key);
  const place = (point: string, to: Vec, key: string) => change((s) => movePoint(s, point, to), key);
  const moveBy = (point: string, by: Vec, key: string) =>
    change((s) => {
      const from = s.points[point] ?? [0, 0, 0];
      return movePoint(s, point, [0, 1, 2].map((k) => (from[k] ?? 0) + (by[k] ?? 0)) as Vec);
    }, key);

  const [placing, setPlacing] = useState<Placing | null>(null);
  const places = usePlaces(document, index, failing ? null : placing);
  const remedies = useRemedies(document, index, failing ? undefined : view?.findings);
  const drawing = useRef<HTMLDivElement>(null);
  const jackTo = (to: number) => {
    onTravel(to);
    // On a tablet the findings stand below the drawing: bring back what was asked to be seen.
    drawing.current?.scrollIntoView({ block: "nearest" });
  };
  const broken = failing ? brokenBodies(refused.values) : [];
  return (
    <div
      aria-busy={solved.busy}
      className="grid min-h-0 flex-1 print:block lg:grid-rows-[minmax(0,1fr)] grid-cols-[124px_minmax(0,1fr)_348px] max-xl:grid-cols-[124px_minmax(0,1fr)_320px] max-lg:grid-cols-[112px_minmax(0,1fr)] max-lg:content-start max-sm:grid-cols-[64px_minmax(0,1fr)]"
    >
      <div className="no-print min-h-0 max-lg:row-span-3 max-lg:sticky max-lg:top-0 max-lg:h-[calc(100vh-8rem)] max-lg:self-start">
        {view ? (
          <Jack
            view={view}
            bump={station.travel.bump}
            droop={station.travel.droop}
            travel={at}
            onTravel={onTravel}
            articulation={crossed}
            onArticulation={setCrossed}
          />
        ) : (
          <div className="h-full bg-steel" />
        )}
      </div>
      <div className="flex min-h-0 min-w-0 flex-col max-lg:contents">
        <div
          ref={drawing}
          className="relative min-h-0 flex-1 max-lg:col-start-2 max-lg:h-[620px] max-md:h-auto"
        >
          <Plans
            station={station}
            view={failing ? null : shown}
            points={points}
            angles={failing ? [] : anglesAt(solved, placeOf(view?.travels ?? [0], at))}
            lengths={useLengths(solved, station, at, articulated)}
            picked={pick}
            onPick={setPicked}
            onMove={moveBy}
            broken={broken}
            places={places}
            other={other}
            travel={at}
            articulation={crossed}
          />
          {failing && (
            <Refusal
              message={refused.message}
              path={refused.path}
              onUndo={hand.draft.past.length ? hand.undo : undefined}
            />
          )}
          {!view && !refused && (
            <div className="absolute inset-0 bg-paper/70">
              <Waiting what="Solving" />
            </div>
          )}
        </div>
        <div className="max-lg:col-start-2">
          {view && <Curves solved={solved} station={station} travel={at} onTravel={onTravel} />}
        </div>
      </div>
      <Tabs.Root
        defaultValue="figures"
        className="flex min-h-0 min-w-0 flex-col border-l border-rule bg-paper max-lg:col-start-2 max-lg:border-l-0 max-lg:border-t"
      >
        <Tabs.List
          aria-label="About this station"
          className="no-print flex border-b border-rule max-sm:flex-wrap"
        >
          {[
            ["figures", "Figures"],
            ["points", "Points"],
            ["place", "Place"],
            ["parts", "Rods & parts"],
            ["room", "Room"],
          ].map(([value, name]) => (
            <Tabs.Trigger
              key={value}
              value={value ?? ""}
              className="min-h-12 flex-auto whitespace-nowrap border-b-4 border-transparent px-1.5 font-semibold text-soft data-[state=active]:border-[#1d3f82] data-[state=active]:text-ink dark:data-[state=active]:border-[#ffd400]"
            >
              {name}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        <Tabs.Content
          value="figures"
          tabIndex={0}
          className="min-h-0 flex-1 overflow-y-auto px-4 pb-6 pt-3 max-lg:overflow-visible"
        >
          {view ? (
            <>
              <RideFigures view={view} />
              <Judged
                findings={view.findings}
                remedies={remedies}
                change={change}
                onTravel={onTravel}
                onLook={jackTo}
              >
                <Figures station={station} view={view} place={placeOf(view.travels, at)} />
              </Judged>
            </>
          ) : (
            <p className="text-soft">Nothing is solved yet. See what the sheet says above.</p>
          )}
        </Tabs.Content>
        <Tabs.Content
          value="points"
          tabIndex={-1}
          className="min-h-0 flex-1 overflow-y-auto px-2 pb-6 max-lg:overflow-visible"
        >
          <Hardpoints station={station} picked={pick} onPick={setPicked} onPlace={place} />
          {!failing && <Millimetre document={document} index={index} picked={pick} onPick={setPicked} />}
        </Tabs.Content>
        <Tabs.Content
          value="place"
          tabIndex={-1}
          className="min-h-0 flex-1 overflow-y-auto px-4 max-lg:overflow-visible"
        >
          {view && !failing ? (
            <PlacingPanel
              key={station.name}
              document={document}
              index={index}
              station={station}
              view={view}
              placing={placing}
              onPlacing={setPlacing}
              picked={pick}
              change={change}
              onTravel={jackTo}
            />
          ) : (
            <p className="pt-3 text-soft">Nothing is solved yet. See what the sheet says above.</p>
          )}
        </Tabs.Content>
        <Tabs.Content
          value="room"
          tabIndex={-1}
          className="min-h-0 flex-1 overflow-y-auto px-2 max-lg:overflow-visible"
        >
          <Room key={station.name} station={station} picked={pick} change={change} />
        </Tabs.Content>
        <Tabs.Content
          value="parts"
          tabIndex={-1}
          className="min-h-0 flex-1 overflow-y-auto px-4 max-lg:overflow-visible"
        >
          <Settings
            key={station.name}
            station={station}
            index={index}
            rates={view?.spring_rates ?? {}}
            edit={hand.edit}
          />
        </Tabs.Content>
      </Tabs.Root>
    </div>
  );
}

/** The other side: its mirror image at the same height, or, a station of its own, as it is drawn. */
function otherSide(document: Project, station: Station, points: Record<string, number[]>): Other | null {
  if (station.kind === "axle" || station.other_side === "alone") return null;
  const centre = station.points[station.wheels[0]?.centre ?? ""]?.[1] ?? 0;
  if (Math.abs(centre) < 20) return null;
  const named = document.stations.find((its) => its.name === station.other_side);
  if (named) return { station: named, points: named.points as Record<string, number[]> };
  const mirrored: Record<string, number[]> = {};
  for (const [name, [x = 0, y = 0, z = 0]] of Object.entries(points)) mirrored[name] = [x, -y, z];
  return { station, points: mirrored };
}

function brokenBodies(values: Record<string, unknown>): string[] {
  if (typeof values.body === "string") return [values.body];
  return Array.isArray(values.bodies) ? values.bodies.filter((body) => typeof body === "string") : [];
}

function anglesAt(solved: Solved, place: ReturnType<typeof placeOf>) {
  return (solved.view?.angles ?? []).flatMap((angle) => {
    const value = valueAt(angle.angle, place);
    const what = `${angle.rod.replaceAll("_", " ")} to arm`;
    return value === null ? [] : [{ point: angle.point, text: `${what} ${value.toFixed(1)}°` }];
  });
}

/** Lengths to write on the drawing: each unit, and each rod that meets a rocker. */
function useLengths(
  solved: Solved,
  station: Station,
  at: number,
  articulated: Articulated | null,
): Record<string, string> {
  const { quantity } = useUnits();
  const view = solved.view;
  if (!view || solved.refused) return {};
  const place = placeOf(view.travels, at);
  const found: Record<string, string> = {};
  for (const unit of station.units ?? []) {
    // Stops usually share their ends with what they stop; the drawing has no room for both.
    if (unit.kind === "strap" || unit.kind === "bump_stop") continue;
    const length = articulated
      ? valueAt(articulated.lengths[unit.name], placeOf(articulated.travels, at))
      : valueAt(view.units[unit.name]?.length, place);
    if (length !== null) found[unit.name] = `${unit.name} ${quantity(length, "length")}`;
  }
  for (const angle of view.angles) {
    const link = view.links[angle.rod];
    if (link) found[angle.rod] = `${angle.rod.replaceAll("_", " ")} ${quantity(link.length, "length")}`;
  }
  return found;
}

function Refusal({
  message,
  path,
  onUndo,
}: {
  message: string;
  path: string;
  onUndo: (() => void) | undefined;
}) {
  return (
    <div
      role="alert"
      className="absolute inset-x-3 bottom-3 z-10 flex flex-wrap items-center gap-3 border-2 border-fault bg-card p-3 shadow-lg"
    >
      <Mark mark="fault" />
      <div className="min-w-0 flex-1 basis-60">
        <p className="font-semibold">This cannot be put together</p>
        <p className="text-sm">{message}</p>
        {path && <p className="text-sm text-soft">In the file: {path}</p>}
      </div>
      {onUndo && (
        <button type="button" className="press press-main" onClick={onUndo}>
          Undo the last change
        </button>
      )}
    </div>
  );
}

function Curves({
  solved,
  station,
  travel,
  onTravel,
}: {
  solved: Solved;
  station: Station;
  travel: number;
  onTravel: (z: number) => void;
}) {
  const { number, unit } = useUnits();
  const view = solved.view;
  if (!view) return null;
  const place = placeOf(view.travels, travel);
  const main = (station.units ?? []).find((part) => view.units[part.name]);
  const trace = main ? view.units[main.name] : undefined;
  const shared = {
    travels: view.travels,
    travel,
    bump: station.travel.bump,
    droop: station.travel.droop,
    ride: view.ride?.travel ?? null,
    onTravel,
  };
  const shown = (column: (number | null)[] | undefined, dimension: Parameters<typeof number>[1]) => {
    const value = valueAt(column, place);
    return {
      at: value,
      shown: value === null ? "–" : number(value, dimension),
      format: (v: number) => number(v, dimension),
    };
  };
  const of = (station.units ?? []).length > 1 && main ? `${main.name}, ` : "";
  return (
    <div className="grid h-[172px] grid-cols-4 gap-px border-t border-rule bg-rule max-xl:h-auto max-xl:auto-rows-[172px] max-xl:grid-cols-2 max-sm:grid-cols-1">
      <Curve
        {...shared}
        {...shown(trace?.length, "length")}
        name={main?.kind === "air_spring" ? "Height" : "End to end"}
        unit={`${of}${unit("length")}`}
        values={trace?.length ?? []}
      />
      <Curve
        {...shared}
        {...shown(trace?.motion_ratio, "ratio")}
        name="Motion ratio"
        unit={`${of}${main?.kind === "air_spring" ? "bag" : main?.kind === "spring" ? "spring" : "damper"} per wheel`}
        values={trace?.motion_ratio ?? []}
      />
      <Curve
        {...shared}
        {...shown(view.wheel_rate, "rate")}
        name="Wheel rate"
        unit={unit("rate")}
        values={view.wheel_rate}
      />
      <Curve
        {...shared}
        {...shown(view.wheel_force, "force")}
        name="Wheel force"
        unit={unit("force")}
        values={view.wheel_force}
      />
    </div>
  );
}

/** The sentence above the sheet. */
export function Verdict({ solved, sheet }: { solved: Solved; sheet: string }) {
  const say = useSay();
  const { quantity } = useUnits();
  const { view, refused } = solved;
  const question = QUESTIONS[sheet] ?? QUESTIONS.layout ?? "";
  if (refused?.code === "offline") {
    return <VerdictLine question={question} mark="warning" words={refused.message} />;
  }
  if (refused)
    return (
      <VerdictLine
        question={question}
        mark="fault"
        words="The linkage cannot be put together as it is drawn now."
      />
    );
  if (!view) return <VerdictLine question={question} mark="" words="Solving …" />;
  if (sheet === "stops") {
    const stops = /^(first_in|bump_stop_before|strap_before)/;
    const first = view.findings.filter((finding) => stops.test(finding.code));
    const said = (way: RegExp) => first.find((finding) => way.test(finding.code));
    const ends = [
      said(/first_in_bump/) ?? said(/bump_stop_before/),
      said(/first_in_droop/) ?? said(/strap_before/),
    ].filter((finding) => finding !== undefined);
    const worst = view.findings.find(isOfStops)?.mark ?? "good";
    const words = ends.map((finding) => say(finding.what)).join(" ");
    return <VerdictLine question={question} mark={worst} words={words || say(view.verdict)} />;
  }
  if (sheet === "rocker") {
    const its = view.findings.filter(isOfRocker);
    const words = its
      .slice(0, 2)
      .map((finding) => say(finding.what))
      .join(" ");
    return <VerdictLine question={question} mark={its[0]?.mark ?? ""} words={words || say(view.verdict)} />;
  }
  if (sheet === "springing") {
    const worst = view.findings.find(isOfSprings);
    const bad = worst && worst.mark !== "good";
    const words = !view.ride
      ? say(view.ride_fault ?? view.verdict)
      : `It stands at ${quantity(view.ride.travel, "travel")} on ${quantity(view.ride.wheel_rate, "rate")} at the wheel, and rides at ${quantity(view.ride.frequency, "frequency")}.${bad ? ` ${say(worst.what)}` : ""}`;
    return <VerdictLine question={question} mark={worst?.mark ?? "good"} words={words} />;
  }
  const worst = view.findings[0]?.mark ?? "good";
  return <VerdictLine question={question} mark={worst} words={say(view.verdict)} />;
}

const QUESTIONS: Record<string, string> = {
  layout: "Do the mounts fit through the whole travel?",
  rocker: "Which rocker, which pivot, which angle?",
  springing: "What carries it where it is wanted?",
  stops: "What ends the travel, each way?",
};

function VerdictLine({ question, mark, words }: { question: string; mark: string; words: string }) {
  return (
    <div className="flex min-w-0 flex-1 items-center gap-3">
      {mark && <Mark mark={mark} />}
      <div className="min-w-0">
        <p className="text-sm leading-tight text-soft">{question}</p>
        <p role="status" data-testid="verdict" className="text-lg lg:line-clamp-2 font-bold leading-tight">
          {words}
        </p>
      </div>
    </div>
  );
}
