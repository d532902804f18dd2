import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answer, client, type Shape, type Station } from "../api/client";
import type { Dimension } from "../quantity/quantity";
import { QuantityField } from "../quantity/quantity-field";
import { useSay } from "../quantity/sentence";
import { Trouble, Waiting } from "../session/states";
import { MovingPicture } from "./moving-picture";

type Layout = Shape["LayoutOut"];
export type Brief = Shape["BriefIn"];

const FIELDS: [keyof Brief, string, Dimension, string][] = [
  ["wheel_radius", "Tyre radius, loaded", "length", "floor to the middle of the hub"],
  ["tyre_width", "Tyre width", "length", "at its widest"],
  ["track", "Track", "length", "between the tyres' middles"],
  ["bump", "Bump travel wanted", "length", "wheel up from ride height"],
  ["droop", "Droop travel wanted", "length", "wheel down from ride height"],
  ["corner_mass", "Mass at this wheel, finished", "mass", "with the parts still to come"],
  ["unsprung_mass", "Unsprung part of it", "mass", "wheel, brake, half of the arms"],
  ["frequency", "Frequency wanted", "frequency", "road 1.0–1.6, sport 1.6–2.2, circuit 2.2–3.0"],
];

export const USUAL: Brief = {
  wheel_radius: 310,
  tyre_width: 205,
  track: 1480,
  bump: 70,
  droop: 55,
  corner_mass: 280,
  unsprung_mass: 38,
  frequency: 1.5,
};

type RoomFree = Shape["RoomIn"];

const FREE: [keyof Omit<RoomFree, "purpose">, string, string][] = [
  ["beside", "Tyre to frame", "free between the tyre's inner face and the rail"],
  ["above", "Above the hub", "free from the hub's middle up to body or bonnet"],
  ["under", "Ground clearance", "wanted under spring, damper and rocker"],
  ["bag", "Width for a bag", "free where it would stand"],
];

const ROOM = [
  ["axle", "A live axle", (layout: Layout) => layout.kind === "axle"],
  ["corner", "Independent", (layout: Layout) => layout.kind === "corner"],
  ["inboard", "No room beside the tyre", (layout: Layout) => layout.inboard],
  ["air", "On air", (layout: Layout) => layout.air],
] as const;

interface Props {
  /** What is written on the press that takes an arrangement. */
  take: string;
  onTake: (stations: Station[], layout: Layout) => void;
  /** What the job is for, if it is said: road, sport, circuit or rough. */
  purpose?: string;
}

