import { type PointerEvent, useRef, useState } from "react";
import type { Project } from "../api/client";
import { useSay } from "../quantity/sentence";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { type Paper, type Plan, project, toPaper, unproject } from "../views/projection";
import { useSize } from "../views/use-size";
import { anywhere, type Caught, caught, nodesOf, placeOf } from "./catching";
import { type Advice, BANDS, bandOf, type Carried } from "./frame";

interface Props {
  document: Project;
  found: Carried | null;
  /** The case whose movement is drawn, and how many times as large. */
  shown: Carried["cases"][number] | null;
  times: number;
  picked: string | null;
  onPick: (member: string) => void;
  plan: Plan;
  /** A tube is being drawn: presses put its ends down. */
  drawing: boolean;
  onTube: (from: Caught, to: Caught) => void;
  onMove: (node: string, at: number[]) => void;
  onNode: (node: string) => void;
  onAdvice: (advice: Advice) => void;
}

const ROOM = 40;
/** A press that moves less than this picks, px. */
const STILL_PX = 4;

interface Dragged {
  node: string;
  from: number[];
  at: number[];
  x: number;
  y: number;
  /** Whether it stands where it is put; one that goes with a mount is picked alone. */
  free: boolean;
}

/** The tubes over the linkage, by how near each is to its limit; as it moves in one case, dashed beside it; braces advised as ghosts. */
export function FrameDrawing(props: Props) {
  const { document, found, shown, times, picked, onPick, plan, drawing } = props;
  const [ref, size] = useSize<HTMLDivElement>();
  const svg = useRef<SVGSVGElement>(null);
  const [from, setFrom] = useState<Caught | null>(null);
  const [under, setUnder] = useState<Caught | null>(null);
  const [dragged, setDragged] = useState<Dragged | null>(null);
  const nodes = nodesOf(document);
  const paper = paperOf(around(document, found, nodes), plan, size);
  const at = (p: readonly number[]) => toPaper(paper, project(plan, 1, p)).map((c) => c.toFixed(1));
  const pixels = (p: readonly number[]) => toPaper(paper, project(plan, 1, p));
  const line = (points: readonly (readonly number[])[]) => points.map((p) => at(p).join(",")).join(" ");
  const pointer = (event: PointerEvent): [number, number] => {
    const box = svg.current?.getBoundingClientRect();
    return [event.clientX - (box?.left ?? 0), event.clientY - (box?.top ?? 0)];
  };
  const catching = (event: PointerEvent): Caught | null => {
    const [x, y] = pointer(event);
    const its = caught(document, plan, [x, y], pixels);
    if (its || !from) return its;
    const uv: [number, number] = [
      paper.middle[0] + (x - paper.width / 2) / paper.scale,
      paper.middle[1] - (y - paper.height / 2) / paper.scale,
    ];
    return anywhere(plan, uv, from.at);
  };
  const press = (event: PointerEvent) => {
    if (!drawing) return;
    const its = catching(event);
    setUnder(null);
    if (!from) return setFrom(its);
    if (its) props.onTube(from, its);
    setFrom(null);
  };
  const drag = (event: PointerEvent) => {
    if (drawing) return setUnder(catching(event));
    if (!dragged?.free) return;
    const [x, y] = pointer(event);
    const by = unproject(plan, 1, (x - dragged.x) / paper.scale, (dragged.y - y) / paper.scale);
    setDragged({ ...dragged, at: dragged.from.map((c, k) => Math.round(c + (by[k] ?? 0))) });
  };
  const drop = (event: PointerEvent) => {
    if (!dragged) return;
    const [x, y] = pointer(event);
    if (!dragged.free || Math.hypot(x - dragged.x, y - dragged.y) < STILL_PX) props.onNode(dragged.node);
    else props.onMove(dragged.node, dragged.at);
    setDragged(null);
  };
  const solved = found && found.places.length > 0 ? found : null;
  return (
    <div className="relative">
      <div ref={ref} className="h-[420px] bg-dye">
        {size.width > 0 && (
          <svg
            ref={svg}
            width={size.width}
            height={size.height}
            role="group"
            aria-label={`Frame, ${plan}`}
            className={`touch-none ${drawing ? "cursor-crosshair" : ""}`}
            onPointerDown={press}
            onPointerMove={drag}
            onPointerUp={drop}
            onPointerLeave={() => setUnder(null)}
          >
            <Linkage document={document} stands={shown?.stands ?? {}} line={line} />
            {solved?.members.map((member) => {
              const band = bandOf(member.share);
              const ends = member.ends.map((node) => solved.places[node] ?? []);
              const mine = picked === member.name;
              const as = (node: number) =>
                (solved.places[node] ?? []).map((c, k) => c + times * (shown?.moves[node]?.[k] ?? 0));
              return (
                <g
                  key={member.name}
                  role="button"
                  aria-label={spoken(member.name)}
                  tabIndex={-1}
                  onClick={() => !drawing && onPick(member.name)}
                  className={drawing ? "" : "cursor-pointer"}
                >
                  <polyline points={line(ends)} stroke="transparent" strokeWidth="18" />
                  <polyline
                    points={line(ends)}
                    fill="none"
                    stroke={band.color}
                    strokeDasharray={band.dash}
                    strokeWidth={Math.min(Math.max(4, member.outside * paper.scale), 14) + (mine ? 4 : 0)}
                  />
                  {shown && (
                    <polyline
                      points={line(member.ends.map(as))}
                      fill="none"
                      stroke="var(--color-scribe)"
                      strokeDasharray="6 5"
                      strokeWidth="1.5"
                    />
                  )}
                </g>
              );
            })}
            <Fresh document={document} found={found} nodes={nodes} line={line} />
            {solved && !drawing && <Ghosts found={solved} line={line} onAdvice={props.onAdvice} />}
            {mountsOf(document, found).map((mount) => {
              const [x, y] = at(mount.at);
              return (
                <circle
                  key={mount.name}
                  cx={x}
                  cy={y}
                  r={mount.carried || !found ? 6 : 4}
                  fill="var(--color-dye)"
                  stroke={mount.carried || !found ? "var(--color-marker)" : "var(--color-chalk)"}
                  strokeWidth={mount.carried || !found ? 2.5 : 1.5}
                  pointerEvents={drawing ? "none" : undefined}
                >
                  <title>{`${spoken(mount.name.replace("/", ", "))}${mount.carried || !found ? "" : ": nothing of the frame carries it"}`}</title>
                </circle>
              );
            })}
            {[...nodes].map(([name, place]) => (
              <Node
                key={name}
                name={name}
                at={pixels(dragged?.node === name ? dragged.at : place)}
                held={document.frame?.held?.[name] ?? null}
                free={typeof document.frame?.nodes?.[name] !== "string"}
                still={drawing}
                onGrab={(event) => {
                  const [x, y] = pointer(event);
                  svg.current?.setPointerCapture(event.pointerId);
                  const free = typeof document.frame?.nodes?.[name] !== "string";
                  setDragged({ node: name, from: place, at: place, x, y, free });
                }}
              />
            ))}
            {dragged?.free &&
              (document.frame?.members ?? [])
                .filter((member) => member.ends.includes(dragged.node))
                .map((member) => (
                  <polyline
                    key={member.name}
                    points={line(
                      member.ends.map((end) =>
                        end === dragged.node ? dragged.at : (nodes.get(end) ?? dragged.at),
                      ),
                    )}
                    fill="none"
                    stroke="var(--color-marker)"
                    strokeWidth="2"
                    pointerEvents="none"
                  />
                ))}
            {drawing && <InHand from={from} to={under} pixels={pixels} />}
          </svg>
        )}
      </div>
      {drawing ? <Saying from={from} to={under} onDrop={() => setFrom(null)} /> : <Key />}
      {dragged?.free && <DraggedTo dragged={dragged} />}
    </div>
  );
}

