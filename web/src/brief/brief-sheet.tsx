import { Copy, Plus, Trash2 } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import type { Project, Station } from "../api/client";
import type { DraftInHand } from "../bench/draft";
import { editStation } from "../bench/edits";
import { Arrangements } from "./arrangements";
import { Coming } from "./coming";
import { Limits } from "./limits";
import { Loads } from "./loads";
import { OtherSide } from "./other-side";
import { StationBrief } from "./station-brief";
import { freeName, withoutStation, withVariant } from "./stations";
import { Vehicle } from "./vehicle";
import { VehicleDrawing } from "./vehicle-drawing";

interface Props {
  document: Project;
  index: number;
  hand: DraftInHand;
  /** Mass at this wheel with everything fitted, kg, as worked out from the list of parts. */
  finished: number | null;
  onStation: (index: number) => void;
  /** Where the design study of the whole vehicle is. */
  study: string;
}

const PURPOSES = [
  ["", "not said yet"],
  ["road", "Road, 1.0–1.6 Hz"],
  ["sport", "Sport, 1.6–2.2 Hz"],
  ["circuit", "Circuit, 2.2–3.0 Hz"],
  ["rough", "Rough ground, 0.8–1.4 Hz"],
] as const;

/** What must the vehicle do? Purpose, stations, masses now and finished, travel, the shop's limits. */
export function BriefSheet({ document, index, hand, finished, onStation, study }: Props) {
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
        {document.stations.length > 0 && (
          <section aria-label="The vehicle drawn">
            <VehicleDrawing document={document} index={index} edit={hand.edit} onStation={onStation} />
            <p className="pt-1 text-sm text-soft">
              What each wheel carries today, and the height it is measured by, are set where they stand.
              Dashed: the other side, taken alike.
            </p>
            <p className="no-print pt-3">
              <Link to={study} className="press">
                Study all stations together
              </Link>
            </p>
          </section>
        )}
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
                    aria-label={`Remove ${its.name}`}
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
              <Loads document={document} edit={hand.edit} />
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

function withPurpose(document: Project, purpose: string): Project {
  const { purpose: _, ...rest } = (document.judging ?? {}) as Record<string, unknown>;
  const judging = purpose ? { ...rest, purpose } : rest;
  const next = { ...document, judging } as Project;
  if (Object.keys(judging).length === 0) delete (next as Partial<Project>).judging;
  return next;
}
