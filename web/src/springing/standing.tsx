import { client, type Project, type Shape, type Station } from "../api/client";
import { useAsked } from "../bench/asked";
import { type Change, setUnit } from "../bench/edits";
import { Heads } from "../quantity/heads";
import type { Dimension } from "../quantity/quantity";
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
  if (!data?.means.length) return null;
  const finished = data.finished !== null && Math.abs(data.finished - data.corner) > 1e-9;
  return (
    <section aria-label="Setting the height" aria-busy={found.isFetching}>
      <h2 className="pt-4 text-lg">Setting the height</h2>
      <p className="text-sm text-soft">
        What each must be set to so that it stands where it is wanted
        {finished ? ", today and with every part on." : ". Say on the Brief what is still to come."}
      </p>
      <div className="overflow-x-auto">
        <table className="mt-2 w-full min-w-[520px] border-collapse text-right">
          <Heads
            names={[
              "By",
              "Now",
              `Today, ${quantity(data.corner, "mass")}`,
              ...(finished ? [`Finished, ${quantity(data.finished ?? 0, "mass")}`] : []),
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
                      {one.means.subjects.map((name) => name.replaceAll("_", " ")).join(", ")}
                    </span>
                  </th>
                  <td className="px-2 py-2">{quantity(one.means.now, dimension)}</td>
                  <Setting
                    one={one}
                    setting={one.today}
                    there={one.there_today}
                    what="today"
                    onSet={(to) => change((station) => withSetting(station, one, to))}
                  />
                  {finished && (
                    <Setting
                      one={one}
                      setting={one.finished}
                      there={one.there_finished}
                      what="finished"
                      onSet={(to) => change((station) => withSetting(station, one, to))}
                    />
                  )}
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
  onSet,
}: {
  one: Standing;
  setting: number | null;
  there: boolean | null;
  what: string;
  onSet: (to: number) => void;
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
          : `${by > 0 ? "+" : "−"}${quantity(Math.abs(by), dimension)}${there === false ? ", not there" : there ? ", is there" : ""}`}
      </span>
      {there === false && <span className="sr-only">More than there is to turn</span>}
      {!same && (
        <button
          type="button"
          className="press mt-1 px-3"
          onClick={() => onSet(setting)}
          aria-label={`Set it: the ${one.means.by} for ${what}`}
        >
          Set it
        </button>
      )}
    </td>
  );
}

const tidy = (value: number) => Math.round(value * 1e3) / 1e3;

/** The station with a means set; what is left to turn is counted down with it. */
function withSetting(station: Station, one: Standing, to: number): Station {
  const by = to - one.means.now;
  if (one.means.by === "rod") {
    const links = { ...station.links };
    const rods = { ...station.rods };
    for (const name of one.means.subjects) {
      links[name] = { ...links[name], length: tidy(to) };
      const rod = rods[name];
      if (rod?.longer != null && rod.shorter != null)
        rods[name] = { ...rod, longer: left(rod.longer, -by), shorter: left(rod.shorter, by) };
    }
    return { ...station, links, ...(station.rods ? { rods } : {}) };
  }
  return one.means.subjects.reduce((its, name) => {
    if (one.means.by === "pressure") return setUnit(its, name, { pressure: Math.round(to * 1e4) / 1e4 });
    const unit = (its.units ?? []).find((part) => part.name === name);
    if (unit?.kind === "spring") {
      const springs = unit.springs.map((spring, k) =>
        k === 0 ? { ...spring, free_length: tidy(spring.free_length + by) } : spring,
      );
      return setUnit(its, name, { springs });
    }
    if (unit?.kind !== "coilover") return its;
    const perch = unit.perch ? { up: left(unit.perch.up, -by), down: left(unit.perch.down, by) } : undefined;
    return setUnit(its, name, { preload: tidy((unit.preload ?? 0) + by), ...(perch ? { perch } : {}) });
  }, station);
}

const left = (was: number, by: number) => Math.max(0, tidy(was + by));
