import { useState } from "react";
import type { Project, Shape } from "../api/client";
import { How, Listen, useHeldTo, useLive } from "../instruments/live";
import { useUnits } from "../quantity/units";
import type { Kept } from "../survey/store";

interface Props {
  document: Project;
  records: Kept[];
  /** Wheels in the order of the pads. */
  wheels: string[];
  /** Names of the heights, and those that are still to be read. */
  datums: string[];
  read: Record<string, number>;
  putIn: Shape["Put"][];
  onScales: (scales: Record<string, number>) => void;
  onHeight: (name: string, height: number) => void;
}

/** The corner scales, all pads at once, and the distance meter for the heights, one after another. */
export function LiveScales({ document, records, wheels, datums, read, putIn, onScales, onHeight }: Props) {
  const { quantity } = useUnits();
  const [weighing, setWeighing] = useState(false);
  const [measuring, setMeasuring] = useState(false);
  const [picked, setPicked] = useState("");
  const name = picked || datums.find((one) => read[one] === undefined) || datums[0] || "";
  const scales = useLive("corner-scales", weighing);
  const meter = useLive("distance-meter", measuring);
  const { said: noScales, held: loaded } = useHeldTo("corner-scales", weighing, document, records, {
    put_in: putIn,
  });
  const { said: noMeter, held: aimed } = useHeldTo("distance-meter", measuring, document, records, {
    of: name,
    put_in: putIn,
  });
  const pads = scales?.values ?? [];
  const whole = pads.length === wheels.length;
  const height = meter?.values[0];
  return (
    <section aria-label="Live from the instruments" className="border-b border-rule py-2">
      <div className="flex flex-wrap gap-2">
        <Listen name="Corner scales" on={weighing} onPress={() => setWeighing(!weighing)} />
        {datums.length > 0 && (
          <Listen name="Distance meter" on={measuring} onPress={() => setMeasuring(!measuring)} />
        )}
      </div>
      {weighing && (
        <>
          <dl className="grid grid-cols-2 gap-1 pt-1 text-center" data-testid="live-scales">
            {wheels.map((wheel, k) => (
              <div key={wheel} className="bg-card py-1">
                <dt className="text-sm text-soft">{wheel}</dt>
                <dd className="text-xl font-bold tabular-nums">
                  {whole ? quantity(pads[k] ?? 0, "mass") : "–"}
                </dd>
              </div>
            ))}
          </dl>
          <How
            shown={scales}
            more={
              noScales ||
              (pads.length > 0 && !whole
                ? `The scales have ${pads.length} pads and the vehicle ${wheels.length} wheels: type them in.`
                : "")
            }
          />
          <div className="flex gap-1 pt-1">
            <button
              type="button"
              className="press press-main flex-1"
              disabled={!whole || !scales?.steady || !loaded}
              onClick={() =>
                onScales(Object.fromEntries(wheels.map((wheel, k) => [wheel, tenth(pads[k] ?? 0)])))
              }
            >
              Take the scales
            </button>
          </div>
        </>
      )}
      {measuring && (
        <div className="pt-2">
          <div className="flex items-center gap-2">
            <select
              aria-label="Which height is measured"
              className="entry flex-1"
              value={name}
              onChange={(event) => setPicked(event.target.value)}
            >
              {datums.map((one) => (
                <option key={one}>{one}</option>
              ))}
            </select>
            <span className="text-xl font-bold tabular-nums" data-testid="live-height">
              {height === undefined ? "–" : quantity(height, "length")}
            </span>
          </div>
          <How shown={meter} more={noMeter} />
          <button
            type="button"
            className="press press-main mt-1 w-full"
            disabled={height === undefined || !meter?.steady || !aimed}
            onClick={() => {
              onHeight(name, tenth(height ?? 0));
              setPicked("");
            }}
          >
            Take reading
          </button>
        </div>
      )}
    </section>
  );
}

const tenth = (value: number) => Math.round(value * 10) / 10;
