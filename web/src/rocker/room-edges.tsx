import { polygonHull } from "d3-polygon";
import type { Station } from "../api/client";
import { useUnits } from "../quantity/units";
import { flat, type Look } from "./plane";
import type { Room } from "./targets";

type Flat = [number, number];

interface Props {
  room: Room;
  look: Look;
  station: Station;
  paper: (place: Flat) => Flat;
  /** Where the rocker is taken hold of, on paper. */
  grips: Flat[];
  back: (x: number, y: number) => Flat;
  onHold: (hold: boolean) => void;
  onHalf: (half: number[]) => void;
}

const WAYS = ["fore and aft", "in and out", "up and down"];
const SEEN = 0.35; // of a way's length that shows in the plane: less is not taken hold of
const STEP_MM = 5;
const OFF = 26; // on paper
const MOST_OFF = 130;
const CLEAR = 38;
const MOST_MM = 1000;

const middleOf = ({ about }: Room, station: Station): number[] =>
  [0, 1, 2].map((k) => about.reduce((sum, name) => sum + (station.points[name]?.[k] ?? 0), 0) / about.length);

/** A box along the vehicle's own directions, as it shows in the rocker's plane. */
export function outlineOf(room: Room, look: Look, station: Station): Flat[] {
  const middle = middleOf(room, station);
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].map((corner) =>
    flat(
      look,
      middle.map((value, k) => value + (room.half[k] ?? 0) * (corner & (1 << k) ? 1 : -1)),
    ),
  );
  return polygonHull(corners) ?? corners.slice(0, 2);
}

/** Handles on the edges of a room: pulled, it grows both ways alike. */
export function RoomEdges({ room, look, station, paper, back, grips, onHold, onHalf }: Props) {
  const { quantity } = useUnits();
  const middle = middleOf(room, station);
  const centre = flat(look, middle);
  return WAYS.map((words, k) => {
    const way: Flat = [look.right[k] ?? 0, look.up[k] ?? 0];
    const seen = way[0] * way[0] + way[1] * way[1];
    if (seen < SEEN * SEEN) return null;
    const half = room.half[k] ?? 0;
    const edge = paper([centre[0] + way[0] * half, centre[1] + way[1] * half]);
    // It stands off the edge, and further where it would lie on what else is taken hold of.
    const size = Math.max(Math.abs(way[0]), Math.abs(way[1]));
    const at = (far: number): Flat => [edge[0] + (far * way[0]) / size, edge[1] - (far * way[1]) / size];
    let far = OFF;
    const covers = ([u, v]: Flat) => grips.some((grip) => Math.hypot(grip[0] - u, grip[1] - v) < CLEAR);
    while (far < MOST_OFF && covers(at(far))) far += OFF / 2;
    const [x, y] = at(far);
    const off: Flat = [x - edge[0], y - edge[1]];
    const to = (value: number) =>
      onHalf(
        room.half.map((old, n) =>
          n === k ? Math.min(MOST_MM, Math.max(0, Math.round(value / STEP_MM) * STEP_MM)) : old,
        ),
      );
    return (
      <div
        key={words}
        role="slider"
        tabIndex={0}
        aria-label={`${room.words}, ${words}`}
        aria-valuemin={0}
        aria-valuemax={MOST_MM}
        aria-valuenow={half}
        aria-valuetext={`± ${quantity(half, "length", 0)}`}
        title={`${room.words}, ${words}: ± ${quantity(half, "length", 0)}`}
        data-testid={`${room.name}-${k}`}
        className="absolute grid size-11 cursor-move touch-none place-items-center"
        style={{ left: x - 22, top: y - 22 }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          onHold(true);
        }}
        onPointerMove={(event) => {
          if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
          const box = event.currentTarget.offsetParent?.getBoundingClientRect();
          if (!box) return;
          const [u, v] = back(event.clientX - box.left - off[0], event.clientY - box.top - off[1]);
          to(Math.abs((u - centre[0]) * way[0] + (v - centre[1]) * way[1]) / seen);
        }}
        onPointerUp={() => onHold(false)}
        onPointerCancel={() => onHold(false)}
        onKeyDown={(event) => {
          const step = { ArrowUp: STEP_MM, ArrowRight: STEP_MM, ArrowDown: -STEP_MM, ArrowLeft: -STEP_MM }[
            event.key
          ];
          if (!step) return;
          event.preventDefault();
          event.stopPropagation();
          to(half + step);
        }}
      >
        <span className="size-3 rotate-45 border-2 border-soapstone bg-dye" />
      </div>
    );
  });
}
