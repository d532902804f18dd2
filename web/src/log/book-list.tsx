import { useQuery } from "@tanstack/react-query";
import { Trash2 } from "lucide-react";
import { type ReactNode, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { answer, client, type Shape } from "../api/client";
import { useSay } from "../quantity/sentence";
import { Trouble, Waiting } from "../session/states";

export type Entry = Shape["EntryOut"];

interface Props {
  job: string;
  /** What the book is called where it stands: its field to find in is named after it. */
  name: string;
  /** Whether an entry belongs here; all do if left out. */
  belongs?: (entry: Entry) => boolean;
  /** Presses beside the field to find in. */
  presses: ReactNode;
  /** What an entry can be asked for besides what it holds. */
  of: (entry: Entry, said: string) => ReactNode;
}

/** A job's book, the newest entry first, by kind and by words; each opens what it holds. */
export function BookList({ job, name, belongs = () => true, presses, of }: Props) {
  const say = useSay();
  const [kind, setKind] = useState("");
  const [find, setFind] = useState("");
  const book = useQuery({
    queryKey: ["book", job],
    queryFn: () => answer(client.GET("/api/jobs/{job_id}/book", { params: { path: { job_id: job } } })),
    staleTime: 0,
  });
  if (book.isPending) return <Waiting what="Loading the book" />;
  if (book.isError)
    return (
      <Trouble title="The book cannot be shown" detail={book.error.message}>
        <button type="button" className="press press-main" onClick={() => book.refetch()}>
          Try again
        </button>
      </Trouble>
    );
  const here = book.data.entries.filter(belongs);
  const kinds = Object.entries(book.data.kinds).filter(([key]) => here.some((one) => one.kind === key));
  const wanted = find.trim().toLowerCase();
  const shown = here.filter(
    (one) =>
      (!kind || (kind === "good" ? one.good : one.kind === kind)) &&
      (!wanted || `${say(one.say)} ${one.note} ${one.by}`.toLowerCase().includes(wanted)),
  );
  return (
    <>
      <div className="flex flex-wrap items-center gap-2 py-2">
        <select
          aria-label="Which entries"
          className="entry w-auto"
          value={kind}
          onChange={(event) => setKind(event.target.value)}
        >
          <option value="">everything</option>
          <option value="good">when it drove well</option>
          {kinds.map(([key, words]) => (
            <option key={key} value={key}>
              {words.toLowerCase()}
            </option>
          ))}
        </select>
        <input
          className="entry min-w-40 flex-1"
          aria-label={`Find in ${name}`}
          placeholder="Find"
          value={find}
          onChange={(event) => setFind(event.target.value)}
        />
        {presses}
      </div>
      {!shown.length && (
        <p className="text-soft">
          {here.length ? "Nothing in the book matches that." : "Nothing is written down yet."}
        </p>
      )}
      {days(shown).map(([day, entries]) => (
        <section key={day} aria-label={day}>
          <h3 className="pt-3 text-sm font-semibold text-soft">{day}</h3>
          <ol>
            {entries.map((one) => (
              <Line
                key={`${one.kind} ${one.when} ${one.key} ${one.number} ${one.photo}`}
                one={one}
                job={job}
                word={book.data.kinds[one.kind] ?? one.kind}
              >
                {of(one, say(one.say))}
              </Line>
            ))}
          </ol>
        </section>
      ))}
    </>
  );
}

function Line({ one, job, word, children }: { one: Entry; job: string; word: string; children: ReactNode }) {
  const say = useSay();
  const [open, setOpen] = useState(false);
  const holds = one.holds.length > 0 || one.photo !== "" || one.set_then.length > 0;
  return (
    <li className="border-b border-rule py-2">
      <div className="flex flex-wrap gap-x-3">
        <span className="w-20 shrink-0 font-semibold">{word}</span>
        <div className="min-w-48 flex-1 leading-snug">
          <p>{say(one.say)}</p>
          {one.note && <p className="italic">“{one.note}”</p>}
          <p className="text-sm text-soft">
            {one.when.slice(11, 16)}
            {one.by ? `, ${one.by}` : ""}
          </p>
        </div>
        <span className="ml-auto flex shrink-0 items-start gap-1">
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
          {children}
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

/** A press that takes a record out of the book again. */
export function TakeOut({ said, onPress }: { said: string; onPress: () => void }) {
  return (
    <button type="button" className="press px-2" aria-label={`Remove: ${said}`} onClick={onPress}>
      <Trash2 size={16} aria-hidden />
    </button>
  );
}

/** A press that goes to the sheet on which an entry was made. */
export function ToSheet({ job, sheet }: { job: string; sheet: string }) {
  const [search] = useSearchParams();
  if (sheet === "log") return null;
  return (
    <Link
      className="press px-3 text-sm"
      to={{ pathname: `/jobs/${job}/${sheet}`, search: search.toString() }}
    >
      {sheet === "survey" ? "Survey" : "Prove"}
    </Link>
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
