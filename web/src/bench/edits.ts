/** Changes to a document, each returning a new one. */

import type { Project, Station } from "../api/client";

export type Vec = [number, number, number];

/** Changes the station in hand; edits under one key are undone together. */
export type Change = (to: (station: Station) => Station, key?: string) => void;

export function editStation(
  document: Project,
  index: number,
  change: (station: Station) => Station,
): Project {
  return {
    ...document,
    stations: document.stations.map((station, k) => (k === index ? change(station) : station)),
  };
}

/** Put a point somewhere; a tenth of a micron is finer than any scribe. */
export function movePoint(station: Station, name: string, to: Vec): Station {
  const rounded = to.map((value) => Math.round(value * 1e4) / 1e4);
  return { ...station, points: { ...station.points, [name]: rounded } };
}

/** Set a link's length, or take the setting away when it is as drawn. */
export function setLink(station: Station, link: string, length: number, drawn: number): Station {
  const links = { ...station.links };
  if (Math.abs(length - drawn) < 1e-6) delete links[link];
  else links[link] = { ...links[link], length: Math.round(length * 1e4) / 1e4 };
  const next = { ...station, links };
  if (Object.keys(links).length === 0) delete (next as Partial<Station>).links;
  return next;
}

/** Turn a rod's ends: its tube stays as it is cut, so what they hold and what is left to turn go with it. */
export function turnRod(station: Station, name: string, length: number, was: number, drawn: number): Station {
  const next = setLink(station, name, length, drawn);
  const rod = next.rods?.[name];
  if (!rod) return next;
  const by = length - was;
  const left = (value: number | null | undefined, more: number) =>
    value == null ? value : thousandth(value + more);
  const turned = {
    ...rod,
    engagement: rod.engagement ? thousandth(rod.engagement - by / 2) : rod.engagement,
    ...(rod.longer == null ? {} : { longer: left(rod.longer, -by) }),
    ...(rod.shorter == null ? {} : { shorter: left(rod.shorter, by) }),
  };
  return { ...next, rods: { ...next.rods, [name]: turned } };
}

/** Wind a coilover's perch to a preload: what it has left goes with it. */
export function windPerch(station: Station, name: string, preload: number): Station {
  const unit = (station.units ?? []).find((part) => part.name === name);
  if (unit?.kind !== "coilover") return station;
  const by = preload - (unit.preload ?? 0);
  const perch = unit.perch && {
    ...unit.perch,
    up: thousandth(unit.perch.up - by),
    down: thousandth(unit.perch.down + by),
  };
  return setUnit(station, name, { preload, ...(perch ? { perch } : {}) });
}

const thousandth = (value: number): number => Math.round(value * 1e3) / 1e3;

export function setUnit(station: Station, name: string, values: Record<string, unknown>): Station {
  const units = (station.units ?? []).map((unit) => (unit.name === name ? { ...unit, ...values } : unit));
  return { ...station, units: units as Station["units"] };
}
