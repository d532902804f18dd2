import { client, type Project } from "../api/client";
import { useAsked } from "../bench/asked";
import { useUnits } from "../quantity/units";
import { AsWanted, OptionTable } from "./option-table";

interface Props {
  document: Project;
  index: number;
  settled: boolean;
  onPressure: (pressure: number) => void;
}

/** Pressures side by side: where each holds it, and what it does to the ride. */
export function PressureTable({ document, index, settled, onPressure }: Props) {
  const { quantity } = useUnits();
  const found = useAsked(
    "pressures",
    document,
    index,
    (body) => client.POST("/api/pressures", { body }),
    settled,
  );
  if (!found.data?.length) return null;
  return (
    <section aria-label="Pressures side by side" aria-busy={found.isFetching}>
      <h2 className="pt-4 text-lg">Pressures side by side</h2>
      <OptionTable
        wide={520}
        names={["Pressure", "Stands at", "Bag height", "Frequency", "Of rated"]}
        options={found.data}
        of={(option) => String(option.pressure)}
        title={(option) => quantity(option.pressure, "pressure")}
        under={(option) => option.wanted && "holds it where it is wanted"}
        cells={(option) => (
          <>
            {option.ride === null ? (
              <td className="px-2 text-soft" colSpan={3}>
                holds it nowhere in its travel
              </td>
            ) : (
              <>
                <td className="px-2">{quantity(option.ride, "travel")}</td>
                <td className="px-2">{option.height === null ? "–" : quantity(option.height, "length")}</td>
                <td className="px-2">
                  {option.frequency === null ? "–" : quantity(option.frequency, "frequency")}
                  {option.inside && <AsWanted />}
                </td>
              </>
            )}
            <td className="px-2">{option.share === null ? "not rated" : quantity(option.share, "share")}</td>
          </>
        )}
        now={(option) => option.now}
        said="set"
        onTake={(option) => onPressure(option.pressure)}
        takes={(option) => quantity(option.pressure, "pressure")}
      />
    </section>
  );
}
