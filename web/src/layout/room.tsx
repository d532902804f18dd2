import { Plus, Trash2 } from "lucide-react";
import { useId } from "react";
import type { Shape, Station } from "../api/client";
import { QuantityField } from "../quantity/quantity-field";
import { spoken } from "../quantity/spoken";
import { Shafts } from "./shafts";

type Envelope = Shape["Envelope"];
type Place = string | number[];

interface Props {
  station: Station;
  picked: string | null;
  change: (to: (station: Station) => Station, key?: string) => void;
}

const WHAT = ["structure", "bodywork", "floor", "link"] as const;
const AXES = ["fore–aft", "to the left", "up"];

/** Rails, tubes and panels: what takes room near the wheel, entered by numbers or from picked points. */
export function Room({ station, picked, change }: Props) {
  const envelopes = station.envelopes ?? [];
  const set = (at: number, values: Partial<Envelope>) =>
    change(
      (s) => ({
        ...s,
        envelopes: (s.envelopes ?? []).map((its, k) => (k === at ? { ...its, ...values } : its)),
      }),
      `room ${at}`,
    );
  const add = (envelope: Omit<Envelope, "name">, name: string) =>
    change((s) => {
      const taken = new Set((s.envelopes ?? []).map((its) => its.name));
      let free = name;
      for (let k = 2; taken.has(free); k++) free = `${name} ${k}`;
      return { ...s, envelopes: [...(s.envelopes ?? []), { ...envelope, name: free } as Envelope] };
    });
  const near = placeOf(station, picked);
  return (
    <div className="pb-6">
      <h2 className="px-2 pt-3 text-lg">What takes room here?</h2>
      <p className="px-2 text-sm text-soft">
        Tyres, coils and bags count by themselves. New parts start at {picked ? spoken(picked) : "the wheel"}.
      </p>
      <div className="flex flex-wrap gap-2 p-2">
        <button
          type="button"
          className="press px-3"
          onClick={() =>
            add(
              { shape: "box", on: "chassis", what: "structure", centre: near, size: [800, 60, 100] } as never,
              "rail",
            )
          }
        >
          <Plus size={18} aria-hidden /> Rail or box
        </button>
        <button
          type="button"
          className="press px-3"
          onClick={() =>
            add(
              {
                shape: "capsule",
                on: "chassis",
                what: "structure",
                along: [
                  [near[0] - 200, near[1], near[2]],
                  [near[0] + 200, near[1], near[2]],
                ],
                radius: 19,
              } as never,
              "tube",
            )
          }
        >
          <Plus size={18} aria-hidden /> Tube
        </button>
        <button
          type="button"
          className="press px-3"
          onClick={() =>
            add(
              {
                shape: "plate",
                on: "chassis",
                what: "bodywork",
                outline: [
                  [near[0] - 300, near[1] - 150, near[2]],
                  [near[0] + 300, near[1] - 150, near[2]],
                  [near[0] + 300, near[1] + 150, near[2]],
                  [near[0] - 300, near[1] + 150, near[2]],
                ],
                thickness: 2,
              } as never,
              "panel",
            )
          }
        >
          <Plus size={18} aria-hidden /> Panel
        </button>
      </div>
      {envelopes.map((envelope, k) => (
        <OneEnvelope
          // biome-ignore lint/suspicious/noArrayIndexKey: the name is being typed; its place in the list is its own
          key={k}
          envelope={envelope}
          station={station}
          picked={picked}
          set={(values) => set(k, values)}
          remove={() => change((s) => ({ ...s, envelopes: (s.envelopes ?? []).filter((_, n) => n !== k) }))}
        />
      ))}
      <Shafts station={station} change={change} />
    </div>
  );
}

function placeOf(station: Station, picked: string | null): [number, number, number] {
  const wheel = station.points[station.wheels[0]?.centre ?? ""] ?? [0, 0, 0];
  const at = (picked && station.points[picked]) || wheel;
  return [at[0] ?? 0, at[1] ?? 0, at[2] ?? 0];
}

interface OneProps {
  envelope: Envelope;
  station: Station;
  picked: string | null;
  set: (values: Partial<Envelope>) => void;
  remove: () => void;
}

