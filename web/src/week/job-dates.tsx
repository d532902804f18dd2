import { Link } from "react-router";
import { Mark } from "../marks/mark";
import { finishWords, type Plan, type Shop, slipped } from "./week";

interface Props {
  shop: Shop;
  plan: Plan;
  /** The plan before the last change; null where there is none, or the new one is not there yet. */
  before: Plan | null;
  busy: boolean;
  onShop: (shop: Shop) => void;
  onBack: (() => void) | null;
}

const ORDER = { fault: 0, warning: 1, good: 2 };

/** Jobs with how they stand to their dates: what is late first, then what is done soonest, what is done already last. */
function inOrder(plan: Plan, shop: Shop) {
  const rows = plan.jobs.map((job) => {
    const wanted = shop.wanted?.[job.id] ?? "";
    const [, likely, late] = job.finish ?? [];
    const missed = !likely || (wanted && likely > wanted);
    const near = wanted && late && late > wanted;
    const mark: keyof typeof ORDER = job.done ? "good" : missed ? "fault" : near ? "warning" : "good";
    return { job, wanted, mark, likely: likely ?? "" };
  });
  return rows.sort(
    (a, b) =>
      Number(a.job.done) - Number(b.job.done) ||
      ORDER[a.mark] - ORDER[b.mark] ||
      a.likely.localeCompare(b.likely) ||
      a.job.name.localeCompare(b.job.name),
  );
}

/** When each job is done, by when it is wanted, what that hangs on, and what the last change did to it. */
export function JobDates({ shop, plan, before, busy, onShop, onBack }: Props) {
  return (
    <section aria-label="When each job is done" aria-busy={busy}>
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="text-xl">When each job is done</h2>
        {onBack && (
          <button type="button" className="press px-3" onClick={onBack} disabled={busy}>
            Undo the last change
          </button>
        )}
      </div>
      {plan.jobs.length === 0 && <p className="py-2">No job is open. Start one, and it stands here.</p>}
      <ul>
        {inOrder(plan, shop).map(({ job, wanted, mark }) => {
          const by = slipped(job, before);
          return (
            <li key={job.id} className="flex flex-wrap items-start gap-x-4 gap-y-1 border-b border-rule py-2">
              <Mark mark={mark} size={24} />
              <div className="min-w-0 flex-1 basis-80">
                <p className="text-lg leading-tight">
                  <Link
                    to={`/jobs/${job.id}/next`}
                    className="font-semibold text-link underline underline-offset-4"
                  >
                    {job.name}
                  </Link>{" "}
                  {finishWords(job)}
                </p>
                {by !== 0 && (
                  <p role="status" className="font-semibold">
                    {Math.abs(by)} {Math.abs(by) === 1 ? "day" : "days"} {by > 0 ? "later" : "sooner"} by the
                    last change
                  </p>
                )}
                {job.hangs_on.length > 0 && (
                  <details>
                    <summary className="min-h-11 cursor-pointer content-center text-sm text-soft">
                      It hangs on {job.hangs_on.length} {job.hangs_on.length === 1 ? "thing" : "things"},
                      first {job.hangs_on[0]}
                    </summary>
                    <ol className="list-decimal pl-6 text-sm">
                      {job.hangs_on.map((what, k) => (
                        // biome-ignore lint/suspicious/noArrayIndexKey: it is its place in the chain
                        <li key={`${k} ${what}`}>{what}</li>
                      ))}
                    </ol>
                  </details>
                )}
              </div>
              <label className="flex items-center gap-2 text-sm">
                <span className="text-soft">wanted by</span>
                <input
                  type="date"
                  className="entry w-40"
                  aria-label={`${job.name}, wanted by`}
                  value={wanted}
                  onChange={(event) => {
                    const { [job.id]: _, ...others } = shop.wanted ?? {};
                    const day = event.target.value;
                    onShop({ ...shop, wanted: day ? { ...others, [job.id]: day } : others });
                  }}
                />
              </label>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
