import { Plus } from "lucide-react";
import { useState } from "react";
import { answer, client, type Project, Refused, type Shape, type Station } from "../api/client";
import type { Change } from "../bench/edits";
import { spoken } from "../quantity/spoken";

type Kind = Shape["UnitIn"]["kind"];

const KINDS: [Kind, string][] = [
  ["coilover", "coilover"],
  ["spring", "spring"],
  ["damper", "damper"],
  ["air_spring", "bag"],
  ["bump_stop", "bump stop"],
  ["strap", "limit strap"],
];

interface Props {
  document: Project;
  index: number;
  change: Change;
  /** Kinds that are looked for here; all of them if left out. */
  kinds?: Kind[];
}

/** Fits a part between two places, sized for the travel; every figure of it can be mended after. */
export function AddUnit({ document, index, change, kinds }: Props) {
  const station = document.stations[index] as Station;
  const offered = KINDS.filter(([kind]) => !kinds || kinds.includes(kind));
  const points = Object.keys(station.points);
  // Where a damper or a spring stands already is where a stop or a strap goes first.
  const beside = (station.units ?? []).find((unit) => unit.kind === "damper" || unit.kind === "coilover");
  const [kind, setKind] = useState<Kind>(offered[0]?.[0] ?? "coilover");
  const [one, setOne] = useState(
    beside?.ends[0] ?? points.find((name) => !station.chassis.includes(name)) ?? "",
  );
  const [other, setOther] = useState(beside?.ends[1] ?? station.chassis[0] ?? "");
  const [trouble, setTrouble] = useState("");
  const add = async () => {
    try {
      const { unit } = await answer(
        client.POST("/api/layouts/unit", {
          body: {
            document,
            station: index,
            kind,
            ends: [one, other],
          },
        }),
      );
      setTrouble("");
      change((s) => ({ ...s, units: [...(s.units ?? []), unit] }) as Station);
    } catch (refused) {
      setTrouble(refused instanceof Refused ? refused.message : "It could not be worked out.");
    }
  };
  return (
    <section aria-label="Fit a part" className="no-print border-b border-rule py-3">
      <h2 className="pb-1 text-lg">Fit a part</h2>
      <div className="grid grid-cols-[1fr_9.5rem] items-center gap-x-2 gap-y-1">
        <label htmlFor={`kind ${index}`}>What</label>
        <select
          id={`kind ${index}`}
          className="entry"
          value={kind}
          onChange={(event) => setKind(event.target.value as Kind)}
        >
          {offered.map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
        {(
          [
            ["from", "From", one, setOne],
            ["to", "To", other, setOther],
          ] as const
        ).map(([key, words, value, set]) => (
          <div key={key} className="contents">
            <label htmlFor={`${key} ${index}`}>{words}</label>
            <select
              id={`${key} ${index}`}
              className="entry"
              value={value}
              onChange={(event) => set(event.target.value)}
            >
              {points.map((name) => (
                <option key={name} value={name}>
                  {spoken(name)}
                </option>
              ))}
            </select>
          </div>
        ))}
      </div>
      <button type="button" className="press mt-2 px-3" onClick={() => void add()}>
        <Plus size={18} aria-hidden /> Fit it
      </button>
      {trouble && (
        <p role="alert" className="mt-1 text-fault">
          {trouble}
        </p>
      )}
    </section>
  );
}
