import { useMutation } from "@tanstack/react-query";
import { Copy, Plus, Trash2 } from "lucide-react";
import { useState } from "react";
import { answer, client, type Project, type Station } from "../api/client";
import type { DraftInHand } from "../bench/draft";
import { type Change, editStation } from "../bench/edits";
import type { Dimension } from "../quantity/quantity";
import { QuantityField } from "../quantity/quantity-field";
import { Arrangements } from "./arrangements";
import { Coming } from "./coming";
import { Limits } from "./limits";
import { RideDatum } from "./ride-datum";
import { freeName, withoutStation, withVariant } from "./stations";
import { Vehicle } from "./vehicle";

interface Props {
  document: Project;
  index: number;
  hand: DraftInHand;
  /** Mass at this wheel with everything fitted, kg, as worked out from the list of parts. */
  finished: number | null;
  onStation: (index: number) => void;
}

const PURPOSES = [
  ["", "not said yet"],
  ["road", "Road, 1.0–1.6 Hz"],
  ["sport", "Sport, 1.6–2.2 Hz"],
  ["circuit", "Circuit, 2.2–3.0 Hz"],
  ["rough", "Rough ground, 0.8–1.4 Hz"],
] as const;

/** What must the vehicle do? Purpose, stations, masses now and finished, travel, the shop's limits. */
export function BriefSheet({ document, index, hand, finished, onStation }: Props) {
  const [adding, setAdding] = useState(document.stations.length === 0);
  const station = document.stations[index];
  const purpose = (document.judging as { purpose?: string } | null | undefined)?.purpose ?? "";
  const change = (to: (station: Station) => Station, key = "") =>
    hand.edit((doc) => editStation(doc, index, to), key);
  const add = (stations: Station[]) => {
    const taken = new Set(document.stations.map((its) => its.name));
    const renamed = new Map(stations.map((its) => [its.name, freeName(its.name, taken)]));
    hand.edit((doc) => ({
      ...doc,
      stations: [
        ...doc.stations,
        ...stations.map((its) => ({
          ...its,
          name: renamed.get(its.name) ?? its.name,
          ...(its.other_side && renamed.has(its.other_side)
            ? { other_side: renamed.get(its.other_side) }
            : {}),
        })),
      ] as Project["stations"],
    }));
    setAdding(false);
    onStation(document.stations.length);
  };
  return (
    <div className="min-h-0 flex-1 overflow-y-auto p-4 sm:p-6">
      <div className="mx-auto grid max-w-6xl gap-8">
        <div className="grid grid-cols-2 gap-10 max-md:grid-cols-1">
          <section aria-label="The vehicle">
            <h2 className="text-xl">The vehicle</h2>
            <label className="mt-2 grid grid-cols-[1fr_15rem] items-center gap-2">
              <span>What is it for?</span>
              <select
                className="entry"
                value={purpose}
                onChange={(event) => hand.edit((doc) => withPurpose(doc, event.target.value))}
              >
                {PURPOSES.map(([key, words]) => (
                  <option key={key} value={key}>
                    {words}
                  </option>
                ))}
              </select>
            </label>
            <h3 className="mt-4 font-semibold">Stations</h3>
            <ul>
              {document.stations.map((its, k) => (
                <li key={its.name} className="flex items-center gap-2 border-b border-rule">
                  <button
                    type="button"
                    className={`min-h-11 flex-1 text-left ${k === index ? "font-bold" : "text-link underline"}`}
                    aria-current={k === index}
                    onClick={() => onStation(k)}
                  >
                    {its.name}
                    <span className="font-normal text-soft">
                      {" "}
                      · {its.kind === "axle" ? "live axle" : "one wheel"}
                      {its.variant_of && `, a variant of ${its.variant_of}`}
                    </span>
                  </button>
                  <button
                    type="button"
                    className="press border-transparent px-3"
                    aria-label={`Make a variant of ${its.name}`}
                    title="A variant: another way to build it, compared side by side"
                    onClick={() => {
                      hand.edit((doc) => withVariant(doc, k));
                      onStation(k + 1);
                    }}
                  >
                    <Copy size={18} aria-hidden />
                  </button>
                  <button
                    type="button"
                    className="press border-transparent px-3"
                    aria-label={`Take ${its.name} out`}
                    onClick={() => {
                      hand.edit((doc) => withoutStation(doc, k));
                      onStation(0);
                    }}
                  >
                    <Trash2 size={18} aria-hidden />
                  </button>
                </li>
              ))}
            </ul>
            <button
              type="button"
              className="press mb-8 mt-3"
              aria-expanded={adding}
              onClick={() => setAdding((before) => !before)}
            >
              <Plus size={18} aria-hidden />
              Add a station
            </button>
            {document.stations.length > 0 && <Vehicle document={document} edit={hand.edit} />}
            <Limits document={document} edit={hand.edit} />
          </section>
          {station && (
            <div>
              <StationBrief key={station.name} station={station} finished={finished} change={change} />
              <Coming document={document} edit={hand.edit} />
              <OtherSide document={document} index={index} edit={hand.edit} />
            </div>
          )}
        </div>
        {adding && (
          <section aria-label="Add a station" className="border-t-2 border-ink pt-4">
            <Arrangements take="Add this" onTake={add} purpose={purpose} />
          </section>
        )}
      </div>
    </div>
  );
}

