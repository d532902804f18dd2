import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { ChevronLeft, KeyRound, QrCode, Trash2, UserPlus } from "lucide-react";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { answer, client, type Shape } from "../api/client";
import { useSession } from "../session/session";
import { SignOut } from "../session/sign-out";
import { Trouble, Waiting } from "../session/states";
import { ThemeButton } from "../session/theme";
import { Code } from "./code";
import { ShopPapers } from "./shop-papers";

type People = Shape["PeopleOut"];

/** The shop's people: who is here and what each may do, invitations, one's own password. */
export function PeoplePage() {
  const session = useSession().data;
  const people = useQuery({
    queryKey: ["people"],
    queryFn: () => answer(client.GET("/api/people")),
    staleTime: 0,
  });
  const boss = session?.role === "owner";
  return (
    <div className="flex min-h-full flex-col">
      <header className="flex min-h-14 flex-wrap items-center gap-3 bg-steel px-3 py-1.5 text-soapstone">
        <Link to="/" className="press press-dark px-2" aria-label="All jobs">
          <ChevronLeft size={20} aria-hidden />
        </Link>
        <h1 className="text-xl font-bold">The shop’s people</h1>
        <span className="ml-auto text-sm max-sm:sr-only">{session?.user} is at the bench</span>
        <ThemeButton className="press press-dark" />
      </header>
      <main className="mx-auto grid w-full max-w-5xl gap-8 p-4 sm:p-6">
        {people.isPending && <Waiting what="Loading the people" />}
        {people.isError && (
          <Trouble title="The people cannot be shown" detail={people.error.message}>
            <button type="button" className="press press-main" onClick={() => people.refetch()}>
              Try again
            </button>
          </Trouble>
        )}
        {people.data && <Everybody people={people.data} boss={boss} me={session?.user ?? ""} />}
        {people.data && boss && <Invitations people={people.data} />}
        {boss && <ShopPapers />}
        {boss && <Machine />}
        <MyOwn />
      </main>
    </div>
  );
}

