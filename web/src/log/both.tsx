import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { answer, client, type Project, type Shape } from "../api/client";
import { Waiting } from "../session/states";
import { Changes } from "./changes";

export const PANEL =
  "fixed left-1/2 top-1/2 z-50 max-h-[92vh] w-[min(46rem,94vw)] -translate-x-1/2 -translate-y-1/2 overflow-y-auto border border-edge bg-card p-6 text-ink";

interface Props {
  job: string;
  /** The revision that both began with, and what is unsaved here. */
  base: number;
  mine: Project;
  /** What was saved meanwhile, and whether by this person. */
  theirs: Shape["RevisionOut"];
  own: boolean;
  busy?: boolean;
  /** What is done with the two put together. */
  words: string;
  onBoth: (document: Project) => void;
  onTheirs?: () => void;
  onMine?: () => void;
  /** The two are looked at side by side: what this stands in closes. */
  onBeside: () => void;
}

/** Two saved over one another: what only one changed is kept of both, and what both changed is asked. */
export function Both({
  job,
  base,
  mine,
  theirs: saved,
  own,
  busy,
  words,
  onBoth,
  onTheirs,
  onMine,
  onBeside,
}: Props) {
  const [search] = useSearchParams();
  const [theirs, setTheirs] = useState<string[]>([]);
  const both = useQuery({
    queryKey: ["together", job, base, saved.number, mine, theirs],
    queryFn: () =>
      answer(
        client.POST("/api/jobs/{job_id}/together", {
          params: { path: { job_id: job } },
          body: {
            parent: base,
            document: mine,
            from_theirs: theirs.map((path) => JSON.parse(path) as string[]),
          },
        }),
      ),
    placeholderData: (before) => before,
    gcTime: 0,
    retry: false,
  });
  // Nothing is decided, and no press moves under the finger, before both can be compared.
  const comparing = both.isFetching;
  const found = both.data;
  const dirty = !!found?.mine.length;
  return (
    <div aria-busy={comparing}>
      {both.isError && <p className="mt-3 text-fault">{both.error.message}</p>}
      {both.isPending && <Waiting what="Comparing" />}
      {found && (
        <>
          {found.clashes.length > 0 && (
            <>
              <h3 className="pb-1 pt-5 text-lg">You both changed this. Which one?</h3>
              {found.clashes.map((clash) => {
                const path = JSON.stringify(clash.path);
                const taken = theirs.includes(path);
                return (
                  <fieldset key={path} className="border-b border-rule py-2">
                    <legend className="sr-only">{clash.path.join(", ")}</legend>
                    <Changes changes={clash.changes} heads={["Mine", "Theirs"]} />
                    <div className="flex gap-6">
                      {[
                        [false, "Mine"],
                        [true, "Theirs"],
                      ].map(([from, words]) => (
                        <label key={String(words)} className="flex min-h-11 items-center gap-2">
                          <input
                            type="radio"
                            className="size-5"
                            name={path}
                            checked={taken === from}
                            onChange={() =>
                              setTheirs(from ? [...theirs, path] : theirs.filter((one) => one !== path))
                            }
                          />
                          {words}
                        </label>
                      ))}
                    </div>
                  </fieldset>
                );
              })}
            </>
          )}
          <h3 className="pb-1 pt-5 text-lg">
            {own ? "What you changed there" : `What ${saved.author} changed`}
          </h3>
          <Changes changes={found.theirs} />
          {dirty && (
            <>
              <h3 className="pb-1 pt-5 text-lg">What you changed here</h3>
              <Changes changes={found.mine} />
            </>
          )}
          {found.why && (
            <p role="alert" className="mt-3 border-l-4 border-warning pl-3">
              The two do not go together: {found.why}
            </p>
          )}
        </>
      )}
      <div className="mt-5 flex flex-wrap justify-end gap-3">
        <Dialog.Close className="press">Keep working</Dialog.Close>
        <Link
          className="press"
          to={`/jobs/${job}/log?station=${search.get("station") ?? 0}&beside=${saved.number}`}
          onClick={onBeside}
        >
          See both on the Jack
        </Link>
        {onTheirs && (
          <button type="button" className="press" onClick={onTheirs} disabled={comparing}>
            Take {own ? "that one" : "theirs"} (undo brings mine back)
          </button>
        )}
        {onMine && (
          <button type="button" className="press" onClick={onMine} disabled={busy || comparing}>
            Replace theirs with mine
          </button>
        )}
        <button
          type="button"
          className="press press-main"
          onClick={() => found?.document && onBoth(found.document)}
          disabled={busy || comparing || !found?.document}
        >
          {words}
        </button>
      </div>
    </div>
  );
}
