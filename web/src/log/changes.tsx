import type { Shape } from "../api/client";
import type { Dimension } from "../quantity/quantity";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";

type Change = Shape["Change"];

interface Props {
  changes: Change[];
  /** What stands over both values. */
  heads?: [string, string];
}

/** What differs between two documents, in words and in the units in use. */
export function Changes({ changes, heads = ["Before", "After"] }: Props) {
  const { number, unit, quantity } = useUnits();
  if (!changes.length) return <p className="text-soft">Nothing differs.</p>;
  const show = (change: Change, value: unknown): string => {
    if (value == null) return "–";
    if (Array.isArray(value) && change.measures) {
      return value.map((item) => number(Number(item), change.measures as Dimension)).join(", ");
    }
    if (typeof value === "number" && change.measures) return quantity(value, change.measures as Dimension);
    return typeof value === "object" ? "changed" : String(value);
  };
  return (
    <table className="w-full border-collapse text-left">
      <thead>
        <tr className="border-b-2 border-ink text-sm">
          <th className="py-1 pr-3">Where</th>
          {heads.map((head) => (
            <th key={head} className="py-1 pr-3">
              {head}
            </th>
          ))}
          <th className="py-1">Moved</th>
        </tr>
      </thead>
      <tbody>
        {changes.map((change) => (
          <tr
            key={`${change.station} ${change.what} ${change.subject}`}
            className="border-b border-rule align-top"
          >
            <th scope="row" className="py-1.5 pr-3 font-semibold">
              {spoken(
                change.what === "point" || change.what === change.subject
                  ? change.subject
                  : `${change.subject}: ${change.what}`,
              )}
              <span className="block text-sm font-normal text-soft">{change.station}</span>
            </th>
            <td className="py-1.5 pr-3">{show(change, change.before)}</td>
            <td className="py-1.5 pr-3">{show(change, change.after)}</td>
            <td className="py-1.5">{moved(change, (v) => number(v, "travel"), unit("length"))}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function moved(change: Change, number: (value: number) => string, unit: string): string {
  if (!Array.isArray(change.before) || !Array.isArray(change.after)) return "";
  const [before, after] = [change.before as number[], change.after as number[]];
  const names = ["forward", "left", "up"];
  const parts = names.flatMap((name, k) => {
    const by = Number(after[k]) - Number(before[k]);
    return Math.abs(by) > 1e-9 ? [`${name} ${number(by)} ${unit}`] : [];
  });
  return parts.join(", ");
}
