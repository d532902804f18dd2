import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import type { Station } from "../api/client";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { placeLabels } from "../views/labels";
import { nudged } from "../views/nudging";
import { path } from "../views/projection";
import { coil } from "../views/shapes";
import { useSize } from "../views/use-size";
import { flat, GRIPS, type Grip, type Look, lookAt, pivotOf, type Rocker } from "./plane";
import { outlineOf, RoomEdges } from "./room-edges";
import type { Room } from "./targets";

interface Props {
  station: Station;
  rocker: Rocker;
  /** Points where the Jack stands, mm. */
  points: Record<string, number[]>;
  /** Points of what is only shown: the previous one, or a found one that is tried. */
  ghost: Record<string, number[]> | null;
  angles: { rod: number | null; damper: number | null };
  grip: Grip | null;
  onGrip: (grip: Grip | null) => void;
  /** Put a grip to a place on paper, mm, as `look` sees it; `key` joins the steps of one drag. */
  onDrag: (grip: Grip, look: Look, to: [number, number], key: string) => void;
  /** Where a search may put things, and a room made wider or narrower by its edge. */
  rooms: Room[];
  onRoom: (name: Room["name"], half: number[]) => void;
}

const ORDER: Grip[] = ["joint", "eye", "pivot", "far"];
const TOUCH = 26;

