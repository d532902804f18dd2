import { useMutation, useQueryClient } from "@tanstack/react-query";
import { ChevronLeft } from "lucide-react";
import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { importProject, type Station } from "../api/client";
import { UnitsOfJob } from "../quantity/units";
import { UnitsMenu } from "../quantity/units-menu";
import { ThemeButton } from "../session/theme";
import { Arrangements } from "./arrangements";

/** From nothing to a job: a name, what the wheel must do, how it is carried. */
export function NewJob() {
  const [name, setName] = useState("");
  const [asked, setAsked] = useState(false);
  const [search] = useSearchParams();
  const [measured, setMeasured] = useState(search.get("then") === "survey");
  const queries = useQueryClient();
  const navigate = useNavigate();
  const make = useMutation({
    mutationFn: ({ stations, from }: { stations: Station[]; from: string }) =>
      importProject(
        new Blob([JSON.stringify({ format: "jugatrix-project", version: 1, name: name.trim(), stations })]),
        from,
      ),
    onSuccess: async (job) => {
      await queries.invalidateQueries({ queryKey: ["jobs"] });
      navigate(`/jobs/${job.id}/${measured ? "survey" : "layout"}`);
    },
  });
  const nameless = asked && !name.trim();
  return (
    <UnitsOfJob job="new">
      <div className="flex min-h-full flex-col">
        <header className="flex min-h-14 flex-wrap items-center gap-3 bg-steel px-3 py-1.5 text-soapstone">
          <Link to="/" className="press press-dark px-2" aria-label="All jobs">
            <ChevronLeft size={20} aria-hidden />
          </Link>
          <span className="text-xl font-bold">A new job</span>
          <span className="ml-auto" />
          <ThemeButton className="press press-dark" />
        </header>
        <main className="mx-auto w-full max-w-6xl p-4 sm:p-6">
          <div className="flex flex-wrap items-end justify-between gap-3">
            <h1 className="text-3xl">What is on the stands?</h1>
            <UnitsMenu />
          </div>
          <label className="mt-4 block max-w-xl" htmlFor="job-name">
            <span className="font-semibold">Name of the job</span>
            <input
              id="job-name"
              className={`entry mt-1 text-lg ${nameless ? "border-2 border-fault" : ""}`}
              value={name}
              maxLength={120}
              autoComplete="off"
              aria-invalid={nameless}
              aria-describedby={nameless ? "name-fault" : undefined}
              onChange={(event) => setName(event.target.value)}
            />
          </label>
          {nameless && (
            <p id="name-fault" role="alert" className="mt-1 text-fault">
              Give the job a name first: vehicle, customer, whatever you will look for.
            </p>
          )}
          <label className="mt-3 flex min-h-11 max-w-xl items-center gap-3">
            <input
              type="checkbox"
              className="size-5"
              checked={measured}
              onChange={(event) => setMeasured(event.target.checked)}
            />
            Measure it first: the places below are a guess, and the tape finds where they are
          </label>
          {make.isError && (
            <div role="alert" className="mt-3 border-2 border-fault bg-card p-3">
              <p className="font-semibold">The job was not made; nothing you entered is lost.</p>
              <p className="text-sm">{make.error.message}</p>
            </div>
          )}
          <div className="mt-6">
            <Arrangements
              take="Start with this"
              onTake={(stations, layout) => {
                setAsked(true);
                if (name.trim()) make.mutate({ stations, from: layout.title });
                else document.getElementById("job-name")?.focus();
              }}
            />
          </div>
        </main>
      </div>
    </UnitsOfJob>
  );
}
