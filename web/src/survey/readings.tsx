import { FileUp, Printer } from "lucide-react";
import { useRef, useState } from "react";
import { Refused, readReadings, type Shape } from "../api/client";
import { newName } from "../api/names";
import { Mark } from "../marks/mark";
import { useSay } from "../quantity/sentence";
import { useUnits } from "../quantity/units";
import { mean } from "./drawing";
import type { Reading, SurveyInHand } from "./store";
import { placesOf, placeWords, wordsOf } from "./words";

type Told = Shape["ReadingOut"];

interface Props {
  job: string;
  hand: SurveyInHand;
  told: Told[];
  looked: number | null;
  onLook: (number: number | null) => void;
  onAgain: (number: number) => void;
}

/** Everything read, what does not fit first, each with its ways on. */
export function Readings({ job, hand, told, looked, onLook, onAgain }: Props) {
  const { readings, keys } = hand.survey;
  const order = readings
    .map((_, k) => k)
    .sort((a, b) => rank(told[a], readings[a]) - rank(told[b], readings[b]) || b - a);
  return (
    <section aria-label="Readings">
      <Refusals hand={hand} />
      <ol>
        {order.map((k) => (
          <Row
            key={keys[k]}
            reading={readings[k] as Reading}
            told={told[k]}
            looked={looked === k}
            onLook={() => onLook(looked === k ? null : k)}
            onAgain={() => onAgain(k)}
            onPut={(next) => hand.put("reading", keys[k] ?? "", next)}
            onDrop={() => hand.drop("reading", keys[k] ?? "")}
          />
        ))}
      </ol>
      {!readings.length && <p className="py-3 text-soft">Nothing has been read yet.</p>}
      <InAndOut job={job} hand={hand} />
    </section>
  );
}

const rank = (told: Told | undefined, reading: Reading | undefined) =>
  told?.suspect ? 0 : told?.aside ? 1 : told?.asked ? 2 : reading?.left_out ? 4 : 3;

function Row({
  reading,
  told,
  looked,
  onLook,
  onAgain,
  onPut,
  onDrop,
}: {
  reading: Reading;
  told: Told | undefined;
  looked: boolean;
  onLook: () => void;
  onAgain: () => void;
  onPut: (reading: Reading) => void;
  onDrop: () => void;
}) {
  const say = useSay();
  const { quantity } = useUnits();
  const words = wordsOf(reading);
  const read = mean(reading.values);
  const suspect = told?.suspect ?? false;
  const state = suspect
    ? "does not fit"
    : reading.left_out
      ? "left out"
      : told?.aside
        ? "set aside: its place is gone"
        : told && (told.redundancy ?? 0) < 0.01
          ? "not cross-checked"
          : `fits to ${quantity(Math.abs(told?.residual ?? 0), words.dimension)}`;
  const shown = looked || suspect;
  return (
    <li
      className={`border-b border-rule py-2 ${looked ? "bg-marker/15" : ""}`}
      data-testid={suspect ? "suspect" : "reading"}
    >
      <button
        type="button"
        onClick={onLook}
        aria-expanded={shown}
        className="flex min-h-11 w-full items-center gap-2 text-left"
      >
        {suspect ? <Mark mark="fault" size={22} /> : told?.asked ? <Mark mark="warning" size={22} /> : null}
        <span className="min-w-0 flex-1 leading-tight">
          <span className="font-semibold">
            {placesOf(reading)
              .map((name) => placeWords(name))
              .join(" – ")}
          </span>
          <span className="block text-sm text-soft">
            {words.name}, {told ? state : "working it out"}
          </span>
        </span>
        <span className="shrink-0 text-right text-lg font-bold">
          {read === null ? "alike" : quantity(read, words.dimension)}
          {(reading.values?.length ?? 0) > 1 && (
            <span className="block text-sm font-normal text-soft">{reading.values?.length} times</span>
          )}
        </span>
      </button>
      {suspect && told && (
        <p className="pb-1 leading-snug">
          {read !== null && told.would_be !== null
            ? `It read ${quantity(read, words.dimension)}; the others say ${quantity(told.would_be, words.dimension)}. `
            : "The two are not mirror images by what was read of them. "}
          {told.slip ? say(told.slip) : "Is it right?"}
        </p>
      )}
      {told?.asked && !suspect && <p className="pb-1 leading-snug">{say(told.asked)}</p>}
      {shown && (
        <div className="flex flex-wrap gap-1.5 pb-1">
          {reading.kind !== "mirrored" && (
            <button type="button" className="press px-3 text-sm" onClick={onAgain}>
              Read again
            </button>
          )}
          {told?.mended !== null && told?.mended !== undefined && suspect && (
            <button
              type="button"
              className="press press-main px-3 text-sm"
              onClick={() => onPut({ ...reading, values: [Math.round((told.mended ?? 0) * 100) / 100] })}
            >
              Correct to {quantity(told.mended, words.dimension)}
            </button>
          )}
          {suspect && (
            <button
              type="button"
              className="press px-3 text-sm"
              onClick={() =>
                onPut({
                  ...reading,
                  sigma: Math.max(Math.round(Math.abs(told?.residual ?? 1) * 10) / 10, 0.1),
                })
              }
            >
              Keep as rough (±{quantity(Math.abs(told?.residual ?? 0), words.dimension)})
            </button>
          )}
          {reading.left_out ? (
            <button
              type="button"
              className="press px-3 text-sm"
              onClick={() => onPut({ ...reading, left_out: false })}
            >
              Put back
            </button>
          ) : (
            <button
              type="button"
              className="press px-3 text-sm"
              onClick={() => onPut({ ...reading, left_out: true })}
            >
              Leave out
            </button>
          )}
          {!suspect && (
            <button type="button" className="press px-3 text-sm" onClick={onDrop}>
              Delete
            </button>
          )}
        </div>
      )}
    </li>
  );
}

