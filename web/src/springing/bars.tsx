import { client, type Project, type Station } from "../api/client";
import { useAsked } from "../bench/asked";
import { type Change, setUnit } from "../bench/edits";
import { Heads } from "../quantity/heads";
import { useUnits } from "../quantity/units";

interface Props {
  document: Project;
  index: number;
  settled: boolean;
  change: Change;
}

/** Stock bars in the place of the one that is drawn: which is enough for the lean that is wanted. */
export function Bars({ document, index, settled, change }: Props) {
  const { quantity } = useUnits();
  const station = document.stations[index] as Station;
  const bar = (station.units ?? []).find((unit) => unit.kind === "bar");
  const found = useAsked("bars", document, index, (body) => client.POST("/api/bars", { body }), settled);
  const data = found.data;
  if (!bar || !data) return null;
  if (!data.options.length)
    return (
      <p className="text-soft">The bar does nothing where it stands, or the station has no other side.</p>
    );
  return (
    <section aria-label="Which bar" aria-busy={found.isFetching}>
      <p className="text-sm text-soft">
        {data.wanted === null
          ? "Give the height of the centre of gravity on the Brief, and it is told which one is enough. "
          : `${quantity(data.wanted, "roll_stiffness")} of roll is wanted from bars here. `}
        Stock bars and tubes of the length and arm that are drawn.
      </p>
      <table className="mt-2 w-full border-collapse text-right">
        <Heads names={["Bar", "Against twist", "In roll", "One wheel alone"]} action="Take it" />
        <tbody>
          {data.options.map((option) => (
            <tr
              key={`${option.diameter} ${option.bore}`}
              className={`border-b border-rule ${option.now ? "bg-[#ffd400]/25 font-bold" : ""}`}
            >
              <th scope="row" className="py-1 pr-2 text-left text-lg font-bold">
                {quantity(option.diameter, "length")}
                {option.bore > 0 && (
                  <span className="block text-sm font-normal text-soft">
                    tube, {quantity(option.bore, "length")} bore
                  </span>
                )}
              </th>
              <td className="px-2">{quantity(option.twist_rate, "roll_stiffness")}</td>
              <td className="px-2">
                {quantity(option.in_roll, "roll_stiffness")}
                {option.suits && (
                  <>
                    {" "}
                    <span aria-hidden>✓</span>
                    <span className="block text-sm font-normal">the least that is enough</span>
                  </>
                )}
              </td>
              <td className="px-2">{quantity(option.one_wheel, "rate")}</td>
              <td className="py-1 pl-2">
                {option.now ? (
                  <span className="px-3">fitted</span>
                ) : (
                  <button
                    type="button"
                    className="press px-3"
                    aria-label={`Take a bar of ${quantity(option.diameter, "length")}${option.bore > 0 ? `, bore ${quantity(option.bore, "length")}` : ""}`}
                    onClick={() =>
                      change((its) =>
                        setUnit(its, bar.name, {
                          diameter: option.diameter,
                          bore: option.bore || null,
                          rate: null,
                        }),
                      )
                    }
                  >
                    Take
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
