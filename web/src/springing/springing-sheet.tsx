import { client, type Project, type Shape, type Station } from "../api/client";
import { useAsked } from "../bench/asked";
import type { DraftInHand } from "../bench/draft";
import { type Change, editStation, setUnit } from "../bench/edits";
import { Fold } from "../bench/fold";
import type { Solved } from "../bench/solved";
import { isOn } from "../findings/families";
import { Judged } from "../findings/judged";
import { useRemedies } from "../findings/remedies";
import { BesideJack, reachable, Unsolved } from "../jack/beside-jack";
import { AddUnit } from "../layout/add-unit";
import { RideFigures } from "../layout/figures";
import { useTape } from "../layout/tape";
import { Heads } from "../quantity/heads";
import { QuantityField } from "../quantity/quantity-field";
import { useSay } from "../quantity/sentence";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { Bars } from "./bars";
import { Dampers } from "./dampers";
import { ForcePicture } from "./force-picture";
import { HolePairs } from "./hole-pairs";
import { AsWanted, OptionTable, Seat } from "./option-table";
import { BagShelf, PressureTable } from "./pressures";
import { Stack } from "./stack";
import { StandingTable } from "./standing";
import { Tank } from "./tank";

interface Props {
  document: Project;
  index: number;
  solved: Solved;
  hand: DraftInHand;
  travel: number;
  onTravel: (travel: number) => void;
}

type Option = Shape["SpringOut"];

/** Which spring, or what pressure, carries it where it is wanted? */
export function SpringingSheet({ document, index, solved, hand, travel, onTravel }: Props) {
  const station = document.stations[index] as Station;
  const { view } = solved;
  const at = reachable(view, travel);
  const remedies = useRemedies(document, index, view?.findings, isOn("springing"));
  const tape = useTape(document, index, !solved.refused && view?.ride ? solved.of : null).data;
  const change = (to: (station: Station) => Station, key = "") =>
    hand.edit((doc) => editStation(doc, index, to), key);
  const carrier = (station.units ?? []).find((unit) =>
    ["coilover", "spring", "air_spring"].includes(unit.kind),
  );
  return (
    <BesideJack station={station} view={view} travel={at} onTravel={onTravel} busy={solved.busy}>
      {view ? (
        <div className="grid h-full grid-cols-[minmax(0,1fr)_348px] lg:grid-rows-[minmax(0,1fr)] max-lg:h-auto max-lg:grid-cols-1">
          <div className="flex min-h-0 min-w-0 flex-col overflow-y-auto max-lg:overflow-visible">
            <div className="h-[300px] shrink-0">
              {carrier && <ForcePicture station={station} view={view} travel={at} unit={carrier.name} />}
            </div>
            <div className="px-4 pb-8">
              <SpringTable document={document} index={index} settled={!solved.busy} change={change} />
              {view.bags && (
                <>
                  <BagTable station={station} bags={view.bags} change={change} />
                  <PressureTable
                    document={document}
                    index={index}
                    settled={!solved.busy}
                    onPressure={(pressure) => change((s) => withPressure(s, pressure))}
                  />
                  <BagShelf document={document} index={index} settled={!solved.busy} change={change} />
                </>
              )}
              <StandingTable document={document} index={index} settled={!solved.busy} change={change} />
              <div className="mt-4 border-t border-rule">
                {carrier && carrier.kind !== "air_spring" && (
                  <Fold title="The stack" hint="a second spring on the first, and where they cross over">
                    <Stack station={station} view={view} change={change} />
                  </Fold>
                )}
                <Fold title="Dampers that suit" hint="what the shelf has for this travel and ratio">
                  <Dampers document={document} index={index} settled={!solved.busy} change={change} />
                </Fold>
                <Fold title="Fit a part" hint="a spring, a damper or a bag between two places">
                  <AddUnit
                    document={document}
                    index={index}
                    change={change}
                    kinds={["coilover", "spring", "damper", "air_spring"]}
                  />
                </Fold>
                {Object.keys(station.holes ?? {}).length > 0 && (
                  <Fold
                    id="holes"
                    title="Holes side by side"
                    hint="every pair of bolt holes: height, rate, travel"
                  >
                    <HolePairs document={document} index={index} settled={!solved.busy} change={change} />
                  </Fold>
                )}
                {(station.units ?? []).some((unit) => unit.kind === "bar") && (
                  <Fold title="Which bar" hint="stock bars against the lean that is wanted">
                    <Bars document={document} index={index} settled={!solved.busy} change={change} />
                  </Fold>
                )}
              </div>
              <p className="mt-4 border-l-4 border-warning pl-2 text-sm">
                A compressed spring and a gas-charged damper store enough to break a hand: use a spring
                compressor. Order springs only once the ratio is known and the mass is the finished one.
              </p>
            </div>
          </div>
          <section
            aria-label="Where it stands"
            // biome-ignore lint/a11y/noNoninteractiveTabindex: where it is longer than the screen it is scrolled by key
            tabIndex={0}
            className="min-h-0 overflow-y-auto border-l border-rule px-4 pb-8 pt-3 max-lg:overflow-visible max-lg:border-l-0"
          >
            <RideFigures view={view} tape={tape} />
            <Judged
              findings={view.findings.filter(isOn("springing"))}
              remedies={remedies}
              change={change}
              onTravel={onTravel}
            />
          </section>
        </div>
      ) : (
        <Unsolved message={solved.refused?.message} />
      )}
    </BesideJack>
  );
}