/** What the server would not have: said, and kept until it is put right or taken away. */
function Refusals({ hand }: { hand: SurveyInHand }) {
  if (!hand.refused.length) return null;
  return (
    <ul className="my-2 border border-fault p-2" role="alert">
      {hand.refused.map((one) => (
        <li key={one.key} className="flex items-center gap-2 py-1">
          <Mark mark="fault" size={22} />
          <span className="flex-1 leading-snug">
            A {one.kind} was not saved: {one.said}
          </span>
          <button type="button" className="press px-3 text-sm" onClick={() => hand.drop(one.kind, one.key)}>
            Dismiss
          </button>
        </li>
      ))}
    </ul>
  );
}

function InAndOut({ job, hand }: { job: string; hand: SurveyInHand }) {
  const file = useRef<HTMLInputElement>(null);
  const [said, setSaid] = useState("");
  const take = async (table: File) => {
    try {
      const { readings } = await readReadings(table);
      for (const reading of readings) hand.put("reading", newName(), reading);
      setSaid(`${readings.length} readings imported.`);
    } catch (refused) {
      setSaid(refused instanceof Refused ? refused.message : "The table could not be read.");
    }
  };
  return (
    <div className="no-print flex flex-wrap gap-2 py-3">
      <button type="button" className="press px-3 text-sm" onClick={() => print()}>
        <Printer size={18} aria-hidden /> Print the form
      </button>
      <a className="press px-3 text-sm" href={`/api/jobs/${job}/survey.csv`}>
        Readings as CSV
      </a>
      <button type="button" className="press px-3 text-sm" onClick={() => file.current?.click()}>
        <FileUp size={18} aria-hidden /> Import CSV
      </button>
      <input
        ref={file}
        type="file"
        accept=".csv,text/csv"
        aria-label="Table of readings"
        className="sr-only"
        onChange={(event) => {
          const table = event.target.files?.[0];
          event.target.value = "";
          if (table) void take(table);
        }}
      />
      <p role="status" className="w-full whitespace-pre-line text-sm">
        {said}
      </p>
    </div>
  );
}
