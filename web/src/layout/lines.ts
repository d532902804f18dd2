import type { Station } from "../api/client";
import { spoken } from "../quantity/spoken";

/** A line that an end may slide along: where it starts, and its way (of any length). */
export interface Line {
  key: string;
  name: string;
  start: number[];
  way: number[];
}

/** Lines an end may slide along: the strut's own, upright, tubes on the chassis, edges of the arm, two picked points. */
export function linesOf(
  station: Station,
  unit: { ends: string[] },
  end: string,
  picked: string | null,
): Line[] {
  const from = station.points[end] as number[] | undefined;
  const held = station.points[unit.ends.find((name) => name !== end) ?? ""] as number[] | undefined;
  if (!from || !held) return [];
  const toward = (to: number[], start = from) => to.map((value, k) => value - (start[k] ?? 0));
  const lines: Line[] = [
    { key: "strut", name: "its own line", start: from, way: toward(held) },
    { key: "up", name: "straight up and down", start: from, way: [0, 0, 1] },
    { key: "out", name: "straight in and out", start: from, way: [0, 1, 0] },
    { key: "fore", name: "straight fore and aft", start: from, way: [1, 0, 0] },
  ];
  if (station.chassis.includes(end)) {
    for (const envelope of station.envelopes ?? []) {
      if ((envelope.on ?? "chassis") !== "chassis" || !envelope.along) continue;
      const [one, other] = envelope.along.map((place) =>
        typeof place === "string" ? (station.points[place] as number[]) : place,
      );
      if (!one || !other) continue;
      const way = toward(other, one);
      lines.push({
        key: `on ${envelope.name}`,
        name: `the middle of ${envelope.name}`,
        start: onLine(one, way, from),
        way,
      });
      lines.push({
        key: `by ${envelope.name}`,
        name: `along ${envelope.name}, as far from it as now`,
        start: from,
        way,
      });
    }
  } else {
    const host = Object.values(station.bodies)
      .filter((members) => members.includes(end))
      .sort((a, b) => b.length - a.length)[0];
    for (const name of (host ?? []).filter((its) => its !== end)) {
      const to = station.points[name] as number[];
      lines.push({ key: `to ${name}`, name: `toward ${spoken(name)}`, start: from, way: toward(to) });
    }
  }
  if (picked && picked !== end) {
    const to = station.points[picked] as number[];
    lines.push({ key: "picked", name: `toward the picked ${spoken(picked)}`, start: from, way: toward(to) });
  }
  return lines.filter((line) => Math.hypot(...line.way) > 1e-6);
}

/** The foot of a place on a line. */
function onLine(start: number[], way: number[], place: number[]): number[] {
  const square = way.reduce((sum, value) => sum + value * value, 0) || 1;
  const share = way.reduce((sum, value, k) => sum + value * ((place[k] ?? 0) - (start[k] ?? 0)), 0) / square;
  return start.map((value, k) => value + share * (way[k] ?? 0));
}
