import { Tabs } from "radix-ui";
import { useMemo, useRef, useState } from "react";
import { client, type Finding, type Project, type Shape, type Station } from "../api/client";
import { useAsked } from "../bench/asked";
import { BesideJack, reachable, Unsolved } from "../bench/beside-jack";
import type { DraftInHand } from "../bench/draft";
import { editStation } from "../bench/edits";
import type { Solved } from "../bench/solved";
import { Judged } from "../findings/judged";
import { useRemedies } from "../findings/remedies";
import { placeOf, pointsAt, valueAt } from "../jack/travel";
import { QuantityField } from "../quantity/quantity-field";
import { useUnits } from "../quantity/units";
import { Waiting } from "../session/states";
import { dragged, type Grip, type Locks, type Look, lookAt, type Rocker, withRocker } from "./plane";
import { PlatePanel } from "./plate-panel";
import { RatioCurve, type Run } from "./ratio-curve";
import { RockerDrawing } from "./rocker-drawing";
import { Scatter } from "./scatter";
import { type Candidate, type Targets, useSearch } from "./search";
import { ShortList } from "./short-list";
import { TargetsPanel } from "./targets-panel";

interface Props {
  document: Project;
  index: number;
  solved: Solved;
  hand: DraftInHand;
  travel: number;
  onTravel: (travel: number) => void;
}

type Solution = Shape["SolutionOut"];

export const isOfRocker = (finding: Finding) =>
  /^(rod_square|rod_near|joint_|linkage_reach)/.test(finding.code);

/** Which rocker, which pivot, which angle? */
export function RockerSheet(props: Props) {
  const { document, index, solved } = props;
  const found = useAsked("rockers", document, index, (body) => client.POST("/api/rockers", { body }), true);
  const [which, setWhich] = useState(0);
  if (found.isPending) return <Waiting what="Looking at the rocker" />;
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
  const remedies = useRemedies(document, index, view?.findings.filter(isOfRocker));
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
  const drag = (its: Grip, seen: Look, to: [number, number], key: string) => {
    if (at !== 0) return onTravel(0);
    if (key !== lastKey.current) {
      lastKey.current = key;
      setBefore({ points: station.points as Record<string, number[]>, run: now });
      setTried(null);
    }
    change((s) => dragged(s, rocker, seen, its, to, locks), key);
  };
  const ghost = tried
    ? { ...(station.points as Record<string, number[]>), ...tried.points }
    : (before?.points ?? null);
  const ghostRun = tried ? { travels: tried.travels, ratio: tried.ratio } : (before?.run ?? null);
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
          <div className="h-44 shrink-0">
            {view && (
              <RatioCurve
                now={now}
                ghost={ghostRun}
                target={targetRun(targets, view.travels, station)}
                travel={at}
                ride={view.ride?.travel ?? null}
                onTravel={onTravel}
              />
            )}
          </div>
        </div>
        <Tabs.Root
          defaultValue="search"
          className="flex min-h-0 min-w-0 flex-col border-l border-rule max-lg:border-l-0 max-lg:border-t"
        >
          <Tabs.List aria-label="About this rocker" className="no-print flex border-b border-rule">
            {[
              ["search", "Search"],
              ["plate", "Plate"],
              ["judged", "Findings"],
            ].map(([value, name]) => (
              <Tabs.Trigger
                key={value}
                value={value ?? ""}
                className="min-h-12 flex-auto border-b-4 border-transparent px-2 font-semibold text-soft data-[state=active]:border-[#1d3f82] data-[state=active]:text-ink dark:data-[state=active]:border-[#ffd400]"
              >
                {name}
              </Tabs.Trigger>
            ))}
          </Tabs.List>
          <Tabs.Content
            value="search"
            tabIndex={-1}
            forceMount
            className="min-h-0 flex-1 overflow-y-auto px-4 pb-8 data-[state=inactive]:hidden max-lg:overflow-visible"
          >
            <SearchPanel
              key={`${station.name} ${rocker.rocker}`}
              document={document}
              index={index}
              station={station}
              rocker={rocker}
              look={look}
              coil={coil}
              targets={targets}
              onTargets={setTargets}
              tried={tried}
              onTry={(solution) => {
                setTried(solution);
                if (solution) onTravel(0);
              }}
              onTake={(solution, rod) => {
                setBefore({ points: station.points as Record<string, number[]>, run: now });
                setTried(null);
                change((s) => withRocker(s, solution.points, rod));
              }}
            />
          </Tabs.Content>
          <Tabs.Content
            value="plate"
            tabIndex={0}
            className="min-h-0 flex-1 overflow-y-auto px-4 pb-8 pt-2 max-lg:overflow-visible"
          >
            <PlatePanel rocker={rocker} change={change} />
          </Tabs.Content>
          <Tabs.Content
            value="judged"
            tabIndex={0}
            className="min-h-0 flex-1 overflow-y-auto px-4 pb-8 max-lg:overflow-visible"
          >
            <Judged
              findings={(view?.findings ?? []).filter(isOfRocker)}
              remedies={remedies}
              change={change}
              onTravel={onTravel}
            />
          </Tabs.Content>
        </Tabs.Root>
      </div>
    </BesideJack>
  );
}

