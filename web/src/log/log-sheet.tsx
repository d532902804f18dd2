import { useQuery } from "@tanstack/react-query";
import { Columns2, Download } from "lucide-react";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { answer, client, type Project } from "../api/client";
import { documentOf } from "../bench/draft";
import { Trouble, Waiting } from "../session/states";
import { Beside } from "./beside";
import { Compare } from "./compare";
import { JobBook } from "./job-book";

interface Props {
  job: string;
  document: Project;
  /** The station in hand. */
  index: number;
  /** Put an older revision's document in hand; it can be undone. */
  onTake: (document: Project, number: number) => void;
}

/** What was done, when, by whom and why. */
export function LogSheet({ job, document, index, onTake }: Props) {
  const log = useQuery({
    queryKey: ["revisions", job],
    queryFn: () => answer(client.GET("/api/jobs/{job_id}/revisions", { params: { path: { job_id: job } } })),
    staleTime: 0,
  });
  const [chosen, setChosen] = useState<{ before: number; after: number } | null>(null);
  const [beside, setBeside] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [page, setPage] = useState<"book" | "revisions">("book");
  // Somebody else's revision, to be looked at beside what is in hand.
  const [search, setSearch] = useSearchParams();
  if (log.isPending) return <Waiting what="Loading the log" />;
  if (log.isError) {
    return (
      <Trouble title="The log cannot be shown" detail={log.error.message}>
        <button type="button" className="press press-main" onClick={() => log.refetch()}>
          Try again
        </button>
      </Trouble>
    );
  }
  const newest = log.data[0]?.number ?? 1;
  const pair = chosen ?? { before: Math.max(1, newest - 1), after: newest };
  const take = async (number: number) => {
    setTrouble(null);
    try {
      const path = { job_id: job, number };
      onTake(
        documentOf(await answer(client.GET("/api/jobs/{job_id}/revisions/{number}", { params: { path } }))),
        number,
      );
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error));
    }
  };
  const asked = log.data.find((line) => line.number === Number(search.get("beside")));
  if ((beside || asked) && document.stations.length)
    return (
      <Beside
        key={asked?.number}
        job={job}
        document={document}
        index={index}
        revisions={log.data}
        against={asked?.number}
        onClose={() => {
          setBeside(false);
          setSearch(
            (before) => {
              before.delete("beside");
              return before;
            },
            { replace: true },
          );
        }}
      />
    );
  return (
    <div className="grid min-h-0 flex-1 gap-6 overflow-y-auto p-4 lg:grid-cols-[minmax(0,5fr)_minmax(0,4fr)] lg:p-6">
      <div>
        <div role="group" aria-label="What of the log is shown" className="flex flex-wrap gap-1 pb-3">
          {(["book", "revisions"] as const).map((one) => (
            <button
              key={one}
              type="button"
              aria-pressed={page === one}
              className={`press px-4 ${page === one ? "press-main" : ""}`}
              onClick={() => setPage(one)}
            >
              {one === "book" ? "Book" : "Revisions"}
            </button>
          ))}
          {document.stations.length > 0 && (
            <button type="button" className="press" onClick={() => setBeside(true)}>
              <Columns2 size={18} aria-hidden />
              Side by side on the Jack
            </button>
          )}
        </div>
        {page === "book" ? (
          <JobBook
            job={job}
            onRevision={(number) => setChosen({ before: Math.max(1, number - 1), after: number })}
          />
        ) : (
          <section aria-label="Revisions">
            <h2 className="text-2xl">Revisions, newest first</h2>
            <p className="pb-2 text-soft">Choose two to compare them. None is ever changed.</p>
            {trouble && <Trouble title="That revision cannot be opened" detail={trouble} />}
            <ol>
              {log.data.map((line) => {
                const root = `/api/jobs/${job}/revisions/${line.number}`;
                return (
                  <li key={line.number} className="border-b border-rule py-3">
                    <div className="flex gap-3">
                      <span className="w-12 shrink-0 text-3xl font-bold leading-none">{line.number}</span>
                      <div className="min-w-0 flex-1">
                        <p className="text-lg font-semibold leading-snug">{line.reason}</p>
                        <p className="text-sm text-soft">
                          {line.author}, {new Date(line.created).toLocaleString()}
                        </p>
                        <fieldset className="mt-2 flex flex-wrap items-center gap-2">
                          <legend className="sr-only">Revision {line.number}</legend>
                          {(["before", "after"] as const).map((side) => (
                            <button
                              key={side}
                              type="button"
                              className={`press px-3 ${pair[side] === line.number ? "press-main" : ""}`}
                              aria-pressed={pair[side] === line.number}
                              onClick={() => setChosen({ ...pair, [side]: line.number })}
                            >
                              {side === "before" ? "Before" : "After"}
                            </button>
                          ))}
                          <button type="button" className="press px-3" onClick={() => take(line.number)}>
                            Open this one
                          </button>
                          <a className="press px-3" href={`${root}/project.json`} download>
                            <Download size={18} aria-hidden />
                            Project file
                          </a>
                          {document.stations.length > 0 && <SweepLinks root={root} document={document} />}
                        </fieldset>
                      </div>
                    </div>
                  </li>
                );
              })}
            </ol>
          </section>
        )}
      </div>
      <section aria-label="Compare" className="border border-rule bg-card p-4">
        {newest > 1 || chosen ? (
          <Compare job={job} before={pair.before} after={pair.after} />
        ) : (
          <p className="text-soft">
            There is one revision so far. Save a second one and the two can be compared here.
          </p>
        )}
      </section>
    </div>
  );
}

function SweepLinks({ root, document }: { root: string; document: Project }) {
  return (
    <details className="relative">
      <summary className="press cursor-pointer list-none px-3">Sweep as CSV …</summary>
      <ul className="absolute right-0 z-20 min-w-48 border border-edge bg-card shadow-lg">
        {document.stations.map((station, k) => (
          <li key={station.name}>
            <a
              className="flex min-h-[44px] items-center px-3 hover:bg-dye hover:text-white"
              href={`${root}/sweep.csv?station=${k}`}
              download
            >
              {station.name}
            </a>
          </li>
        ))}
      </ul>
    </details>
  );
}
