import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { answer, client, type Project, type Shape, type Station, type StationView } from "../api/client";
import { documentOf } from "../bench/draft";
import { useSolved } from "../bench/solved";
import { Jack } from "../jack/jack";
import { placeOf, pointsAt, valueAt } from "../jack/travel";
import { Heads } from "../quantity/heads";
import type { Dimension } from "../quantity/quantity";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { PlaneView } from "../views/plane-view";
import { type Box, extent, type Paper, type Plan } from "../views/projection";
import { boxOf, sideOf } from "../views/shapes";
import { useSize } from "../views/use-size";

interface Props {
  job: string;
  /** The document in hand. */
  document: Project;
  /** The station in hand. */
  index: number;
  revisions: Shape["RevisionLine"][];
  /** The revision to begin with beside what is in hand; where none is given, the variant or the one before. */
  against?: number;
  onClose: () => void;
}

/** What one side shows: a revision (0 is the work in hand) and one of its stations. */
interface Choice {
  revision: number;
  station: number;
}

const IN_HAND = 0;

/** The station in hand and its variant, or the station that it is a variant of; none, and it is -1. */
function pairOf(stations: Station[], index: number): number {
  const station = stations[index];
  const is = (its: Station) => its.name === station?.variant_of || its.variant_of === station?.name;
  return stations.findIndex(is);
}

/** Two revisions, or two variants of a station, side by side on one Jack. */
export function Beside({ job, document, index, revisions, against, onClose }: Props) {
  const pair = against === undefined ? pairOf(document.stations, index) : -1;
  const first = pair >= 0 && pair < index ? pair : index;
  const [one, setOne] = useState<Choice>(
    pair >= 0
      ? { revision: IN_HAND, station: first }
      : { revision: against ?? (revisions[1] ?? revisions[0])?.number ?? IN_HAND, station: index },
  );
  const [other, setOther] = useState<Choice>({
    revision: IN_HAND,
    station: pair >= 0 ? Math.max(pair, index) : index,
  });
  const [travel, setTravel] = useState(0);
  const [plan, setPlan] = useState<Plan>("front");
  const left = useSide(job, document, one);
  const right = useSide(job, document, other);
  const boxes = [left, right].flatMap((side) => (side.station ? [boxOf(side.station)] : []));
  const box = boxes.length ? joined(boxes) : null;
  return (
    <section aria-label="Side by side on the Jack" className="flex min-h-0 flex-1 flex-col">
      <div className="flex flex-wrap items-center gap-3 border-b border-rule px-4 py-2">
        <h2 className="flex-1 text-xl">Side by side on the Jack</h2>
        <fieldset className="flex">
          <legend className="sr-only">What is drawn</legend>
          {(["front", "side", "top"] as const).map((name) => (
            <button
              key={name}
              type="button"
              aria-pressed={plan === name}
              className="press -ml-px px-3 aria-pressed:border-press aria-pressed:bg-press aria-pressed:text-white"
              onClick={() => setPlan(name)}
            >
              {name}
            </button>
          ))}
        </fieldset>
        <button type="button" className="press" onClick={onClose}>
          Back to the log
        </button>
      </div>
      <div className="grid min-h-0 flex-1 grid-cols-[150px_minmax(0,1fr)] lg:grid-rows-[minmax(0,1fr)] max-sm:grid-cols-[64px_minmax(0,1fr)]">
        <div className="min-h-0 max-lg:sticky max-lg:top-0 max-lg:h-[calc(100vh-8rem)]">
          {right.view && right.station ? (
            <Jack
              view={right.view}
              bump={right.station.travel.bump}
              droop={right.station.travel.droop}
              travel={travel}
              onTravel={setTravel}
            />
          ) : (
            <div className="h-full bg-steel" />
          )}
        </div>
        <div className="min-h-0 overflow-y-auto max-lg:overflow-visible">
          <div className="grid grid-cols-2 gap-[2px] bg-scribe max-md:grid-cols-1">
            <Pane
              title="Left"
              side={left}
              choice={one}
              onChoice={setOne}
              revisions={revisions}
              plan={plan}
              box={box}
              travel={travel}
            />
            <Pane
              title="Right"
              side={right}
              choice={other}
              onChoice={setOther}
              revisions={revisions}
              plan={plan}
              box={box}
              travel={travel}
            />
          </div>
          {left.view && right.view && <Table left={left} right={right} travel={travel} />}
        </div>
      </div>
    </section>
  );
}