/** Whether this wheel stands for both sides, and the press that gives the other side a station of its own. */
function OtherSide({
  document,
  index,
  edit,
}: {
  document: Project;
  index: number;
  edit: DraftInHand["edit"];
}) {
  const station = document.stations[index];
  const part = useMutation({
    mutationFn: () =>
      answer(
        client.POST("/api/layouts/apart", {
          body: { document: document as unknown as Record<string, unknown>, station: index },
        }),
      ),
    onSuccess: (made) => edit(() => made.document as unknown as Project),
  });
  const mirror = useMutation({
    mutationFn: () =>
      answer(
        client.POST("/api/layouts/mirrored", {
          body: { document: document as unknown as Record<string, unknown>, station: index },
        }),
      ),
    onSuccess: (made) => edit(() => made.document as unknown as Project),
  });
  if (!station || station.kind === "axle") return null;
  const side = station.other_side ?? "mirror";
  return (
    <section aria-label="The other side" className="mt-6">
      <h3 className="font-semibold">The other side</h3>
      {side === "mirror" ? (
        <>
          <p className="text-sm text-soft">
            This station stands for both sides, one the mirror image of the other.
          </p>
          <button
            type="button"
            className="press mt-2"
            disabled={part.isPending}
            onClick={() => part.mutate()}
          >
            Give the other side a station of its own
          </button>
        </>
      ) : (
        <p className="text-sm text-soft">
          {side === "alone"
            ? "There is none: this wheel stands alone."
            : `It is a station of its own: ${side}.`}
        </p>
      )}
      {document.stations.some((its) => its.name === side) && (
        <button
          type="button"
          className="press mt-2"
          disabled={mirror.isPending}
          onClick={() => mirror.mutate()}
        >
          Make {side} the mirror image of this side
        </button>
      )}
      {mirror.isError && (
        <p role="alert" className="mt-2 border-l-4 border-fault pl-2 text-sm">
          {mirror.error.message}
        </p>
      )}
      {part.isError && (
        <p role="alert" className="mt-2 border-l-4 border-fault pl-2 text-sm">
          {part.error.message}
        </p>
      )}
    </section>
  );
}

const ADJUSTERS = [
  ["", "not said yet"],
  ["perch", "the spring perch"],
  ["rod", "the length of a rod"],
  ["pressure", "the pressure in the bags"],
] as const;

