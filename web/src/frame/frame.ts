/** The tubes behind the brackets: asked what they bear, and edited. */

import { useQuery } from "@tanstack/react-query";
import { answer, client, type Project, type Shape } from "../api/client";
import { followed } from "../api/working";

export type Carried = NonNullable<Shape["FrameOut"]>;
export type Frame = NonNullable<Project["frame"]>;
export type Member = NonNullable<Frame["members"]>[number];
export type Advice = Carried["advice"][number];

/** What it is worked out under. */
export const NAME = "frame";
const EMPTY = { nodes: {}, members: [], held: {}, carries: {}, mirrored: true } as unknown as Frame;

/** Ask what a document's frame bears; nothing where it has none. */
export function useCarried(document: Project) {
  const { survey, records: _, ...rest } = document;
  const asked = { ...rest, ...(survey ? { survey } : {}) } as Project;
  return useQuery({
    queryKey: ["frame", JSON.stringify(asked)],
    queryFn: ({ signal }) =>
      answer(
        followed(
          NAME,
          (headers) => client.POST("/api/frame", { body: { document: asked }, headers, signal }),
          signal,
        ),
      ),
    enabled: !!document.frame?.members?.length,
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: (before) => before,
    retry: false,
  });
}

export function withFrame(document: Project, change: (frame: Frame) => Frame): Project {
  return { ...document, frame: change(document.frame ?? EMPTY) };
}

export function addNode(document: Project, name: string, at: number[] | string): Project {
  return withFrame(document, (frame) => ({ ...frame, nodes: { ...frame.nodes, [name]: at as number[] } }));
}

/** Take a node away, with what stood on it. */
export function dropNode(document: Project, name: string): Project {
  return withFrame(document, (frame) => {
    const { [name]: _, ...nodes } = frame.nodes ?? {};
    const { [name]: __, ...held } = frame.held ?? {};
    return {
      ...frame,
      nodes,
      held,
      members: (frame.members ?? []).filter((one) => !one.ends.includes(name)),
    };
  });
}

export function setMember(document: Project, member: Member, replaces: string | null): Project {
  return withFrame(document, (frame) => {
    const members = frame.members ?? [];
    const there = members.some((one) => one.name === replaces);
    return {
      ...frame,
      members: there ? members.map((one) => (one.name === replaces ? member : one)) : [...members, member],
    };
  });
}

export function dropMember(document: Project, name: string): Project {
  return withFrame(document, (frame) => ({
    ...frame,
    members: (frame.members ?? []).filter((one) => one.name !== name),
    carries: Object.fromEntries(Object.entries(frame.carries ?? {}).filter(([, on]) => on.member !== name)),
  }));
}

export function setHeld(document: Project, name: string, how: "fixed" | "pinned" | ""): Project {
  return withFrame(document, (frame) => {
    const { [name]: _, ...held } = frame.held ?? {};
    return { ...frame, held: how ? { ...held, [name]: how } : held };
  });
}

/** Put advice in: a member added, put in the place of another, or taken out. */
export function taken(document: Project, advice: Advice): Project {
  if (advice.member) return setMember(document, advice.member as unknown as Member, advice.replaces);
  return advice.replaces ? dropMember(document, advice.replaces) : document;
}

/** Places that a node may be named after: points of stations and marks of the survey. */
export function namedPlaces(document: Project): string[] {
  const points = document.stations.flatMap((station) =>
    Object.keys(station.points).map((point) => `${station.name}/${point}`),
  );
  return [...points, ...Object.keys(document.survey?.marks ?? {})];
}

/** A name that is not taken. */
export function freeName(taken: string[], stem: string): string {
  let name = stem;
  for (let k = 2; taken.includes(name); k++) name = `${stem} ${k}`;
  return name;
}

export const METALS = ["S235", "S275", "S355", "E235", "E355", "25CrMo4"] as const;

/** How near to its limit a member is: told by colour, by the stroke, and in words. */
export const BANDS = [
  { upTo: 0.33, name: "under a third of its limit", color: "var(--color-scribe)", dash: undefined },
  { upTo: 0.67, name: "under two thirds", color: "var(--color-ride)", dash: undefined },
  { upTo: 1, name: "up to its limit", color: "var(--color-marker)", dash: "26 5" },
  { upTo: Number.POSITIVE_INFINITY, name: "over its limit", color: "var(--color-alarm)", dash: "9 7" },
] as const;

export const bandOf = (share: number) => BANDS.find((band) => share <= band.upTo) ?? BANDS[3];

const OTHER = ", other side";
/** Of a figure: two sides no further apart are said once. */
const LIKE = 0.02;

/** What is there, the other side's left out where it does the same. */
export function onceEach<T extends { name: string }>(all: T[], figure: (one: T) => number): T[] {
  return all.filter((one) => {
    const mine = all.find((other) => one.name === other.name + OTHER);
    return !mine || Math.abs(figure(mine) - figure(one)) > LIKE * Math.abs(figure(mine));
  });
}
