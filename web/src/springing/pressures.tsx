import { client, type Project } from "../api/client";
import { useAsked } from "../bench/asked";
import { type Change, setUnit } from "../bench/edits";
import { useUnits } from "../quantity/units";
import { AsWanted, OptionTable } from "./option-table";

interface Props {
  document: Project;
  index: number;
  settled: boolean;
  onPressure: (pressure: number) => void;
}

/** Bags on the shelf in the place of those that are fitted, each filled to stand where it is wanted. */
export function BagShelf({
  document,
  index,
  settled,
  change,
}: Omit<Props, "onPressure"> & { change: Change }) {
  const { quantity } = useUnits();
  const found = useAsked("bags", document, index, (body) => client.POST("/api/bags", { body }), settled);
  if (!found.data?.length) return null;
  return (
    <section aria-label="Bags on the shelf" aria-busy={found.isFetching}>
      <h2 className="pt-4 text-lg">Bags on the shelf</h2>
      <p className="text-sm text-soft">
        Each between the same mounts, filled so that it stands where it is wanted. Its curve is on Layout,
        Rods & parts.
      </p>
      <OptionTable
        wide={560}
        names={["Bag", "Pressure", "Of rated", "Frequency", "Left in bump", "Left in droop"]}
        options={found.data}
        of={(option) => option.name}
        title={(option) => option.name}
        under={(option) => (
          <>
            {option.stock ? `${option.stock} on the shelf` : "none in stock"}
            {option.scaled && (
              <span className="block max-w-56 whitespace-normal">
                its area was not measured: that of the fitted one, by width and heights
              </span>
            )}
          </>
        )}
        cells={(option) => (
          <>
            <td className="px-2">
              {option.pressure === null ? "cannot hold it" : quantity(option.pressure, "pressure")}
            </td>
            <td className={`px-2 ${(option.share ?? 0) > 1 ? "text-fault" : ""}`}>
              {option.share === null ? "not rated" : quantity(option.share, "share")}
            </td>
            <td className="px-2">
              {option.frequency === null ? "–" : quantity(option.frequency, "frequency")}
              {option.inside && <AsWanted />}
            </td>
            {[option.left_in_bump, option.left_in_droop].map((left, k) => (
              <td key={k ? "droop" : "bump"} className={`px-2 ${left < 0 ? "text-fault" : ""}`}>
                {left < 0 ? `✕ ${quantity(-left, "length")} short` : quantity(left, "length")}
              </td>
            ))}
          </>
        )}
        now={(option) => option.now}
        said="fitted"
        onTake={(option) =>
          change((station) =>
            Object.entries(option.units).reduce((its, [name, bag]) => setUnit(its, name, bag), station),
          )
        }
        takes={(option) => option.name}
      />
    </section>
  );
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
                bottoms or tops out
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
