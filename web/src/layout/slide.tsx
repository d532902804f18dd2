import { useState } from "react";
import { client, type Project, type Station } from "../api/client";
import { useAsked } from "../bench/asked";
import { type Change, movePoint, type Vec } from "../bench/edits";
import { QuantityField } from "../quantity/quantity-field";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";

interface Props {
  document: Project;
  index: number;
  station: Station;
  unit: string;
  end: string;
  way: number[];
  change: Change;
}

/** What moving a mount along its line does, three steps each way: ratio, rate, height and roll. */
export function Slide({ document, index, station, unit, end, way, change }: Props) {
  const { quantity, number, unit: unit_ } = useUnits();
  const [step, setStep] = useState(10);
  const [both, setBoth] = useState(false);
  const [open, setOpen] = useState(false);
  const found = useAsked(
    "slide",
    document,
    index,
    (body) => client.POST("/api/slide", { body: { ...body, unit, end, way, step, both } }),
    open,
    [unit, end, way, step, both],
  );
  const heads = ["Moved", "Ratio", unit_("rate"), "Stands at", unit_("roll_stiffness"), ""];
  const ends = station.units?.find((one) => one.name === unit)?.ends ?? [];
  return (
    <details
      className="mt-4 border-t border-rule pt-2"
      onToggle={(event) => setOpen(event.currentTarget.open)}
    >
      <summary className="flex min-h-11 cursor-pointer items-center text-lg font-bold">
        What moving it does
      </summary>
      <div className="grid grid-cols-[1fr_9.5rem] items-center gap-2">
        <span>Steps along that line</span>
        <QuantityField
          label="Steps along that line"
          value={step}
          dimension="length"
          check={(value) => (value > 0 && value <= 200 ? null : "Give up to 200 mm.")}
          onCommit={setStep}
        />
      </div>
      <label className="flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          className="size-6"
          checked={both}
          onChange={(event) => setBoth(event.target.checked)}
        />
        Take both ends along
      </label>
      {found.isError && <p className="text-sm text-fault">{found.error.message}</p>}
      {found.data && (
        <div className="overflow-x-auto" aria-busy={found.isFetching}>
          <table className="w-full border-collapse text-right text-sm">
            <thead>
              <tr className="border-b border-ink">
                {heads.map((name, k) => (
                  <th key={name || "press"} scope="col" className={`px-1 py-1 ${k === 0 ? "text-left" : ""}`}>
                    {name || <span className="sr-only">Put it there</span>}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {found.data.map((its) => (
                <tr
                  key={its.by}
                  className={`border-b border-rule ${its.by === 0 ? "bg-marker/25 font-bold" : ""}`}
                >
                  <th scope="row" className="px-1 py-1.5 text-left">
                    {number(its.by, "travel", 0)}
                  </th>
                  {its.ride === null ? (
                    <td colSpan={4} className="px-1 text-left text-soft">
                      {its.fault}
                    </td>
                  ) : (
                    <>
                      <td className="px-1">{number(its.ratio ?? 0, "ratio")}</td>
                      <td className="px-1">{number(its.wheel_rate ?? 0, "rate")}</td>
                      <td className="px-1">{number(its.ride, "travel")}</td>
                      <td className="px-1">{its.roll === null ? "–" : number(its.roll, "roll_stiffness")}</td>
                    </>
                  )}
                  <td className="px-1">
                    {its.by !== 0 && (
                      <button
                        type="button"
                        className="press px-2"
                        aria-label={`Put ${quantity(its.by, "travel")} along`}
                        onClick={() => change((s) => moved(s, both ? ends : [end], way, its.by))}
                      >
                        Put
                      </button>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="pt-1 text-sm text-soft">
            {spoken(end)}
            {both ? " and the other end" : ""}, both sides of an axle alike; lengths in {unit_("length")}.
            Ratio: {spoken(unit)} ÷ wheel, then the wheel rate, where it stands, and its part in roll.
          </p>
        </div>
      )}
    </details>
  );
}

const MIRROR_MM = 25;

/** The station with points moved along a direction, and on an axle their mirror images. */
function moved(station: Station, ends: string[], way: number[], by: number): Station {
  const size = Math.hypot(...way) || 1;
  return ends.reduce((its, name) => {
    const from = (station.points[name] ?? [0, 0, 0]) as number[];
    const to = from.map((value, k) => value + (by * (way[k] ?? 0)) / size) as Vec;
    const next = movePoint(its, name, to);
    const image =
      station.kind === "axle" &&
      Object.entries(station.points).find(
        ([other, place]) =>
          !ends.includes(other) &&
          Math.abs((place[0] ?? 0) - (from[0] ?? 0)) < MIRROR_MM &&
          Math.abs((place[1] ?? 0) + (from[1] ?? 0)) < MIRROR_MM &&
          Math.abs((place[2] ?? 0) - (from[2] ?? 0)) < MIRROR_MM,
      );
    return image ? movePoint(next, image[0], [to[0], -to[1], to[2]]) : next;
  }, station);
}