/** What is being done, in words: what the end caught, and how long the tube is. */
function Saying({ from, to, onDrop }: { from: Caught | null; to: Caught | null; onDrop: () => void }) {
  const { quantity } = useUnits();
  const long = from && to ? Math.hypot(...from.at.map((c, k) => c - (to.at[k] ?? 0))) : 0;
  return (
    <p
      role="status"
      className="flex min-h-[60px] flex-wrap items-center gap-3 bg-steel px-3 py-1 text-soapstone"
    >
      {from
        ? `From ${said(from)}${to ? ` to ${said(to)}, ${quantity(long, "length")}` : ": press where it ends"}.`
        : to
          ? `Begin at ${said(to)}.`
          : "Press where the tube begins: a place of the frame, a mount, a mark, or another tube."}
      {from && (
        <button type="button" className="press press-dark px-3" onClick={onDrop}>
          Begin elsewhere
        </button>
      )}
    </p>
  );
}

function said(end: Caught): string {
  if (end.kind === "free") return "a new place";
  return `${end.kind === "tube" ? "the middle of " : ""}${spoken(end.name.replace("/", ", "))}`;
}

function DraggedTo({ dragged }: { dragged: Dragged }) {
  const { quantity } = useUnits();
  const [x = 0, y = 0, z = 0] = dragged.at;
  return (
    <p role="status" className="absolute left-3 top-3 bg-steel px-3 py-1 text-soapstone">
      {spoken(dragged.node)}: {quantity(x, "length", 0)} ahead, {quantity(y, "length", 0)} out,{" "}
      {quantity(z, "length", 0)} up
    </p>
  );
}

