import { useQueryClient } from "@tanstack/react-query";
import { Download } from "lucide-react";
import { useEffect, useState } from "react";
import { BookList, TakeOut } from "../log/book-list";
import { QuantityField } from "../quantity/quantity-field";
import type { SurveyInHand } from "../survey/store";
import { newKey, now } from "./proving";

/** Everything found on the floor in order of time; a slip is taken out here, a drive is written down here. */
export function Book({ hand, job }: { hand: SurveyInHand; job: string }) {
  const queries = useQueryClient();
  // The book is the server's: it is asked again whenever what was written down here has reached it.
  // biome-ignore lint/correctness/useExhaustiveDependencies: once a record
  useEffect(() => {
    if (!hand.pending) void queries.invalidateQueries({ queryKey: ["book", job] });
  }, [hand.pending, hand.records, queries, job]);
  return (
    <section aria-label="Book" className="pt-2">
      <Drive hand={hand} />
      {hand.pending > 0 && (
        <p className="pt-2 text-sm text-soft">
          {hand.pending === 1 ? "One entry waits" : `${hand.pending} entries wait`} for the server; kept in
          this browser. {hand.why}
        </p>
      )}
      <BookList
        job={job}
        name="the book"
        belongs={(one) => one.sheet === "prove"}
        presses={
          <a className="press px-3 text-sm" href={`/api/jobs/${job}/records.csv`}>
            <Download size={16} aria-hidden /> Export CSV
          </a>
        }
        of={(one, said) => <TakeOut said={said} onPress={() => hand.drop("record", one.key)} />}
      />
    </section>
  );
}

function Drive({ hand }: { hand: SurveyInHand }) {
  const [note, setNote] = useState("");
  const [used, setUsed] = useState<number | null>(null);
  const [good, setGood] = useState(false);
  const [fresh, setFresh] = useState(0);
  const keep = () => {
    hand.put("record", newKey(), {
      kind: "drive",
      when: now(),
      note: note.trim(),
      ...(used === null ? {} : { used_bump: used }),
      ...(good ? { good: true } : {}),
    });
    setNote("");
    setUsed(null);
    setGood(false);
    setFresh(fresh + 1);
  };
  return (
    <div className="border-b border-rule pb-2">
      <h3 className="font-semibold">A drive</h3>
      <textarea
        className="entry h-16 w-full py-1"
        aria-label="What was noticed"
        placeholder="What was noticed"
        maxLength={2000}
        value={note}
        onChange={(event) => setNote(event.target.value)}
      />
      <div key={fresh} className="grid grid-cols-[1fr_9.5rem] items-center gap-2">
        <span>Bump used, by the ring on the shaft</span>
        <QuantityField
          label="Bump used"
          value={used ?? 0}
          blank={used === null}
          dimension="length"
          check={(value) => (value >= 0 ? null : "Give zero or more.")}
          onCommit={setUsed}
        />
      </div>
      <div className="flex items-center justify-between gap-2 pt-1">
        <label className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            className="size-5"
            checked={good}
            onChange={(event) => setGood(event.target.checked)}
          />
          It drove well: find these settings again
        </label>
        <button type="button" className="press px-3" disabled={!note.trim()} onClick={keep}>
          Write it down
        </button>
      </div>
    </div>
  );
}
