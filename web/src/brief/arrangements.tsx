import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, client, type Shape, type Station } from "../api/client";
import type { Dimension } from "../quantity/quantity";
import { QuantityField } from "../quantity/quantity-field";
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

const ROOM = [
  ["axle", "A live axle", (layout: Layout) => layout.kind === "axle"],
  ["corner", "Wheels by themselves", (layout: Layout) => layout.kind === "corner"],
  ["inboard", "No room beside the tyre", (layout: Layout) => layout.inboard],
  ["air", "On air", (layout: Layout) => layout.air],
] as const;

interface Props {
  /** What is written on the press that takes an arrangement. */
  take: string;
  onTake: (stations: Station[], layout: Layout) => void;
}

/** Say what the wheel must do, then choose how it is carried: each card draws how it moves. */
export function Arrangements({ take, onTake }: Props) {
  const [brief, setBrief] = useState<Brief>(USUAL);
  const [room, setRoom] = useState<string[]>([]);
  const layouts = useQuery({
    queryKey: ["layouts"],
    queryFn: () => answer(client.GET("/api/layouts")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const start = useMutation({
    mutationFn: (layout: Layout) =>
      answer(
        client.POST("/api/layouts/{name}/start", { params: { path: { name: layout.name } }, body: brief }),
      ),
    onSuccess: (made, layout) => onTake(made.stations as unknown as Station[], layout),
  });
  const filters = ROOM.filter(([key]) => room.includes(key));
  const shown = (layouts.data ?? []).filter((layout) => filters.every(([, , fits]) => fits(layout)));
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
            className="press aria-pressed:border-[#1d3f82] aria-pressed:bg-[#1d3f82] aria-pressed:text-white"
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
          {layouts.data ? `${shown.length} of ${layouts.data.length} arrangements` : ""}
        </span>
      </fieldset>
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
        <p className="mt-4 text-soft">No arrangement fits all of that. Take one of the demands back.</p>
      )}
      <ul className="mt-4 grid grid-cols-[repeat(auto-fill,minmax(250px,1fr))] gap-4">
        {shown.map((layout) => (
          <li key={layout.name} className="flex flex-col border border-rule bg-card">
            <MovingPicture layout={layout} />
            <div className="flex flex-1 flex-col gap-1 p-3">
              <h2 className="font-semibold leading-tight">{layout.title}</h2>
              <p className="text-sm leading-snug">{layout.moves}</p>
              <p className="text-sm leading-snug text-soft">Room: {layout.room}.</p>
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

function faultOf(key: keyof Brief, value: number, brief: Brief): string | null {
  if (value <= 0 && key !== "unsprung_mass") return "It is more than nothing.";
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