/** The tube that is being drawn, and a ring round what its end caught. */
function InHand({
  from,
  to,
  pixels,
}: {
  from: Caught | null;
  to: Caught | null;
  pixels: (at: readonly number[]) => readonly number[];
}) {
  return (
    <g pointerEvents="none" fill="none" stroke="var(--color-marker)" strokeWidth="3">
      {from && to && <path d={`M${pixels(from.at).join(" ")}L${pixels(to.at).join(" ")}`} />}
      {[from, to].map(
        (one, k) =>
          one && (
            // biome-ignore lint/suspicious/noArrayIndexKey: the two ends of one tube
            <circle key={k} cx={pixels(one.at)[0]} cy={pixels(one.at)[1]} r={one.kind === "free" ? 4 : 11} />
          ),
      )}
    </g>
  );
}

/** Tubes that were drawn since the last answer. */
function Fresh({
  document,
  found,
  nodes,
  line,
}: {
  document: Project;
  found: Carried | null;
  nodes: Map<string, number[]>;
  line: (points: readonly (readonly number[])[]) => string;
}) {
  const known = new Set(found?.members.map((one) => one.name));
  return (document.frame?.members ?? [])
    .filter((member) => !known.has(member.name))
    .map((member) => (
      <polyline
        key={member.name}
        points={line(member.ends.map((end) => nodes.get(end) ?? [0, 0, 0]))}
        fill="none"
        stroke="var(--color-scribe)"
        strokeWidth="4"
      />
    ));
}

/** Braces that were tried and help: pressed, they are put in. */
function Ghosts({
  found,
  line,
  onAdvice,
}: {
  found: Carried;
  line: (points: readonly (readonly number[])[]) => string;
  onAdvice: (advice: Advice) => void;
}) {
  const say = useSay();
  return found.advice
    .filter((one) => one.kind === "brace" && one.member)
    .map((one) => {
      const ends = (one.member as unknown as { ends: string[] }).ends;
      const points = line(ends.map((end) => found.places[found.names.indexOf(end)] ?? [0, 0, 0]));
      return (
        <g
          key={ends.join(" ")}
          role="button"
          aria-label={`Add it: ${say(one.say)}`}
          tabIndex={-1}
          className="group cursor-pointer"
          onClick={() => onAdvice(one)}
        >
          <title>{say(one.say)}</title>
          <polyline points={points} stroke="transparent" strokeWidth="18" fill="none" />
          <polyline
            points={points}
            fill="none"
            stroke="var(--color-chalk)"
            strokeWidth="5"
            strokeDasharray="2 7"
            strokeLinecap="round"
            className="group-hover:stroke-[8]"
          />
        </g>
      );
    });
}

/** A place of the frame: square where it can be dragged, a triangle under what is held. */
function Node({
  name,
  at,
  held,
  free,
  still,
  onGrab,
}: {
  name: string;
  at: readonly number[];
  held: string | null;
  free: boolean;
  still: boolean;
  onGrab: (event: PointerEvent) => void;
}) {
  const [x = 0, y = 0] = at;
  return (
    <g
      pointerEvents={still ? "none" : undefined}
      className={free ? "cursor-grab" : "cursor-pointer"}
      onPointerDown={still ? undefined : onGrab}
    >
      <title>
        {spoken(name)}
        {held ? `, held, ${held}` : ""}
        {free ? "" : ", goes with its mount or mark"}
      </title>
      {held && (
        <path
          d={`M${x} ${y}l-9 14h18z`}
          fill={held === "fixed" ? "var(--color-scribe)" : "none"}
          stroke="var(--color-scribe)"
        />
      )}
      <rect x={x - 22} y={y - 22} width="44" height="44" fill="transparent" />
      {free && (
        <rect
          x={x - 4}
          y={y - 4}
          width="8"
          height="8"
          fill="var(--color-dye)"
          stroke="var(--color-scribe)"
          strokeWidth="2"
        />
      )}
    </g>
  );
}

