import { useQuery } from "@tanstack/react-query";
import { answer, client, type Shape } from "../api/client";
import type { Dimension } from "../quantity/quantity";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { Trouble, Waiting } from "../session/states";
import { Changes } from "./changes";

/** Two revisions side by side: what moved, and what it did. */
export function Compare({ job, before, after }: { job: string; before: number; after: number }) {
  const compared = useQuery({
    queryKey: ["compare", job, before, after],
    queryFn: () =>
      answer(
        client.GET("/api/jobs/{job_id}/compare/{before}/{after}", {
          params: { path: { job_id: job, before, after } },
        }),
      ),
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (compared.isPending) return <Waiting what="Comparing" />;
  if (compared.isError) return <Trouble title="They cannot be compared" detail={compared.error.message} />;
  const { changes, figures_before, figures_after } = compared.data;
  return (
    <div className="grid gap-6">
      <section aria-label="What moved">
        <h3 className="pb-2 text-xl">
          What changed from revision {before} to {after}
        </h3>
        <Changes changes={changes} />
      </section>
      <section aria-label="What it did">
        <h3 className="pb-2 text-xl">What it did</h3>
        {figures_after.map((figures) => (
          <Effects
            key={figures.station}
            before={figures_before.find((other) => other.station === figures.station)}
            after={figures}
          />
        ))}
      </section>
    </div>
  );
}

const COUNTED: Record<string, string> = { faults: "Faults", warnings: "Warnings" };
const NAMES: Record<string, [string, Dimension]> = {
  ride_travel: ["Stands at", "travel"],
  wheel_rate: ["Wheel rate at ride", "rate"],
  frequency: ["Ride frequency", "frequency"],
};

function nameOf(key: string): [string, Dimension] {
  const known = NAMES[key];
  if (known) return known;
  const [what = "", one = "", two = ""] = key.split(":");
  if (what === "motion_ratio") return [`Motion ratio at ride, ${one}, damper ÷ wheel`, "ratio"];
  return [`${spoken(what)} in ${one}, ${spoken(two)}`, "travel"];
}

function Effects({ before, after }: { before: Shape["Summary"] | undefined; after: Shape["Summary"] }) {
  const { quantity } = useUnits();
  const keys = [...new Set([...Object.keys(before?.figures ?? {}), ...Object.keys(after.figures)])];
  const rows = keys.map((key) => ({
    key,
    one: before?.figures[key] ?? null,
    other: after.figures[key] ?? null,
  }));
  const changed = rows.filter(
    ({ one, other }) => one === null || other === null || Math.abs(one - other) > 5e-4,
  );
  const show = (key: string, value: number | null) =>
    value === null ? "–" : COUNTED[key] ? String(value) : quantity(value, nameOf(key)[1]);
  return (
    <div className="pb-4">
      <h4 className="pb-1 font-semibold">{after.station}</h4>
      {after.fault && <p className="text-fault">{after.fault}</p>}
      {changed.length === 0 && <p className="text-soft">No figure changed.</p>}
      {changed.length > 0 && (
        <table className="w-full border-collapse text-left">
          <thead>
            <tr className="border-b-2 border-ink text-sm">
              <th className="py-1 pr-3">Figure</th>
              <th className="py-1 pr-3 text-right">Before</th>
              <th className="py-1 text-right">After</th>
            </tr>
          </thead>
          <tbody>
            {changed.map(({ key, one, other }) => (
              <tr key={key} className="border-b border-rule">
                <th scope="row" className="py-1.5 pr-3 font-normal">
                  {COUNTED[key] ?? nameOf(key)[0]}
                </th>
                <td className="py-1.5 pr-3 whitespace-nowrap text-right">{show(key, one)}</td>
                <td className="py-1.5 whitespace-nowrap text-right text-lg font-bold">{show(key, other)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
