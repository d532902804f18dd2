import { useQuery, useQueryClient } from "@tanstack/react-query";
import { ChevronLeft, Redo2, Undo2 } from "lucide-react";
import { Suspense, useEffect, useState } from "react";
import { Link, NavLink, useNavigate, useParams, useSearchParams } from "react-router";
import { answer, client, type Finding, Refused, type Shape, SIGNED_OUT } from "../api/client";
import { type DraftInHand, useDraft } from "../bench/draft";
import { useSolved } from "../bench/solved";
import { type KeptWhere, useKeeping } from "../bench/unsaved";
import { BriefVerdict } from "../brief/brief-verdict";
import { isOn } from "../findings/families";
import { Verdict } from "../findings/verdict";
import { SaveDialog } from "../log/save-dialog";
import { JobPeople } from "../people/job-people";
import { BuiltToggle } from "../prove/built-toggle";
import { UnitsOfJob } from "../quantity/units";
import { UnitsMenu } from "../quantity/units-menu";
import { useSession } from "../session/session";
import { SignInAgain } from "../session/sign-in-again";
import { Trouble, Waiting } from "../session/states";
import { ThemeButton } from "../session/theme";
import { useSurvey } from "../survey/store";
import { useTaking } from "../survey/taking";
import { Offers } from "./offers";
import { SavedSince } from "./saved-since";
import {
  BriefSheet,
  FrameSheet,
  fetchSheets,
  LayoutSheet,
  LogSheet,
  MakeSheet,
  MakeVerdict,
  NextSheet,
  ProveSheet,
  ProveVerdict,
  RightSheet,
  RockerSheet,
  SpringingSheet,
  StopsSheet,
  StudySheet,
  SurveySheet,
  SurveyVerdict,
} from "./sheets";

/** One job on the bench. */
export function JobPage() {
  const { job = "" } = useParams();
  const user = useSession().data?.user ?? "";
  const newest = useQuery({
    queryKey: ["job", job],
    queryFn: () => answer(client.GET("/api/jobs/{job_id}", { params: { path: { job_id: job } } })),
    staleTime: 0,
    gcTime: 0,
    refetchOnReconnect: false,
  });
  if (newest.isPending) return <Waiting what="Opening the job" />;
  if (newest.isError) {
    const gone = newest.error instanceof Refused && newest.error.code === "not_found";
    return (
      <Trouble title={gone ? "No such job" : "The job cannot be opened"} detail={newest.error.message}>
        <Link to="/" className="press">
          All jobs
        </Link>
        {!gone && (
          <button type="button" className="press press-main" onClick={() => newest.refetch()}>
            Try again
          </button>
        )}
      </Trouble>
    );
  }
  return (
    <UnitsOfJob key={job} job={job}>
      <Bench key={job} newest={newest.data} user={user} />
    </UnitsOfJob>
  );
}

/** The study is opened from the Brief: it asks what the Brief asks, of all stations at once. */
const SHEETS = [
  ["brief", "Brief"],
  ["survey", "Survey"],
  ["layout", "Layout"],
  ["rocker", "Rocker"],
  ["springing", "Springing"],
  ["stops", "Stops"],
  ["frame", "Frame"],
  ["make", "Make"],
  ["prove", "Prove"],
  ["log", "Log"],
] as const;