/** What stays when the drawing is pushed and pulled. */
function HandBar({
  locks,
  onLocks,
  refused,
  rockers,
  which,
  onWhich,
}: {
  locks: Locks;
  onLocks: (locks: Locks) => void;
  refused: string | null;
  rockers: Rocker[];
  which: number;
  onWhich: (which: number) => void;
}) {
  const press = (name: string, on: boolean, values: Partial<Locks>) => (
    <button
      type="button"
      aria-pressed={on}
      className="press px-3 aria-pressed:border-[#1d3f82] aria-pressed:bg-[#1d3f82] aria-pressed:text-white"
      onClick={() => onLocks({ ...locks, ...values })}
    >
      {name}
    </button>
  );
  return (
    <div className="no-print flex flex-wrap items-center gap-2 border-t border-rule px-3 py-1.5">
      {refused && (
        <p role="alert" className="w-full border-l-4 border-fault pl-2 text-sm">
          {refused}
        </p>
      )}
      {rockers.length > 1 && (
        <select
          aria-label="Rocker"
          className="entry w-auto"
          value={which}
          onChange={(event) => onWhich(Number(event.target.value))}
        >
          {rockers.map((one, k) => (
            <option key={one.rocker} value={k}>
              {one.rocker.replaceAll("_", " ")}
            </option>
          ))}
        </select>
      )}
      <span className="text-sm text-soft">When dragged, keep</span>
      {press("arm lengths", locks.arms, { arms: !locks.arms })}
      {press("angle", locks.angle, { angle: !locks.angle })}
      <span className="flex items-center gap-2">
        <span className="text-sm text-soft">hole grid</span>
        <span className="w-[6.5rem]">
          <QuantityField
            label="Hole grid"
            value={locks.grid}
            blank={locks.grid === 0}
            dimension="length"
            digits={0}
            check={(value) => (value >= 0 && value <= 100 ? null : "Give 0 to 100 mm; 0 is no grid.")}
            onCommit={(grid) => onLocks({ ...locks, grid })}
          />
        </span>
      </span>
    </div>
  );
}

interface SearchProps {
  document: Project;
  index: number;
  station: Station;
  rocker: Rocker;
  look: Look;
  coil: boolean;
  targets: Targets;
  onTargets: (targets: Targets) => void;
  tried: Solution | null;
  onTry: (solution: Solution | null) => void;
  onTake: (solution: Solution, rod: string) => void;
}