// Named, never told by where they are drawn: from the side both sides lie on one another.
function Linkage({
  document,
  stands,
  line,
}: {
  document: Project;
  /** Where its points are in the case that is shown, by STATION/POINT; as drawn where that is not said. */
  stands: Record<string, number[]>;
  line: (points: readonly (readonly number[])[]) => string;
}) {
  const at = (station: Project["stations"][number], point: string) =>
    stands[`${station.name}/${point}`] ?? station.points[point] ?? [0, 0, 0];
  return (
    <g stroke="var(--color-scribe)" strokeOpacity="0.45" fill="none">
      {document.stations.flatMap((station) => [
        ...Object.entries(station.bodies).map(([body, points]) => (
          <polyline key={`${station.name}/${body}`} points={line(points.map((name) => at(station, name)))} />
        )),
        ...(station.units ?? []).map((unit) => (
          <polyline
            key={`${station.name}/${unit.name}`}
            points={line(unit.ends.map((name) => at(station, name)))}
            strokeDasharray="2 3"
            strokeWidth="2"
          />
        )),
      ])}
    </g>
  );
}

function Key() {
  return (
    <ul
      aria-label="Key to the lines"
      className="flex min-h-[60px] flex-wrap content-center gap-x-5 gap-y-1 bg-steel px-3 py-2 text-sm text-soapstone"
    >
      {BANDS.map((band) => (
        <li key={band.name} className="flex items-center gap-2">
          <svg width="36" height="8" aria-hidden>
            <path d="M0 4h36" stroke={band.color} strokeWidth="5" strokeDasharray={band.dash} />
          </svg>
          {band.name}
        </li>
      ))}
      <li className="flex items-center gap-2">
        <svg width="36" height="8" aria-hidden>
          <path
            d="M3 4h30"
            stroke="var(--color-chalk)"
            strokeWidth="5"
            strokeDasharray="2 7"
            strokeLinecap="round"
          />
        </svg>
        a brace that helps: press it
      </li>
      <li>triangles: held; squares: places to drag; rings: mounts, small where no tube carries them</li>
    </ul>
  );
}

/** Every mount, those on the other side that bear something too; `carried` where the frame is under it. */
function mountsOf(
  document: Project,
  found: Carried | null,
): { name: string; at: number[]; carried: boolean }[] {
  const carried = (found?.mounts ?? []).map(({ name, at }) => ({ name, at, carried: true }));
  const names = new Set(carried.map((one) => one.name));
  const others = document.stations
    .filter((station) => !station.variant_of)
    .flatMap((station) =>
      station.chassis.map((point) => ({
        name: `${station.name}/${point}`,
        at: station.points[point] ?? [0, 0, 0],
        carried: false,
      })),
    );
  return [...others.filter((one) => !names.has(one.name)), ...carried];
}

/** Everything that the drawing has to hold: the stations whose mounts the frame carries, all of them before it does. */
function around(document: Project, found: Carried | null, nodes: Map<string, number[]>): number[][] {
  const near = document.stations.filter(
    (one) => !found?.mounts.length || found.mounts.some((its) => its.name.startsWith(`${one.name}/`)),
  );
  const marks = Object.keys(document.survey?.marks ?? {}).map((name) => placeOf(document, name) ?? [0, 0, 0]);
  return [
    ...near.flatMap((station) => Object.values(station.points)),
    ...(found?.places ?? []),
    ...nodes.values(),
    ...(found ? [] : marks),
  ];
}

function paperOf(points: number[][], plan: Plan, size: { width: number; height: number }): Paper {
  const flat = points.map((p) => project(plan, 1, p));
  const [us, vs] = [flat.map(([u]) => u), flat.map(([, v]) => v)];
  const [lowU, highU, lowV, highV] = [Math.min(...us), Math.max(...us), Math.min(...vs), Math.max(...vs)];
  const scale = Math.min(
    (size.width - 2 * ROOM) / Math.max(highU - lowU, 1),
    (size.height - 2 * ROOM) / Math.max(highV - lowV, 1),
  );
  return { scale: Math.max(scale, 0.01), middle: [(lowU + highU) / 2, (lowV + highV) / 2], ...size };
}
