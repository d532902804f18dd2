import type { DraftInHand } from "../bench/draft";
import { Heads } from "../quantity/heads";
import { useMoney } from "../quantity/money";
import { KEYS, type Right, setCost, setRate } from "./plans";

/** Hours, money and days by kind of change: the usual, or this job's own. */
export function Costs({ found, hand }: { found: Right; hand: DraftInHand }) {
  const { sign } = useMoney();
  return (
    <div className="py-2">
      <p className="flex items-center gap-3 py-1">
        An hour costs
        <Amount
          label="an hour"
          value={found.rate}
          onValue={(value) => hand.edit((now) => setRate(now, value))}
        />
        {sign}
      </p>
      <table className="w-full max-w-3xl border-collapse text-right">
        <Heads names={["Change", "Hours, h", `Money, ${sign}`, "Days to wait"]} />
        <tbody>
          {Object.entries(KEYS).map(([key, name]) => {
            const cost = found.costs[key];
            if (!cost) return null;
            return (
              <tr key={key} className="border-b border-rule">
                <th scope="row" className="py-1 text-left font-normal">
                  {name}
                </th>
                {(["hours", "money", "days"] as const).map((field) => (
                  <td key={field} className="py-1 pl-2">
                    <Amount
                      label={`${name}, ${field}`}
                      value={cost[field]}
                      onValue={(value) => hand.edit((now) => setCost(now, key, { ...cost, [field]: value }))}
                    />
                  </td>
                ))}
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="pt-2 text-soft">A change of both sides alike counts its hours and money twice.</p>
    </div>
  );
}

function Amount({
  label,
  value,
  onValue,
}: {
  label: string;
  value: number;
  onValue: (value: number) => void;
}) {
  const take = (text: string) => {
    const read = Number(text.replace(",", "."));
    if (text.trim() && Number.isFinite(read) && read >= 0 && read !== value) onValue(read);
  };
  return (
    <input
      key={value}
      aria-label={label}
      className="entry w-24 text-right"
      inputMode="decimal"
      defaultValue={String(value)}
      onBlur={(event) => take(event.target.value)}
      onKeyDown={(event) => event.key === "Enter" && take(event.currentTarget.value)}
    />
  );
}
