import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Download, FileUp, Plus, Trash2, Users } from "lucide-react";
import { AlertDialog } from "radix-ui";
import { type ChangeEvent, useEffect, useMemo, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { answer, client, importProject, type Shape } from "../api/client";
import { useSession } from "../session/session";
import { SignOut } from "../session/sign-out";
import { Trouble, Waiting } from "../session/states";
import { ThemeButton } from "../session/theme";
import { DatesOnWall, NextOnWall, type OnTheWall, SmallDrawing, wallQuery } from "./on-wall";

type Job = Shape["JobLine"];

/** The shop's jobs: open one, take a project file in, take one out. */
export function JobList() {
  const jobs = useQuery({ queryKey: ["jobs"], queryFn: () => answer(client.GET("/api/jobs")) });
  const session = useSession();
  const queries = useQueryClient();
  const calm = useCalm();
  // What is stuck comes first, by what is known when the list comes: a card does not move under a hand.
  const stuckFirst = useMemo(
    () =>
      (jobs.data ?? [])
        .map((job) => ({ job, stuck: stuck(queries.getQueryData(wallQuery(job.id).queryKey)) }))
        .sort((one, other) => other.stuck - one.stuck)
        .map(({ job }) => job),
    [jobs.data, queries],
  );
  return (
    <div className="flex min-h-full flex-col">
      <header className="flex min-h-14 flex-wrap items-center gap-3 bg-steel px-4 py-1.5 text-soapstone">
        <span className="text-xl font-bold">Jugatrix</span>
        <Link to="/people" className="press press-dark ml-auto">
          <Users size={18} aria-hidden /> {session.data?.user}
        </Link>
        <ThemeButton className="press press-dark" />
        <SignOut className="press press-dark" />
      </header>
      <main className="mx-auto w-full max-w-5xl p-4 sm:p-6">
        <div className="flex flex-wrap items-end justify-between gap-4">
          <div>
            <h1 className="text-3xl">Which job is on the stands?</h1>
            <p className="mt-1 text-soft">Each one keeps every revision that was saved, and why.</p>
          </div>
          <div className="flex max-w-full flex-wrap items-start justify-end gap-3">
            <Link to="/week" className="press">
              The week
            </Link>
            <Link to="/shelf" className="press">
              The shelf
            </Link>
            <Link to="/practise" className="press">
              Practise
            </Link>
            <Link to="/new" className="press">
              <Plus size={18} aria-hidden />
              Start a new job
            </Link>
            <ImportButton />
          </div>
        </div>
        {session.data?.warnings?.map((words) => (
          <p key={words} role="alert" className="mt-4 border-l-4 border-warning bg-card p-3">
            {words}
          </p>
        ))}
        {jobs.isPending && <Waiting what="Loading the jobs" />}
        {jobs.isError && (
          <Trouble title="The jobs cannot be shown" detail={jobs.error.message}>
            <button type="button" className="press press-main" onClick={() => jobs.refetch()}>
              Try again
            </button>
          </Trouble>
        )}
        {jobs.data?.length === 0 && <FirstUse />}
        <ul className="mt-6 grid gap-4">
          {stuckFirst.map((job) => (
            <JobCard key={job.id} job={job} calm={calm} />
          ))}
        </ul>
        <Removed />
      </main>
    </div>
  );
}

const WAYS_IN = [
  {
    to: "/new",
    title: "Start from an arrangement",
    words:
      "Say what the wheel must do and what room there is. Each arrangement is drawn, and says why it fits or does not.",
  },
  {
    to: "/new?then=survey",
    title: "Measure a real chassis",
    words:
      "Take the arrangement that it has, then Survey: a list of what to read, in the order one walks, and what does not fit.",
  },
  {
    to: "/practise",
    title: "Practise on a made-up car",
    words: "Decide, and see what comes of it and what it costs. Nobody pays for it.",
  },
];

/** An empty shop's ways in. */
function FirstUse() {
  return (
    <section aria-label="No job yet" className="mt-8">
      <h2 className="text-xl">No job yet</h2>
      <ul className="mt-3 grid gap-3 sm:grid-cols-3">
        {WAYS_IN.map((way) => (
          <li key={way.title} className="flex">
            <Link to={way.to} className="block w-full border border-edge bg-card p-4 hover:border-press">
              <span className="block text-xl font-semibold text-link underline underline-offset-4">
                {way.title}
              </span>
              <span className="mt-1 block text-soft">{way.words}</span>
            </Link>
          </li>
        ))}
      </ul>
      <p className="mt-3 max-w-prose text-soft">
        Or import a project file: one open JSON file with the hardpoints, bodies and springs of a vehicle.
      </p>
    </section>
  );
}

/** Jobs that were removed and can still be taken back. */
function Removed() {
  const queries = useQueryClient();
  const removed = useQuery({
    queryKey: ["removed"],
    queryFn: () => answer(client.GET("/api/jobs/removed")),
  });
  const back = useMutation({
    mutationFn: (id: string) =>
      answer(client.POST("/api/jobs/{job_id}/back", { params: { path: { job_id: id } } })),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ["jobs"] });
      void queries.invalidateQueries({ queryKey: ["removed"] });
    },
  });
  if (!removed.data?.length) return null;
  return (
    <section aria-label="Removed jobs" className="mt-10 border-t border-rule pt-4">
      <h2 className="text-xl">Removed jobs, kept for thirty days</h2>
      <ul>
        {removed.data.map((job) => (
          <li key={job.id} className="flex flex-wrap items-center gap-4 border-b border-rule py-2">
            <span className="min-w-0 flex-1 break-words">
              {job.name}
              <span className="block text-sm text-soft">
                removed {new Date(job.removed).toLocaleDateString()}, deleted for good after{" "}
                {new Date(job.until).toLocaleDateString()}
              </span>
            </span>
            <button
              type="button"
              className="press"
              aria-label={`Restore ${job.name}`}
              onClick={() => back.mutate(job.id)}
            >
              Restore it
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

function ImportButton() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const picker = useRef<HTMLInputElement>(null);
  const take = useMutation({
    mutationFn: (file: File) => importProject(file),
    onSuccess: async (job) => {
      await queries.invalidateQueries({ queryKey: ["jobs"] });
      navigate(`/jobs/${job.id}`);
    },
  });
  const picked = (event: ChangeEvent<HTMLInputElement>) => {
    const file = event.target.files?.[0];
    event.target.value = "";
    if (file) take.mutate(file);
  };
  return (
    <div className="flex max-w-full flex-col items-end gap-2">
      <button
        type="button"
        className="press press-main"
        onClick={() => picker.current?.click()}
        disabled={take.isPending}
      >
        <FileUp size={18} aria-hidden />
        {take.isPending ? "Reading …" : "Import a project file"}
      </button>
      <input
        ref={picker}
        type="file"
        accept=".json,application/json"
        className="sr-only"
        tabIndex={-1}
        aria-label="Project file"
        onChange={picked}
      />
      {take.isError && (
        <div role="alert" className="max-w-xl border-2 border-fault bg-card p-4 text-left">
          <p className="font-semibold">This file was not imported. Nothing has changed.</p>
          <p className="mt-1 whitespace-pre-line break-words">{take.error.message}</p>
        </div>
      )}
    </div>
  );
}

/** How stuck a job is: undone by a change first, then waiting for something that has not come. */
function stuck(wall: OnTheWall | undefined): number {
  if (!wall) return 0;
  if (wall.refused || wall.steps.some((one) => one.state === "again")) return 2;
  return wall.steps.some((one) => one.come.length > 0) ? 1 : 0;
}

/** When something was saved, as people write it: no seconds, and no year that is this year's. */
function saved(when: string): string {
  const day = new Date(when);
  const year = day.getFullYear() === new Date().getFullYear() ? undefined : "numeric";
  return `${day.toLocaleDateString(undefined, { day: "numeric", month: "short", year })}, ${day.toLocaleTimeString(undefined, { hour: "2-digit", minute: "2-digit" })}`;
}

/** True once somebody stays: who goes straight to a job has nothing worked out for the wall. */
function useCalm(): boolean {
  const [calm, setCalm] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setCalm(true), STAYS_MS);
    return () => clearTimeout(timer);
  }, []);
  return calm;
}

