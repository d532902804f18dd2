import { useCallback, useMemo, useRef, useState } from "react";
import { isOfTheJob, type Project, type Station } from "../api/client";
import { useArticulated } from "../bench/articulated";
import type { DraftInHand } from "../bench/draft";
import { editStation, movePoint, type Vec } from "../bench/edits";
import { SideTabs } from "../bench/side-tabs";
import type { Solved } from "../bench/solved";
import { Curves } from "../curves/strip";
import { Judged } from "../findings/judged";
import { useRemedies } from "../findings/remedies";
import { Jack } from "../jack/jack";
import { placeOf, pointsAt } from "../jack/travel";
import { Waiting } from "../session/states";
import { usePlaces } from "../views/bands";
import type { Placing } from "../views/placing";
import { Plans } from "../views/plans";
import { Figures, RideFigures } from "./figures";
import { Hardpoints } from "./hardpoints";
import { Millimetre } from "./millimetre";
import { PlacingPanel } from "./placing";
import { Refusal } from "./refusal";
import { Room } from "./room";
import { Settings } from "./settings";
import { Tape, useTape } from "./tape";
import { anglesAt, brokenBodies, otherSide, useLengths } from "./written";

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
  const failing = refused !== null && isOfTheJob(refused);
  const reached = useMemo(() => (view ? view.travels.filter((_, row) => view.reached[row]) : []), [view]);
  const at = Math.min(reached.at(-1) ?? 0, Math.max(reached[0] ?? 0, travel));
  const [crossed, setCrossed] = useState(0);
  const articulated = useArticulated(document, index, view && !failing ? crossed : 0);
  // With one wheel up, what is drawn is the articulated axle, and lengths are its; all else stays that of heave.
  const shown = useMemo(
    () => (view && articulated ? { ...view, ...articulated, articulation: view.articulation } : view),
    [view, articulated],
  );
  const shownTravels = useMemo(
    () => (shown ? shown.travels.filter((_, row) => shown.reached[row]) : []),
    [shown],
  );
  const solvedPoints = useMemo(
    () => (shown && !failing && shownTravels.length ? pointsAt(shown, shownTravels, at) : null),
    [shown, failing, shownTravels, at],
  );
  const points = solvedPoints ?? (station.points as Record<string, number[]>);

  const other = useMemo(() => otherSide(document, station, points), [document, station, points]);
  const { edit } = hand;
  const change = useCallback(
    (to: (station: Station) => Station, key = "") => edit((doc) => editStation(doc, index, to), key),
    [edit, index],
  );
  const place = useCallback(
    (point: string, to: Vec, key: string) => change((s) => movePoint(s, point, to), key),
    [change],
  );
  const moveBy = (point: string, by: Vec, key: string) =>
    change((s) => {
      const from = s.points[point] ?? [0, 0, 0];
      return movePoint(s, point, [0, 1, 2].map((k) => (from[k] ?? 0) + (by[k] ?? 0)) as Vec);
    }, key);

  const [placing, setPlacing] = useState<Placing | null>(null);
  const places = usePlaces(document, index, failing ? null : placing);
  const remedies = useRemedies(document, index, failing ? undefined : view?.findings);
  const tape = useTape(document, index, !failing && view?.ride ? solved.of : null).data;
  const drawing = useRef<HTMLDivElement>(null);
  const jackTo = useCallback(
    (to: number) => {
      onTravel(to);
      // On a tablet the findings stand below the drawing: bring back what was asked to be seen.
      drawing.current?.scrollIntoView({ block: "nearest" });
    },
    [onTravel],
  );
  const { units, wheels, travel: range } = station;
  const spot = useMemo(() => placeOf(view?.travels ?? [0], at), [view, at]);
  const crossedAt = useMemo(
    () => (articulated ? { ...articulated, place: placeOf(articulated.travels, at) } : undefined),
    [articulated, at],
  );
  // While a hand moves a bracket the drawing runs ahead of what is solved: the figures are drawn when they change.
  const figures = useMemo(
    () =>
      view ? (
        <>
          <RideFigures view={view} tape={tape} />
          <Judged
            findings={view.findings}
            remedies={remedies}
            change={change}
            onTravel={onTravel}
            onLook={jackTo}
          >
            <Figures
              units={units}
              wheels={wheels}
              view={view}
              place={spot}
              range={range}
              tape={tape}
              crossed={crossedAt}
            />
          </Judged>
        </>
      ) : (
        <p className="text-soft">Nothing is solved yet. See what the sheet says above.</p>
      ),
    [view, tape, remedies, change, onTravel, jackTo, units, wheels, spot, range, crossedAt],
  );
  const broken = failing ? brokenBodies(refused.values) : [];
  return (
    <div
      aria-busy={solved.busy}
      className="grid min-h-0 flex-1 print:block lg:grid-rows-[minmax(0,1fr)] grid-cols-[150px_minmax(0,1fr)_348px] max-xl:grid-cols-[150px_minmax(0,1fr)_320px] max-lg:grid-cols-[140px_minmax(0,1fr)] max-lg:content-start max-sm:grid-cols-[64px_minmax(0,1fr)]"
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
      <div className="flex min-h-0 min-w-0 flex-col max-lg:contents lg:overflow-y-auto">
        <div
          ref={drawing}
          className="relative min-h-0 flex-1 max-lg:col-start-2 max-lg:h-[620px] max-md:h-auto lg:min-h-[420px]"
        >
          <Plans
            station={station}
            view={failing ? null : shown}
            points={points}
            angles={failing ? [] : anglesAt(solved, spot)}
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
          {view && (
            <Curves
              view={view}
              units={station.units}
              range={station.travel}
              travel={at}
              onTravel={onTravel}
            />
          )}
        </div>
      </div>
      <SideTabs
        label="About this station"
        className="bg-paper max-lg:col-start-2"
        tabs={[
          {
            value: "figures",
            name: "Figures",
            room: "px-4 pb-6 pt-3",
            read: true,
            body: figures,
          },
          {
            value: "points",
            name: "Points",
            room: "px-2 pb-6",
            body: (
              <>
                <Hardpoints station={station} picked={pick} onPick={setPicked} onPlace={place} />
                {!failing && (
                  <>
                    <Millimetre document={document} index={index} picked={pick} onPick={setPicked} />
                    <Tape document={document} index={index} change={change} />
                  </>
                )}
              </>
            ),
          },
          {
            value: "place",
            name: "Place",
            room: "px-4",
            body:
              view && !failing ? (
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
              ),
          },
          {
            value: "parts",
            name: "Rods & parts",
            room: "px-4",
            body: (
              <Settings
                key={station.name}
                document={document}
                station={station}
                index={index}
                rates={view?.spring_rates ?? {}}
                edit={hand.edit}
              />
            ),
          },
          {
            value: "room",
            name: "Room",
            room: "px-2",
            body: <Room key={station.name} station={station} picked={pick} change={change} />,
          },
        ]}
      />
    </div>
  );
}
