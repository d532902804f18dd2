/** What is scribed on the blue: floor and grid, tyres, arcs of travel, bodies, units and points. */

import { useMemo } from "react";
import type { Station, StationView } from "../api/client";
import { useUnits } from "../quantity/units";
import { carrierOf, skinOf } from "./envelopes";
import { nearestHere } from "./nearest";
import { hull, type Paper, type Plan, path, project, type Side, thinned, toPaper } from "./projection";
import { coil, tyreOutline } from "./shapes";

interface Plane {
  plan: Plan;
  side: Side;
  paper: Paper;
  station: Station;
}

/** Where a plan carries its scale bar: at its foot, or above the keys that lie there. */
export type Barred = false | "foot" | "above the keys";

const FOOT = { foot: 14, "above the keys": 66 };

export function Grid({ plan, side, paper, barred }: Plane & { barred: Barred }) {
  const step = paper.scale * 50 > 26 ? 50 : paper.scale * 100 > 26 ? 100 : 250;
  const u0 = paper.middle[0] - paper.width / 2 / paper.scale;
  const u1 = paper.middle[0] + paper.width / 2 / paper.scale;
  const v0 = paper.middle[1] - paper.height / 2 / paper.scale;
  const v1 = paper.middle[1] + paper.height / 2 / paper.scale;
  const lines: string[] = [];
  for (let u = Math.ceil(u0 / step) * step; u <= u1; u += step) {
    lines.push(`M${toPaper(paper, [u, 0])[0].toFixed(1)} 0V${paper.height}`);
  }
  for (let v = Math.ceil(v0 / step) * step; v <= v1; v += step) {
    lines.push(`M0 ${toPaper(paper, [0, v])[1].toFixed(1)}H${paper.width}`);
  }
  const [cx, cy] = toPaper(paper, project(plan, side, [0, 0, 0]));
  const { units } = useUnits();
  const inch = units.length !== "mm";
  const long = inch ? (paper.scale > 1 ? 25.4 : 101.6) : paper.scale > 1 ? 20 : 100;
  const bar = long * paper.scale;
  const barText = inch ? `${long / 25.4}″` : `${long} mm`;
  return (
    <g>
      <path d={lines.join("")} stroke="var(--color-scribe)" strokeOpacity={0.09} />
      {plan !== "top" && (
        <g>
          <rect x={0} y={cy} width={paper.width} height={paper.height} fill="#0a1a3c" fillOpacity={0.35} />
          <path
            d={`M0 ${cy}H${paper.width}`}
            stroke="var(--color-soapstone)"
            strokeWidth={2}
            strokeOpacity={0.7}
          />
        </g>
      )}
      {plan !== "side" && (
        <path
          d={`M${cx} 0V${paper.height}`}
          stroke="var(--color-scribe)"
          strokeOpacity={0.5}
          strokeDasharray="18 5 3 5"
        />
      )}
      {plan !== "front" && (
        <text
          x={plan === "side" && side < 0 ? paper.width - 12 : 12}
          y={paper.height - (barred ? FOOT[barred] + 18 : 12)}
          textAnchor={plan === "side" && side < 0 ? "end" : "start"}
          fontSize={13}
          fill="var(--color-scribe)"
          fillOpacity={0.85}
        >
          {plan === "top" ? "↓ forward" : side > 0 ? "← forward" : "forward →"}
        </text>
      )}
      {barred && (
        <g stroke="var(--color-soapstone)" fill="var(--color-soapstone)">
          <path d={`M14 ${paper.height - FOOT[barred]}v-5m0 5h${bar}m0 0v-5`} fill="none" />
          <text x={18 + bar} y={paper.height - FOOT[barred]} fontSize={12} stroke="none">
            {barText}
          </text>
        </g>
      )}
    </g>
  );
}

export function Tyres({ plan, side, paper, station, points }: Plane & { points: Record<string, number[]> }) {
  return station.wheels.map((wheel) => {
    const centre = points[wheel.centre];
    const spindle = wheel.spindle ? points[wheel.spindle] : undefined;
    if (!centre || !spindle || !wheel.tyre_radius) return null;
    const outline = tyreOutline(plan, side, centre, spindle, wheel.tyre_radius, wheel.tyre_width ?? 0).map(
      (p) => toPaper(paper, p),
    );
    return (
      <path
        key={wheel.name}
        d={path(outline, true)}
        fill="var(--color-scribe)"
        fillOpacity={0.07}
        stroke="var(--color-scribe)"
        strokeOpacity={0.55}
        strokeLinejoin="round"
      />
    );
  });
}