function Bench({ newest, user }: { newest: Shape["RevisionOut"]; user: string }) {
  const job = newest.job;
  const { sheet = "layout" } = useParams();
  const navigate = useNavigate();
  const [search, setSearch] = useSearchParams();
  const queries = useQueryClient();
  const hand = useDraft(newest, user);
  const document = hand.draft.now.document;
  const index = Math.min(Math.max(Number(search.get("station") ?? 0) || 0, 0), document.stations.length - 1);
  const [travel, setTravel] = useState(0);
  const solved = useSolved(document, index);
  const survey = useSurvey(job, user);
  const take = useTaking(job, hand);
  useUndoKeys(hand);
  useTabMark(hand.dirty);
  const settled = solved.view !== null;
  useEffect(() => {
    if (settled) void fetchSheets();
  }, [settled]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new revision makes every list stale
  useEffect(() => {
    void queries.invalidateQueries({ queryKey: ["revisions", job] });
  }, [hand.draft.base]);

  const sheetProps = { document, index, solved, hand, travel, onTravel: setTravel };
  const tab = sheet === "study" ? "brief" : sheet;
  const open = (solved.view?.findings ?? []).filter((finding) => finding.mark !== "good");
  return (
    <div className="flex h-full flex-col max-lg:h-auto max-lg:min-h-full">
      <header className="flex min-h-14 flex-wrap items-center gap-x-4 gap-y-1 bg-steel px-3 py-1 text-soapstone xl:h-14 xl:flex-nowrap xl:py-0 print:bg-transparent print:text-ink">
        <Link to="/" className="press press-dark px-2" aria-label="All jobs">
          <ChevronLeft size={20} aria-hidden />
        </Link>
        <div className="min-w-0 leading-tight">
          <h1 className="truncate text-lg font-bold leading-[1.375rem]">{document.name}</h1>
          <p className="text-sm leading-4 text-chalk print:text-soft">
            revision {hand.draft.base}
            <Kept job={job} user={user} hand={hand} />
          </p>
        </div>
        <nav
          aria-label="Sheets"
          className="no-print flex min-w-0 self-stretch max-lg:order-last max-lg:w-full max-sm:overflow-x-auto max-sm:overflow-y-hidden lg:ml-4 xl:shrink-0"
        >
          {SHEETS.map(([key, name]) => (
            <NavLink
              key={key}
              to={{ pathname: `/jobs/${job}/${key}`, search: search.toString() }}
              aria-current={tab === key ? "page" : undefined}
              className={`-my-1 flex min-h-14 xl:my-0 items-center gap-1.5 border-t-4 px-3 2xl:px-4 text-lg font-semibold max-lg:px-2.5 max-sm:px-2 max-sm:text-base ${
                tab === key ? "border-marker bg-paper text-ink" : "border-transparent"
              }`}
            >
              {name}
              <Count sheet={key} findings={open} />
            </NavLink>
          ))}
        </nav>
        <div className="ml-auto flex gap-2">
          <JobPeople job={job} />
          <ThemeButton className="press press-dark" />
        </div>
      </header>
      <main className="flex min-h-0 flex-1 flex-col">
        <div className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-rule px-3 py-1.5 lg:h-[72px] lg:flex-nowrap">
          <Suspense fallback={<div className="flex-1" />}>
            {sheet === "log" ? (
              <p className="flex-1 text-lg font-bold">What was changed, and what did it do?</p>
            ) : sheet === "survey" && index >= 0 ? (
              <SurveyVerdict job={job} document={document} hand={survey} />
            ) : sheet === "make" && index >= 0 ? (
              <MakeVerdict document={document} hand={survey} />
            ) : sheet === "prove" && index >= 0 ? (
              <ProveVerdict document={document} hand={survey} />
            ) : sheet === "study" && index >= 0 ? (
              <p className="flex-1 text-lg font-bold leading-tight">
                Which mounts, rockers and springs, of all stations together, come nearest to what it is to be?
              </p>
            ) : sheet === "frame" && index >= 0 ? (
              <p className="flex-1 text-lg font-bold leading-tight">Does the chassis carry it?</p>
            ) : sheet === "next" && index >= 0 ? (
              <p className="flex-1 text-lg font-bold leading-tight">What comes next, and what must wait?</p>
            ) : sheet === "right" && index >= 0 ? (
              <p className="flex-1 text-lg font-bold leading-tight">
                What is the least work that clears every fault?
              </p>
            ) : sheet === "brief" || index < 0 ? (
              <BriefVerdict document={document} />
            ) : (
              <Verdict solved={solved} sheet={sheet} />
            )}
          </Suspense>
          <div className="flex flex-wrap items-center gap-2 max-lg:w-full max-lg:justify-end">
            {document.stations.length > 0 &&
              !["log", "brief", "make", "study", "right", "frame", "next"].includes(sheet) && (
                <select
                  aria-label="Station"
                  className="entry w-auto max-w-44 font-semibold"
                  value={index}
                  onChange={(event) => {
                    setTravel(0);
                    setSearch({ station: event.target.value }, { replace: true });
                  }}
                >
                  {document.stations.map((station, k) => (
                    <option key={station.name} value={k}>
                      {station.name}
                    </option>
                  ))}
                </select>
              )}
            {index >= 0 && sheet !== "next" && (
              <Link className="press px-3" to={{ pathname: `/jobs/${job}/next`, search: search.toString() }}>
                Next
              </Link>
            )}
            {index >= 0 && !["log", "study", "right", "next"].includes(sheet) && (
              <Link className="press px-3" to={{ pathname: `/jobs/${job}/right`, search: search.toString() }}>
                Put it right
              </Link>
            )}
            {!["log", "make", "study", "right", "frame", "next"].includes(sheet) && (
              <BuiltToggle document={document} hand={hand} survey={survey} />
            )}
            <UnitsMenu />
            <button
              type="button"
              className="press px-3"
              onClick={hand.undo}
              disabled={!hand.draft.past.length}
              aria-label="Undo"
            >
              <Undo2 size={18} aria-hidden />
            </button>
            <button
              type="button"
              className="press px-3"
              onClick={hand.redo}
              disabled={!hand.draft.future.length}
              aria-label="Redo"
            >
              <Redo2 size={18} aria-hidden />
            </button>
            <SaveDialog job={job} hand={hand} />
          </div>
        </div>
        {solved.refused?.code === SIGNED_OUT && <SignInAgain onBack={solved.retry} />}
        {hand.draft.recovered && hand.dirty && <Recovered hand={hand} />}
        <Offers job={job} user={user} hand={hand} />
        <SavedSince job={job} user={user} hand={hand} newest={newest.number} />
        <Suspense fallback={<Waiting what="Opening the sheet" />}>
          {sheet === "log" ? (
            <LogSheet
              job={job}
              document={document}
              index={index}
              onTake={(older) => {
                hand.edit(() => older);
                navigate(`/jobs/${job}/layout?${search.toString()}`);
              }}
            />
          ) : sheet === "brief" || index < 0 ? (
            <BriefSheet
              document={document}
              index={index}
              hand={hand}
              finished={solved.view?.finished ?? null}
              onStation={(k) => {
                setTravel(0);
                setSearch({ station: String(k) }, { replace: true });
              }}
              study={`/jobs/${job}/study?${search.toString()}`}
            />
          ) : sheet === "study" ? (
            <StudySheet job={job} document={document} hand={hand} />
          ) : sheet === "frame" ? (
            <FrameSheet job={job} document={document} hand={hand} />
          ) : sheet === "next" ? (
            <NextSheet job={job} revision={hand.draft.base} document={document} survey={survey} />
          ) : sheet === "right" ? (
            <RightSheet document={document} hand={hand} />
          ) : sheet === "make" ? (
            <MakeSheet job={job} document={document} survey={survey} hand={hand} />
          ) : sheet === "prove" ? (
            <ProveSheet job={job} document={document} index={index} survey={survey} hand={hand} />
          ) : sheet === "survey" ? (
            <SurveySheet
              job={job}
              user={user}
              document={document}
              index={index}
              hand={survey}
              onTake={take}
            />
          ) : sheet === "stops" ? (
            <StopsSheet key={index} {...sheetProps} />
          ) : sheet === "rocker" ? (
            <RockerSheet key={index} {...sheetProps} />
          ) : sheet === "springing" ? (
            <SpringingSheet key={index} {...sheetProps} />
          ) : (
            <LayoutSheet key={index} {...sheetProps} />
          )}
        </Suspense>
      </main>
    </div>
  );
}

const KEPT: Record<KeptWhere, string> = {
  saved: "",
  server: ", kept on the server",
  browser: ", kept in this browser",
  nowhere:
    ", not kept anywhere yet: this browser’s storage is full or blocked, and the server cannot be reached",
};

/** Keeps what is in hand, and says where; by itself, so that what it says draws no sheet anew. */
function Kept({ job, user, hand: { draft, dirty } }: { job: string; user: string; hand: DraftInHand }) {
  const where = useKeeping(user, job, draft.base, draft.now.document, dirty);
  return dirty ? ` with unsaved changes${KEPT[where]}` : ", saved";
}

/** How many findings a sheet has to look at, in a mark that says how bad the worst is. */
function Count({ sheet, findings }: { sheet: string; findings: Finding[] }) {
  const its = findings.filter(isOn(sheet));
  if (!its.length) return null;
  const fault = its.some((finding) => finding.mark === "fault");
  return (
    <span
      className={`relative inline-flex min-w-6 items-center justify-center px-1 text-sm font-bold text-white ${fault ? "bg-[#a8201a]" : "rounded-full bg-[#9a5b00]"}`}
    >
      {its.length}
      <span className="sr-only">{its.length === 1 ? " finding" : " findings"} to look at</span>
    </span>
  );
}

/** Unsaved work from before a reload or a failed save. */
function Recovered({ hand }: { hand: DraftInHand }) {
  return (
    <div
      role="status"
      className="no-print flex flex-wrap items-center gap-3 border-b border-rule bg-marker/25 px-4 py-2"
    >
      <p className="flex-1">Your unsaved changes were kept in this browser.</p>
      <button type="button" className="press" onClick={hand.discard}>
        Discard them
      </button>
    </div>
  );
}

/** Ctrl or Cmd with Z and Shift-Z, but not inside a field, where they belong to the typing. */
function useUndoKeys({ undo, redo }: DraftInHand) {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement;
      if (typing || !(event.ctrlKey || event.metaKey) || event.altKey) return;
      const key = event.key.toLowerCase();
      if (key === "z" && !event.shiftKey) undo();
      else if (key === "y" || (key === "z" && event.shiftKey)) redo();
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [undo, redo]);
}

/** Name unsaved work in the tab, where it is seen from another one. */
function useTabMark(dirty: boolean) {
  useEffect(() => {
    document.title = dirty ? "● Jugatrix" : "Jugatrix";
    return () => {
      document.title = "Jugatrix";
    };
  }, [dirty]);
}