const STAYS_MS = 900;

function JobCard({ job, calm }: { job: Job; calm: boolean }) {
  return (
    <li className="border border-rule bg-card">
      <div className="flex flex-wrap items-start gap-4 p-4">
        <SmallDrawing job={job.id} calm={calm} />
        <div className="min-w-0 flex-1 basis-72">
          <Link to={`/jobs/${job.id}`} className="block min-h-[44px]">
            <span className="block break-words text-2xl font-semibold text-link underline decoration-1 underline-offset-4">
              {job.name}
            </span>
            <span className="mt-1 block">
              {job.stations.map((station) => station.name).join(" · ") || "no station yet"}
            </span>
            <span className="mt-1 block text-sm text-soft">
              Revision {job.revision}, {job.saved_by}, {saved(job.saved)}: “{job.reason}”
              {!job.mine && ` · shared by ${job.owner}`}
            </span>
          </Link>
          <NextOnWall job={job.id} calm={calm} />
          <DatesOnWall job={job.id} calm={calm} />
        </div>
        <a className="press" href={`/api/jobs/${job.id}/revisions/${job.revision}/project.json`} download>
          <Download size={18} aria-hidden />
          Project file
        </a>
        {job.mine && <RemoveButton job={job} />}
      </div>
    </li>
  );
}

function RemoveButton({ job }: { job: Job }) {
  const queries = useQueryClient();
  const remove = useMutation({
    mutationFn: () => answer(client.DELETE("/api/jobs/{job_id}", { params: { path: { job_id: job.id } } })),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ["jobs"] });
      void queries.invalidateQueries({ queryKey: ["removed"] });
    },
  });
  return (
    <AlertDialog.Root>
      <AlertDialog.Trigger className="press px-3" aria-label={`Remove ${job.name}`}>
        <Trash2 size={18} aria-hidden />
      </AlertDialog.Trigger>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <AlertDialog.Content className="fixed left-1/2 top-1/2 z-50 w-[min(32rem,92vw)] -translate-x-1/2 -translate-y-1/2 border border-edge bg-card p-6 text-ink">
          <AlertDialog.Title className="text-xl">Remove {job.name}?</AlertDialog.Title>
          <AlertDialog.Description className="mt-2">
            All {job.revision} of its revisions go with it. For thirty days it can be taken back, at the foot
            of this page; then it is deleted for good.
          </AlertDialog.Description>
          <div className="mt-5 flex flex-wrap justify-end gap-3">
            <AlertDialog.Cancel className="press">Keep it</AlertDialog.Cancel>
            <AlertDialog.Action className="press border-fault text-fault" onClick={() => remove.mutate()}>
              Remove it
            </AlertDialog.Action>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}