/** Rails, tubes and panels: outlines of what takes room, carried along by what they are tied to. */
export function Envelopes({
  plan,
  side,
  paper,
  station,
  points,
}: Plane & { points: Record<string, number[]> }) {
  return (station.envelopes ?? []).map((envelope) => {
    const carry = carrierOf(envelope.on, station, points);
    const outline = skinOf(envelope, station).map((spot) => toPaper(paper, project(plan, side, carry(spot))));
    if (outline.length < 3) return null;
    return (
      <path
        key={envelope.name}
        d={path(hull(outline), true)}
        fill="var(--color-soapstone)"
        fillOpacity={0.08}
        stroke="var(--color-soapstone)"
        strokeOpacity={0.65}
        strokeWidth={1.3}
        strokeDasharray="10 3 2 3"
        strokeLinejoin="round"
      />
    );
  });
}

/** What comes nearest about here: a dimension between the two skins. */
export function Nearest({
  plan,
  side,
  paper,
  view,
  travel,
  articulation,
}: Plane & { view: StationView | null; travel: number; articulation: number }) {
  return nearestHere(view, travel, articulation).map((near) => {
    const [one, other] = near.places.map((place) => toPaper(paper, project(plan, side, place)));
    if (!one || !other) return null;
    return (
      <g key={`${near.one} ${near.other}`} stroke="var(--color-alarm)" data-testid="nearest">
        <path d={path([one, other])} strokeWidth={2.4} />
        <circle cx={one[0]} cy={one[1]} r={3} fill="var(--color-alarm)" />
        <circle cx={other[0]} cy={other[1]} r={3} fill="var(--color-alarm)" />
      </g>
    );
  });
}

/** True arcs of travel, from wanted droop to wanted bump. */
export function Arcs({ plan, side, paper, station, view }: Plane & { view: StationView | null }) {
  const { chassis, travel } = station;
  const { scale, middle, width, height } = paper;
  const [u, v] = middle;
  const lines = useMemo(() => {
    if (!view) return "";
    const sheet: Paper = { scale, middle: [u, v], width, height };
    const travels = view.travels.filter((_, row) => view.reached[row]);
    const inside = travels.map((z) => z >= -travel.droop - 1e-6 && z <= travel.bump + 1e-6);
    return Object.entries(view.points)
      .filter(([name]) => !chassis.includes(name))
      .map(([, rows]) =>
        path(
          thinned(rows.filter((_, row) => inside[row]).map((p) => toPaper(sheet, project(plan, side, p)))),
        ),
      )
      .join("");
  }, [view, plan, side, chassis, travel, scale, u, v, width, height]);
  return (
    <path
      d={lines}
      fill="none"
      stroke="var(--color-scribe)"
      strokeOpacity={0.75}
      strokeWidth={1.4}
      strokeDasharray="1.5 4.5"
      strokeLinecap="round"
    />
  );
}

export interface Other {
  station: Station;
  points: Record<string, number[]>;
}

/** The other side's parts, faint: bodies and units only. */
export function OtherSide({
  other,
  plan,
  side,
  paper,
}: {
  other: Other;
  plan: Plan;
  side: Side;
  paper: Paper;
}) {
  const at = (name: string): [number, number] | null => {
    const place = other.points[name];
    return place ? toPaper(paper, project(plan, side, place)) : null;
  };
  const spindles = other.station.wheels.map((wheel) => wheel.spindle);
  return (
    <g opacity={0.42} data-testid="other-side">
      {Object.entries(other.station.bodies).map(([body, members]) => {
        const spots = members.filter((name) => !spindles.includes(name)).flatMap((name) => [at(name) ?? []]);
        const known = spots.filter((spot): spot is [number, number] => spot.length === 2);
        return (
          <path
            key={body}
            d={path(known.length > 2 ? hull(known) : known, known.length > 2)}
            fill="none"
            stroke="var(--color-scribe)"
            strokeWidth={1.4}
          />
        );
      })}
      {(other.station.units ?? []).map((unit) => {
        const [one, two] = unit.ends.map(at);
        return one && two && unit.kind !== "strap" && unit.kind !== "bump_stop" ? (
          <Unit key={unit.name} kind={unit.kind} from={one} to={two} scale={paper.scale} />
        ) : null;
      })}
    </g>
  );
}

interface BodyProps {
  members: string[];
  screen: Record<string, [number, number]>;
  broken: boolean;
  station: Station;
  picked: string | null;
}

