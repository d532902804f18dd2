import { useState } from "react";
import { type JobWeek, type Shop, written } from "./week";

interface Props {
  shop: Shop;
  jobs: JobWeek[];
  onShop: (shop: Shop) => void;
}

/** What is on its way to which job, and when it comes. */
export function OnItsWay({ shop, jobs, onShop }: Props) {
  const [job, setJob] = useState("");
  const [part, setPart] = useState("");
  const [day, setDay] = useState("");
  const chosen = jobs.some((one) => one.id === job) ? job : (jobs[0]?.id ?? "");
  const arrivals = shop.arrivals ?? [];
  const mine = new Map(jobs.map((one) => [one.id, one.name]));
  return (
    <section aria-label="On its way">
      <h2 className="text-xl">What is on its way</h2>
      <p className="text-sm text-soft">
        What was ordered on a job’s own list with its day is counted already. Add what else a job waits for;
        begin with a station’s name where only that one waits.
      </p>
      <ul>
        {arrivals.map(
          (one, number) =>
            mine.has(one.job) && (
              <li
                key={`${one.job} ${one.part} ${one.date}`}
                className="flex items-center gap-3 border-b border-rule py-1"
              >
                <span className="min-w-0 flex-1">
                  <strong>{one.part}</strong> for {mine.get(one.job)}, {written(one.date)}
                </span>
                <button
                  type="button"
                  className="press px-3 text-sm"
                  aria-label={`${one.part} for ${mine.get(one.job)} is no longer expected`}
                  onClick={() => onShop({ ...shop, arrivals: arrivals.filter((_, k) => k !== number) })}
                >
                  ✕
                </button>
              </li>
            ),
        )}
      </ul>
      <form
        className="grid gap-2 py-2 sm:grid-cols-2"
        onSubmit={(event) => {
          event.preventDefault();
          if (!chosen || !part.trim() || !day) return;
          onShop({ ...shop, arrivals: [...arrivals, { job: chosen, part: part.trim(), date: day }] });
          setPart("");
          setDay("");
        }}
      >
        <input
          aria-label="What comes"
          className="entry"
          value={part}
          maxLength={200}
          placeholder="springs"
          onChange={(event) => setPart(event.target.value)}
        />
        <select
          aria-label="For which job"
          className="entry"
          value={chosen}
          onChange={(event) => setJob(event.target.value)}
        >
          {jobs.map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
        </select>
        <input
          type="date"
          aria-label="When it comes"
          className="entry"
          value={day}
          onChange={(event) => setDay(event.target.value)}
        />
        <button type="submit" className="press" disabled={!chosen || !part.trim() || !day}>
          Add it
        </button>
      </form>
    </section>
  );
}
