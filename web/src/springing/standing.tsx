import { client, type Project, type Shape, type Station } from "../api/client";
import { useAsked } from "../bench/asked";
import type { Change } from "../bench/edits";
import { Heads } from "../quantity/heads";
import type { Dimension } from "../quantity/quantity";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";

type Standing = Shape["StandingOut"];

interface Props {
  document: Project;
  index: number;
  settled: boolean;
  change: Change;
}

const NAMES: Record<string, string> = {
  perch: "Spring perch, preload",
  rod: "Rod, centre to centre",
  pressure: "Pressure at ride",
  spring: "Spring, free length, or shim",
};

const measures = (by: string): Dimension => (by === "pressure" ? "pressure" : "length");

/** What perch, rod, pressure or spring must be set to so that it stands where it is wanted: today, and finished. */
export function StandingTable({ document, index, settled, change }: Props) {
  const { quantity } = useUnits();
  const found = useAsked(
    "standings",
    document,
    index,
    (body) => client.POST("/api/standings", { body }),
    settled,
  );
  const data = found.data;
  const onSet = (station: Station) => change(() => station);
  if (!data?.means.length) return null;
  const finished = data.finished !== null && Math.abs(data.finished - data.corner) > 1e-9;
  return (
    <section aria-label="Setting the height" aria-busy={found.isFetching}>
      <h2 className="pt-4 text-lg">Setting the height</h2>
      <p className="text-sm text-soft">
        What each must be set to so that it stands where it is wanted
        {finished ? ", today and with every part on" : ". Say on the Brief what is still to come"}
        {Object.keys(data.cases).length > 0 && ", and in each load case of the Brief"}.
      </p>
      <div className="overflow-x-auto">
        <table className="mt-2 w-full min-w-[520px] border-collapse text-right">
          <Heads
            names={[
              "By",
              "Now",
              `Today, ${quantity(data.corner, "mass")}`,
              ...(finished ? [`Finished, ${quantity(data.finished ?? 0, "mass")}`] : []),
              ...Object.entries(data.cases).map(([name, mass]) => `${name}, ${quantity(mass, "mass")}`),
              "Can be set",
            ]}
          />
          <tbody>
            {data.means.map((one) => {
              const dimension = measures(one.means.by);
              return (
                <tr key={one.means.by} className="border-b border-rule align-top">
                  <th scope="row" className="py-2 pr-2 text-left font-semibold">
                    {NAMES[one.means.by] ?? one.means.by}
                    <span className="block text-sm font-normal text-soft">
                      {one.means.subjects.map(spoken).join(", ")}
                    </span>
                  </th>
                  <td className="px-2 py-2">{quantity(one.means.now, dimension)}</td>
                  <Setting
                    one={one}
                    setting={one.today}
                    there={one.there_today}
                    what="today"
                    set={one.set_today}
                    onSet={onSet}
                  />
                  {finished && (
                    <Setting
                      one={one}
                      setting={one.finished}
                      there={one.there_finished}
                      what="finished"
                      set={one.set_finished}
                      onSet={onSet}
                    />
                  )}
                  {one.cases.map((its) => (
                    <Setting
                      key={its.name}
                      one={one}
                      setting={its.setting}
                      there={its.there}
                      what={its.name}
                      set={its.set}
                      onSet={onSet}
                    />
                  ))}
                  <td className="px-2 py-2 text-sm">
                    {one.means.by === "spring"
                      ? "by another spring"
                      : one.means.least === null || one.means.most === null
                        ? "not said"
                        : `${quantity(one.means.least, dimension)} to ${quantity(one.means.most, dimension)}`}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </section>
  );
}

const SAME = 0.02;

function Setting({
  one,
  setting,
  there,
  what,
  set,
  onSet,
}: {
  one: Standing;
  setting: number | null;
  there: boolean | null;
  what: string;
  /** The station with it set. */
  set: Shape["StandingOut"]["set_today"];
  onSet: (station: Station) => void;
}) {
  const { quantity } = useUnits();
  const dimension = measures(one.means.by);
  if (setting === null) return <td className="px-2 py-2 text-soft">cannot do it</td>;
  const by = setting - one.means.now;
  const same = Math.abs(by) < SAME;
  return (
    <td className="px-2 py-2">
      <span className="text-lg font-bold">{quantity(setting, dimension)}</span>
      <span className="block text-sm text-soft">
        {same
          ? "as it is"
          : `${by > 0 ? "+" : "−"}${quantity(Math.abs(by), dimension)}${there === false ? ", out of reach" : there ? ", within reach" : ""}`}
      </span>
      {there === false && <span className="sr-only">More than there is to turn</span>}
      {!same && set && (
        <button
          type="button"
          className="press mt-1 px-3"
          onClick={() => onSet(set as Station)}
          aria-label={`Set it: the ${one.means.by} for ${what}`}
        >
          Set it
        </button>
      )}
    </td>
  );
}