function Everybody({ people, boss, me }: { people: People; boss: boolean; me: string }) {
  const queries = useQueryClient();
  const [link, setLink] = useState<{ name: string; link: string } | null>(null);
  const change = useMutation({
    mutationFn: ({ name, ...body }: Shape["PersonIn"] & { name: string }) =>
      answer(client.POST("/api/people/one/{name}", { params: { path: { name } }, body })),
    onSuccess: () => void queries.invalidateQueries({ queryKey: ["people"] }),
  });
  const reset = useMutation({
    mutationFn: (name: string) =>
      answer(client.POST("/api/people/reset-link/{name}", { params: { path: { name } } })),
    onSuccess: (made, name) => setLink({ name, link: made.link }),
  });
  const refused = change.error ?? reset.error;
  return (
    <section aria-label="Who is here">
      <h2 className="text-2xl">Who is here</h2>
      <ul className="mt-2 border-t border-rule">
        {people.people.map((one) => (
          <li key={one.name} className="flex flex-wrap items-center gap-3 border-b border-rule py-2">
            <span className="min-w-40 flex-1">
              <span className={`text-lg font-semibold ${one.active ? "" : "text-soft line-through"}`}>
                {one.name}
              </span>
              {one.name === me ? " (you)" : ""}
              <span className="block text-sm text-soft">
                {one.jobs === 1 ? "one job" : `${one.jobs} jobs`}
                {one.seen ? `, last signed in ${new Date(one.seen).toLocaleString()}` : ""}
                {one.active ? "" : "; is locked out"}
              </span>
            </span>
            {boss ? (
              <>
                <select
                  aria-label={`What ${one.name} may do`}
                  className="entry w-auto"
                  value={one.role}
                  onChange={(event) => change.mutate({ name: one.name, role: event.target.value })}
                >
                  {Object.keys(people.roles).map((role) => (
                    <option key={role}>{role}</option>
                  ))}
                </select>
                <button
                  type="button"
                  className="press px-3 text-sm"
                  aria-label={`New password for ${one.name}`}
                  onClick={() => reset.mutate(one.name)}
                >
                  <KeyRound size={16} aria-hidden /> New password
                </button>
                <button
                  type="button"
                  className="press px-3 text-sm"
                  onClick={() => change.mutate({ name: one.name, active: !one.active })}
                  disabled={one.name === me}
                  aria-label={one.active ? `Lock out: ${one.name}` : `Let back in: ${one.name}`}
                >
                  {one.active ? "Lock out" : "Let back in"}
                </button>
              </>
            ) : (
              <span>{one.role}</span>
            )}
            {link?.name === one.name && (
              <div className="w-full border-l-4 border-rule pl-3">
                <p className="pb-2">
                  Hand this to {one.name}: it sets a new password, once. Nobody else should see it.
                </p>
                <Code link={link.link} what={`a new password for ${one.name}`} />
              </div>
            )}
          </li>
        ))}
      </ul>
      {refused && (
        <p role="alert" className="pt-2 text-fault">
          {refused.message}
        </p>
      )}
      <dl className="mt-3 grid grid-cols-[auto_1fr] gap-x-4 text-sm">
        {Object.entries(people.roles).map(([role, does]) => (
          <div key={role} className="contents">
            <dt className="font-semibold">{role}</dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}

function Invitations({ people }: { people: People }) {
  const queries = useQueryClient();
  const [role, setRole] = useState("bench");
  const [note, setNote] = useState("");
  const [shown, setShown] = useState("");
  const fresh = () => void queries.invalidateQueries({ queryKey: ["people"] });
  const invite = useMutation({
    mutationFn: () => answer(client.POST("/api/people/invites", { body: { role, note } })),
    onSuccess: (made) => {
      setNote("");
      setShown(made.id);
      fresh();
    },
  });
  const takeBack = useMutation({
    mutationFn: (pk: string) =>
      answer(client.DELETE("/api/people/invites/{pk}", { params: { path: { pk } } })),
    onSuccess: fresh,
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    invite.mutate();
  };
  return (
    <section aria-label="Invitations">
      <h2 className="text-2xl">Invite somebody</h2>
      <form onSubmit={submit} className="mt-2 flex flex-wrap items-end gap-3">
        <label className="flex-1 basis-52">
          <span className="block font-semibold">For whom</span>
          <input
            className="entry w-full"
            maxLength={120}
            placeholder="a note to tell it by"
            value={note}
            onChange={(event) => setNote(event.target.value)}
          />
        </label>
        <label>
          <span className="block font-semibold">As</span>
          <select className="entry w-auto" value={role} onChange={(event) => setRole(event.target.value)}>
            {Object.keys(people.roles).map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
        </label>
        <button type="submit" className="press press-main" disabled={invite.isPending}>
          <UserPlus size={18} aria-hidden /> Make an invitation
        </button>
      </form>
      {(invite.error ?? takeBack.error) && (
        <p role="alert" className="pt-2 text-fault">
          {(invite.error ?? takeBack.error)?.message}
        </p>
      )}
      <ul className="mt-3">
        {people.invites.map((one) => (
          <li key={one.id} className="flex flex-wrap items-center gap-3 border-b border-rule py-2">
            <span className="flex-1 basis-52">
              <span className="font-semibold">{one.note || "somebody"}</span> as {one.role}
              <span className="block text-sm text-soft">
                valid until {new Date(one.until).toLocaleDateString()}; lets in one person, once
              </span>
            </span>
            <button
              type="button"
              className="press px-3 text-sm"
              aria-expanded={shown === one.id}
              onClick={() => setShown(shown === one.id ? "" : one.id)}
            >
              <QrCode size={16} aria-hidden /> Show its code
            </button>
            <button
              type="button"
              className="press px-2"
              aria-label={`Withdraw the invitation for ${one.note || "somebody"}`}
              onClick={() => takeBack.mutate(one.id)}
            >
              <Trash2 size={16} aria-hidden />
            </button>
            {shown === one.id && (
              <div className="w-full">
                <Code link={one.link} what={`the invitation for ${one.note || "somebody"}`} />
              </div>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

function Machine() {
  const queries = useQueryClient();
  const machine = useQuery({
    queryKey: ["machine"],
    queryFn: () => answer(client.GET("/api/machine")),
    staleTime: 0,
  });
  const backUp = useMutation({
    mutationFn: () => answer(client.POST("/api/machine/backup")),
    onSuccess: (now) => queries.setQueryData(["machine"], now),
  });
  const its = machine.data;
  return (
    <section aria-label="The machine">
      <h2 className="text-2xl">The machine</h2>
      {machine.isError && <p role="alert">{machine.error.message}</p>}
      {its && (
        <>
          <p className="mt-1">
            {its.last_backup
              ? `Last backed up ${new Date(its.last_backup).toLocaleString()}; ${its.backups === 1 ? "one backup is" : `${its.backups} backups are`} kept in `
              : "Not backed up yet; backups go to "}
            <span className="break-all">{its.folder}</span>.
          </p>
          {its.free_mb !== null && (
            <p>{(its.free_mb / 1000).toFixed(1)} GB are free where the jobs are kept.</p>
          )}
          <p className="text-sm text-soft">
            A backup on the same disk goes with the disk: take a copy elsewhere now and then.
          </p>
          {its.warnings.map((words) => (
            <p key={words} role="alert" className="mt-2 border-l-4 border-warning bg-card p-2">
              {words}
            </p>
          ))}
        </>
      )}
      <button
        type="button"
        className="press mt-3"
        disabled={backUp.isPending}
        onClick={() => backUp.mutate()}
      >
        {backUp.isPending ? "Backing up, and looking at it …" : "Back up now"}
      </button>
      {backUp.isError && (
        <p role="alert" className="pt-2 text-fault">
          {backUp.error.message}
        </p>
      )}
    </section>
  );
}

function MyOwn() {
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const change = useMutation({
    mutationFn: () => answer(client.POST("/api/people/password", { body: { old, new: fresh } })),
    onSuccess: () => {
      setOld("");
      setFresh("");
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    change.mutate();
  };
  return (
    <section aria-label="Your own password">
      <h2 className="text-2xl">Your own password</h2>
      <form onSubmit={submit} className="mt-2 flex flex-wrap items-end gap-3">
        <label>
          <span className="block font-semibold">Password now</span>
          <input
            type="password"
            className="entry"
            autoComplete="current-password"
            value={old}
            onChange={(event) => setOld(event.target.value)}
          />
        </label>
        <label>
          <span className="block font-semibold">New password</span>
          <input
            type="password"
            className="entry"
            autoComplete="new-password"
            value={fresh}
            onChange={(event) => setFresh(event.target.value)}
          />
        </label>
        <button type="submit" className="press" disabled={!old || !fresh || change.isPending}>
          Change it
        </button>
      </form>
      <p role="status" className={change.isError ? "pt-2 text-fault" : "pt-2"}>
        {change.isError
          ? change.error.message
          : change.isSuccess
            ? "Changed. Every other device has to sign in again."
            : ""}
      </p>
      <SignOut everywhere className="press mt-3" />
      <p className="mt-4 text-sm">
        <a href="/licences.txt" className="underline">
          Licences of what ships with Jugatrix
        </a>
      </p>
    </section>
  );
}
