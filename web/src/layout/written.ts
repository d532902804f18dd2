import type { Project, Station } from "../api/client";
import type { Articulated } from "../bench/articulated";
import type { Solved } from "../bench/solved";
import { placeOf, valueAt } from "../jack/travel";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import type { Other } from "../views/scribed";
import { SELDOM_MET } from "./figure-rows";

/** The other side: its mirror image at the same height, or, a station of its own, as it is drawn. */
export function otherSide(
  document: Project,
  station: Station,
  points: Record<string, number[]>,
): Other | null {
  if (station.kind === "axle" || station.other_side === "alone") return null;
  const centre = station.points[station.wheels[0]?.centre ?? ""]?.[1] ?? 0;
  if (Math.abs(centre) < 20) return null;
  const named = document.stations.find((its) => its.name === station.other_side);
  if (named) return { station: named, points: named.points as Record<string, number[]> };
  const mirrored: Record<string, number[]> = {};
  for (const [name, [x = 0, y = 0, z = 0]] of Object.entries(points)) mirrored[name] = [x, -y, z];
  return { station, points: mirrored };
}

/** The bodies that a refusal names. */
export function brokenBodies(values: Record<string, unknown>): string[] {
  if (typeof values.body === "string") return [values.body];
  return Array.isArray(values.bodies) ? values.bodies.filter((body) => typeof body === "string") : [];
}

/** What the angle finder reads at each rocker joint. */
export function anglesAt(solved: Solved, place: ReturnType<typeof placeOf>) {
  return (solved.view?.angles ?? []).flatMap((angle) => {
    const value = valueAt(angle.angle, place);
    const what = `${spoken(angle.rod)} to arm`;
    return value === null ? [] : [{ point: angle.point, text: `${what} ${value.toFixed(1)}°` }];
  });
}

/** Lengths to write on the drawing: each unit, and each rod that meets a rocker. */
export function useLengths(
  solved: Solved,
  station: Station,
  at: number,
  articulated: Articulated | null,
): Record<string, string> {
  const { quantity } = useUnits();
  const view = solved.view;
  if (!view || solved.refused) return {};
  const place = placeOf(view.travels, at);
  const found: Record<string, string> = {};
  for (const unit of station.units ?? []) {
    // Stops usually share their ends with what they stop; the drawing has no room for both.
    if (SELDOM_MET.has(unit.kind)) continue;
    const length = articulated
      ? valueAt(articulated.lengths[unit.name], placeOf(articulated.travels, at))
      : valueAt(view.units[unit.name]?.length, place);
    if (length !== null) found[unit.name] = `${spoken(unit.name)} ${quantity(length, "length")}`;
  }
  for (const angle of view.angles) {
    const link = view.links[angle.rod];
    if (link) found[angle.rod] = `${spoken(angle.rod)} ${quantity(link.length, "length")}`;
  }
  return found;
}
