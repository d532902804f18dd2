import { useEffect, useMemo, useRef, useState } from "react";
import { client, type Project, type Station } from "../api/client";
import { useAsked } from "../bench/asked";
import type { DraftInHand } from "../bench/draft";
import { editStation } from "../bench/edits";
import { SideTabs } from "../bench/side-tabs";
import type { Solved } from "../bench/solved";
import { isOn } from "../findings/families";
import { Judged } from "../findings/judged";
import { useRemedies } from "../findings/remedies";
import { BesideJack, reachable, Unsolved } from "../jack/beside-jack";
import { placeOf, pointsAt, valueAt } from "../jack/travel";
import { Waiting } from "../session/states";
import { HandBar } from "./hand-bar";
import { dragged, type Grip, type Locks, type Look, lookAt, type Rocker, withRocker } from "./plane";
import { PlatePanel } from "./plate-panel";
import { RatioCurve } from "./ratio-curve";
import { RockerDrawing } from "./rocker-drawing";
import { Scatter } from "./scatter";
import { type Solution, type Targets, useSearch } from "./search";
import { SearchPanel } from "./search-panel";
import { pulled, pullsOf, type Run, roomsOf, startingTargets, targetRun, usualTargets } from "./targets";

interface Props {
  document: Project;
  index: number;
  solved: Solved;
  hand: DraftInHand;
  travel: number;
  onTravel: (travel: number) => void;
}

/** Which rocker, which pivot, which angle? */
export function RockerSheet(props: Props) {
  const { document, index, solved } = props;
  const found = useAsked("rockers", document, index, (body) => client.POST("/api/rockers", { body }), true);
  const [which, setWhich] = useState(0);
  if (found.isPending) return <Waiting what="Opening the rocker" />;
  if (found.isError) return <Unsolved message={found.error.message} />;
  const rocker = found.data.rockers[Math.min(which, found.data.rockers.length - 1)];
  if (!rocker || !solved.view)
    return (
      <p className="max-w-2xl p-6 text-lg">
        {found.data.why_none ?? "Solving …"}
        {found.data.why_none && (
          <span className="block pt-2 text-base text-soft">
            Start an arrangement with a rod and rocker from the Brief, or size this one's mounts on Layout,
            under Place.
          </span>
        )}
      </p>
    );
  return (
    <Sized
      key={rocker.rocker}
      {...props}
      rocker={rocker}
      rockers={found.data.rockers}
      which={which}
      onWhich={setWhich}
    />
  );
}

