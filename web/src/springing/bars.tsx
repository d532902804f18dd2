import { client, type Project, type Station } from "../api/client";
import { useAsked } from "../bench/asked";
import { type Change, setUnit } from "../bench/edits";
import { useUnits } from "../quantity/units";
import { OptionTable } from "./option-table";

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
      <OptionTable
        names={["Bar", "Twist stiffness", "In roll", "One wheel alone"]}
        options={data.options}
        of={(option) => `${option.diameter} ${option.bore}`}
        title={(option) => quantity(option.diameter, "length")}
        under={(option) => option.bore > 0 && `tube, ${quantity(option.bore, "length")} bore`}
        cells={(option) => (
          <>
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
          </>
        )}
        now={(option) => option.now}
        said="fitted"
        onTake={(option) =>
          change((its) =>
            setUnit(its, bar.name, { diameter: option.diameter, bore: option.bore || null, rate: null }),
          )
        }
        takes={(option) =>
          `a bar of ${quantity(option.diameter, "length")}${option.bore > 0 ? `, bore ${quantity(option.bore, "length")}` : ""}`
        }
      />
    </section>
  );
}
