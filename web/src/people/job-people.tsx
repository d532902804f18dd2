import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Users, X } from "lucide-react";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { answer, client, type Shape } from "../api/client";
import { useSession } from "../session/session";
import { Code } from "./code";

const PANEL =
  "fixed left-1/2 top-1/2 z-50 max-h-[92vh] w-[min(52rem,94vw)] -translate-x-1/2 -translate-y-1/2 overflow-y-auto border border-edge bg-card p-6 text-ink";

const ALONE = /^https?:\/\/(127\.0\.0\.1|localhost|\[::1\])[:/]/;

const ago = (at: string) => {
  const minutes = Math.max(0, Math.round((Date.now() - Date.parse(at)) / 60_000));
  return minutes < 2 ? "just now" : `${minutes} minutes ago`;
};

/** Who a job is open to and who has it in hand; the sheet in hand as a code for the tablet. */
export function JobPeople({ job }: { job: string }) {
  const [open, setOpen] = useState(false);
  const people = useQuery({
    queryKey: ["job people", job],
    queryFn: () => answer(client.GET("/api/jobs/{job_id}/people", { params: { path: { job_id: job } } })),
    refetchOnWindowFocus: true,
    staleTime: 0,
  });
  const here = people.data?.here ?? [];
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger
        className="press press-dark px-3"
        aria-label={
          here.length
            ? `People and tablets: ${here.map((one) => one.name).join(", ")} had it open`
            : "People and tablets"
        }
        onClick={() => void people.refetch()}
      >
        <Users size={18} aria-hidden />
        {here.length > 0 && (
          <span className="max-w-28 truncate text-sm text-marker">
            {here.length === 1 ? here[0]?.name : `${here.length} others`}
          </span>
        )}
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content className={PANEL} aria-describedby={undefined}>
          <div className="flex items-start justify-between gap-4">
            <Dialog.Title className="text-2xl">People and tablets</Dialog.Title>
            <Dialog.Close className="press px-3" aria-label="Close">
              <X size={18} aria-hidden />
            </Dialog.Close>
          </div>
          <div className="mt-3 grid gap-8 sm:grid-cols-[15rem_1fr]">
            <OnTheTablet />
            {people.isError && <p role="alert">{people.error.message}</p>}
            {people.data && <Who job={job} people={people.data} />}
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function OnTheTablet() {
  const path = location.pathname + location.search;
  const address = useQuery({
    queryKey: ["address", path],
    queryFn: () => answer(client.GET("/api/people/address", { params: { query: { path } } })),
  });
  return (
    <section aria-label="Open on the tablet">
      <h3 className="text-lg font-semibold">Open on the tablet</h3>
      <p className="pb-2 text-sm text-soft">Hold its camera to the code: this very sheet opens there.</p>
      {address.data && <Code link={address.data.link} what="this sheet on another device" />}
      {address.data && ALONE.test(address.data.link) && (
        <p className="mt-2 border-l-4 border-warning pl-2 text-sm leading-snug">
          Jugatrix runs for this machine alone now, and no tablet reaches it. docs/running.md says how to open
          it to the shop’s network.
        </p>
      )}
    </section>
  );
}

function Who({ job, people }: { job: string; people: Shape["JobPeople"] }) {
  const queries = useQueryClient();
  const me = useSession().data?.user;
  const all = useQuery({ queryKey: ["people"], queryFn: () => answer(client.GET("/api/people")) });
  const [name, setName] = useState("");
  const change = useMutation({
    mutationFn: ({ what, who }: { what: "share" | "unshare" | "hand"; who: string }) => {
      const params = { path: { job_id: job, name: who } };
      if (what === "hand")
        return answer(
          client.POST("/api/jobs/{job_id}/owner", { params: { path: { job_id: job } }, body: { name: who } }),
        );
      return what === "share"
        ? answer(client.PUT("/api/jobs/{job_id}/people/{name}", { params }))
        : answer(client.DELETE("/api/jobs/{job_id}/people/{name}", { params }));
    },
    onSuccess: (next) => {
      queries.setQueryData(["job people", job], next);
      setName("");
      void queries.invalidateQueries({ queryKey: ["jobs"] });
    },
  });
  const others = (all.data?.people ?? []).filter(
    (one) => one.active && one.name !== people.owner && !people.members.includes(one.name),
  );
  return (
    <section aria-label="Shared with">
      <h3 className="text-lg font-semibold">Shared with</h3>
      <ul className="pt-1">
        <li className="border-b border-rule py-2">
          <strong>{people.owner}</strong>
          {people.owner === me ? " (you)" : ""}, whose job it is
        </li>
        {people.members.map((member) => (
          <li key={member} className="flex flex-wrap items-center gap-2 border-b border-rule py-1">
            <span className="flex-1">
              {member}
              {member === me ? " (you)" : ""}
            </span>
            {people.mine && (
              <button
                type="button"
                className="press px-3 text-sm"
                onClick={() => change.mutate({ what: "hand", who: member })}
              >
                Hand it over to {member}
              </button>
            )}
            {(people.mine || member === me) && (
              <button
                type="button"
                className="press px-2"
                aria-label={`Close it to ${member}`}
                onClick={() => change.mutate({ what: "unshare", who: member })}
              >
                <X size={16} aria-hidden />
              </button>
            )}
          </li>
        ))}
      </ul>
      {people.mine && others.length > 0 && (
        <div className="flex gap-2 pt-3">
          <select
            aria-label="Open it to"
            className="entry flex-1"
            value={name}
            onChange={(event) => setName(event.target.value)}
          >
            <option value="">Open it to …</option>
            {others.map((one) => (
              <option key={one.name} value={one.name}>
                {one.name}
                {one.role === "reader" ? ", who only reads" : ""}
              </option>
            ))}
          </select>
          <button
            type="button"
            className="press px-3"
            disabled={!name || change.isPending}
            onClick={() => change.mutate({ what: "share", who: name })}
          >
            Open it
          </button>
        </div>
      )}
      {people.mine && !others.length && !people.members.length && (
        <p className="pt-2 text-sm text-soft">
          Nobody else is in this shop yet: an owner invites people on the shop’s page.
        </p>
      )}
      {change.isError && (
        <p role="alert" className="pt-2 text-fault">
          {change.error.message}
        </p>
      )}
      {people.here.length > 0 && (
        <>
          <h3 className="pt-4 text-lg font-semibold">Also open elsewhere</h3>
          <ul>
            {people.here.map((one) => (
              <li key={one.name}>
                {one.name}, {ago(one.at)}
              </li>
            ))}
          </ul>
          <p className="text-sm text-soft">
            Readings of both are kept. Whoever saves a revision second sees both versions, and loses none.
          </p>
        </>
      )}
    </section>
  );
}