function StationBrief({
  station,
  finished,
  change,
}: {
  station: Station;
  finished: number | null;
  change: Change;
}) {
  const mass = (key: "corner" | "unsprung" | "finished", value: number) =>
    change((s) => ({ ...s, mass: { ...s.mass, [key]: value } }));
  const travel = (key: "bump" | "droop" | "at", value: number) =>
    change((s) => ({ ...s, travel: { ...s.travel, [key]: value } }));
  const tyre = (key: "tyre_radius" | "tyre_width", value: number) =>
    change((s) => ({ ...s, wheels: s.wheels.map((its) => ({ ...its, [key]: value })) }));
  const wheel = station.wheels[0];
  const rows: [
    string,
    string,
    number,
    Dimension,
    (value: number) => void,
    (value: number) => string | null,
  ][] = [
    [
      "Mass at this wheel now",
      "unsprung included",
      station.mass.corner,
      "mass",
      (v) => mass("corner", v),
      (v) => (v > station.mass.unsprung ? null : "It must be more than the unsprung mass."),
    ],
    [
      "Unsprung part of it",
      "wheel, brake, half of the arms",
      station.mass.unsprung,
      "mass",
      (v) => mass("unsprung", v),
      (v) => (v >= 0 && v < station.mass.corner ? null : "It must be less than the corner mass."),
    ],
    [
      "The same when finished",
      station.mass.finished == null && finished !== null
        ? "worked out from the parts still to come"
        : "with every part that is still to come",
      station.mass.finished ?? finished ?? station.mass.corner,
      "mass",
      (v) => mass("finished", v),
      (v) => (v > station.mass.unsprung ? null : "It must be more than the unsprung mass."),
    ],
    [
      "Tyre radius",
      "floor to the middle of the hub, loaded",
      wheel?.tyre_radius ?? 0,
      "length",
      (v) => tyre("tyre_radius", v),
      (v) => (v > 0 && v <= 2000 ? null : "Give 1 mm to 2 m."),
    ],
    [
      "Tyre width",
      "at its widest",
      wheel?.tyre_width ?? 0,
      "length",
      (v) => tyre("tyre_width", v),
      (v) => (v > 0 && v <= 2000 ? null : "Give 1 mm to 2 m."),
    ],
    [
      "Bump wanted",
      "up from drawn",
      station.travel.bump,
      "length",
      (v) => travel("bump", v),
      (v) => (v >= 0 && v <= 1000 ? null : "Give 0 to 1000 mm."),
    ],
    [
      "Droop wanted",
      "down from drawn",
      station.travel.droop,
      "length",
      (v) => travel("droop", v),
      (v) => (v >= 0 && v <= 1000 ? null : "Give 0 to 1000 mm."),
    ],
    [
      "Should stand at",
      "wheel travel from drawn, 0 is as drawn",
      station.travel.at ?? 0,
      "travel",
      (v) => travel("at", v),
      (v) =>
        v <= station.travel.bump && v >= -station.travel.droop
          ? null
          : "It must lie within the wanted travel.",
    ],
  ];
  return (
    <section aria-label={station.name}>
      <h2 className="text-xl">{station.name}</h2>
      {rows.map(([name, hint, value, dimension, commit, check]) => (
        <div key={name} className="grid grid-cols-[1fr_10.5rem] items-center gap-2 border-b border-rule py-1">
          <span className="leading-tight">
            {name}
            <span className="block text-sm text-soft">{hint}</span>
          </span>
          <QuantityField label={name} value={value} dimension={dimension} check={check} onCommit={commit} />
        </div>
      ))}
      {station.mass.finished != null && (
        <button
          type="button"
          className="mt-1 min-h-11 text-link underline"
          onClick={() => change((s) => ({ ...s, mass: withoutFinished(s.mass) }))}
        >
          Work the finished mass out from the list of parts instead
        </button>
      )}
      <RideDatum station={station} change={change} />
      <div className="grid grid-cols-[1fr_10.5rem] items-center gap-2 border-b border-rule py-1">
        <label htmlFor="adjuster" className="leading-tight">
          Height is set by
          <span className="block text-sm text-soft">once it stands on its weight</span>
        </label>
        <select
          id="adjuster"
          className="entry"
          value={station.adjusting?.by ?? ""}
          onChange={(event) => change((s) => withAdjusting(s, event.target.value, s.adjusting?.reach ?? 15))}
        >
          {ADJUSTERS.map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
      </div>
      {station.adjusting && (
        <div className="grid grid-cols-[1fr_10.5rem] items-center gap-2 border-b border-rule py-1">
          <span className="leading-tight">
            Up and down by
            <span className="block text-sm text-soft">at the wheel, from where it should stand</span>
          </span>
          <QuantityField
            label="Height to be set, each way"
            value={station.adjusting.reach}
            dimension="length"
            check={(value) => (value >= 0 && value <= 300 ? null : "Give 0 to 300 mm.")}
            onCommit={(reach) => change((s) => withAdjusting(s, s.adjusting?.by ?? "", reach))}
          />
        </div>
      )}
      <p className="mt-2 border-l-4 border-warning pl-2 text-sm">
        Weigh with the vehicle level, on stands and chocked until the scales are under it. A spring bought for
        today's mass is the wrong spring if parts are still to come.
      </p>
    </section>
  );
}

function withAdjusting(station: Station, by: string, reach: number): Station {
  const { adjusting: _, ...rest } = station;
  return by ? ({ ...rest, adjusting: { by, reach } } as Station) : (rest as Station);
}

function withoutFinished(mass: Station["mass"]): Station["mass"] {
  const { finished: _, ...rest } = mass;
  return rest as Station["mass"];
}

function withPurpose(document: Project, purpose: string): Project {
  const { purpose: _, ...rest } = (document.judging ?? {}) as Record<string, unknown>;
  const judging = purpose ? { ...rest, purpose } : rest;
  const next = { ...document, judging } as Project;
  if (Object.keys(judging).length === 0) delete (next as Partial<Project>).judging;
  return next;
}