/** Rates side by side, each preloaded so that it stands where it is wanted. */
function SpringTable({
  document,
  index,
  settled,
  change,
}: {
  document: Project;
  index: number;
  settled: boolean;
  change: Change;
}) {
  const { quantity } = useUnits();
  const say = useSay();
  const found = useAsked(
    "springs",
    document,
    index,
    (body) => client.POST("/api/springs", { body }),
    settled,
  );
  const data = found.data;
  if (!data?.options.length) return null;
  const wanted = data.wanted
    ? `${quantity(data.wanted[0] ?? 0, "frequency")} to ${quantity(data.wanted[1] ?? 0, "frequency")} is wanted${data.purpose ? ` for ${data.purpose}` : ""}. `
    : "Say on the Brief what it is for, and the wanted frequencies are marked. ";
  const longOf = (option: Option) => {
    const unit = Object.values(option.units)[0] as { springs?: { free_length: number }[] } | undefined;
    return (unit?.springs ?? []).reduce((sum, spring) => sum + spring.free_length, 0);
  };
  const fitted = data.options.find((option) => option.now);
  const now = fitted ? longOf(fitted) : 0;
  const take = (option: Option) => change((station) => withOption(station, option));
  return (
    <section aria-label="Springs side by side" aria-busy={found.isFetching}>
      <h2 className="pt-4 text-lg">Springs side by side</h2>
      <p className="text-sm text-soft">
        {wanted}Each is preloaded to stand at the same height. A plain rate keeps today's length where the
        perch takes it, else it says its own; one from the shelf brings all of itself.
      </p>
      <OptionTable
        wide={560}
        names={["Rate", "Frequency", "Preload", "Coil left in bump", "Seat in droop"]}
        options={data.options}
        of={(option) => `${option.rate} ${option.name}`}
        title={(option) => quantity(option.rate, "rate")}
        under={(option) => (
          <>
            {option.name
              ? `${option.name}, ${option.stock ? `${option.stock} on the shelf` : "none in stock"}`
              : longOf(option) !== now && `${quantity(longOf(option), "length", 0)} long`}
            {option.unfit && (
              <span className="block max-w-64 whitespace-normal text-fault">✕ {say(option.unfit)}</span>
            )}
          </>
        )}
        cells={(option) => (
          <>
            <td className="px-2">
              {option.frequency === null ? "does not stand" : quantity(option.frequency, "frequency")}
              {option.inside && <AsWanted />}
            </td>
            <td className="px-2">
              {quantity(Number(Object.values(option.units)[0]?.preload ?? 0), "length")}
            </td>
            <td className={`px-2 ${option.coil_short ? "text-fault" : ""}`}>
              {option.coil_left < 0 ? "✕ solid" : quantity(option.coil_left, "length")}
            </td>
            <Seat left={option.seat_left} words={(mm) => quantity(mm, "length")} />
          </>
        )}
        now={(option) => option.now}
        said="fitted"
        onTake={take}
        takes={(option) => option.name ?? quantity(option.rate, "rate")}
      />
    </section>
  );
}