function Sized({
  document,
  index,
  solved,
  hand,
  travel,
  onTravel,
  rocker,
  rockers,
  which,
  onWhich,
}: Props & { rocker: Rocker; rockers: Rocker[]; which: number; onWhich: (which: number) => void }) {
  const station = document.stations[index] as Station;
  const view = solved.view;
  const at = reachable(view, travel);
  const [grip, setGrip] = useState<Grip | null>(null);
  const [locks, setLocks] = useState<Locks>({ arms: false, angle: false, grid: 0 });
  const [tried, setTried] = useState<Solution | null>(null);
  const [before, setBefore] = useState<{ points: Record<string, number[]>; run: Run } | null>(null);
  const lastKey = useRef("");
  const look = lookAt(station, rocker);
  const change = (to: (station: Station) => Station, key = "") =>
    hand.edit((doc) => editStation(doc, index, to), key);
  const remedies = useRemedies(document, index, view?.findings, isOn("rocker"));
  const trace = view?.units[rocker.unit];
  const now: Run = { travels: view?.travels ?? [], ratio: trace?.motion_ratio ?? [] };
  const points = useMemo(() => {
    if (!view || solved.refused) return station.points as Record<string, number[]>;
    const reached = view.travels.filter((_, row) => view.reached[row]);
    // What is dragged is the drawing: at the drawn height it is shown at once, solved or not. A rod that is set to
    // another length stands where it is solved; the first drag makes it to the drawing.
    const drawn = at === 0 && !station.links?.[rocker.rod];
    return drawn || !reached.length
      ? (station.points as Record<string, number[]>)
      : pointsAt(view, reached, at);
  }, [view, solved.refused, station.points, station.links, rocker.rod, at]);
  const place = placeOf(view?.travels ?? [0], at);
  const angleOf = (isUnit: boolean) =>
    valueAt(
      view?.angles.find((angle) => angle.rocker === rocker.rocker && angle.is_unit === isUnit)?.angle,
      place,
    );
  const [targets, setTargets] = useState<Targets>(() => startingTargets(rocker, now));
  const searching = useSearch(document, index);
  const { found, glance, short } = searching.search;
  const ask = (next: Targets) => {
    setTargets(next);
    setTried(null);
    void searching.follow(next);
  };
  // What followed the hand stands on the drawing; once it is proved, the best of it does.
  const followed = useRef(false);
  useEffect(() => {
    if (glance) followed.current = true;
    else if (short && followed.current) {
      followed.current = false;
      setTried(short.solutions[0] ?? null);
    }
  }, [glance, short]);
  const tryOut = (solution: Solution | null) => {
    setTried(solution);
    if (solution) onTravel(0);
  };
  const drag = (its: Grip, seen: Look, to: [number, number], key: string) => {
    if (at !== 0) return onTravel(0);
    if (key !== lastKey.current) {
      lastKey.current = key;
      setBefore({ points: station.points as Record<string, number[]>, run: now });
      setTried(null);
    }
    change((s) => dragged(s, rocker, seen, its, to, locks), key);
  };
  const sketch = glance?.sketches[0];
  const shown = tried ?? (glance && sketch ? { ...sketch, travels: glance.travels } : null);
  const ghost = shown
    ? { ...(station.points as Record<string, number[]>), ...shown.points }
    : (before?.points ?? null);
  const ghostRun = shown ? { travels: shown.travels, ratio: shown.ratio } : (before?.run ?? null);
  const coil = (station.units ?? []).some(
    (unit) => unit.name === rocker.unit && (unit.kind === "coilover" || unit.kind === "spring"),
  );
  return (
    <BesideJack station={station} view={view} travel={at} onTravel={onTravel} busy={solved.busy}>
      <div className="grid h-full grid-cols-[minmax(0,1fr)_380px] lg:grid-rows-[minmax(0,1fr)] max-lg:h-auto max-lg:grid-cols-1">
        <div className="flex min-h-0 min-w-0 flex-col">
          <div className="min-h-0 flex-1 max-lg:h-[440px] max-lg:flex-none">
            <RockerDrawing
              key={`${station.name} ${rocker.rocker}`}
              station={station}
              rocker={rocker}
              points={points}
              ghost={ghost}
              angles={{ rod: angleOf(false), damper: angleOf(true) }}
              grip={grip}
              onGrip={(next) => {
                setGrip(next);
                if (next && at !== 0) onTravel(0);
              }}
              onDrag={drag}
              rooms={roomsOf(rocker, targets)}
              onRoom={(name, half) => ask({ ...targets, [name]: half })}
            />
          </div>
          <HandBar
            locks={locks}
            onLocks={setLocks}
            refused={solved.refused?.message ?? null}
            rockers={rockers}
            which={which}
            onWhich={onWhich}
          />
          <div className="flex shrink-0 gap-[2px] bg-rule max-sm:flex-col">
            <div className="h-60 min-w-0 flex-1 bg-paper">
              {view && (
                <RatioCurve
                  now={now}
                  ghost={ghostRun}
                  target={targetRun(targets, view.travels, station)}
                  pulls={pullsOf(targets, station)}
                  onPull={(name, ratio) => ask(pulled(targets, station, name, ratio))}
                  travel={at}
                  ride={view.ride?.travel ?? null}
                  onTravel={onTravel}
                />
              )}
            </div>
            <div className="h-60 min-w-0 flex-1 bg-paper">
              {found.length > 1 ? (
                <Scatter found={found} onPick={(candidate) => void searching.pick(candidate, tryOut)} />
              ) : (
                <p className="h-full border-t border-rule bg-card p-4 leading-snug text-soft">
                  <span className="block pb-1 font-semibold text-ink">What is possible shows here.</span>
                  Pull the ratio asked for by its dots, or the edge of a room in the drawing: the search
                  follows your hand, and proves the best once it rests.
                </p>
              )}
            </div>
          </div>
        </div>
        <SideTabs
          label="About this rocker"
          className=""
          tabs={[
            {
              value: "search",
              name: "Search",
              room: "px-4 pb-8",
              kept: true,
              body: (
                <SearchPanel
                  key={`${station.name} ${rocker.rocker}`}
                  document={document}
                  station={station}
                  rocker={rocker}
                  look={look}
                  coil={coil}
                  targets={targets}
                  usual={usualTargets(view, rocker, station, now)}
                  onTargets={ask}
                  onKind={(next) => {
                    setTargets(next);
                    setTried(null);
                  }}
                  searching={searching}
                  tried={tried}
                  onTry={tryOut}
                  onTake={(solution, rod) => {
                    setBefore({ points: station.points as Record<string, number[]>, run: now });
                    setTried(null);
                    change((s) => withRocker(s, solution.points, rod));
                  }}
                />
              ),
            },
            {
              value: "plate",
              name: "Plate",
              room: "px-4 pb-8 pt-2",
              read: true,
              body: <PlatePanel rocker={rocker} change={change} />,
            },
            {
              value: "judged",
              name: "Findings",
              room: "px-4 pb-8",
              read: true,
              body: (
                <Judged
                  findings={(view?.findings ?? []).filter(isOn("rocker"))}
                  remedies={remedies}
                  change={change}
                  onTravel={onTravel}
                />
              ),
            },
          ]}
        />
      </div>
    </BesideJack>
  );
}