/** Say what the wheel must do, then choose how it is carried: each card draws how it moves. */
export function Arrangements({ take, onTake, purpose = "" }: Props) {
  const [brief, setBrief] = useState<Brief>(USUAL);
  const [room, setRoom] = useState<string[]>([]);
  const [free, setFree] = useState<RoomFree>({});
  const asked = useQuiet(brief);
  const weighed = useQuery({
    queryKey: ["suited", asked, free, purpose],
    queryFn: () =>
      answer(
        client.POST("/api/layouts/suited", {
          body: { brief: asked, room: { ...free, purpose: (purpose || null) as RoomFree["purpose"] } },
        }),
      ),
    placeholderData: (before) => before,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const suits = new Map((weighed.data ?? []).map((one) => [one.name, one]));
  const layouts = useQuery({
    queryKey: ["layouts"],
    queryFn: () => answer(client.GET("/api/layouts")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const start = useMutation({
    mutationFn: (layout: Layout) =>
      answer(
        client.POST("/api/layouts/{name}/start", {
          params: { path: { name: layout.name } },
          body: { ...brief, beside: free.beside ?? null },
        }),
      ),
    onSuccess: (made, layout) => onTake(made.stations, layout),
  });
  const filters = ROOM.filter(([key]) => room.includes(key));
  const kept = (layouts.data ?? []).filter((layout) => filters.every(([, , fits]) => fits(layout)));
  // What fits the room comes first; what does not stays in sight, with the reason on it.
  const fitting = kept.filter((layout) => suits.get(layout.name)?.fits !== false);
  const shown = [...fitting, ...kept.filter((layout) => !fitting.includes(layout))];
  return (
    <div>
      <fieldset className="grid grid-cols-2 gap-x-8 gap-y-1 max-md:grid-cols-1">
        <legend className="pb-1 text-lg font-semibold">What must this wheel do?</legend>
        {FIELDS.map(([key, name, dimension, hint]) => (
          <div key={key} className="grid grid-cols-[1fr_10.5rem] items-center gap-2">
            <span className="leading-tight">
              {name}
              <span className="block text-sm text-soft">{hint}</span>
            </span>
            <QuantityField
              label={name}
              value={brief[key] ?? 0}
              dimension={dimension}
              check={(value) => faultOf(key, value, brief)}
              onCommit={(value) => setBrief((before) => ({ ...before, [key]: value }))}
            />
          </div>
        ))}
      </fieldset>
      <fieldset className="mt-5 flex flex-wrap items-center gap-2">
        <legend className="pb-1 text-lg font-semibold">What does the room allow?</legend>
        {ROOM.map(([key, words]) => (
          <button
            key={key}
            type="button"
            aria-pressed={room.includes(key)}
            className="press aria-pressed:border-press aria-pressed:bg-press aria-pressed:text-white"
            onClick={() =>
              setRoom((before) =>
                before.includes(key) ? before.filter((its) => its !== key) : [...before, key],
              )
            }
          >
            {words}
          </button>
        ))}
        <span className="text-soft" role="status">
          {layouts.data
            ? `${shown.length} of ${layouts.data.length} arrangements${fitting.length < shown.length ? `, ${fitting.length} with room for them` : ""}`
            : ""}
        </span>
      </fieldset>
      <div className="mt-2 grid grid-cols-2 gap-x-8 gap-y-1 max-md:grid-cols-1">
        {FREE.map(([key, name, hint]) => (
          <div key={key} className="grid grid-cols-[1fr_10.5rem] items-center gap-2">
            <span className="leading-tight">
              {name}
              <span className="block text-sm text-soft">
                {hint}
                {free[key] == null ? ", optional" : ""}
                {free[key] != null && (
                  <button
                    type="button"
                    className="ml-2 text-link underline"
                    onClick={() => setFree((before) => ({ ...before, [key]: null }))}
                  >
                    leave it out
                  </button>
                )}
              </span>
            </span>
            <QuantityField
              label={name}
              value={free[key] ?? 0}
              blank={free[key] == null}
              dimension="length"
              check={(value) => (value >= 0 && value <= 2000 ? null : "Give 0 to 2 m.")}
              onCommit={(value) => setFree((before) => ({ ...before, [key]: value }))}
            />
          </div>
        ))}
      </div>
      {weighed.isError && <p className="mt-2 text-sm text-fault">{weighed.error.message}</p>}
      {layouts.isPending && <Waiting what="Drawing the arrangements" />}
      {layouts.isError && (
        <Trouble title="The arrangements cannot be shown" detail={layouts.error.message}>
          <button type="button" className="press press-main" onClick={() => layouts.refetch()}>
            Try again
          </button>
        </Trouble>
      )}
      {start.isError && (
        <div role="alert" className="mt-3 border-2 border-fault bg-card p-3">
          <p className="font-semibold">This one cannot be started at that size.</p>
          <p className="text-sm">{start.error.message}</p>
        </div>
      )}
      {layouts.data && shown.length === 0 && (
        <p className="mt-4 text-soft">No arrangement meets all of that. Ease one of the requirements.</p>
      )}
      <ul className="mt-4 grid grid-cols-[repeat(auto-fill,minmax(250px,1fr))] gap-4">
        {shown.map((layout) => (
          <li
            key={layout.name}
            data-testid={`card-${layout.name}`}
            className={`flex flex-col border bg-card ${suits.get(layout.name)?.fits === false ? "border-warning" : "border-rule"}`}
          >
            <MovingPicture layout={layout} />
            <div className="flex flex-1 flex-col gap-1 p-3">
              <h2 className="font-semibold leading-tight">{layout.title}</h2>
              <p className="text-sm leading-snug">{layout.moves}</p>
              <p className="text-sm leading-snug text-soft">Room: {layout.room}.</p>
              <Reasons one={suits.get(layout.name)} />
              <button
                type="button"
                className="press press-main mt-auto"
                disabled={start.isPending}
                onClick={() => start.mutate(layout)}
                aria-label={`${take}: ${layout.title}`}
              >
                {start.isPending && start.variables?.name === layout.name ? "Sizing it …" : take}
              </button>
            </div>
          </li>
        ))}
      </ul>
    </div>
  );
}

const QUIET_MS = 500;

/** A value once it has stood still for a moment: every arrangement is drawn anew for it. */
function useQuiet<T>(value: T): T {
  const [quiet, setQuiet] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setQuiet(value), QUIET_MS);
    return () => clearTimeout(timer);
  }, [value]);
  return quiet;
}

/** Why, and why not, for this job: worked out at its own size. */
function Reasons({ one }: { one: Shape["SuitedOut"] | undefined }) {
  const say = useSay();
  if (!one) return null;
  return (
    <ul className="pb-2 text-sm leading-snug">
      {[
        ...one.why_not.map((its) => ["✕", "Against", its] as const),
        ...one.why.map((its) => ["✓", "For", its] as const),
      ].map(([sign, word, its]) => (
        <li key={its.words} className="flex gap-1.5">
          <span aria-hidden className={sign === "✕" ? "font-bold text-warning" : "font-bold text-good"}>
            {sign}
          </span>
          <span>
            <span className="sr-only">{word}: </span>
            {say(its)}
          </span>
        </li>
      ))}
    </ul>
  );
}

function faultOf(key: keyof Brief, value: number, brief: Brief): string | null {
  if (value <= 0 && key !== "unsprung_mass") return "It must be more than zero.";
  const bounds: Partial<Record<keyof Brief, [number, number, string]>> = {
    wheel_radius: [50, 1000, "A tyre is 50 mm to a metre in radius."],
    tyre_width: [20, 1000, "A tyre is 20 mm to a metre wide."],
    track: [300, 4000, "A track is 300 mm to 4 m."],
    bump: [5, 500, "Travel each way is 5 to 500 mm."],
    droop: [5, 500, "Travel each way is 5 to 500 mm."],
    corner_mass: [5, 20000, "A corner is 5 kg to 20 t."],
    frequency: [0.4, 6, "Vehicles ride at 0.4 to 6 Hz."],
  };
  const [least, most, words] = bounds[key] ?? [0, Number.POSITIVE_INFINITY, ""];
  if (value < least || value > most) return words;
  if (key === "unsprung_mass" && value >= (brief.corner_mass ?? 0))
    return "It must be less than the whole mass at this wheel.";
  if (key === "corner_mass" && value <= (brief.unsprung_mass ?? 0))
    return "It must be more than the unsprung part of it.";
  return null;
}