function OneEnvelope({ envelope, station, picked, set, remove }: OneProps) {
  const hosts = ["chassis", ...Object.keys(station.bodies)];
  const id = useId();
  const places = (key: "along" | "outline") => (envelope[key] ?? []) as Place[];
  const setPlace = (key: "along" | "outline", n: number, to: Place) =>
    set({ [key]: places(key).map((its, k) => (k === n ? to : its)) } as Partial<Envelope>);
  return (
    <section aria-label={envelope.name} className="border-b border-rule px-2 py-3">
      <div className="flex items-center gap-2">
        <input
          aria-label="Name of this part"
          className="entry flex-1 font-semibold"
          defaultValue={envelope.name}
          maxLength={120}
          onBlur={(event) => {
            const name = event.target.value.trim();
            const taken = (station.envelopes ?? []).some((its) => its !== envelope && its.name === name);
            if (name && !taken && name !== envelope.name) set({ name });
            else event.target.value = envelope.name;
          }}
        />
        <button
          type="button"
          className="press border-transparent px-3"
          aria-label={`Remove ${envelope.name}`}
          onClick={remove}
        >
          <Trash2 size={18} aria-hidden />
        </button>
      </div>
      <div className="mt-1 grid grid-cols-2 gap-2">
        <label htmlFor={`${id}on`} className="text-sm text-soft">
          goes with
          <select
            id={`${id}on`}
            className="entry text-base text-ink"
            value={envelope.on ?? "chassis"}
            onChange={(event) => set({ on: event.target.value })}
          >
            {hosts.map((host) => (
              <option key={host} value={host}>
                {spoken(host)}
              </option>
            ))}
          </select>
        </label>
        <label htmlFor={`${id}what`} className="text-sm text-soft">
          is
          <select
            id={`${id}what`}
            className="entry text-base text-ink"
            value={envelope.what ?? "structure"}
            onChange={(event) => set({ what: event.target.value as Envelope["what"] & string })}
          >
            {WHAT.map((what) => (
              <option key={what} value={what}>
                {what}
              </option>
            ))}
          </select>
        </label>
      </div>
      {envelope.centre && (
        <PlaceRow
          name="Middle"
          part={envelope.name}
          place={envelope.centre as Place}
          station={station}
          picked={picked}
          onPlace={(centre) => set({ centre } as Partial<Envelope>)}
        />
      )}
      {envelope.size && (
        <div className="mt-2">
          <p className="text-sm text-soft">Long, wide, tall</p>
          <div className="grid grid-cols-3 gap-1">
            {envelope.size.map((value, axis) => (
              <QuantityField
                // biome-ignore lint/suspicious/noArrayIndexKey: three sizes, each its own axis
                key={axis}
                compact
                label={`${envelope.name} ${["long", "wide", "tall"][axis]}`}
                value={value}
                dimension="length"
                step={1}
                check={(to) => (to > 0 ? null : "It must be more than zero.")}
                onCommit={(to) =>
                  set({
                    size: (envelope.size ?? []).map((its, k) => (k === axis ? to : its)),
                  } as Partial<Envelope>)
                }
              />
            ))}
          </div>
        </div>
      )}
      {(["along", "outline"] as const).flatMap((key) =>
        places(key).map((place, n) => (
          <PlaceRow
            // biome-ignore lint/suspicious/noArrayIndexKey: corners have no name but their order
            key={`${key}${n}`}
            name={key === "along" ? (n ? "To" : "From") : `Corner ${n + 1}`}
            part={envelope.name}
            place={place}
            station={station}
            picked={picked}
            onPlace={(to) => setPlace(key, n, to)}
          />
        )),
      )}
      {envelope.radius != null && (
        <div className="mt-2 grid grid-cols-[1fr_9.5rem] items-center gap-2">
          <span>Radius</span>
          <QuantityField
            label={`${envelope.name} radius`}
            value={envelope.radius}
            dimension="length"
            step={1}
            check={(to) => (to > 0 ? null : "It must be more than zero.")}
            onCommit={(radius) => set({ radius })}
          />
        </div>
      )}
    </section>
  );
}

interface PlaceProps {
  name: string;
  part: string;
  place: Place;
  station: Station;
  picked: string | null;
  onPlace: (place: Place) => void;
}

/** A place by numbers, or tied to the point that is picked. */
function PlaceRow({ name, part, place, station, picked, onPlace }: PlaceProps) {
  const tied = typeof place === "string";
  const at = tied ? (station.points[place] ?? [0, 0, 0]) : place;
  return (
    <div className="mt-2">
      <div className="flex items-center justify-between gap-2">
        <p className="text-sm text-soft">
          {name}
          {tied ? `: at ${spoken(place)}` : ", fore–aft, left, up"}
        </p>
        {picked && picked !== place && (
          <button
            type="button"
            className="press h-auto min-h-11 px-2 text-sm"
            onClick={() => onPlace(picked)}
            aria-label={`${part} ${name}: put it at ${spoken(picked)}`}
          >
            At {spoken(picked)}
          </button>
        )}
      </div>
      <div className="grid grid-cols-3 gap-1">
        {at.map((value, axis) => (
          <QuantityField
            // biome-ignore lint/suspicious/noArrayIndexKey: three axes in their order
            key={axis}
            compact
            label={`${part} ${name} ${AXES[axis]}`}
            value={value}
            dimension="length"
            step={1}
            onCommit={(to) => onPlace(at.map((its, k) => (k === axis ? to : its)))}
          />
        ))}
      </div>
    </div>
  );
}