/** The station with an option on every coilover: springs, preload, what they stand on and where the perch then is. */
function withOption(station: Station, option: Option): Station {
  return Object.entries(option.units).reduce(
    (its, [name, fitted]) => setUnit(its, name, { ...fitted }),
    station,
  );
}

/** The station with one pressure in every bag. */
function withPressure(station: Station, pressure: number): Station {
  return (station.units ?? [])
    .filter((unit) => unit.kind === "air_spring")
    .reduce((its, unit) => setUnit(its, unit.name, { pressure }), station);
}

const STATES: Record<string, string> = {
  bump: "Full bump, valve shut",
  ride: "Ride height",
  droop: "Full droop, valve shut",
  lift: "Lifted, at rated pressure",
  aired_out: "Aired out",
};

/** Bags through everything a driver does with the valve. */
function BagTable({
  station,
  bags,
  change,
}: {
  station: Station;
  bags: NonNullable<Shape["StationView"]["bags"]>;
  change: Change;
}) {
  const { quantity } = useUnits();
  const units = (station.units ?? []).filter((unit) => unit.kind === "air_spring");
  const set = (pressure: number) => change((s) => withPressure(s, pressure), "pressure");
  // Bags that read the same are said once.
  const rows: { state: string; bags: string[]; travel: string; height: string; pressure: string }[] = [];
  for (const one of bags.states) {
    const told = {
      state: one.state,
      travel: quantity(one.travel, "travel"),
      height: quantity(one.height, "length"),
      pressure: quantity(one.pressure, "pressure"),
    };
    const same = rows.find(
      (row) => row.state === told.state && row.height === told.height && row.pressure === told.pressure,
    );
    if (same) same.bags.push(one.bag);
    else rows.push({ ...told, bags: [one.bag] });
  }
  return (
    <section aria-label="Bags">
      <h2 className="pt-4 text-lg">Bags, heights and pressures</h2>
      <div className="mt-1 grid max-w-md grid-cols-[1fr_9.5rem] items-center gap-2">
        <span>Pressure at ride height, every bag</span>
        <QuantityField
          label="Pressure at ride height"
          value={units[0]?.pressure ?? 0}
          dimension="pressure"
          step={0.1}
          check={(value) => (value < 0 ? "It cannot be negative." : null)}
          onCommit={set}
        />
      </div>
      {bags.pressure_wanted !== null && (
        <p className="mt-1 text-sm text-soft">
          {quantity(bags.pressure_wanted, "pressure")} would hold it at the height that is wanted.
        </p>
      )}
      <Tank station={station} change={change} />
      <table className="mt-2 w-full border-collapse text-right">
        <Heads names={["State", "Wheel", "Height", "Pressure"]} />
        <tbody>
          {rows.map(({ state, bags: its, travel, height, pressure }) => (
            <tr key={`${its.join()} ${state}`} className="border-b border-rule">
              <th scope="row" className="py-1.5 text-left font-semibold">
                {STATES[state] ?? state}
                {its.length < units.length && (
                  <span className="font-normal text-soft"> · {its.map(spoken).join(" and ")}</span>
                )}
              </th>
              <td className="px-2">{travel}</td>
              <td className="px-2">{height}</td>
              <td className="pl-2">{pressure}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-2 border-l-4 border-warning pl-2 text-sm">
        Air lines, fittings and tank must be rated above the highest pressure here. Let the air out, and stand
        the vehicle on stands, before a hand goes near a bag.
      </p>
    </section>
  );
}
