import { client, type Finding, type Project } from "../api/client";
import { useAskedOfJob } from "../bench/asked";
import { Findings } from "../findings/findings";
import { Heads } from "../quantity/heads";
import { QuantityField } from "../quantity/quantity-field";
import { useUnits } from "../quantity/units";

const isPair = (finding: Finding) => finding.code === "pair_not_named";

/** Name two corners each other's other side. */
function asPair(document: Project, names: string[]): Project {
  const [one = "", other = ""] = names;
  const sides: Record<string, string> = { [one]: other, [other]: one };
  return {
    ...document,
    stations: document.stations.map((its) =>
      its.name in sides ? { ...its, other_side: sides[its.name] } : its,
    ),
  } as Project;
}

interface Props {
  document: Project;
  edit: (change: (document: Project) => Project, key?: string) => void;
}

/** How the whole vehicle leans on its springs, and what each station gives to it. */
export function Vehicle({ document, edit }: Props) {
  const { quantity } = useUnits();
  const found = useAskedOfJob("vehicle", document, (body) => client.POST("/api/vehicle", { body }));
  const data = found.data;
  const height = document.vehicle?.cg_height;
  return (
    <section aria-label="The whole vehicle in roll" aria-busy={found.isFetching}>
      <h2 className="text-xl">In a corner</h2>
      <div className="mt-1 grid grid-cols-[1fr_10.5rem] items-center gap-2 border-b border-rule py-1">
        <span className="leading-tight">
          Centre of gravity above the floor
          <span className="block text-sm text-soft">
            {height === undefined ? "not given yet: an estimate will do" : "of the sprung mass"}
          </span>
        </span>
        <QuantityField
          label="Centre of gravity above the floor"
          value={height ?? 0}
          dimension="length"
          check={(value) => (value > 0 && value <= 5000 ? null : "It lies above the floor, and below 5 m.")}
          onCommit={(cg_height) =>
            edit((doc) => ({ ...doc, vehicle: { ...doc.vehicle, cg_height } }) as Project)
          }
        />
      </div>
      {data?.front_share != null && (
        <p className="border-b border-rule py-2">
          {quantity(data.front_share, "share")} of the springs' roll stiffness is at the front.
        </p>
      )}
      {data && data.stations.length > 0 && (
        <table className="mt-2 w-full border-collapse text-right">
          <Heads names={["Station", "Roll stiffness", "Roll centre", "Springs 10 mm further out"]} />
          <tbody>
            {data.stations.map((station) => (
              <tr key={station.station} className="border-b border-rule">
                <th scope="row" className="py-1.5 text-left font-semibold">
                  {station.station}
                </th>
                <td className="px-2">{quantity(station.stiffness, "roll_stiffness")}</td>
                <td className="px-2">
                  {station.roll_centre === null ? "–" : quantity(station.roll_centre, "length", 0)}
                </td>
                <td className="pl-2">
                  {station.by_base === null ? "–" : `+${quantity(station.by_base, "roll_stiffness")}`}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {data && data.stations.length > 0 && (
        <p className="pt-1 text-sm text-soft">One wheel counts here with its other side, as a pair.</p>
      )}
      {data?.faults.map((fault) => (
        <p key={fault} className="mt-2 border-l-4 border-fault pl-2 text-sm">
          {fault}
        </p>
      ))}
      {data && <Findings title="What it means" findings={data.findings} onTravel={() => undefined} />}
      {data?.findings.filter(isPair).map((finding) => (
        <button
          key={finding.what.names.join()}
          type="button"
          className="press press-main mt-2 h-auto whitespace-normal px-3 py-2 text-left text-sm"
          onClick={() => edit((doc) => asPair(doc, finding.what.names))}
        >
          Take {finding.what.names.join(" and ")} as a pair
        </button>
      ))}
      {found.isError && <p className="mt-2 text-sm text-soft">{found.error.message}</p>}
    </section>
  );
}
