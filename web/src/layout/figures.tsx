import type { Station, StationView } from "../api/client";
import { type Place, valueAt } from "../jack/travel";
import { saidOnce } from "../quantity/sides";
import { useUnits } from "../quantity/units";
import {
  angleRows,
  type Crossed,
  type FigureRow,
  ownAngleRows,
  type TapeSpread,
  unitRows,
  wheelRows,
  wholeRows,
  widest,
} from "./figure-rows";
import { useBetween } from "./tape";

interface Props {
  units: Station["units"];
  wheels: Station["wheels"];
  view: StationView;
  place: Place;
  range: Station["travel"];
  tape?: TapeSpread | undefined;
  /** With one wheel up: the units' lengths. */
  crossed?: Crossed | undefined;
}

/** Where it stands on its weight, and between what that lies as well as the places are known. */
export function RideFigures({ view, tape }: { view: StationView; tape?: TapeSpread | undefined }) {
  const { quantity } = useUnits();
  const between = useBetween();
  const ride = view.ride;
  if (!ride) return null;
  return (
    <section aria-label="At ride height" className="border-b-2 border-ink pb-2">
      <h2 className="text-lg">At ride height</h2>
      <dl className="mt-1 grid grid-cols-2 gap-x-4 gap-y-1">
        <Small
          name="Stands at"
          value={quantity(ride.travel, "travel")}
          between={between(tape?.ride_travel, "travel")}
          id="ride-travel"
        />
        <Small
          name="Frequency"
          value={quantity(ride.frequency, "frequency")}
          between={between(tape?.frequency, "frequency")}
          id="ride-frequency"
        />
        <Small
          name="Wheel rate"
          value={quantity(ride.wheel_rate, "rate")}
          between={between(tape?.wheel_rate, "rate")}
          id="ride-rate"
        />
        <Small name="Sag from droop" value={quantity(ride.sag, "length")} id="ride-sag" />
        {view.datum?.stands != null && (
          <Small
            name={`${view.datum.name.charAt(0).toUpperCase()}${view.datum.name.slice(1)}, above the floor`}
            value={quantity(view.datum.stands, "length")}
            between={between(tape?.datum, "length")}
            id="ride-height"
          />
        )}
      </dl>
      <p className="min-h-5 pt-1 text-sm text-soft">
        {tape?.ride_travel &&
          `Small figures: 90 % range, places measured to ${quantity(tape.tape, "length")}.`}
      </p>
    </section>
  );
}

/** The figures where the Jack stands. */
export function Figures({ units = [], wheels, view, place, range, tape, crossed }: Props) {
  const said = useUnits();
  const { quantity } = said;
  const travel = valueAt(view.travels, place);
  const now = [
    ...units.flatMap((part) => unitRows(part, view, place, range, said, crossed)),
    ...wheelRows(view, place, said),
    ...wholeRows(view, place, said),
    ...angleRows(view, place, said),
  ];
  const own = ownAngleRows(view, tape, said);
  return (
    <section aria-label="At the Jack">
      <h2 className="pt-3 text-lg">
        At the Jack
        {travel !== null && (
          <span className="hidden print:inline">, wheel at {quantity(travel, "travel")}</span>
        )}
      </h2>
      {crossed && (
        <p className="text-sm text-soft">
          {crossed.articulation > 0 ? "Left" : "Right"} wheel up{" "}
          {quantity(Math.abs(crossed.articulation), "length")}: lengths are those with it up, all else is
          level.
        </p>
      )}
      <Rows rows={now} several={units.length > 1} />
      {own.length > 0 && (
        <section aria-label="The wheel’s own angles">
          <h2 className="pt-3 text-lg">The wheel’s own angles, at ride height</h2>
          <Rows rows={own} several={wheels.length > 1} />
        </section>
      )}
    </section>
  );
}

/** Rows, those that say the same of both sides once; whose they are is said where there are several of them. */
function Rows({ rows, several }: { rows: FigureRow[]; several: boolean }) {
  const between = useBetween();
  const once = saidOnce(
    rows,
    (one, other) => one.value === other.value && one.note === other.note,
    (one, other) => ({ spans: one.spans?.map((span, k) => widest(span, other.spans?.[k])) }),
  );
  return (
    <dl>
      {once.map(({ what, who, value, unit, note, spans, dimension, digits, id }) => (
        <div
          key={`${what} ${who}`}
          className="grid grid-cols-[1fr_auto] items-baseline gap-x-3 border-b border-rule py-1.5"
        >
          <dt className="font-semibold leading-tight">{who && several ? `${what}, ${who}` : what}</dt>
          <dd className="whitespace-nowrap text-right">
            <span className="text-2xl font-bold" data-testid={id}>
              {value}
            </span>
            {unit && <span className="ml-1 text-sm text-soft">{unit}</span>}
          </dd>
          {note && <dd className="col-span-2 text-sm text-soft">{note}</dd>}
          {spans && dimension && (
            <dd
              className="col-span-2 min-h-5 text-right text-sm leading-tight"
              data-testid={id && `${id}-between`}
            >
              {spans.every(Boolean) && spans.map((span) => between(span, dimension, digits)).join(" · ")}
            </dd>
          )}
        </div>
      ))}
    </dl>
  );
}

interface SmallProps {
  name: string;
  value: string;
  /** Its interval; "" keeps its place while it is worked out. */
  between?: string;
  id: string;
}

function Small({ name, value, between, id }: SmallProps) {
  return (
    <div>
      <dt className="text-sm text-soft">{name}</dt>
      <dd className="text-xl font-bold leading-tight" data-testid={id}>
        {value}
      </dd>
      {between !== undefined && (
        <dd className="min-h-5 text-sm leading-tight" data-testid={`${id}-between`}>
          {between}
        </dd>
      )}
    </div>
  );
}
