import { useState } from "react";
import { client, type Project, type Shape, type Station, type StationView } from "../api/client";
import { useAsked } from "../bench/asked";
import { type Change, movePoint, type Vec } from "../bench/edits";
import { QuantityField } from "../quantity/quantity-field";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import type { Placing } from "../views/placing";
import { BestPlaces } from "./best-places";
import { Holes } from "./holes";
import { linesOf } from "./lines";
import { Slide } from "./slide";

interface Props {
  document: Project;
  index: number;
  station: Station;
  view: StationView;
  placing: Placing | null;
  onPlacing: (placing: Placing | null) => void;
  picked: string | null;
  change: Change;
  onTravel: (travel: number) => void;
}

type Way = "bump" | "droop" | "ride";

const WAYS: Record<Way, [string, string]> = {
  bump: ["At full bump", "the damper nearly closed"],
  droop: ["At full droop", "the damper extended"],
  ride: ["At ride height", "a dummy strut of this length"],
};

/** Where does the damper's end go? Hold the wheel, slide one end along a line until the strut fits. */
export function PlacingPanel(props: Props) {
  const { document, index, station, view, placing, onPlacing, picked, change, onTravel } = props;
  const units = (station.units ?? []).filter((unit) => !["strap", "bump_stop", "bar"].includes(unit.kind));
  const unit = units.find((its) => its.name === placing?.unit) ?? units[0];
  const end = placing?.end && unit?.ends.includes(placing.end) ? placing.end : (unit?.ends[1] ?? "");
  const [way, setWay] = useState<Way>("bump");
  const [typed, setTyped] = useState<Record<string, number>>({});
  const [line, setLine] = useState("strut");
  const { quantity } = useUnits();
  const lines = unit ? linesOf(station, unit, end, picked) : [];
  const chosen = lines.find((its) => its.key === line) ?? lines[0];
  const travel = { bump: station.travel.bump, droop: -station.travel.droop, ride: station.travel.at ?? 0 }[
    way
  ];
  const usual = unit ? usualLength(unit, way) : 300;
  const length = typed[`${unit?.name} ${way}`] ?? usual;
  const asked = {
    unit: unit?.name ?? "",
    end,
    start: chosen?.start ?? [0, 0, 0],
    way: chosen?.way ?? [0, 0, 1],
    travel,
    length,
  };
  const found = useAsked(
    "place",
    document,
    index,
    (body) => client.POST("/api/place", { body: { ...body, ...asked } }),
    unit !== undefined && chosen !== undefined,
    [asked],
  );
  if (!unit) return <p className="p-4 text-soft">There is nothing to place yet: no spring or damper.</p>;
  const fixed = station.chassis.includes(end);
  const show = (next: Partial<Placing>) =>
    onPlacing({ unit: unit.name, end, plan: placing?.plan ?? "front", ...next });
  return (
    <section aria-label="Place it" className="pb-6" aria-busy={found.isFetching}>
      <h2 className="pt-3 text-lg">Where does its end go?</h2>
      <p className="text-sm text-soft">
        Hold the wheel, hold one end, and slide the other until the strut fits.
      </p>
      <Choice
        label="What is placed"
        value={unit.name}
        onValue={(name) => show({ unit: name, end: units.find((its) => its.name === name)?.ends[1] ?? "" })}
      >
        {units.map((its) => (
          <option key={its.name} value={its.name}>
            {spoken(its.name)}
          </option>
        ))}
      </Choice>
      <Choice label="The end that slides" value={end} onValue={(name) => show({ end: name })}>
        {unit.ends.map((name) => (
          <option key={name} value={name}>
            {spoken(name)}
            {station.chassis.includes(name) ? ", on the chassis" : ", on what moves"}
          </option>
        ))}
      </Choice>
      <Choice label="It slides along" value={chosen?.key ?? ""} onValue={setLine}>
        {lines.map((its) => (
          <option key={its.key} value={its.key}>
            {its.name}
          </option>
        ))}
      </Choice>
      <fieldset className="mt-3">
        <legend className="font-semibold">The wheel is held</legend>
        <div className="flex">
          {(Object.keys(WAYS) as Way[]).map((key) => (
            <button
              key={key}
              type="button"
              aria-pressed={way === key}
              className="press -ml-px flex-1 px-1 first:ml-0 aria-pressed:border-press aria-pressed:bg-press aria-pressed:text-white"
              onClick={() => {
                setWay(key);
                onTravel(
                  { bump: station.travel.bump, droop: -station.travel.droop, ride: station.travel.at ?? 0 }[
                    key
                  ],
                );
              }}
            >
              {WAYS[key][0]}
            </button>
          ))}
        </div>
      </fieldset>
      <div className="mt-2 grid grid-cols-[1fr_9.5rem] items-center gap-2">
        <span className="leading-tight">
          Eye to eye there
          <span className="block text-sm text-soft">{WAYS[way][1]}</span>
        </span>
        <QuantityField
          label="Eye to eye there"
          value={length}
          dimension="length"
          step={1}
          check={(value) => (value > 0 ? null : "It must be longer than zero.")}
          onCommit={(value) => setTyped((before) => ({ ...before, [`${unit.name} ${way}`]: value }))}
        />
      </div>
      <p className="mt-2 border-l-4 border-warning pl-2 text-sm">
        Vehicle on stands and chocked, springs out before it is cycled by jack, and only tacks until the cycle
        has passed.
      </p>
      {found.isError && <p className="mt-2 text-sm text-fault">{found.error.message}</p>}
      {found.data?.length === 0 && (
        <p className="mt-3 border-l-4 border-fault pl-2">
          Nowhere on that line is {quantity(length, "length")} from the other end. Choose another line, or
          another length.
        </p>
      )}
      <ul>
        {useful(found.data ?? []).map((place, k) => (
          <li key={place.place.join()} className="mt-3 border border-rule bg-card p-3">
            <p className="font-semibold">
              {k === 0 ? "The nearest place" : "The other way"}:{" "}
              {Math.abs(place.slid) < 0.05
                ? "where it is"
                : `slide it ${quantity(Math.abs(place.slid), "length")}`}
            </p>
            <Facts place={place} />
            {Math.abs(place.slid) >= 0.05 && (
              <button
                type="button"
                className="press press-main mt-2"
                onClick={() => change((s) => movePoint(s, end, place.place as Vec))}
              >
                Put {spoken(end)} there
              </button>
            )}
          </li>
        ))}
      </ul>
      <fieldset className="mt-4">
        <legend className="font-semibold">Shade every place it could be</legend>
        <div className="flex">
          {(["front", "side", "top"] as const).map((plan) => (
            <button
              key={plan}
              type="button"
              aria-pressed={placing?.plan === plan}
              className="press -ml-px flex-1 px-1 first:ml-0 aria-pressed:border-press aria-pressed:bg-press aria-pressed:text-white"
              onClick={() => {
                if (placing?.plan === plan) return onPlacing(null);
                show({ plan });
                // Places are as drawn: what moves must stand there too.
                if (!fixed) onTravel(0);
              }}
            >
              {plan}
            </button>
          ))}
        </div>
        {placing && (
          <p className="pt-1 text-sm text-soft">
            Green: the damper has stroke left at both ends. Lines: motion ratio, damper ÷ wheel.
          </p>
        )}
        {placing && (
          <BestPlaces
            document={document}
            index={index}
            placing={{ ...placing, unit: unit.name, end }}
            onPut={(place) => change((s) => movePoint(s, end, place))}
          />
        )}
      </fieldset>
      <Slide
        document={document}
        index={index}
        station={station}
        unit={unit.name}
        end={end}
        way={chosen?.way ?? [0, 0, 1]}
        change={change}
      />
      <Holes station={station} end={end} way={chosen?.way ?? [0, 0, 1]} change={change} />
      {view.strokes[unit.name] && (
        <p className="mt-3 text-sm text-soft">
          As it stands: {quantity(view.strokes[unit.name]?.left_in_bump ?? 0, "length")} left in bump,{" "}
          {quantity(view.strokes[unit.name]?.left_in_droop ?? 0, "length")} in droop.
        </p>
      )}
    </section>
  );
}

