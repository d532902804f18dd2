import type { Station } from "../api/client";
import { placeOf, valueAt } from "../jack/travel";
import type { Rocker } from "./plane";
import type { Run } from "./ratio-curve";
import type { Targets } from "./search";

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
