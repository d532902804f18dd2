import { client, type Project } from "../api/client";
import { useAsked } from "../bench/asked";
import { Heads } from "../quantity/heads";
import { useUnits } from "../quantity/units";

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
      <div className="overflow-x-auto">
        <table className="mt-1 w-full min-w-[520px] border-collapse text-right">
          <Heads names={["Pressure", "Stands at", "Bag height", "Frequency", "Of rated"]} action="Take it" />
          <tbody>
            {found.data.map((option) => (
              <tr
                key={option.pressure}
                className={`border-b border-rule ${option.now ? "bg-[#ffd400]/25 font-bold" : ""}`}
              >
                <th scope="row" className="py-1 pr-2 text-left text-lg font-bold">
                  {quantity(option.pressure, "pressure")}
                  {option.wanted && (
                    <span className="block text-sm font-normal text-soft">holds it where it is wanted</span>
                  )}
                </th>
                {option.ride === null ? (
                  <td className="px-2 text-soft" colSpan={3}>
                    holds it nowhere in its travel
                  </td>
                ) : (
                  <>
                    <td className="px-2">{quantity(option.ride, "travel")}</td>
                    <td className="px-2">
                      {option.height === null ? "–" : quantity(option.height, "length")}
                    </td>
                    <td className="px-2">
                      {option.frequency === null ? "–" : quantity(option.frequency, "frequency")}
                      {option.inside && (
                        <>
                          {" "}
                          <span aria-hidden>✓</span>
                          <span className="sr-only">as wanted</span>
                        </>
                      )}
                    </td>
                  </>
                )}
                <td className="px-2">
                  {option.share === null ? "not rated" : quantity(option.share, "share")}
                </td>
                <td className="py-1 pl-2">
                  {option.now ? (
                    <span className="px-3">set</span>
                  ) : (
                    <button
                      type="button"
                      className="press px-3"
                      onClick={() => onPressure(option.pressure)}
                      aria-label={`Take ${quantity(option.pressure, "pressure")}`}
                    >
                      Take
                    </button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
