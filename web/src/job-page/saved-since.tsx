import { useIsMutating, useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useEffect, useState } from "react";
import { answer, client } from "../api/client";
import { useAway } from "../api/line";
import { type DraftInHand, documentOf } from "../bench/draft";
import { Both, PANEL } from "../log/both";
import { saving } from "../log/saving";
import { Trouble, Waiting } from "../session/states";

interface Props {
  job: string;
  user: string;
  hand: DraftInHand;
  /** The newest revision there was when the job was opened. */
  newest: number;
}

/** The number of a job's newest revision, told as it is saved: while the page is looked at, and again when the line is back. */
function useNewest(job: string, known: number): number {
  const [told, setTold] = useState(known);
  const away = useAway();
  useEffect(() => {
    if (away) return;
    let events: EventSource | null = null;
    // A browser opens few lines to one computer: a page that nobody looks at holds none.
    const follow = () => {
      const seen = document.visibilityState === "visible";
      if (!seen) events?.close();
      if (!seen || events?.readyState === EventSource.CLOSED) events = null;
      if (!seen || events) return;
      events = new EventSource(`/api/jobs/${job}/saved`);
      events.onmessage = (event) => setTold(Number(event.data));
    };
    follow();
    document.addEventListener("visibilitychange", follow);
    return () => {
      document.removeEventListener("visibilitychange", follow);
      events?.close();
    };
  }, [job, away]);
  return told;
}

/** What was saved elsewhere since this was opened: told by the line that the page holds open, without being asked for. */
export function SavedSince({ job, user, hand, newest }: Props) {
  const { draft, dirty } = hand;
  const [open, setOpen] = useState(false);
  const told = useNewest(job, newest);
  const saves = useIsMutating({ mutationKey: saving(job) }) > 0;
  const since = useQuery({
    queryKey: ["saved since", job, draft.base, told],
    queryFn: () =>
      answer(
        client.GET("/api/jobs/{job_id}/revisions", {
          params: { path: { job_id: job }, query: { after: draft.base } },
        }),
      ),
    // What one saves oneself is told as well, and may come before its own answer.
    enabled: told > draft.base && !saves,
    placeholderData: (before) => before,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
    retry: false,
  });
  const last = since.data?.find((line) => line.number > draft.base);
  if (!last || saves) return null;
  const own = last.author === user;
  return (
    <div
      role="status"
      className="no-print flex flex-wrap items-center gap-3 border-b border-rule bg-marker/25 px-4 py-2"
    >
      <p className="min-w-0 flex-1 basis-60">
        {own ? "You have saved" : `${last.author} has saved`} revision {last.number}
        {own && " in another tab or on another device"}: {last.reason}
      </p>
      <Dialog.Root open={open} onOpenChange={setOpen}>
        <Dialog.Trigger className="press press-main">{dirty ? "See both" : "Open it"}</Dialog.Trigger>
        <Dialog.Portal>
          <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
          <Dialog.Content className={PANEL} aria-describedby={undefined}>
            <Dialog.Title className="text-2xl">
              {own ? "You have saved" : `${last.author} has saved`} revision {last.number}
            </Dialog.Title>
            <p className="mt-2">{last.reason}</p>
            <Newest job={job} own={own} hand={hand} onDone={() => setOpen(false)} />
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
    </div>
  );
}

/** The newest revision beside what is in hand: taken, or both put together; nothing is saved by it. */
function Newest({
  job,
  own,
  hand,
  onDone,
}: {
  job: string;
  own: boolean;
  hand: DraftInHand;
  onDone: () => void;
}) {
  const { draft } = hand;
  const newest = useQuery({
    queryKey: ["newest", job, draft.base],
    queryFn: () => answer(client.GET("/api/jobs/{job_id}", { params: { path: { job_id: job } } })),
    staleTime: 0,
    gcTime: 0,
  });
  if (newest.isPending) return <Waiting what="Opening what was saved" />;
  if (newest.isError) return <Trouble title="It cannot be opened now" detail={newest.error.message} />;
  const theirs = newest.data;
  return (
    <Both
      job={job}
      base={draft.base}
      mine={draft.now.document}
      theirs={theirs}
      own={own}
      words={hand.dirty ? "Put both together" : "Open it here"}
      onBoth={(document) => {
        hand.rebase(theirs);
        hand.edit(() => document);
        onDone();
      }}
      onTheirs={
        hand.dirty
          ? () => {
              hand.rebase(theirs);
              hand.edit(() => documentOf(theirs));
              onDone();
            }
          : undefined
      }
      onBeside={onDone}
    />
  );
}
