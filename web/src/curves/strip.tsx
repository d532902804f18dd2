import { memo } from "react";
import type { Station, StationView } from "../api/client";
import { placeOf, valueAt } from "../jack/travel";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { Curve } from "./curve";

interface Props {
  view: StationView;
  units: Station["units"];
  /** What the wheel is to have: the curves end there. */
  range: Station["travel"];
  travel: number;
  onTravel: (z: number) => void;
}

/** The four curves under the drawing; while only the drawing is ahead of what is solved they stay as they are. */
export const Curves = memo(function Curves({ view, units = [], range, travel, onTravel }: Props) {
  const { number, unit } = useUnits();
  const place = placeOf(view.travels, travel);
  const main = units.find((part) => view.units[part.name]);
  const trace = main ? view.units[main.name] : undefined;
  const shared = {
    travels: view.travels,
    travel,
    bump: range.bump,
    droop: range.droop,
    ride: view.ride?.travel ?? null,
    onTravel,
  };
  const shown = (column: (number | null)[] | undefined, dimension: Parameters<typeof number>[1]) => {
    const value = valueAt(column, place);
    return {
      at: value,
      shown: value === null ? "–" : number(value, dimension),
      format: (v: number) => number(v, dimension),
    };
  };
  const of = units.length > 1 && main ? `${spoken(main.name)}, ` : "";
  return (
    <div className="grid h-[172px] grid-cols-4 gap-px border-t border-rule bg-rule max-xl:h-auto max-xl:auto-rows-[172px] max-xl:grid-cols-2 max-sm:grid-cols-1">
      <Curve
        {...shared}
        {...shown(trace?.length, "length")}
        name={main?.kind === "air_spring" ? "Height" : "Eye to eye"}
        unit={`${of}${unit("length")}`}
        values={trace?.length ?? []}
      />
      <Curve
        {...shared}
        {...shown(trace?.motion_ratio, "ratio")}
        name="Motion ratio"
        unit={`${of}${main?.kind === "air_spring" ? "bag" : main?.kind === "spring" ? "spring" : "damper"} ÷ wheel`}
        values={trace?.motion_ratio ?? []}
      />
      <Curve
        {...shared}
        {...shown(view.wheel_rate, "rate")}
        name="Wheel rate"
        unit={unit("rate")}
        values={view.wheel_rate}
      />
      <Curve
        {...shared}
        {...shown(view.wheel_force, "force")}
        name="Wheel force"
        unit={unit("force")}
        values={view.wheel_force}
      />
    </div>
  );
});