export function Body({ members, screen, broken, station, picked }: BodyProps) {
  const spindles = station.wheels.map((wheel) => wheel.spindle);
  const at = members
    .filter((name) => !spindles.includes(name))
    .flatMap((name) => (screen[name] ? [screen[name]] : []));
  const held = picked !== null && members.includes(picked);
  const colour = broken ? "var(--color-alarm)" : held ? "var(--color-held)" : "var(--color-soapstone)";
  const dash = broken ? "9 6" : undefined;
  if (members.length === 2) {
    return (
      <path
        d={path(at)}
        stroke={colour}
        strokeWidth={broken ? 4 : 3.4}
        strokeDasharray={dash}
        strokeLinecap="round"
      />
    );
  }
  return (
    <path
      d={path(hull(at), true)}
      fill={colour}
      fillOpacity={held ? 0.2 : 0.1}
      stroke={colour}
      strokeWidth={broken ? 3 : 2}
      strokeDasharray={dash}
      strokeLinejoin="round"
    />
  );
}

interface UnitProps {
  kind: string;
  from: [number, number];
  to: [number, number];
  scale: number;
}

export function Unit({ kind, from, to, scale }: UnitProps) {
  const wide = Math.max(5, Math.min(14, 28 * scale));
  const part = (share: number): [number, number] => [
    from[0] + (to[0] - from[0]) * share,
    from[1] + (to[1] - from[1]) * share,
  ];
  const hasCoil = kind === "coilover" || kind === "spring";
  const hasDamper = kind === "coilover" || kind === "damper";
  return (
    <g fill="none" stroke="var(--color-soapstone)" strokeLinejoin="round">
      {hasDamper && <path d={path([part(0), part(1)])} strokeWidth={2.2} />}
      {hasDamper && (
        <path d={path([part(0.42), part(1)])} strokeWidth={Math.max(5, wide * 0.8)} strokeOpacity={0.45} />
      )}
      {hasCoil && <path d={path(coil(from, to, 6, wide))} strokeWidth={2} />}
      {kind === "air_spring" && (
        <path d={path([part(0.12), part(0.88)])} strokeWidth={wide * 3.4} strokeOpacity={0.3} />
      )}
      {kind === "air_spring" && <path d={path([part(0), part(1)])} strokeWidth={2} />}
      {(kind === "strap" || kind === "bump_stop") && (
        <path
          d={path([part(0), part(1)])}
          strokeWidth={3}
          strokeDasharray={kind === "strap" ? "7 5" : undefined}
          strokeOpacity={0.8}
        />
      )}
    </g>
  );
}

/** An anti-roll bar's half: its drop link thin, its arm thick, the bar end on where it is held. */
export function BarLines({
  low,
  tip,
  held,
}: {
  low: [number, number];
  tip: [number, number];
  held: [number, number];
}) {
  return (
    <g fill="none" stroke="var(--color-soapstone)" strokeLinecap="round">
      <path d={path([low, tip])} strokeWidth={1.8} />
      <path d={path([tip, held])} strokeWidth={4} />
      <circle cx={held[0]} cy={held[1]} r={8} strokeWidth={2} />
    </g>
  );
}

export function Point({
  name,
  at: [x, y],
  chassis,
}: {
  name: string;
  at: [number, number];
  chassis: boolean;
}) {
  if (!chassis)
    return (
      <circle
        cx={x}
        cy={y}
        r={5}
        fill="var(--color-dye)"
        stroke="var(--color-soapstone)"
        strokeWidth={2}
        data-point={name}
      />
    );
  return (
    <g stroke="var(--color-soapstone)" strokeWidth={2} data-point={name}>
      <rect x={x - 5} y={y - 5} width={10} height={10} fill="var(--color-dye)" />
      <path d={`M${x - 5} ${y + 5}L${x + 5} ${y - 5}`} strokeWidth={1.6} />
    </g>
  );
}

export function Picked({ at: [x, y], chassis }: { at: [number, number]; chassis: boolean }) {
  return (
    <g>
      <circle cx={x} cy={y} r={13} fill="none" stroke="var(--color-marker)" strokeWidth={2.4} />
      {chassis ? (
        <rect
          x={x - 6}
          y={y - 6}
          width={12}
          height={12}
          fill="var(--color-marker)"
          stroke="var(--color-jet)"
        />
      ) : (
        <circle cx={x} cy={y} r={6.5} fill="var(--color-marker)" stroke="var(--color-jet)" />
      )}
    </g>
  );
}
