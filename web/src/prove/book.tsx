import { Download, Trash2 } from "lucide-react";
import { useState } from "react";
import { QuantityField } from "../quantity/quantity-field";
import { useUnits } from "../quantity/units";
import type { Found, Kept, SurveyInHand } from "../survey/store";
import { type Cycle, KINDS, newKey, now, quarterTurns } from "./proving";

/** Everything found on the floor in order of time; a slip is taken out here, a drive is written down here. */
export function Book({ hand, job }: { hand: SurveyInHand; job: string }) {
  const [kind, setKind] = useState("");
  const [find, setFind] = useState("");
  const say = useRecord();
  const shown = hand.records
    .filter((one) => !kind || one.body.kind === kind)
    .filter((one) => !find.trim() || say(one.body).toLowerCase().includes(find.trim().toLowerCase()));
  return (
    <section aria-label="Book" className="pt-2">
      <Drive hand={hand} />
      <div className="flex flex-wrap items-center gap-1 py-2">
        <select
          aria-label="Which records"
          className="entry w-auto"
          value={kind}
          onChange={(event) => setKind(event.target.value)}
        >
          <option value="">everything</option>
          {Object.entries(KINDS).map(([key, words]) => (
            <option key={key} value={key}>
              {words.toLowerCase()}
            </option>
          ))}
        </select>
        <input
          className="entry flex-1"
          aria-label="Find in the book"
          placeholder="Find"
          value={find}
          onChange={(event) => setFind(event.target.value)}
        />
        <a className="press px-3 text-sm" href={`/api/jobs/${job}/records.csv`}>
          <Download size={16} aria-hidden /> CSV
        </a>
      </div>
      {!shown.length && <p className="text-soft">Nothing is written down yet.</p>}
      <ol aria-label="Records">
        {[...shown].reverse().map((one) => (
          <Line
            key={one.key}
            one={one}
            words={say(one.body)}
            all={hand.records}
            onDrop={() => hand.drop("record", one.key)}
          />
        ))}
      </ol>
    </section>
  );
}

function Line({ one, words, all, onDrop }: { one: Kept; words: string; all: Kept[]; onDrop: () => void }) {
  const { body } = one;
  const say = useRecord();
  const settings = body.kind === "drive" && body.good ? lastSettings(all, body.when) : [];
  return (
    <li className="flex gap-2 border-b border-rule py-1.5">
      <div className="flex-1 leading-snug">
        <p className="text-sm text-soft">
          {body.when.slice(0, 16).replace("T", " ")}
          {body.by ? `, ${body.by}` : ""}
        </p>
        <p>
          <span className="font-semibold">{KINDS[body.kind] ?? body.kind}</span> {words}
        </p>
        {settings.length > 0 && (
          <details className="text-sm">
            <summary className="min-h-8 cursor-pointer font-semibold">What was set that day</summary>
            <ul>
              {settings.map((setting) => (
                <li key={setting.key}>{say(setting.body)}</li>
              ))}
            </ul>
          </details>
        )}
      </div>
      <button
        type="button"
        className="press self-start border-transparent px-2"
        aria-label={`Take out what was ${(KINDS[body.kind] ?? body.kind).toLowerCase()} ${body.when.slice(0, 16).replace("T", " ")}`}
        onClick={onDrop}
      >
        <Trash2 size={16} aria-hidden />
      </button>
    </li>
  );
}

/** The newest setting of each thing up to a moment. */
function lastSettings(all: Kept[], when: string): Kept[] {
  const last = new Map<string, Kept>();
  for (const one of all) {
    if (one.body.kind === "setting" && one.body.when <= when)
      last.set(`${one.body.station} ${one.body.what}`, one);
  }
  return [...last.values()];
}

function useRecord(): (body: Found) => string {
  const { quantity } = useUnits();
  return (body) => {
    const note = body.note ? `: ${body.note}` : "";
    switch (body.kind) {
      case "cycle": {
        const its = body as Cycle;
        const touched = (its.contacts ?? []).map((contact) => contact.what).join(", ");
        return `${its.station}, ${(its.rows ?? []).length} rows${its.springs_out ? ", springs out" : ""}${touched ? `, touched: ${touched}` : ""}${note}`;
      }
      case "weigh": {
        const wheels = Object.entries((body.wheels ?? {}) as Record<string, number>);
        const total = wheels.reduce((sum, [, its]) => sum + its, 0);
        const with_ = body.with ? `, ${String(body.with)}` : "";
        return `${quantity(total, "mass")}${with_}: ${wheels.map(([key, its]) => `${key} ${quantity(its, "mass")}`).join(", ")}${note}`;
      }
      case "setting": {
        const turns = typeof body.turns === "number" ? `, ${quarterTurns(body.turns)}` : "";
        const to =
          typeof body.to === "number"
            ? ` to ${quantity(body.to, body.what === "pressure" ? "pressure" : "length")}`
            : "";
        return `${body.station}, ${String(body.what)}${to}${turns}${note}`;
      }
      case "drive": {
        const used =
          typeof body.used_bump === "number" ? `${quantity(body.used_bump, "length")} of bump used` : "";
        return `${[body.station, used].filter(Boolean).join(", ")}${note}`;
      }
      case "gate":
        return `${String(body.name).replaceAll("_", " ")}, ${body.station ?? ""}: ${String(body.initials)}`;
      default:
        return `${String(body.of ?? "")} ${String(body.value ?? "")} ${String(body.unit ?? "")}${note}`;
    }
  };
}

function Drive({ hand }: { hand: SurveyInHand }) {
  const [note, setNote] = useState("");
  const [used, setUsed] = useState<number | null>(null);
  const [good, setGood] = useState(false);
  const [fresh, setFresh] = useState(0);
  const keep = () => {
    hand.put("record", newKey(), {
      kind: "drive",
      when: now(),
      note: note.trim(),
      ...(used === null ? {} : { used_bump: used }),
      ...(good ? { good: true } : {}),
    });
    setNote("");
    setUsed(null);
    setGood(false);
    setFresh(fresh + 1);
  };
  return (
    <div className="border-b border-rule pb-2">
      <h3 className="font-semibold">A drive</h3>
      <textarea
        className="entry h-16 w-full py-1"
        aria-label="What was remarked"
        placeholder="What was remarked"
        maxLength={2000}
        value={note}
        onChange={(event) => setNote(event.target.value)}
      />
      <div key={fresh} className="grid grid-cols-[1fr_9.5rem] items-center gap-2">
        <span>Bump used, by the ring on the shaft</span>
        <QuantityField
          label="Bump used"
          value={used ?? 0}
          blank={used === null}
          dimension="length"
          check={(value) => (value >= 0 ? null : "Give nothing or more.")}
          onCommit={setUsed}
        />
      </div>
      <div className="flex items-center justify-between gap-2 pt-1">
        <label className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            className="size-5"
            checked={good}
            onChange={(event) => setGood(event.target.checked)}
          />
          It drove well: find these settings again
        </label>
        <button type="button" className="press px-3" disabled={!note.trim()} onClick={keep}>
          Write it down
        </button>
      </div>
    </div>
  );
}