function Choice({
  label,
  value,
  onValue,
  children,
}: {
  label: string;
  value: string;
  onValue: (value: string) => void;
  children: React.ReactNode;
}) {
  return (
    <label className="mt-2 block">
      <span className="text-sm text-soft">{label}</span>
      <select className="entry w-full" value={value} onChange={(event) => onValue(event.target.value)}>
        {children}
      </select>
    </label>
  );
}

function Facts({ place }: { place: Shape["PlacedOut"] }) {
  const { quantity, number } = useUnits();
  const lost = 1 - place.in_line;
  const rows: [string, string, boolean][] = [
    ["Motion ratio, damper ÷ wheel", number(place.ratio, "ratio"), false],
    ["Stroke used", quantity(place.used, "length"), false],
  ];
  if (place.left_in_bump !== null && place.left_in_droop !== null) {
    rows.push(["Left in bump", quantity(place.left_in_bump, "length"), place.left_in_bump < 0]);
    rows.push(["Left in droop", quantity(place.left_in_droop, "length"), place.left_in_droop < 0]);
  }
  rows.push(["Travel lost to its lean", quantity(lost, "share"), false]);
  return (
    <dl className="grid grid-cols-[1fr_auto] gap-x-3 py-1 text-sm">
      {rows.map(([name, value, bad]) => (
        <div key={name} className="contents">
          <dt>{name}</dt>
          <dd className={`text-right font-semibold ${bad ? "text-fault" : ""}`}>
            {bad ? "✕ " : ""}
            {value}
          </dd>
        </div>
      ))}
    </dl>
  );
}

/** Places on the far side of the held end, where the unit would pull instead of push, are none. */
function useful(places: Shape["PlacedOut"][]): Shape["PlacedOut"][] {
  const pushing = places.filter((place) => place.ratio > 0);
  return pushing.length ? pushing : places;
}

const SPARE_MM = 7;

/** What is mostly held there: nearly closed, nearly extended, or three fifths of the stroke kept for bump. */
function usualLength(
  unit: Shape["Station"]["units"] extends (infer U)[] | undefined ? U : never,
  way: Way,
): number {
  if (unit.kind === "coilover" || unit.kind === "damper") {
    const adapter = (unit.adapter?.top ?? 0) + (unit.adapter?.bottom ?? 0);
    if (way === "bump") return unit.compressed + adapter + SPARE_MM;
    if (way === "droop") return unit.extended + adapter - SPARE_MM;
    return unit.compressed + adapter + 0.6 * (unit.extended - unit.compressed);
  }
  if (unit.kind === "air_spring") {
    if (way === "bump") return unit.min_height + SPARE_MM;
    if (way === "droop") return unit.max_height - SPARE_MM;
    return (unit.min_height + unit.max_height) / 2;
  }
  return 300;
}
