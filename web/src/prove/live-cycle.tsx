import { useEffect, useState } from "react";
import type { Project, Station } from "../api/client";
import { How, Listen, useHeldTo, useLive } from "../instruments/live";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import type { Kept } from "../survey/store";
import type { Row } from "./proving";

const EVERY_MM = 10;

interface Props {
  document: Project;
  records: Kept[];
  station: Station;
  units: string[];
  rows: Row[];
  onRow: (row: Row) => void;
}

/** Rows read by the travel pair: one press each, or one every ten millimetres while the jack goes up. */
export function LiveCycle({ document, records, station, units, rows, onRow }: Props) {
  const { quantity, unit: unitOf } = useUnits();
  const [on, setOn] = useState(false);
  const [every, setEvery] = useState(false);
  const [unit, setUnit] = useState(units[0] ?? "");
  const [jack, setJack] = useState(-station.travel.droop);
  const shown = useLive("travel-pair", on);
  const { said: wrong, held } = useHeldTo("travel-pair", on, document, records, {
    of: station.name,
    unit,
    travel: jack,
  });
  const [wheel, damper] = shown?.values ?? [];
  const ready = wheel !== undefined && damper !== undefined;
  const row = ready ? { wheel: tenth(wheel), lengths: { [unit]: tenth(damper) } } : null;
  const nearest = ready ? Math.min(...rows.map((one) => Math.abs(one.wheel - wheel))) : 0;
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked once a line of the instrument
  useEffect(() => {
    if (every && row && nearest >= EVERY_MM) onRow(row);
  }, [shown]);
  if (!units.length) return null;
  return (
    <section aria-label="Live from the travel pair" className="border-b border-rule py-2">
      <div className="flex flex-wrap items-center gap-2">
        <Listen name="Travel pair" on={on} onPress={() => setOn(!on)} />
        {on && units.length > 1 && (
          <select
            aria-label="Which length it reads"
            className="entry w-auto"
            value={unit}
            onChange={(event) => setUnit(event.target.value)}
          >
            {units.map((one) => (
              <option key={one} value={one}>
                {spoken(one)}
              </option>
            ))}
          </select>
        )}
        {on && (
          <label className="flex min-h-11 items-center gap-2">
            <input
              type="checkbox"
              className="size-5"
              checked={every}
              onChange={(event) => setEvery(event.target.checked)}
            />
            A row every {quantity(EVERY_MM, "length", 0)}
          </label>
        )}
      </div>
      {on && (
        <>
          <dl className="grid grid-cols-2 gap-1 pt-1 text-center" data-testid="live-pair">
            <div className="bg-card py-1">
              <dt className="text-sm text-soft">Wheel, from as drawn</dt>
              <dd className="text-2xl font-bold tabular-nums">{ready ? quantity(wheel, "travel") : "–"}</dd>
            </div>
            <div className="bg-card py-1">
              <dt className="text-sm text-soft">{spoken(unit)}, eye to eye</dt>
              <dd className="text-2xl font-bold tabular-nums">{ready ? quantity(damper, "length") : "–"}</dd>
            </div>
          </dl>
          <How shown={shown} more={wrong} />
          <button
            type="button"
            className="press press-main mt-1 w-full"
            disabled={!row || !shown?.steady || !held}
            onClick={() => row && onRow(row)}
          >
            Take this row
          </button>
          {shown?.stand_in && (
            <label className="mt-2 block text-sm text-soft">
              The stand-in’s jack: {quantity(jack, "travel", 0)}
              <input
                type="range"
                className="w-full"
                aria-label={`The stand-in’s jack, ${unitOf("travel")}`}
                min={-station.travel.droop}
                max={station.travel.bump}
                step={1}
                value={jack}
                onChange={(event) => setJack(Number(event.target.value))}
              />
            </label>
          )}
        </>
      )}
    </section>
  );
}

const tenth = (value: number) => Math.round(value * 10) / 10;
