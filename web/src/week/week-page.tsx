import { ChevronLeft, ChevronRight } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { isStopped } from "../api/working";
import { WorkingLine } from "../bench/working-line";
import { Trouble, Waiting } from "../session/states";
import { ThemeButton } from "../session/theme";
import { HeldCard } from "./held-card";
import { JobDates } from "./job-dates";
import { OnItsWay } from "./on-its-way";
import { PeopleAtWork } from "./people-at-work";
import {
  dayAfter,
  NAME,
  type Plan,
  type Shop,
  type Stretch,
  usePlan,
  useSay,
  useWeek,
  weekday,
  withHeld,
} from "./week";
import { WeekGrid } from "./week-grid";

/** Who does what, and when is it done? */
export function WeekPage() {
  const week = useWeek();
  const plan = usePlan();
  const say = useSay();
  const [before, setBefore] = useState<{ shop: Shop; plan: Plan | null } | null>(null);
  const [open, setOpen] = useState<Stretch | null>(null);
  const [ahead, setAhead] = useState(0);
  const shop = week.data?.shop;
  const change = (to: Shop) => {
    if (!shop) return;
    // What it was, and what was planned of it: what slips is told beside it, and it can be taken back.
    setBefore({ shop, plan: plan.data ?? null });
    say.mutate(to);
  };
  const first = plan.data ? dayAfter(plan.data.first, 7 * ahead - weekday(plan.data.first)) : null;
  const names = new Map((week.data?.steps ?? []).map((one) => [one.key, one.name]));
  return (
    <div className="flex min-h-full flex-col">
      <header className="flex min-h-14 flex-wrap items-center gap-3 bg-steel px-3 py-1.5 text-soapstone print:hidden">
        <Link to="/" className="press press-dark px-2" aria-label="All jobs">
          <ChevronLeft size={20} aria-hidden />
        </Link>
        <h1 className="text-xl font-bold">Who does what, and when is it done?</h1>
        <ThemeButton className="press press-dark ml-auto" />
      </header>
      <main className="grid w-full grid-cols-[minmax(0,1fr)] gap-6 p-4">
        {week.isPending && <Waiting what="Loading the week" />}
        {week.isError && (
          <Trouble title="The week cannot be shown" detail={week.error.message}>
            <button type="button" className="press press-main" onClick={() => week.refetch()}>
              Try again
            </button>
          </Trouble>
        )}
        {say.isError && (
          <p role="alert" className="whitespace-pre-line border-l-4 border-fault bg-card px-3 py-2">
            Nothing was changed. {say.error.message}
          </p>
        )}
        <div className="empty:hidden">
          <WorkingLine name={NAME} error={plan.error} again={() => void plan.refetch()} />
          {plan.isPending && !plan.isError && <Waiting what="Working out who does what when" />}
          {plan.isError && !isStopped(plan.error) && (
            <p role="alert" className="text-fault">
              {plan.error.message}
            </p>
          )}
        </div>
        {shop && plan.data && first && (
          <>
            <JobDates
              shop={shop}
              plan={plan.data}
              before={plan.isFetching ? null : (before?.plan ?? null)}
              busy={plan.isFetching || say.isPending}
              onShop={change}
              onBack={
                before
                  ? () => {
                      say.mutate(before.shop);
                      setBefore(null);
                    }
                  : null
              }
            />
            <section aria-label="The week">
              <div className="flex flex-wrap items-center gap-2 pb-2 print:hidden">
                <h2 className="text-xl">Two weeks</h2>
                <button
                  type="button"
                  className="press px-2"
                  aria-label="A week earlier"
                  disabled={ahead === 0}
                  onClick={() => setAhead(ahead - 1)}
                >
                  <ChevronLeft size={20} aria-hidden />
                </button>
                <button
                  type="button"
                  className="press px-2"
                  aria-label="A week later"
                  onClick={() => setAhead(ahead + 1)}
                >
                  <ChevronRight size={20} aria-hidden />
                </button>
                <p className="text-sm text-soft">
                  Drag a step to another day or person, or press it: there it is held, and everything else is
                  planned around it.
                </p>
              </div>
              <WeekGrid
                plan={plan.data}
                shop={shop}
                names={names}
                first={first}
                onOpen={setOpen}
                onMove={(step, to) => change(withHeld(shop, step, to))}
              />
            </section>
            {plan.data.said.length > 0 && (
              <ul aria-label="Notes on the plan" className="border-l-4 border-warning bg-card px-3 py-2">
                {plan.data.said.map((words) => (
                  <li key={words}>{words}</li>
                ))}
              </ul>
            )}
          </>
        )}
        {shop && week.data && (
          <div className="grid gap-8 lg:grid-cols-2 print:hidden">
            <PeopleAtWork
              shop={shop}
              usual={week.data.usual}
              steps={week.data.steps}
              calendars={week.data.calendars}
              onShop={change}
            />
            <OnItsWay shop={shop} jobs={plan.data?.jobs ?? []} onShop={change} />
          </div>
        )}
        {open && shop && (
          <HeldCard
            step={open}
            name={names.get(open.step) ?? open.step}
            job={plan.data?.jobs.find((one) => one.id === open.job)?.name ?? ""}
            held={(shop.held ?? []).find(
              (one) =>
                one.job === open.job && one.step === open.step && (one.station ?? null) === open.station,
            )}
            people={shop.people.map((one) => one.name)}
            onHold={(to) => {
              change(withHeld(shop, open, to));
              setOpen(null);
            }}
            onClose={() => setOpen(null)}
          />
        )}
      </main>
    </div>
  );
}
