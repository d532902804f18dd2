import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { type FormEvent, useState } from "react";
import { answer, client, type Project, Refused, type Shape } from "../api/client";
import { rememberAnswer } from "../api/line";
import type { DraftInHand } from "../bench/draft";
import { documentOf } from "../bench/draft";
import { Waiting } from "../session/states";
import { Both, PANEL } from "./both";
import { Changes } from "./changes";
import { saving } from "./saving";

interface Props {
  job: string;
  hand: DraftInHand;
}

type Outdated = Shape["Outdated"];

/** Save a revision with its reason; where somebody else saved first, show both and lose neither. */
export function SaveDialog({ job, hand }: Props) {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState("");
  const save = useMutation({
    mutationKey: saving(job),
    mutationFn: ({ parent, document }: { parent: number; document: Project }) =>
      answer(
        client.POST("/api/jobs/{job_id}/revisions", {
          params: { path: { job_id: job } },
          body: { parent, reason, document },
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
    if (next && !reason) setReason(draft.why);
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
            <>
              <Dialog.Title className="text-2xl">Somebody saved first</Dialog.Title>
              <p className="mt-2">{outdated.detail}</p>
              <Both
                job={job}
                base={draft.base}
                mine={draft.now.document}
                theirs={outdated.theirs}
                own={outdated.detail.startsWith("You ")}
                busy={save.isPending}
                words="Save both"
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
                onBeside={() => change(false)}
                onMine={() => {
                  hand.rebase(outdated.theirs);
                  save.mutate({ parent: outdated.theirs.number, document: draft.now.document });
                }}
              />
            </>
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
            before,
            after,
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
