import { type ReactNode, useMemo, useState } from "react";
import type { Project, Station, StationView } from "../api/client";
import { useSolved } from "../bench/solved";
import { Jack } from "../jack/jack";
import { placeOf, pointsAt, valueAt } from "../jack/travel";
import { Heads } from "../quantity/heads";
import type { Dimension } from "../quantity/quantity";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { PlanChoice } from "../views/plan-choice";
import { PlaneView } from "../views/plane-view";
import { type Box, extent, type Paper, type Plan } from "../views/projection";
import { boxOf, sideOf } from "../views/shapes";
import { useSize } from "../views/use-size";

/** A station of a document, solved. */
export interface Side {
  document: Project | null;
  station: Station | null;
  view: StationView | null;
  refused: string | null;
}

/** A station of a document as one side; `inHand` is solved in its place until there is one. */
export function useSide(inHand: Project, document: Project | null, station: number, trouble?: string): Side {
  const index = document ? Math.min(station, document.stations.length - 1) : -1;
  const solved = useSolved(document ?? inHand, index);
  return {
    document,
    station: document?.stations[index] ?? null,
    view: solved.of === document ? solved.view : null,
    refused: trouble ?? solved.refused?.message ?? null,
  };
}

interface Props {
  left: Side;
  right: Side;
  /** What each is called, and what stands over its drawing. */
  names: [string, string];
  heads: [ReactNode, ReactNode];
  title: string;
  /** Beside the plans, where it is closed. */
  children: ReactNode;
}

/** Two solved stations side by side on one Jack. */
export function OnTheJack({ left, right, names, heads, title, children }: Props) {
  const [travel, setTravel] = useState(0);
  const [plan, setPlan] = useState<Plan>("front");
  const boxes = [left, right].flatMap((side) => (side.station ? [boxOf(side.station)] : []));
  const box = boxes.length ? joined(boxes) : null;
  return (
    <section aria-label={title} className="flex min-h-0 flex-1 flex-col">
      <div className="flex flex-wrap items-center gap-3 border-b border-rule px-4 py-2">
        <h2 className="flex-1 text-xl">{title}</h2>
        <PlanChoice plan={plan} onPlan={setPlan} />
        {children}
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
            {[left, right].map((side, k) => (
              <Pane
                key={names[k]}
                title={names[k] ?? ""}
                head={heads[k]}
                side={side}
                plan={plan}
                box={box}
                travel={travel}
              />
            ))}
          </div>
          {left.view && right.view && <Table left={left} right={right} names={names} travel={travel} />}
        </div>
      </div>
    </section>
  );
}

interface PaneProps {
  title: string;
  head: ReactNode;
  side: Side;
  plan: Plan;
  box: Box | null;
  travel: number;
}

function Pane({ title, head, side, plan, box, travel }: PaneProps) {
  const [ref, size] = useSize<HTMLDivElement>();
  const { station, view } = side;
  const points = useMemo(() => {
    if (!view || !station) return (station?.points ?? {}) as Record<string, number[]>;
    const reached = view.travels.filter((_, row) => view.reached[row]);
    return reached.length ? pointsAt(view, reached, travel) : (station.points as Record<string, number[]>);
  }, [view, station, travel]);
  const paper = box && station ? paperOf(plan, station, box, size) : null;
  return (
    <section aria-label={title} className="min-w-0 bg-paper">
      {head}
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
function Table({
  left,
  right,
  names,
  travel,
}: {
  left: Side;
  right: Side;
  names: [string, string];
  travel: number;
}) {
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
      <Heads names={["Figure", ...names]} />
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
