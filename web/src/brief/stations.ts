import type { Project, Station } from "../api/client";

/** The document without a station. Its first variant stands in for it, by that name, wherever it was named. */
export function withoutStation(document: Project, index: number): Project {
  const name = document.stations[index]?.name ?? "";
  const heir = document.stations.find((station) => station.variant_of === name)?.name;
  const stations = document.stations
    .filter((_, k) => k !== index)
    .map((other) => {
      const { variant_of, ...rest } = other;
      const variant = variant_of === name ? (other.name === heir ? undefined : heir) : variant_of;
      const kept = (variant ? { ...rest, variant_of: variant } : rest) as Station;
      return kept.other_side === name ? { ...kept, other_side: heir ?? "mirror" } : kept;
    });
  const coming = (document.coming ?? []).map((part) => {
    const { [name]: share, ...carried } = (part.carried ?? {}) as Record<string, number>;
    return { ...part, carried: heir && share !== undefined ? { ...carried, [heir]: share } : carried };
  });
  return { ...document, stations, ...(document.coming ? { coming } : {}) } as Project;
}

/** The document with a copy of a station beside it, to be changed and compared. */
export function withVariant(document: Project, index: number): Project {
  const its = document.stations[index] as Station;
  const taken = new Set(document.stations.map((station) => station.name));
  const copy = {
    ...structuredClone(its),
    name: freeName(`${its.name}, variant`, taken),
    variant_of: its.variant_of ?? its.name,
  } as Station;
  return {
    ...document,
    stations: [...document.stations.slice(0, index + 1), copy, ...document.stations.slice(index + 1)],
  } as Project;
}

/** A name that no station has yet; it is taken with that. */
export function freeName(name: string, taken: Set<string>): string {
  let free = name;
  for (let k = 2; taken.has(free); k++) free = `${name} ${k}`;
  taken.add(free);
  return free;
}
