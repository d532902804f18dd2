import { Fragment, type ReactNode } from "react";
import type { Station, StationView } from "../api/client";
import { type Place, valueAt } from "../jack/travel";
import { useUnits } from "../quantity/units";

interface Props {
  station: Station;
  view: StationView;
  place: Place;
}

/** Where it stands on its weight. */
export function RideFigures({ view }: { view: StationView }) {
  const { quantity } = useUnits();
  const ride = view.ride;
  if (!ride) return null;
  return (
    <section aria-label="At ride height" className="border-b-2 border-ink pb-2">
      <h2 className="text-lg">At ride height</h2>
      <dl className="mt-1 grid grid-cols-2 gap-x-4 gap-y-1">
        <Small name="Stands at" value={quantity(ride.travel, "travel")} id="ride-travel" />
        <Small name="Frequency" value={quantity(ride.frequency, "frequency")} id="ride-frequency" />
        <Small name="Wheel rate" value={quantity(ride.wheel_rate, "rate")} id="ride-rate" />
        <Small name="Sag from droop" value={quantity(ride.sag, "length")} id="ride-sag" />
      </dl>
    </section>
  );
}

/** The figures where the Jack stands. */
export function Figures({ station, view, place }: Props) {
  const { number, quantity, unit } = useUnits();
  const rate = valueAt(view.wheel_rate, place);
  const share = valueAt(view.rate_from_ratio, place);
  const force = valueAt(view.wheel_force, place);
  return (
    <section aria-label="At the Jack">
      <h2 className="pt-3 text-lg">At the Jack</h2>
      <dl>
        {(station.units ?? []).map((part) => {
          const trace = view.units[part.name];
          const ratio = valueAt(trace?.motion_ratio, place);
          const length = valueAt(trace?.length, place);
          const name = (station.units ?? []).length > 1 ? `, ${part.name}` : "";
          return (
            <Fragment key={part.name}>
              <Figure
                name={`Motion ratio${name}`}
                value={ratio === null ? "–" : number(ratio, "ratio")}
                note={
                  ratio
                    ? `damper per wheel · ${number(1 / ratio, "ratio", 2)} wheel per damper`
                    : "damper per wheel"
                }
                id={`ratio-${part.name}`}
              />
              <Figure
                name={`Eye to eye${name}`}
                value={length === null ? "–" : number(length, "length")}
                unit={unit("length")}
                note={strokeNote(view, part.name, quantity)}
              />
            </Fragment>
          );
        })}
        <Figure
          name="Wheel rate"
          value={rate === null ? "–" : number(rate, "rate")}
          unit={unit("rate")}
          note={
            rate === null || share === null
              ? "not known without every force"
              : `spring ${number(rate - share, "rate")}, changing ratio ${number(share, "rate")}`
          }
          id="rate"
        />
        <Figure
          name="Wheel force"
          value={force === null ? "–" : number(force, "force")}
          unit={unit("force")}
          note={`carries ${quantity(view.weight, "force")} at ride`}
        />
        {Object.entries(view.wheels).map(([name, wheel]) => {
          const camber = valueAt(wheel.camber, place);
          const toe = valueAt(wheel.toe, place);
          if (camber === null || toe === null) return null;
          const who = station.wheels.length > 1 ? `, ${name}` : "";
          return (
            <Figure
              key={name}
              name={`Camber · toe${who}`}
              value={`${number(camber, "angle")} · ${number(toe, "angle")}`}
              unit="°"
              note="top out and front in are positive"
            />
          );
        })}
        {view.angles
          .filter((angle) => !angle.is_unit)
          .map((angle) => {
            const now = valueAt(angle.angle, place);
            return (
              <Figure
                key={angle.rod}
                name={`${capital(angle.rod)} to ${angle.rocker.replaceAll("_", " ")} arm`}
                value={now === null ? "–" : number(now, "angle", 1)}
                unit="°"
                note={
                  angle.at_ride === null ? "square is 90°" : `${number(angle.at_ride, "angle", 1)}° at ride`
                }
              />
            );
          })}
      </dl>
    </section>
  );
}

function capital(name: string): string {
  const words = name.replaceAll("_", " ");
  return words.charAt(0).toUpperCase() + words.slice(1);
}

function strokeNote(view: StationView, unit: string, quantity: (v: number, d: "length") => string): string {
  const stroke = view.strokes[unit];
  if (!stroke) return "between its ends";
  return `left: ${quantity(stroke.left_in_bump, "length")} in bump, ${quantity(stroke.left_in_droop, "length")} in droop`;
}

function Small({ name, value, id }: { name: string; value: string; id: string }) {
  return (
    <div>
      <dt className="text-sm text-soft">{name}</dt>
      <dd className="text-xl font-bold leading-tight" data-testid={id}>
        {value}
      </dd>
    </div>
  );
}

interface FigureProps {
  name: string;
  value: ReactNode;
  unit?: string;
  note?: string;
  id?: string;
}

function Figure({ name, value, unit, note, id }: FigureProps) {
  return (
    <div className="grid grid-cols-[1fr_auto] items-baseline gap-x-3 border-b border-rule py-1.5">
      <dt className="font-semibold leading-tight">{name}</dt>
      <dd className="whitespace-nowrap text-right">
        <span className="text-2xl font-bold" data-testid={id}>
          {value}
        </span>
        {unit && <span className="ml-1 text-sm text-soft">{unit}</span>}
      </dd>
      {note && <dd className="col-span-2 text-sm text-soft">{note}</dd>}
    </div>
  );
}