interface Side {
  document: Project | null;
  station: Station | null;
  view: StationView | null;
  refused: string | null;
}

function useSide(job: string, inHand: Project, choice: Choice): Side {
  const fetched = useQuery({
    queryKey: ["revision", job, choice.revision],
    queryFn: () =>
      answer(
        client.GET("/api/jobs/{job_id}/revisions/{number}", {
          params: { path: { job_id: job, number: choice.revision } },
        }),
      ),
    enabled: choice.revision !== IN_HAND,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const document = choice.revision === IN_HAND ? inHand : fetched.data ? documentOf(fetched.data) : null;
  const index = document ? Math.min(choice.station, document.stations.length - 1) : -1;
  const solved = useSolved(document ?? inHand, index);
  return {
    document,
    station: document?.stations[index] ?? null,
    view: solved.of === document ? solved.view : null,
    refused: fetched.error?.message ?? solved.refused?.message ?? null,
  };
}

interface PaneProps {
  title: string;
  side: Side;
  choice: Choice;
  onChoice: (choice: Choice) => void;
  revisions: Shape["RevisionLine"][];
  plan: Plan;
  box: Box | null;
  travel: number;
}

function Pane({ title, side, choice, onChoice, revisions, plan, box, travel }: PaneProps) {
  const [ref, size] = useSize<HTMLDivElement>();
  const { station, view, document } = side;
  const points = useMemo(() => {
    if (!view || !station) return (station?.points ?? {}) as Record<string, number[]>;
    const reached = view.travels.filter((_, row) => view.reached[row]);
    return reached.length ? pointsAt(view, reached, travel) : (station.points as Record<string, number[]>);
  }, [view, station, travel]);
  const paper = box && station ? paperOf(plan, station, box, size) : null;
  return (
    <section aria-label={title} className="min-w-0 bg-paper">
      <div className="flex flex-wrap gap-2 p-2">
        <select
          aria-label={`${title}: revision`}
          className="entry min-w-0 flex-1"
          value={choice.revision}
          onChange={(event) => onChoice({ ...choice, revision: Number(event.target.value) })}
        >
          <option value={IN_HAND}>Work in hand</option>
          {revisions.map((line) => (
            <option key={line.number} value={line.number}>
              Revision {line.number}: {line.reason}
            </option>
          ))}
        </select>
        <select
          aria-label={`${title}: station`}
          className="entry min-w-0 flex-1"
          value={choice.station}
          onChange={(event) => onChoice({ ...choice, station: Number(event.target.value) })}
        >
          {(document?.stations ?? []).map((its, k) => (
            <option key={its.name} value={k}>
              {its.name}
            </option>
          ))}
        </select>
      </div>
      {side.refused && <p className="border-l-4 border-fault px-2 text-sm">{side.refused}</p>}
      <div ref={ref} className="h-[340px] bg-dye">
        {station && paper && size.width > 0 && (
          <PlaneView
            plan={plan}
            side={sideOf(station)}
            paper={paper}
            station={station}
            view={view}
            points={points}
            angles={[]}
            lengths={{}}
            picked={null}
            onPick={() => undefined}
            onMove={() => undefined}
            broken={[]}
            title={station.name}
            labelled={false}
            barred="foot"
            name={`beside-${title.toLowerCase()}`}
            travel={travel}
            articulation={0}
          />
        )}
      </div>
    </section>
  );
}

function paperOf(plan: Plan, station: Station, box: Box, size: { width: number; height: number }): Paper {
  const { u, v } = extent(plan, sideOf(station), box);
  const scale = Math.max(
    0.02,
    Math.min((size.width - 30) / (u[1] - u[0]), (size.height - 50) / (v[1] - v[0])),
  );
  return { scale, middle: [(u[0] + u[1]) / 2, (v[0] + v[1]) / 2 + 11 / scale], ...size };
}

function joined(boxes: Box[]): Box {
  const pick = (take: (...values: number[]) => number, end: "low" | "high") =>
    [0, 1, 2].map((k) => take(...boxes.map((box) => box[end][k] ?? 0))) as [number, number, number];
  return { low: pick(Math.min, "low"), high: pick(Math.max, "high") };
}

/** Both in figures: at ride height, and where the Jack stands. */
function Table({ left, right, travel }: { left: Side; right: Side; travel: number }) {
  const { quantity } = useUnits();
  const rows: [string, Dimension, number | null, number | null][] = [];
  const add = (name: string, dimension: Dimension, of: (side: Side) => number | null | undefined) => {
    const [a, b] = [of(left) ?? null, of(right) ?? null];
    if (a !== null || b !== null) rows.push([name, dimension, a, b]);
  };
  add("Stands at", "travel", (side) => side.view?.ride?.travel);
  add("Wheel rate at ride", "rate", (side) => side.view?.ride?.wheel_rate);
  add("Ride frequency", "frequency", (side) => side.view?.ride?.frequency);
  const at = (column: (side: Side) => (number | null)[] | undefined) => (side: Side) =>
    side.view ? valueAt(column(side), placeOf(side.view.travels, travel)) : null;
  add(
    "Wheel force at the Jack",
    "force",
    at((side) => side.view?.wheel_force),
  );
  add(
    "Wheel rate at the Jack",
    "rate",
    at((side) => side.view?.wheel_rate),
  );
  const units = [...new Set([left, right].flatMap((side) => Object.keys(side.view?.units ?? {})))];
  for (const name of units) {
    add(
      `Eye to eye at the Jack, ${spoken(name)}`,
      "length",
      at((side) => side.view?.units[name]?.length),
    );
    const kind = [left, right]
      .flatMap((side) => side.station?.units ?? [])
      .find((unit) => unit.name === name)?.kind;
    if (kind && ["strap", "bump_stop", "bar"].includes(kind)) continue;
    add(
      `Motion ratio at the Jack, ${spoken(name)} ÷ wheel`,
      "ratio",
      at((side) => side.view?.units[name]?.motion_ratio),
    );
    add(`Left in bump, ${spoken(name)}`, "length", (side) => side.view?.strokes[name]?.left_in_bump);
    add(`Left in droop, ${spoken(name)}`, "length", (side) => side.view?.strokes[name]?.left_in_droop);
  }
  const open = (side: Side, mark: string) =>
    (side.view?.findings ?? []).filter((its) => its.mark === mark).length;
  const show = (value: number | null, dimension: Dimension) =>
    value === null ? "–" : quantity(value, dimension);
  return (
    <table className="m-4 w-[calc(100%-2rem)] border-collapse text-right">
      <Heads names={["Figure", "Left", "Right"]} />
      <tbody>
        {rows.map(([name, dimension, a, b]) => (
          <tr key={name} className="border-b border-rule">
            <th scope="row" className="py-1.5 text-left font-normal">
              {name}
            </th>
            <td className="px-2">{show(a, dimension)}</td>
            <td className={`pl-2 ${show(a, dimension) === show(b, dimension) ? "" : "font-bold"}`}>
              {show(b, dimension)}
            </td>
          </tr>
        ))}
        <tr className="border-b border-rule">
          <th scope="row" className="py-1.5 text-left font-normal">
            Faults and warnings
          </th>
          {[left, right].map((side, k) => (
            <td key={k === 0 ? "left" : "right"} className="px-2">
              {open(side, "fault")} and {open(side, "warning")}
            </td>
          ))}
        </tr>
      </tbody>
    </table>
  );
}
