import type { Project, Shape } from "../api/client";
import { useUnits } from "../quantity/units";
import { mean } from "./drawing";
import type { Reading } from "./store";
import { placesOf, placeWords, sameKey, wordsOf } from "./words";

interface Props {
  document: Project;
  plan: Shape["PlannedOut"][];
  readings: Reading[];
}

/** The list on paper, for under the car: numbered, with an empty box for each hand; typed in afterwards in this order. */
export function PaperForm({ document, plan, readings }: Props) {
  const { quantity, unit } = useUnits();
  const read = new Map(readings.map((one) => [sameKey(one.kind, one.seen, placesOf(one)), one] as const));
  return (
    <section aria-hidden className="hidden break-before-page p-2 print:block">
      <h2 className="text-lg font-bold">Survey of {document.name}, to be filled in under the car</h2>
      <p className="text-sm">
        Lengths in {unit("length")}, angles in degrees, middle to middle. Read by ______ and ______ on ______.
      </p>
      <table className="mt-2 w-full border-collapse text-sm">
        <thead>
          <tr className="border-b border-ink text-left">
            <th>No.</th>
            <th>What</th>
            <th>Between</th>
            <th className="w-28">First reading</th>
            <th className="w-28">Read again</th>
          </tr>
        </thead>
        <tbody>
          {plan.map((one, k) => {
            const words = wordsOf(one);
            const there = mean(read.get(sameKey(one.kind, undefined, one.places))?.values);
            return (
              <tr key={`${one.kind} ${one.places.join()}`} className="border-b border-rule">
                <td className="py-1">{k + 1}</td>
                <td>{words.name}</td>
                <td>
                  {one.places.map((name) => placeWords(name, true)).join(" to ")}
                  <span className="block text-xs">{one.hint}</span>
                </td>
                <td className="h-8 border border-ink px-1">
                  {there === null ? "" : quantity(there, words.dimension)}
                </td>
                <td className="h-8 border border-ink" />
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}