function SearchPanel({
  document,
  index,
  station,
  rocker,
  look,
  coil,
  targets,
  onTargets,
  tried,
  onTry,
  onTake,
}: SearchProps) {
  const { number } = useUnits();
  const { search, run, stop, prove } = useSearch(document, index);
  const [trouble, setTrouble] = useState<string | null>(null);
  const stale = search.of !== null && (search.of.document !== document || search.of.targets !== targets);
  const pick = async (candidate: Candidate) => {
    if (!search.of) return;
    setTrouble(null);
    try {
      const short = await prove(search.of.targets, [candidate.numbers]);
      const solution = short.solutions[0];
      if (solution) onTry(solution);
      else setTrouble("The general solver does not take this one; pick another.");
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error));
    }
  };
  const best = search.found[0];
  return (
    <>
      <TargetsPanel
        station={station}
        shared={rocker.shared}
        coil={coil}
        targets={targets}
        onTargets={onTargets}
      />
      <div className="flex items-center gap-2 pt-3">
        {search.running ? (
          <button type="button" className="press" onClick={stop}>
            Stop, keep the best
          </button>
        ) : (
          <button type="button" className="press press-main" onClick={() => void run(targets)}>
            Search
          </button>
        )}
        <p role="status" className="text-sm leading-tight" data-testid="search-status">
          {search.part > 0 &&
            `${search.tried.toLocaleString("en-GB")} rockers tried, ${search.taken.toLocaleString("en-GB")} take the whole travel.`}
          {search.running &&
            best &&
            ` Best so far misses its targets by ${number(Math.sqrt(best.score), "ratio", 2)}.`}
        </p>
      </div>
      {search.running && (
        <div className="mt-2 h-2 bg-rule" aria-hidden>
          <div
            className="h-2 bg-[#1d3f82] dark:bg-[#ffd400]"
            style={{ width: `${(100 * search.part) / search.parts}%` }}
          />
        </div>
      )}
      {(search.trouble ?? trouble) && (
        <p className="mt-2 border-l-4 border-fault pl-2 text-sm">{search.trouble ?? trouble}</p>
      )}
      {stale && search.short && (
        <p className="mt-2 text-sm text-soft">
          Found for the drawing and the targets as they were. Search again for those of now.
        </p>
      )}
      {search.short && (
        <ShortList
          short={search.short}
          rocker={rocker}
          look={look}
          tried={tried}
          onTry={onTry}
          onTake={(solution) => onTake(solution, rocker.rod)}
        />
      )}
      {search.found.length > 1 && (
        <Scatter found={search.found} onPick={(candidate) => void pick(candidate)} />
      )}
    </>
  );
}

function startingTargets(rocker: Rocker, run: Run): Targets {
  const middle = valueAt(run.ratio, placeOf(run.travels.length ? run.travels : [0], 0)) ?? 0.7;
  const around = (value: number): [number, number] => [
    Math.min(45, Math.floor(value)),
    Math.max(140, Math.ceil(value)),
  ];
  return {
    rocker: rocker.rocker,
    ratio: Math.round(middle * 100) / 100,
    wheel_rate: null,
    stroke: null,
    change: 0,
    straight: true,
    school: "square",
    damper_angle: 90,
    rod_arm: around(rocker.plate.rod_arm),
    damper_arm: around(rocker.plate.damper_arm),
    pivot_room: [40, 40, 40],
    along: null,
    far_room: [150, 150, 150],
    in_line: false,
    left: 5,
  };
}

/** The ratio asked for, as a straight line over the wanted travel, for the eye. */
function targetRun(targets: Targets, travels: number[], station: Station): Run | null {
  if (targets.ratio == null) return null;
  const { bump, droop } = station.travel;
  const at = station.travel.at ?? 0;
  const inside = travels.filter((z) => z >= -droop - 1e-6 && z <= bump + 1e-6);
  return {
    travels: inside,
    ratio: inside.map(
      (z) => (targets.ratio ?? 0) * (1 + ((targets.change ?? 0) * (z - at)) / (bump + droop || 1)),
    ),
  };
}
