import { Printer, Trash2 } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { client, type Project, type Station } from "../api/client";
import { MadeFile } from "../bench/made-file";
import { Mark } from "../marks/mark";
import { QuantityField } from "../quantity/quantity-field";
import { useSay } from "../quantity/sentence";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import type { Kept, SurveyInHand } from "../survey/store";
import { LiveCycle } from "./live-cycle";
import { type Cycle, newKey, now, type Proof } from "./proving";
import { SeenTo, seenTo } from "./seen-to";

const LENGTHS = ["coilover", "damper", "spring", "air_spring"];

/** The units of a station that a length can be read of. */
export const unitsOf = (station: Station) =>
  (station.units ?? []).filter((unit) => LENGTHS.includes(unit.kind)).map((unit) => unit.name);

interface Props {
  job: string;
  document: Project;
  station: Station;
  hand: SurveyInHand;
  proof: Proof | undefined;
}

const CAUTION =
  "Stands under the frame and chocks before anybody is under it; springs out before it is jacked through its travel; fingers out of the rocker.";

/** One row a jack position; a record goes on the server row by row. */
export function Cycling({ job, document, station, hand, proof }: Props) {
  const say = useSay();
  const { quantity, units } = useUnits();
  const cycles = hand.records.filter((one) => one.body.kind === "cycle" && one.body.station === station.name);
  const [open, setOpen] = useState<string | null>(cycles.at(-1)?.key ?? null);
  const its = cycles.find((one) => one.key === open) ?? null;
  const number = hand.records.findIndex((one) => one.key === its?.key);
  const worked = proof?.cycles.find((one) => one.record === number);
  const begin = () => {
    const key = newKey();
    hand.put("record", key, {
      kind: "cycle",
      when: now(),
      station: station.name,
      springs_out: false,
      tyre_on: true,
      torqued: false,
      rows: [],
      contacts: [],
    });
    setOpen(key);
  };
  return (
    <section aria-label="Cycle" className="pt-2">
      <SeenTo hand={hand} what={CAUTION} station={station.name} />
      <div className="flex flex-wrap items-center gap-1 py-2">
        <button
          type="button"
          className="press press-main px-3"
          disabled={!seenTo(hand, CAUTION, station.name)}
          onClick={begin}
        >
          Begin a cycle
        </button>
        <MadeFile
          name="sheets for the floor"
          file="floor.pdf"
          className="press px-3 text-sm"
          ask={(headers) =>
            client.GET("/api/jobs/{job_id}/floor.pdf", {
              params: { path: { job_id: job }, query: { inches: units.length !== "mm" } },
              headers,
              parseAs: "blob",
            })
          }
        >
          <Printer size={16} aria-hidden /> Sheets for the floor
        </MadeFile>
        {cycles.length > 0 && (
          <select
            aria-label="Which cycle"
            className="entry w-auto flex-1"
            value={its?.key ?? ""}
            onChange={(event) => setOpen(event.target.value)}
          >
            {cycles.map((one) => (
              <option key={one.key} value={one.key}>
                {one.body.when.slice(0, 16).replace("T", " ")}, {((one.body as Cycle).rows ?? []).length} rows
              </option>
            ))}
          </select>
        )}
      </div>
      {its && (
        <Rows
          key={its.key}
          one={its}
          document={document}
          station={station}
          hand={hand}
          misread={(worked?.misread ?? []).map((row) => row.row)}
        />
      )}
      {worked?.rms != null && (
        <p className="pt-2 font-semibold">
          {quantity(worked.rms, "length")} off the drawn curve on the whole
          {worked.misread.length > 0 && `, without row ${worked.misread.map((row) => row.row).join(" and ")}`}
          .
        </p>
      )}
      <ul>
        {(worked?.said ?? []).map((words) => (
          <li key={words.words + JSON.stringify(words.quantities)} className="flex gap-2 py-1">
            <Mark mark="warning" size={20} />
            <p className="text-sm leading-snug">{say(words)}</p>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Rows({
  one,
  document,
  station,
  hand,
  misread,
}: {
  one: Kept;
  document: Project;
  station: Station;
  hand: SurveyInHand;
  /** Rows that do not fit the others, from 1. */
  misread: number[];
}) {
  const { quantity } = useUnits();
  const body = one.body as Cycle;
  const rows = body.rows ?? [];
  const contacts = body.contacts ?? [];
  const units = unitsOf(station);
  const [wheel, setWheel] = useState<number | null>(null);
  const [lengths, setLengths] = useState<Record<string, number>>({});
  const [touched, setTouched] = useState("");
  const [fresh, setFresh] = useState(0);
  const fields = useRef<HTMLDivElement>(null);
  // The next thing is the next row: begun, or the last one kept, its first field is in hand.
  const bare = rows.length === 0;
  useEffect(() => {
    if (fresh > 0 || bare) fields.current?.querySelector("input")?.focus();
  }, [fresh, bare]);
  const put = (values: object) => hand.put("record", one.key, { ...body, ...values });
  const ready = wheel !== null && units.some((unit) => lengths[unit] !== undefined);
  const keep = () => {
    if (wheel === null || !ready) return;
    put({ rows: [...rows, { wheel, lengths }] });
    setWheel(null);
    setLengths({});
    setFresh(fresh + 1);
  };
  return (
    <div>
      <fieldset className="flex flex-wrap gap-x-4">
        <legend className="sr-only">How it was cycled</legend>
        {(
          [
            ["springs_out", "Springs out"],
            ["tyre_on", "Tyre on"],
            ["torqued", "Bushes torqued at ride"],
          ] as const
        ).map(([key, words]) => (
          <label key={key} className="flex min-h-11 items-center gap-2">
            <input
              type="checkbox"
              className="size-5"
              checked={Boolean(body[key])}
              onChange={(event) => put({ [key]: event.target.checked })}
            />
            {words}
          </label>
        ))}
      </fieldset>
      <LiveCycle
        document={document}
        records={hand.records}
        station={station}
        units={units}
        rows={rows.flatMap(({ wheel: at, lengths: read = {} }) =>
          typeof at === "number" ? [{ wheel: at, lengths: read }] : [],
        )}
        onRow={(row) => put({ rows: [...rows, row] })}
      />
      <div ref={fields} key={fresh} className="grid gap-1 border-y border-rule py-2">
        <Entry label="Wheel, from as drawn" value={wheel} onCommit={setWheel} />
        {units.map((unit) => (
          <Entry
            key={unit}
            label={`${spoken(unit)}, eye to eye`}
            value={lengths[unit] ?? null}
            onCommit={(value) => setLengths({ ...lengths, [unit]: value })}
          />
        ))}
        <button type="button" className="press press-main mt-1" disabled={!ready} onClick={keep}>
          Keep the row
        </button>
      </div>
      <ol aria-label="Rows read">
        {rows.map((row, k) => (
          <li
            // biome-ignore lint/suspicious/noArrayIndexKey: rows stand in the order in which they were read
            key={k}
            className={`flex items-center gap-2 border-b border-rule py-0.5 ${misread.includes(k + 1) ? "bg-marker/25" : ""}`}
          >
            {misread.includes(k + 1) && <Mark mark="warning" size={20} />}
            <span className="w-24 text-right font-semibold">
              {typeof row.wheel === "number"
                ? quantity(row.wheel, "travel")
                : `${quantity(row.height ?? 0, "length")} up`}
            </span>
            <span className="flex-1">
              {Object.entries(row.lengths ?? {})
                .map(([unit, long]) => `${spoken(unit)} ${quantity(long, "length")}`)
                .join(", ")}
            </span>
            <button
              type="button"
              className="press border-transparent px-2"
              aria-label={`Remove row ${k + 1}`}
              onClick={() => put({ rows: rows.filter((_, n) => n !== k) })}
            >
              <Trash2 size={16} aria-hidden />
            </button>
          </li>
        ))}
      </ol>
      <div className="flex gap-1 pt-2">
        <input
          className="entry flex-1"
          placeholder="What touched?"
          aria-label="What touched"
          maxLength={120}
          value={touched}
          onChange={(event) => setTouched(event.target.value)}
        />
        <button
          type="button"
          className="press px-3 text-sm"
          disabled={!touched.trim()}
          onClick={() => {
            const at = rows.at(-1)?.wheel;
            put({
              contacts: [
                ...contacts,
                { what: touched.trim(), ...(typeof at === "number" ? { wheel: at } : {}) },
              ],
            });
            setTouched("");
          }}
        >
          It touched here
        </button>
      </div>
      <ul aria-label="Contacts">
        {contacts.map((contact, k) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: contacts stand in the order in which they came
          <li key={k} className="flex items-center gap-2 py-0.5">
            <span className="flex-1">
              {contact.what}
              {typeof contact.wheel === "number" ? ` at ${quantity(contact.wheel, "travel")}` : ""}
            </span>
            <button
              type="button"
              className="press border-transparent px-2"
              aria-label={`Remove contact ${k + 1}`}
              onClick={() => put({ contacts: contacts.filter((_, n) => n !== k) })}
            >
              <Trash2 size={16} aria-hidden />
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** A large field for a figure read on the floor. */
export function Entry({
  label,
  value,
  onCommit,
  dimension = "length",
}: {
  label: string;
  value: number | null;
  onCommit: (value: number) => void;
  dimension?: "length" | "mass";
}) {
  return (
    <div className="grid grid-cols-[1fr_10rem] items-center gap-2 text-lg">
      <span className="leading-tight">{label}</span>
      <QuantityField
        label={label}
        value={value ?? 0}
        blank={value === null}
        dimension={dimension}
        onCommit={onCommit}
      />
    </div>
  );
}
