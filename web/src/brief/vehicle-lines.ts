/** The whole vehicle as the Brief draws it: wheels where they stand, masses, datums and parts to come; mm, plain numbers. */

import type { Project, Station } from "../api/client";

export interface WheelSpot {
  station: number;
  name: string;
  /** x forward, y left, z up. */
  at: [number, number, number];
  radius: number;
  width: number;
  /** kg at this wheel, now. */
  mass: number;
  finished: number | null;
  /** The mirror image of a corner whose other side is not drawn apart. */
  image: boolean;
}

export interface DatumSpot {
  station: number;
  name: string;
  x: number;
  y: number;
  height: number;
}

export interface PartSpot {
  name: string;
  mass: number;
  /** Between the stations that carry it, by their shares; null where nobody carries it yet. */
  x: number | null;
  y: number;
}

export interface VehicleLines {
  wheels: WheelSpot[];
  datums: DatumSpot[];
  parts: PartSpot[];
  floor: number;
  low: [number, number];
  high: [number, number];
  top: number;
}

const RADIUS = 300;
const WIDTH = 200;

export function vehicleLines(document: Project): VehicleLines | null {
  const wheels: WheelSpot[] = [];
  const datums: DatumSpot[] = [];
  document.stations.forEach((station, index) => {
    if (station.variant_of) return;
    for (const wheel of station.wheels) {
      const at = place(station, wheel.centre);
      const spot = {
        station: index,
        name: station.wheels.length > 1 ? `${station.name}, ${wheel.name}` : station.name,
        at,
        radius: wheel.tyre_radius ?? RADIUS,
        width: wheel.tyre_width ?? WIDTH,
        mass: station.mass.corner,
        finished: station.mass.finished ?? null,
        image: false,
      };
      wheels.push(spot);
      const mirrored = station.kind === "corner" && (station.other_side ?? "mirror") === "mirror";
      if (mirrored && Math.abs(at[1]) > 20)
        wheels.push({
          ...spot,
          name: `${station.name}, other side`,
          at: [at[0], -at[1], at[2]],
          image: true,
        });
    }
    const first = station.wheels[0];
    if (station.datum && first) {
      const [x, y] = place(station, first.centre);
      datums.push({ station: index, name: station.datum.name, x, y, height: station.datum.height });
    }
  });
  if (!wheels.length) return null;
  const parts = (document.coming ?? []).map((part) => {
    const shares = Object.entries(part.carried ?? {}).flatMap(([name, share]) => {
      const its = wheels.filter((wheel) => document.stations[wheel.station]?.name === name);
      const x = its.length ? mean(its.map((wheel) => wheel.at[0])) : null;
      return x === null ? [] : [{ share: share as number, x, y: mean(its.map((wheel) => wheel.at[1])) }];
    });
    const whole = shares.reduce((sum, { share }) => sum + share, 0);
    return {
      name: part.name,
      mass: part.mass,
      x: whole > 0 ? shares.reduce((sum, { share, x }) => sum + share * x, 0) / whole : null,
      y: whole > 0 ? shares.reduce((sum, { share, y }) => sum + share * y, 0) / whole : 0,
    };
  });
  const floor = Math.min(...wheels.map((wheel) => wheel.at[2] - wheel.radius));
  return {
    wheels,
    datums,
    parts,
    floor,
    low: [
      Math.min(...wheels.map(({ at, radius }) => at[0] - radius)),
      Math.min(...wheels.map(({ at, width }) => at[1] - width / 2)),
    ],
    high: [
      Math.max(...wheels.map(({ at, radius }) => at[0] + radius)),
      Math.max(...wheels.map(({ at, width }) => at[1] + width / 2)),
    ],
    top: Math.max(
      ...wheels.map(({ at, radius }) => at[2] + radius),
      floor + (document.vehicle?.cg_height ?? 0) + 120,
      ...datums.map(({ height }) => floor + height + 60),
    ),
  };
}

function place(station: Station, point: string): [number, number, number] {
  const [x = 0, y = 0, z = 0] = (station.points as Record<string, number[]>)[point] ?? [];
  return [x, y, z];
}

function mean(values: number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / Math.max(values.length, 1);
}
