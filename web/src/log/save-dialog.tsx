import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { type FormEvent, useState } from "react";
import { answer, client, type Project, Refused, type Shape } from "../api/client";
import { rememberAnswer } from "../api/line";
import type { DraftInHand } from "../bench/draft";
import { documentOf } from "../bench/draft";
import { Waiting } from "../session/states";
import { Changes } from "./changes";

interface Props {
  job: string;
  hand: DraftInHand;
}

type Outdated = Shape["Outdated"];

const PANEL =
  "fixed left-1/2 top-1/2 z-50 max-h-[92vh] w-[min(46rem,94vw)] -translate-x-1/2 -translate-y-1/2 overflow-y-auto border border-edge bg-card p-6 text-ink";

/** Save a revision with its reason; where somebody else saved first, show both and lose neither. */
export function SaveDialog({ job, hand }: Props) {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState("");
  const save = useMutation({
    mutationFn: ({ parent, document }: { parent: number; document: Project }) =>
      answer(
        client.POST("/api/jobs/{job_id}/revisions", {
          params: { path: { job_id: job } },
          body: { parent, reason, document: document as unknown as Record<string, unknown> },
        }),
      ),
    onSuccess: (revision) => {
      hand.markSaved(revision);
      void rememberAnswer(`/api/jobs/${job}`, revision);
      setOpen(false);
      setReason("");
      void queries.invalidateQueries({ queryKey: ["revisions", job] });
      void queries.invalidateQueries({ queryKey: ["jobs"] });
    },
  });
  const { draft, dirty } = hand;
  const outdated =
    save.error instanceof Refused && save.error.code === "revision_outdated"
      ? (save.error.body as Outdated)
      : null;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate({ parent: draft.base, document: draft.now.document });
  };
  const change = (next: boolean) => {
    setOpen(next);
    if (!next) save.reset();
  };
  return (
    <Dialog.Root open={open} onOpenChange={change}>
      <Dialog.Trigger className="press press-main" disabled={!dirty}>
        Save revision
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content
          className={PANEL}
          aria-describedby={undefined}
          onCloseAutoFocus={(event) => {
            // Once it is saved the press that opened this has nothing left to do: the sheet is in hand again.
            if (save.isSuccess || !hand.dirty) {
              event.preventDefault();
              document.querySelector<HTMLElement>("nav [aria-current=page]")?.focus();
            }
          }}
        >
          {outdated ? (
            <Conflict
              job={job}
              base={draft.base}
              mine={draft.now.document}
              outdated={outdated}
              saving={save.isPending}
              onMine={() => {
                hand.rebase(outdated.theirs);
                save.mutate({ parent: outdated.theirs.number, document: draft.now.document });
              }}
              onBoth={(document) => {
                hand.rebase(outdated.theirs);
                hand.edit(() => document);
                save.mutate({ parent: outdated.theirs.number, document });
              }}
              onTheirs={() => {
                hand.rebase(outdated.theirs);
                hand.edit(() => documentOf(outdated.theirs));
                change(false);
              }}
            />
          ) : (
            <form onSubmit={submit}>
              <Dialog.Title className="text-2xl">Save revision {draft.base + 1}</Dialog.Title>
              <label htmlFor="reason" className="mt-3 block font-semibold">
                Why? The next one to open this will want to know.
              </label>
              <input
                id="reason"
                className="entry mt-1 text-lg"
                maxLength={300}
                value={reason}
                autoComplete="off"
                placeholder="Rocker pivot up 5 mm, to clear the tube clamp"
                onChange={(event) => setReason(event.target.value)}
              />
              <h3 className="pb-1 pt-5 text-lg">What it holds</h3>
              <Differences before={draft.saved} after={draft.now.document} />
              {save.isError && (
                <p role="alert" className="mt-4 whitespace-pre-line border-l-4 border-fault pl-3 text-fault">
                  {save.error.message}
                </p>
              )}
              <div className="mt-5 flex flex-wrap justify-end gap-3">
                <Dialog.Close className="press">Not yet</Dialog.Close>
                <button
                  type="submit"
                  className="press press-main"
                  disabled={!reason.trim() || save.isPending}
                >
                  Save
                </button>
              </div>
            </form>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** What differs between two documents that need not be saved. */
function useDifferences(before: Project, after: Project) {
  return useQuery({
    queryKey: ["changes", before, after],
    queryFn: () =>
      answer(
        client.POST("/api/changes", {
          body: {
            before: before as unknown as Record<string, unknown>,
            after: after as unknown as Record<string, unknown>,
          },
        }),
      ),
    gcTime: 0,
  });
}

function Differences({ before, after }: { before: Project; after: Project }) {
  const found = useDifferences(before, after);
  if (found.isPending) return <Waiting what="Comparing" />;
  if (found.isError) return <p className="text-soft">{found.error.message}</p>;
  return <Changes changes={found.data} />;
}

interface ConflictProps {
  job: string;
  /** The revision that both began with, and what is unsaved here. */
  base: number;
  mine: Project;
  outdated: Outdated;
  saving: boolean;
  onMine: () => void;
  onBoth: (document: Project) => void;
  onTheirs: () => void;
}

/** Two saved over one another: what only one changed is kept of both, and what both changed is asked. */
function Conflict({ job, base, mine, outdated, saving, onMine, onBoth, onTheirs }: ConflictProps) {
  const [theirs, setTheirs] = useState<string[]>([]);
  const both = useQuery({
    queryKey: ["together", job, base, outdated.theirs.number, mine, theirs],
    queryFn: () =>
      answer(
        client.POST("/api/jobs/{job_id}/together", {
          params: { path: { job_id: job } },
          body: {
            parent: base,
            document: mine as unknown as Record<string, unknown>,
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
  const own = outdated.detail.startsWith("You ");
  return (
    <div aria-busy={comparing}>
      <Dialog.Title className="text-2xl">Somebody saved first</Dialog.Title>
      <p className="mt-2">{outdated.detail}</p>
      {both.isError && <p className="mt-3 text-fault">{both.error.message}</p>}
      {both.isPending && <Waiting what="Comparing" />}
      {found && (
        <>
          {found.clashes.length > 0 && (
            <>
              <h3 className="pb-1 pt-5 text-lg">Both changed: which is it?</h3>
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
            {own ? "What you changed there" : `What ${outdated.theirs.author} changed`}
          </h3>
          <Changes changes={found.theirs} />
          <h3 className="pb-1 pt-5 text-lg">What you changed here</h3>
          <Changes changes={found.mine} />
          {found.why && (
            <p role="alert" className="mt-3 border-l-4 border-warning pl-3">
              The two do not go together: {found.why}
            </p>
          )}
        </>
      )}
      <div className="mt-5 flex flex-wrap justify-end gap-3">
        <Dialog.Close className="press">Keep working</Dialog.Close>
        <button type="button" className="press" onClick={onTheirs} disabled={comparing}>
          Take theirs (undo brings mine back)
        </button>
        <button type="button" className="press" onClick={onMine} disabled={saving || comparing}>
          Replace theirs with mine
        </button>
        <button
          type="button"
          className="press press-main"
          onClick={() => found?.document && onBoth(found.document as unknown as Project)}
          disabled={saving || comparing || !found?.document}
        >
          Save both
        </button>
      </div>
    </div>
  );
}
