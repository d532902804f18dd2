import type { Shape, Station } from "../api/client";
import { placeOf, valueAt } from "../jack/travel";
import type { Rocker } from "./plane";
import type { Targets } from "./search";

/** A ratio through the travel. */
export interface Run {
  travels: number[];
  ratio: (number | null)[];
}

/** Targets to begin with: what the rocker does now, square at ride height. */
export function startingTargets(rocker: Rocker, run: Run): Targets {
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

/** What it gives as it stands, rate and stroke: where another kind of target begins. */
export function usualTargets(
  view: Shape["StationView"] | null | undefined,
  rocker: Rocker,
  station: Station,
  run: Run,
): { ratio: number; wheel_rate: number; stroke: number } {
  const { bump, droop } = station.travel;
  const lengths = (view?.units[rocker.unit]?.length ?? []).filter((long, row): long is number => {
    const z = view?.travels[row] ?? 0;
    return long !== null && Boolean(view?.reached[row]) && z >= -droop - 1e-6 && z <= bump + 1e-6;
  });
  const used = lengths.length ? Math.max(...lengths) - Math.min(...lengths) : 80;
  return {
    ratio: startingTargets(rocker, run).ratio ?? 0.7,
    wheel_rate: Math.round((view?.ride?.wheel_rate ?? 20) * 10) / 10,
    stroke: Math.round(used),
  };
}

/** The ratio asked for, as a straight line over the wanted travel, for the eye. */
export function targetRun(targets: Targets, travels: number[], station: Station): Run | null {
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

/** Where the ratio asked for can be taken hold of: where the wheel should stand, and in full bump. */
export interface Pull {
  name: "level" | "rise";
  words: string;
  travel: number;
  ratio: number;
}

const BUMP_ROOM_MM = 5;
const STEP = 0.005;

export function pullsOf(targets: Targets, station: Station): Pull[] {
  const { bump, droop } = station.travel;
  const at = station.travel.at ?? 0;
  const ratio = targets.ratio;
  if (ratio == null) return [];
  const level: Pull = { name: "level", words: "The ratio asked for, at ride", travel: at, ratio };
  if (targets.change == null || bump - at < BUMP_ROOM_MM) return [level];
  const there = ratio * (1 + (targets.change * (bump - at)) / (bump + droop));
  return [level, { name: "rise", words: "The ratio asked for, in full bump", travel: bump, ratio: there }];
}

/** The targets with the wanted ratio pulled to a value where it was taken hold of, in steps that a bench can tell apart. */
export function pulled(targets: Targets, station: Station, name: Pull["name"], ratio: number): Targets {
  const { bump, droop } = station.travel;
  const at = station.travel.at ?? 0;
  const round = (value: number) => Math.round(value / STEP) * STEP;
  const within = (value: number, least: number, most: number) => Math.min(most, Math.max(least, value));
  if (name === "level") return { ...targets, ratio: within(round(ratio), 0.05, 5) };
  const share = (ratio / (targets.ratio ?? 1) - 1) * ((bump + droop) / (bump - at));
  return { ...targets, change: within(round(share), -0.6, 1.5) };
}

/** A room on the drawing: a box about a place, mm each way along the vehicle's own directions. */
export interface Room {
  name: "pivot_room" | "far_room";
  words: string;
  about: string[];
  half: number[];
}

export function roomsOf(rocker: Rocker, targets: Targets): Room[] {
  const far: Room = {
    name: "far_room",
    words: "room for the damper's far end",
    about: [rocker.far],
    half: targets.far_room ?? [150, 150, 150],
  };
  if (rocker.shared || targets.along) return [far];
  const pivot: Room = {
    name: "pivot_room",
    words: "room for the pivot",
    about: rocker.pivots,
    half: targets.pivot_room ?? [40, 40, 40],
  };
  return [pivot, far];
}
