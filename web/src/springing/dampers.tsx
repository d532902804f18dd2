import { client, type Project, type Shape } from "../api/client";
import { useAsked } from "../bench/asked";
import { type Change, setUnit } from "../bench/edits";
import { Heads } from "../quantity/heads";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { OptionTable } from "./option-table";

type Suits = Shape["SuitsOut"];

interface Props {
  document: Project;
  index: number;
  settled: boolean;
  change: Change;
}

/** Which dampers on the shelf suit the travel and the mounts, and what ratio each wants at every end. */
export function Dampers({ document, index, settled, change }: Props) {
  const { quantity, number } = useUnits();
  const found = useAsked(
    "dampers",
    document,
    index,
    (body) => client.POST("/api/dampers", { body }),
    settled,
  );
  if (!found.data?.suits.length) return null;
  const { suits, all_round } = found.data;
  const units = [...new Set(suits.map((one) => one.unit))];
  // Both sides of an axle ask for the same: one of them stands for both.
  const first = suits.filter((one) => one.unit === units[0]);
  const stations = [...new Set(all_round.flatMap((one) => Object.keys(one.wants)))];
  const take = (one: Suits) =>
    change((station) =>
      units.reduce((its, name) => {
        const unit = (its.units ?? []).find((part) => part.name === name);
        if (unit?.kind !== "coilover" && unit?.kind !== "damper") return its;
        const ends = { extended: one.extended, compressed: one.compressed };
        if (unit.kind === "damper") return setUnit(its, name, ends);
        // A longer damper squeezes its coil more: the perch goes back by as much.
        const preload = Math.round(((unit.preload ?? 0) - (one.extended - unit.extended)) * 1e3) / 1e3;
        return setUnit(its, name, { ...ends, preload });
      }, station),
    );
  return (
    <section aria-label="Dampers that suit" aria-busy={found.isFetching}>
      <p className="text-sm text-soft">
        Those on the shelf, in the place of the {spoken(units[0] ?? "damper")}
        {units.length > 1 ? " and its other side" : ""}, with the mounts as drawn.
      </p>
      <OptionTable
        wide={600}
        names={["Damper", "Stroke", "Left in bump", "Left in droop", "Wants a ratio of", "With the mounts"]}
        words={["With the mounts"]}
        options={first}
        of={(one) => one.name}
        title={(one) => (one.now ? `${spoken(one.name)}, fitted` : one.name)}
        under={(one) => one.stock !== null && (one.stock ? `${one.stock} on the shelf` : "none in stock")}
        cells={(one) => (
          <>
            <td className="px-2">{quantity(one.stroke, "length")}</td>
            <Left value={one.left_in_bump} />
            <Left value={one.left_in_droop} />
            <td className="px-2">
              {number(one.wants, "ratio", 2)}
              <span className="block text-sm font-normal text-soft">
                damper ÷ wheel, has {number(one.ratio, "ratio", 2)}
              </span>
            </td>
            <td className="px-2 text-left text-sm whitespace-normal!">
              {one.fits
                ? "fits as drawn"
                : one.can
                  ? `fits with its chassis end ${quantity(Math.abs(one.moved), "length")} ${one.moved > 0 ? "further away" : "nearer"}`
                  : one.left >= 0
                    ? `leaves only ${quantity(one.left, "length")} at either end, wherever it is mounted`
                    : `is ${quantity(-2 * one.left, "length")} short of stroke for this ratio`}
            </td>
          </>
        )}
        now={(one) => one.now}
        onTake={take}
        takes={(one) => one.name}
      />
      {stations.length > 1 && all_round.length > 0 && (
        <div className="overflow-x-auto">
          <h3 className="pt-3 font-semibold">The same all round</h3>
          <p className="text-sm text-soft">
            The mean ratio, damper ÷ wheel, that would use each up at every station; what it has now in
            brackets.
          </p>
          <table className="mt-1 w-full min-w-[480px] border-collapse text-right">
            <Heads names={["Damper", ...stations]} />
            <tbody>
              {all_round.map((one) => (
                <tr key={one.name} className="border-b border-rule">
                  <th scope="row" className="py-1.5 text-left font-semibold">
                    {one.name}
                  </th>
                  {stations.map((name) => (
                    <td key={name} className="px-2">
                      {one.wants[name] === undefined
                        ? "–"
                        : `${number(one.wants[name] ?? 0, "ratio", 2)} (${number(one.has[name] ?? 0, "ratio", 2)})`}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}

function Left({ value }: { value: number }) {
  const { quantity } = useUnits();
  return (
    <td className={`px-2 ${value < 0 ? "text-fault" : ""}`}>
      {value < 0 ? `✕ ${quantity(-value, "length")} short` : quantity(value, "length")}
    </td>
  );
}
