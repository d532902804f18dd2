import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Download, Printer, Upload } from "lucide-react";
import { useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { answer, client, Refused, type Shape, takeRecords } from "../api/client";
import { KINDS as FOUND } from "../prove/proving";
import { useSay } from "../quantity/sentence";
import { Trouble, Waiting } from "../session/states";

type Entry = Shape["EntryOut"];

const KINDS: Record<string, string> = {
  revision: "Drawn",
  reading: "Read",
  mark: "Marked",
  photo: "Pictured",
  guard: "Guarded",
  ...FOUND,
};

interface Props {
  job: string;
  /** Show what a revision changed. */
  onRevision: (number: number) => void;
}

/** Everything that happened to the job, the newest first: each entry opens what it holds. */
export function JobBook({ job, onRevision }: Props) {
  const say = useSay();
  const queries = useQueryClient();
  const [kind, setKind] = useState("");
  const [find, setFind] = useState("");
  const [said, setSaid] = useState("");
  const picker = useRef<HTMLInputElement>(null);
  const book = useQuery({
    queryKey: ["book", job],
    queryFn: () => answer(client.GET("/api/jobs/{job_id}/book", { params: { path: { job_id: job } } })),
    staleTime: 0,
  });
  if (book.isPending) return <Waiting what="Fetching the book" />;
  if (book.isError)
    return (
      <Trouble title="The book cannot be shown" detail={book.error.message}>
        <button type="button" className="press press-main" onClick={() => book.refetch()}>
          Try again
        </button>
      </Trouble>
    );
  const wanted = find.trim().toLowerCase();
  const shown = book.data.entries.filter(
    (one) =>
      (!kind || (kind === "good" ? one.good : one.kind === kind)) &&
      (!wanted || `${say(one.say)} ${one.note} ${one.by}`.toLowerCase().includes(wanted)),
  );
  const bring = async (file: File | undefined) => {
    if (!file) return;
    try {
      const { records } = await takeRecords(job, file);
      setSaid(
        records
          ? records === 1
            ? "One record taken in."
            : `${records} records taken in.`
          : "Everything in that table is here already.",
      );
      await queries.invalidateQueries();
    } catch (refused) {
      setSaid(refused instanceof Refused ? refused.message : "The table cannot be read.");
    }
  };
  return (
    <section aria-label="The job’s book">
      <h2 className="text-2xl">The job’s book, newest first</h2>
      <div className="flex flex-wrap items-center gap-2 py-2">
        <select
          aria-label="Which entries"
          className="entry w-auto"
          value={kind}
          onChange={(event) => setKind(event.target.value)}
        >
          <option value="">everything</option>
          <option value="good">when it drove well</option>
          {Object.entries(KINDS).map(([key, words]) => (
            <option key={key} value={key}>
              {words.toLowerCase()}
            </option>
          ))}
        </select>
        <input
          className="entry min-w-40 flex-1"
          aria-label="Find in the job’s book"
          placeholder="Find"
          value={find}
          onChange={(event) => setFind(event.target.value)}
        />
        <a className="press px-3" href={`/api/jobs/${job}/book.pdf`}>
          <Printer size={18} aria-hidden /> PDF
        </a>
        <a className="press px-3" href={`/api/jobs/${job}/records.csv`}>
          <Download size={18} aria-hidden /> CSV
        </a>
        <button type="button" className="press px-3" onClick={() => picker.current?.click()}>
          <Upload size={18} aria-hidden /> CSV in
        </button>
        <input
          ref={picker}
          type="file"
          accept=".csv,text/csv"
          className="sr-only"
          aria-label="A table of records"
          tabIndex={-1}
          onChange={(event) => {
            void bring(event.target.files?.[0]);
            event.target.value = "";
          }}
        />
      </div>
      <p role="status" className={said ? "border-l-4 border-rule pl-3 leading-snug" : "sr-only"}>
        {said}
      </p>
      {!shown.length && <p className="text-soft">Nothing of that is in the book.</p>}
      {days(shown).map(([day, entries]) => (
        <section key={day} aria-label={day}>
          <h3 className="pt-3 text-sm font-semibold text-soft">{day}</h3>
          <ol>
            {entries.map((one) => (
              <Line
                key={`${one.kind} ${one.when} ${one.key} ${one.number} ${one.photo}`}
                one={one}
                job={job}
                onRevision={onRevision}
              />
            ))}
          </ol>
        </section>
      ))}
    </section>
  );
}

function Line({ one, job, onRevision }: { one: Entry; job: string; onRevision: (number: number) => void }) {
  const say = useSay();
  const [search] = useSearchParams();
  const [open, setOpen] = useState(false);
  const holds = one.holds.length > 0 || one.photo !== "" || one.set_then.length > 0;
  return (
    <li className="border-b border-rule py-2">
      <div className="flex gap-3">
        <span className="w-20 shrink-0 font-semibold">{KINDS[one.kind] ?? one.kind}</span>
        <div className="min-w-0 flex-1 leading-snug">
          <p>{say(one.say)}</p>
          {one.note && <p className="italic">“{one.note}”</p>}
          <p className="text-sm text-soft">
            {one.when.slice(11, 16)}
            {one.by ? `, ${one.by}` : ""}
          </p>
        </div>
        <span className="flex shrink-0 items-start gap-1">
          {holds && (
            <button
              type="button"
              className="press px-3 text-sm"
              aria-expanded={open}
              onClick={() => setOpen(!open)}
            >
              {one.set_then.length ? "What was set then" : "Open"}
            </button>
          )}
          {one.number !== null && (
            <button type="button" className="press px-3 text-sm" onClick={() => onRevision(one.number ?? 1)}>
              What it changed
            </button>
          )}
          {one.sheet !== "log" && (
            <Link
              className="press px-3 text-sm"
              to={{ pathname: `/jobs/${job}/${one.sheet}`, search: search.toString() }}
            >
              {one.sheet === "survey" ? "Survey" : "Prove"}
            </Link>
          )}
        </span>
      </div>
      {open && (
        <div className="pt-1 pl-[5.75rem]">
          {one.photo && (
            <img
              className="max-h-72 border border-rule"
              src={`/api/jobs/${job}/photographs/${one.photo}.jpg`}
              alt={say(one.say)}
            />
          )}
          <ul className="grid grid-cols-[repeat(auto-fill,minmax(13rem,1fr))] gap-x-4 text-sm">
            {[...one.holds, ...one.set_then].map((words, k) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: lines stand in the order in which they were read
              <li key={k}>{say(words)}</li>
            ))}
          </ul>
        </div>
      )}
    </li>
  );
}

function days(entries: Entry[]): [string, Entry[]][] {
  const found = new Map<string, Entry[]>();
  for (const one of entries) {
    const day = one.when.slice(0, 10);
    found.set(day, [...(found.get(day) ?? []), one]);
  }
  return [...found];
}