/** The rocker in its own plane: arms, rod and damper, to be pushed and pulled. */
export function RockerDrawing(props: Props) {
  const { station, rocker, points, ghost, angles, grip, onGrip, onDrag, rooms, onRoom } = props;
  const [ref, size] = useSize<HTMLDivElement>();
  const { quantity } = useUnits();
  // While something is in hand the paper stays put, whatever moves on it.
  const [frozen, setFrozen] = useState<{ look: Look; box: Paperbox } | null>(null);
  const look = frozen?.look ?? lookAt(station, rocker);
  const held = useRef<{ grip: Grip; key: string; off: [number, number] } | null>(null);
  const at = (name: string, from = points) => flat(look, from[name] ?? station.points[name] ?? [0, 0, 0]);
  const spots: Record<Grip, [number, number]> = {
    joint: at(rocker.rod_joint),
    eye: at(rocker.eye),
    pivot: pivotOf(look, { ...(station.points as Record<string, number[]>), ...points }, rocker),
    far: at(rocker.far),
  };
  const still = [rocker.rod_joint, rocker.eye, rocker.far].map((name) =>
    flat(look, station.points[name] ?? [0, 0, 0]),
  );
  const ghosts = ghost
    ? [
        pivotOf(look, ghost, rocker),
        ...[rocker.rod_joint, rocker.eye, rocker.far].map((name) => at(name, ghost)),
      ]
    : [];
  const { low, high } = frozen?.box ?? boxAbout([...still, spots.pivot, ...ghosts]);
  const scale = Math.max(
    0.1,
    Math.min(size.width / (high[0] - low[0]), (size.height - 30) / (high[1] - low[1]), 4),
  );
  const middle = [(low[0] + high[0]) / 2, (low[1] + high[1]) / 2] as const;
  const paper = ([u, v]: [number, number]): [number, number] => [
    size.width / 2 + (u - middle[0]) * scale,
    size.height / 2 + 12 - (v - middle[1]) * scale,
  ];
  const back = (x: number, y: number): [number, number] => [
    (x - size.width / 2) / scale + middle[0],
    -(y - size.height / 2 - 12) / scale + middle[1],
  ];
  const local = (event: PointerEvent<SVGSVGElement>): [number, number] => {
    const box = event.currentTarget.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  };
  const down = (event: PointerEvent<SVGSVGElement>) => {
    if (event.button !== 0) return;
    const [x, y] = local(event);
    const near = ORDER.map((name) => ({ name, p: paper(spots[name]) }))
      .map(({ name, p }) => ({ name, away: Math.hypot(p[0] - x, p[1] - y) }))
      .sort((a, b) => a.away - b.away)[0];
    if (!near || near.away > TOUCH) return onGrip(null);
    onGrip(near.name);
    setFrozen({ look, box: { low, high } });
    event.currentTarget.setPointerCapture(event.pointerId);
    const [u, v] = back(x, y);
    held.current = {
      grip: near.name,
      key: `rocker ${near.name} ${event.timeStamp}`,
      off: [spots[near.name][0] - u, spots[near.name][1] - v],
    };
  };
  const move = (event: PointerEvent<SVGSVGElement>) => {
    const its = held.current;
    if (!its) return;
    const [u, v] = back(...local(event));
    onDrag(its.grip, look, [Math.round(u + its.off[0]), Math.round(v + its.off[1])], its.key);
  };
  const letGo = () => {
    held.current = null;
    setFrozen(null);
  };
  const press = (event: KeyboardEvent) =>
    nudged(event, {
      order: ORDER,
      picked: grip,
      onPick: onGrip,
      onNudge: (its, right, up) => {
        const [u, v] = spots[its];
        onDrag(its, look, [u + right, v + up], `rocker nudge ${its}`);
      },
    });
  const end = at(rocker.rod_end);
  const [pivot, joint, eye, far] = [
    paper(spots.pivot),
    paper(spots.joint),
    paper(spots.eye),
    paper(spots.far),
  ];
  const ghostly = ghost && {
    pivot: paper(pivotOf(look, ghost, rocker)),
    joint: paper(flat(look, ghost[rocker.rod_joint] ?? [])),
    eye: paper(flat(look, ghost[rocker.eye] ?? [])),
    far: paper(flat(look, ghost[rocker.far] ?? [])),
  };
  const length = (a: [number, number], b: [number, number]) => quantity(away(a, b), "length");
  const between = (a: [number, number], b: [number, number]): [number, number] => [
    (a[0] + b[0]) / 2,
    (a[1] + b[1]) / 2,
  ];
  const labels = placeLabels(
    [
      { key: "rod arm", text: `rod arm ${length(spots.joint, spots.pivot)}`, at: between(pivot, joint) },
      { key: "damper arm", text: `damper arm ${length(spots.eye, spots.pivot)}`, at: between(pivot, eye) },
      ...(angles.rod === null
        ? []
        : [{ key: "rod", text: `rod to arm ${angles.rod.toFixed(1)}°`, at: joint }]),
      ...(angles.damper === null
        ? []
        : [{ key: "damper", text: `damper to arm ${angles.damper.toFixed(1)}°`, at: eye }]),
      {
        key: "unit",
        text: `${spoken(rocker.unit)} ${length(spots.eye, spots.far)}`,
        at: between(eye, far),
      },
    ],
    [pivot, joint, eye, far],
    size.width,
    size.height,
  );
  return (
    <div
      ref={ref}
      role="group"
      aria-roledescription="drawing"
      aria-label={`The rocker in its own plane. ${grip ? `In hand: the ${GRIPS[grip]}.` : "Nothing in hand."} Page up and page down take hold, arrow keys move.`}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the drawing is worked by keyboard
      tabIndex={0}
      onKeyDown={press}
      className="relative h-full min-h-72 overflow-hidden bg-dye"
      data-testid="rocker-drawing"
    >
      {size.width > 0 && (
        <svg
          aria-hidden
          width={size.width}
          height={size.height}
          className="absolute inset-0 touch-none select-none"
          onPointerDown={down}
          onPointerMove={move}
          onPointerUp={letGo}
          onPointerCancel={letGo}
        >
          <g fill="none" stroke="var(--color-scribe)">
            {[away(spots.joint, spots.pivot), away(spots.eye, spots.pivot)].map((radius, k) => (
              <circle
                key={k === 0 ? "rod" : "damper"}
                cx={pivot[0]}
                cy={pivot[1]}
                r={radius * scale}
                strokeOpacity={0.28}
                strokeDasharray="2 5"
              />
            ))}
          </g>
          {rooms.map((room) => (
            <path
              key={room.name}
              d={path(outlineOf(room, look, station).map(paper), true)}
              fill="none"
              stroke="var(--color-scribe)"
              strokeOpacity={0.5}
              strokeDasharray="10 4 2 4"
            />
          ))}
          {rooms.map((room) => {
            const [x, y] = leftmost(outlineOf(room, look, station).map(paper));
            return (
              <text key={room.name} x={Math.max(x, 4) + 6} y={y - 6} fontSize={12} fill="var(--color-scribe)">
                {room.words}
              </text>
            );
          })}
          {ghostly && (
            <g
              fill="none"
              stroke="var(--color-marker)"
              strokeOpacity={0.75}
              strokeDasharray="6 5"
              strokeWidth={2}
              data-testid="ghost"
            >
              <path d={path([ghostly.joint, ghostly.pivot, ghostly.eye], true)} />
              <path d={path([ghostly.joint, paper(end)])} />
              <path d={path([ghostly.eye, ghostly.far])} />
              <circle cx={ghostly.far[0]} cy={ghostly.far[1]} r={5} />
            </g>
          )}
          <path d={path([joint, paper(end)])} stroke="var(--color-soapstone)" strokeWidth={4} />
          <path
            d={path([joint, pivot, eye], true)}
            fill="var(--color-soapstone)"
            fillOpacity={0.16}
            stroke="var(--color-soapstone)"
            strokeWidth={2.4}
            strokeLinejoin="round"
          />
          <path
            d={path(coil(eye, far, 7, Math.min(16, 30 * scale)))}
            fill="none"
            stroke="var(--color-soapstone)"
            strokeWidth={2}
          />
          <path d={path([eye, far])} stroke="var(--color-soapstone)" strokeWidth={2} />
          {ORDER.map((name) => {
            const [x, y] = paper(spots[name]);
            const mine = grip === name;
            return name === "pivot" || name === "far" ? (
              <rect
                key={name}
                x={x - 7}
                y={y - 7}
                width={14}
                height={14}
                fill={mine ? "var(--color-marker)" : "var(--color-dye)"}
                stroke={mine ? "var(--color-jet)" : "var(--color-soapstone)"}
                strokeWidth={2}
              />
            ) : (
              <circle
                key={name}
                cx={x}
                cy={y}
                r={7}
                fill={mine ? "var(--color-marker)" : "var(--color-dye)"}
                stroke={mine ? "var(--color-jet)" : "var(--color-soapstone)"}
                strokeWidth={2}
              />
            );
          })}
          {labels.map((label) => (
            <text
              key={label.key}
              x={label.x}
              y={label.y}
              fontSize={13}
              fill="var(--color-soapstone)"
              paintOrder="stroke"
              stroke="var(--color-dye)"
              strokeWidth={4}
            >
              {label.text}
            </text>
          ))}
        </svg>
      )}
      {size.width > 0 &&
        rooms.map((room) => (
          <RoomEdges
            key={room.name}
            {...{ room, look, station, paper, back }}
            grips={[pivot, joint, eye, far]}
            onHold={(hold) => setFrozen(hold ? { look, box: { low, high } } : null)}
            onHalf={(half) => onRoom(room.name, half)}
          />
        ))}
      <p className="pointer-events-none absolute left-2 top-1.5 bg-dye/80 px-1 font-semibold text-soapstone">
        {spoken(rocker.rocker)}, square to its bolt{grip ? ` · ${GRIPS[grip]} in hand` : ""}
      </p>
    </div>
  );
}

/** The lower left corner of an outline on paper. */
const leftmost = (corners: [number, number][]): [number, number] =>
  corners.reduce((best, one) => (one[0] - one[1] < best[0] - best[1] ? one : best));

interface Paperbox {
  low: [number, number];
  high: [number, number];
}

const MARGIN_MM = 70;

function boxAbout(places: [number, number][]): Paperbox {
  const ends = (take: (...values: number[]) => number, by: number) =>
    [0, 1].map((k) => take(...places.map((place) => place[k] ?? 0)) + by) as [number, number];
  return { low: ends(Math.min, -MARGIN_MM), high: ends(Math.max, MARGIN_MM) };
}

const away = (a: [number, number], b: [number, number]) => Math.hypot(a[0] - b[0], a[1] - b[1]);
