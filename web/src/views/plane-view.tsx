import { type KeyboardEvent, type PointerEvent, useMemo, useRef } from "react";
import type { Station, StationView } from "../api/client";
import type { Vec as Moved } from "../bench/edits";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { Bands, type PlacesMap } from "./bands";
import { type Label, placeLabels } from "./labels";
import { middleOf, nearestHere } from "./nearest";
import { nudged } from "./nudging";
import { type Paper, type Plan, project, type Side, toPaper, unproject } from "./projection";
import {
  Arcs,
  BarLines,
  type Barred,
  Body,
  Envelopes,
  Grid,
  Nearest,
  type Other,
  OtherSide,
  Picked,
  Point,
  Tyres,
  Unit,
} from "./scribed";
import { barTip } from "./shapes";

export interface PlaneProps {
  plan: Plan;
  side: Side;
  paper: Paper;
  station: Station;
  view: StationView | null;
  /** Points where the Jack stands, mm; as drawn where nothing could be solved. */
  points: Record<string, number[]>;
  angles: { point: string; text: string }[];
  lengths: Record<string, string>;
  picked: string | null;
  onPick: (point: string | null) => void;
  /** Move a point by this much, mm; `key` joins the steps of one drag or nudge. */
  onMove: (point: string, by: Moved, key: string) => void;
  /** Bodies that cannot be put together. */
  broken: string[];
  title: string;
  /** Whether lengths and angles are written on it, and whether it carries the scale bar. */
  labelled: boolean;
  barred: Barred;
  name: string;
  /** Every place an end could stand, shaded on its plan; null while none is asked for. */
  places?: PlacesMap | null;
  /** The other side, drawn faintly where it comes into sight: what crosses the car passes it. */
  other?: Other | null;
  /** Where the Jack stands, mm, and how far the left wheel is up and the right one down. */
  travel: number;
  articulation: number;
}

const TOUCH = 24;
const SNAP_MM = 1;

