import { useState } from "react";
import type { Project, Station } from "../api/client";
import { How, Listen, useHeldTo, useLive } from "../instruments/live";
import { QuantityField } from "../quantity/quantity-field";
import { useUnits } from "../quantity/units";
import type { SurveyInHand } from "../survey/store";
import { newKey, now } from "./proving";

interface Props {
  document: Project;
  station: Station;
  hand: SurveyInHand;
}

/** What is in a station's bag, typed or read off the air gauge, and written into the book. */
export function BagPressure({ document, station, hand }: Props) {
  const { quantity } = useUnits();
  const [on, setOn] = useState(false);
  const [typed, setTyped] = useState<number | null>(null);
  const [fresh, setFresh] = useState(0);
  const shown = useLive("air-gauge", on);
  const { held, said: wrong } = useHeldTo("air-gauge", on, document, hand.records, { of: station.name });
  const gauge = shown?.values[0];
  const last = hand.records.filter(
    (one) =>
      one.body.kind === "reading" && one.body.of === "bag pressure" && one.body.station === station.name,
  );
  const write = (bar: number) => {
    hand.put("record", newKey(), {
      kind: "reading",
      when: now(),
      of: "bag pressure",
      station: station.name,
      value: Math.round(bar * 100) / 100,
      unit: "bar",
    });
    setTyped(null);
    setFresh(fresh + 1);
  };
  if (!(station.units ?? []).some((unit) => unit.kind === "air_spring")) return null;
  return (
    <section aria-label="Bag pressure" className="mt-4 border-t border-rule pt-2">
      <h3 className="font-semibold">Bag pressure, {station.name}</h3>
      <div key={fresh} className="grid grid-cols-[1fr_10rem] items-center gap-2 text-lg">
        <span>By the gauge on its line</span>
        <QuantityField
          label="Bag pressure"
          value={typed ?? 0}
          blank={typed === null}
          dimension="pressure"
          check={(bar) => (bar >= 0 && bar <= 20 ? null : "Gauge pressure, from 0 to 20 bar.")}
          onCommit={setTyped}
        />
      </div>
      <div className="flex items-center gap-2 pt-1">
        <Listen name="Air gauge" on={on} onPress={() => setOn(!on)} />
        {on && (
          <span className="flex-1 text-right text-xl font-bold tabular-nums" data-testid="live-pressure">
            {gauge === undefined ? "–" : quantity(gauge, "pressure", 2)}
          </span>
        )}
      </div>
      {on && <How shown={shown} more={wrong} />}
      <button
        type="button"
        className="press mt-1 w-full"
        disabled={typed === null && (gauge === undefined || !shown?.steady || !held)}
        onClick={() => write(typed ?? gauge ?? 0)}
      >
        Write the pressure down
      </button>
      {last.length > 0 && (
        <p className="pt-1 text-sm text-soft">
          Last: {quantity(Number(last.at(-1)?.body.value), "pressure", 2)},{" "}
          {last.at(-1)?.body.when.slice(0, 16).replace("T", " ")}
        </p>
      )}
    </section>
  );
}