export function PlaneView(props: PlaneProps) {
  const { plan, side, paper, station, view, points, picked, onPick, onMove, broken, title } = props;
  const { number } = useUnits();
  const drag = useRef<{
    point: string;
    x: number;
    y: number;
    rest: [number, number];
    moved: boolean;
    key: string;
  } | null>(null);
  const screen = useMemo(() => {
    const found: Record<string, [number, number]> = {};
    for (const [name, p] of Object.entries(points)) found[name] = toPaper(paper, project(plan, side, p));
    return found;
  }, [points, paper, plan, side]);
  const order = useMemo(() => Object.keys(station.points), [station.points]);

  const nearest = (x: number, y: number): string | null => {
    let best: string | null = null;
    let least = TOUCH;
    for (const [name, [px, py]] of Object.entries(screen)) {
      // Of two points in one place the picked one stays picked.
      const away = Math.hypot(px - x, py - y) - (name === picked ? 3 : 0);
      if (away < least) {
        best = name;
        least = away;
      }
    }
    return best;
  };
  const local = (event: PointerEvent<SVGSVGElement>): [number, number] => {
    const box = event.currentTarget.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  };
  const down = (event: PointerEvent<SVGSVGElement>) => {
    if (event.button !== 0) return;
    const [x, y] = local(event);
    const point = nearest(x, y);
    onPick(point);
    if (!point) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const key = `drag ${point} ${event.timeStamp}`;
    drag.current = { point, x: event.clientX, y: event.clientY, rest: [0, 0], moved: false, key };
  };
  const move = (event: PointerEvent<SVGSVGElement>) => {
    const held = drag.current;
    if (!held) return;
    // Only how far it went counts: to ask where the sheet lies would lay it out anew at every move.
    const { clientX: x, clientY: y } = event;
    if (!held.moved && Math.hypot(x - held.x, y - held.y) < 5) return;
    held.moved = true;
    const u = (x - held.x) / paper.scale + held.rest[0];
    const v = -(y - held.y) / paper.scale + held.rest[1];
    const snapped: [number, number] = [Math.round(u / SNAP_MM) * SNAP_MM, Math.round(v / SNAP_MM) * SNAP_MM];
    held.rest = [u - snapped[0], v - snapped[1]];
    held.x = x;
    held.y = y;
    if (snapped[0] || snapped[1]) onMove(held.point, unproject(plan, side, snapped[0], snapped[1]), held.key);
  };
  const up = () => {
    drag.current = null;
  };
  const press = (event: KeyboardEvent) =>
    nudged(event, {
      order,
      picked,
      onPick,
      onNudge: (name, right, up) => onMove(name, unproject(plan, side, right, up), `nudge ${name}`),
    });

  const labels = placeLabels(
    labelsOf(props, screen, number),
    Object.values(screen),
    paper.width,
    paper.height,
  );
  return (
    <div
      role="group"
      aria-roledescription="drawing"
      aria-label={`${title}. ${picked ? `Picked: ${spoken(picked)}.` : "No point picked."} Page up and page down pick a point, arrow keys move it.`}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the drawing is worked by keyboard: it picks and nudges points
      tabIndex={0}
      onKeyDown={press}
      className="relative h-full w-full overflow-hidden bg-dye"
      data-testid={`view-${props.name}`}
    >
      <svg
        aria-hidden
        width={paper.width}
        height={paper.height}
        className="absolute inset-0 touch-none select-none"
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={up}
      >
        <Grid {...props} />
        <Tyres {...props} />
        <Envelopes {...props} />
        {props.places && <Bands map={props.places} plan={plan} side={side} paper={paper} />}
        <Nearest {...props} />
        {props.other && plan !== "side" && (
          <OtherSide other={props.other} plan={plan} side={side} paper={paper} />
        )}
        <Arcs {...props} />
        {Object.entries(station.bodies).map(([body, members]) => (
          <Body
            key={body}
            members={members}
            screen={screen}
            broken={broken.includes(body)}
            station={station}
            picked={picked}
          />
        ))}
        {(station.shafts ?? []).map((shaft) => {
          const [one, other] = shaft.ends.map((end) => screen[end]);
          return one && other ? (
            <path
              key={shaft.name}
              d={`M${one[0]} ${one[1]}L${other[0]} ${other[1]}`}
              stroke="var(--color-soapstone)"
              strokeOpacity={0.7}
              strokeWidth={Math.max(2, 2 * (shaft.radius ?? 8) * paper.scale)}
              strokeLinecap="round"
            />
          ) : null;
        })}
        {(station.units ?? []).map((unit) => {
          const [one, other] = unit.ends.map((end) => screen[end]);
          if (unit.kind === "bar") {
            const tip = barTip(
              unit as { tip: number[]; axis: number[] },
              station.points[unit.ends[0] ?? ""] ?? [],
              station.points[unit.ends[1] ?? ""] ?? [],
              points[unit.ends[0] ?? ""] ?? [],
            );
            const at = toPaper(paper, project(plan, side, tip));
            return one && other ? <BarLines key={unit.name} low={one} tip={at} held={other} /> : null;
          }
          return one && other ? (
            <Unit key={unit.name} kind={unit.kind} from={one} to={other} scale={paper.scale} />
          ) : null;
        })}
        {order.map((name) => {
          const p = screen[name];
          if (!p || name === picked) return null;
          return <Point key={name} name={name} at={p} chassis={station.chassis.includes(name)} />;
        })}
        {picked && screen[picked] && (
          <Picked at={screen[picked]} chassis={station.chassis.includes(picked)} />
        )}
        {labels.map((label) => (
          <g key={label.key}>
            <path
              d={`M${label.at[0]} ${label.at[1]}L${label.x + (label.at[0] > label.x + label.width / 2 ? label.width - 6 : 0)} ${label.y - 4}`}
              stroke="var(--color-scribe)"
              strokeOpacity={0.35}
            />
            <text
              x={label.x}
              y={label.y}
              fontSize={13}
              fill={label.strong ? "var(--color-marker)" : "var(--color-soapstone)"}
              fontWeight={label.strong ? 650 : 480}
              paintOrder="stroke"
              stroke="var(--color-dye)"
              strokeWidth={4}
            >
              {label.text}
            </text>
          </g>
        ))}
      </svg>
      <p className="pointer-events-none absolute left-2 top-1.5 bg-dye/80 px-1 font-semibold text-soapstone">
        {title}
      </p>
      {view === null && <span className="sr-only">Not solved yet</span>}
    </div>
  );
}

function labelsOf(
  {
    station,
    angles,
    lengths,
    picked,
    labelled,
    points,
    view,
    plan,
    side,
    paper,
    travel,
    articulation,
  }: PlaneProps,
  screen: Record<string, [number, number]>,
  number: (value: number, dimension: "length", digits?: number) => string,
): Label[] {
  const found: Label[] = [];
  const spot = picked ? screen[picked] : undefined;
  if (picked && spot) {
    const p = points[picked] ?? [];
    const places = p.map((value) => number(value, "length")).join(", ");
    found.push({
      key: "picked",
      text: labelled ? `${spoken(picked)} ${places}` : spoken(picked),
      at: spot,
      strong: true,
    });
  }
  if (!labelled) return found;
  for (const near of nearestHere(view, travel, articulation)) {
    found.push({
      key: `near ${near.one} ${near.other}`,
      text: `${spoken(near.one)} to ${spoken(near.other)} ${number(near.distance, "length")}`,
      at: toPaper(paper, project(plan, side, middleOf(near.places))),
    });
  }
  for (const angle of angles) {
    const at = screen[angle.point];
    if (at) found.push({ key: `angle ${angle.text}`, text: angle.text, at });
  }
  const middles = [
    ...(station.units ?? []).map((unit) => [unit.name, unit.ends] as const),
    ...Object.entries(station.bodies).filter(([body]) => body in lengths),
  ];
  for (const [name, ends] of middles) {
    const [a, b] = [screen[ends[0] ?? ""], screen[ends[1] ?? ""]];
    const text = lengths[name];
    if (a && b && text)
      found.push({ key: `length ${name}`, text, at: [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2] });
  }
  return found;
}
