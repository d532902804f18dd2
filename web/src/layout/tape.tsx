import { useQuery } from "@tanstack/react-query";
import { Fragment } from "react";
import { answer, client, type Project, type Shape, type Station } from "../api/client";
import { followed, isStopped } from "../api/working";
import type { Change } from "../bench/edits";
import { useResting } from "../bench/resting";
import { WorkingLine } from "../bench/working-line";
import { Mark } from "../findings/mark";
import type { Dimension } from "../quantity/quantity";
import { QuantityField } from "../quantity/quantity-field";
import { Row } from "../quantity/row";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";

export type TapeSpread = Shape["SpreadOut"];
type Span = number[];

const NAME = "tape";
const MOST_MM = 20;
const RESTS_MS = 900;
/** What meets the wheel only now and then: its ratio at ride says nothing. */
export const SELDOM_MET = new Set(["strap", "bump_stop", "bar"]);

/**
 * Between what every result lies, for what is known of the places; of the document whose figures are on the screen, or nothing:
 * a nudge takes it away with the old figures, not a frame before.
 */
export function useTape(document: Project, index: number, shown: Project | null) {
  const still = useResting(document, RESTS_MS);
  const found = useQuery({
    queryKey: ["tape", still, index],
    queryFn: ({ signal }) =>
      answer(
        followed(
          NAME,
          (headers) =>
            client.POST("/api/spread", {
              body: { document: still as unknown as Record<string, unknown>, station: index },
              headers,
              signal,
            }),
          signal,
        ),
      ),
    enabled: shown !== null && still === document,
    gcTime: 0,
    retry: false,
  });
  return { ...found, data: still === shown ? found.data : undefined };
}

/** "1.48 to 1.54 Hz", "all 1.80 Hz" where they differ in no figure that is shown, or nothing. */
export function useBetween() {
  const { number, unit } = useUnits();
  return (span: Span | null | undefined, dimension: Dimension) => {
    if (!span) return "";
    const [low, high] = [span[0] ?? 0, span[2] ?? 0].map((value) => number(value, dimension));
    return `${low === high ? `all ${low}` : `${low} to ${high}`} ${unit(dimension)}`.trim();
  };
}

/** How well the places are known, and what that leaves open of every result. */
export function Tape({ document, index, change }: { document: Project; index: number; change: Change }) {
  const { number, quantity } = useUnits();
  const between = useBetween();
  const { data, error, refetch } = useTape(document, index, document);
  const station = document.stations[index] as Station;
  const own = Object.keys(station.uncertainty?.points ?? {}).length;
  const tape = station.uncertainty?.tape ?? data?.tape ?? 1;
  const setTape = (to: number) =>
    change(
      (s) => ({ ...s, uncertainty: { points: {}, ...s.uncertainty, tape: Math.round(to * 1e4) / 1e4 } }),
      "tape",
    );
  return (
    <section aria-label="How well it is measured" className="mt-4 px-2">
      <h2 className="text-lg">How well it is measured</h2>
      <Row name="Every place, to within" hint="one standard error along each axis">
        <QuantityField
          label="Every place, to within"
          value={tape}
          dimension="length"
          step={0.1}
          digits={1}
          check={(v) => (v >= 0 && v <= MOST_MM ? null : `Give 0 to ${quantity(MOST_MM, "length")}.`)}
          onCommit={setTape}
        />
      </Row>
      {own > 0 && (
        <p className="text-sm text-soft">
          {own} {own === 1 ? "place has its" : "places have their"} own error, from the survey.
        </p>
      )}
      <p className="pt-2 text-sm text-soft">
        Measured no better than that, nine of ten built like this come out between:
      </p>
      <WorkingLine name={NAME} error={error} again={() => void refetch()} />
      {error && !isStopped(error) && (
        <p className="flex flex-wrap items-center gap-3 py-1">
          {error.message}
          <button type="button" className="press px-3" onClick={() => void refetch()}>
            Work it out
          </button>
        </p>
      )}
      {data && (
        <>
          {data.standing < 1 && (
            <p className="flex items-start gap-2 py-1">
              <Mark mark="warning" size={20} />
              {number(100 * (1 - data.standing), "ratio", 1)} % of them stand nowhere in the travel.
            </p>
          )}
          <dl>
            <Between name="Stands at" value={between(data.ride_travel, "travel")} />
            <Between name="Frequency" value={between(data.frequency, "frequency")} />
            <Between name="Wheel rate" value={between(data.wheel_rate, "rate")} />
            {(station.units ?? [])
              .filter(({ kind }) => !SELDOM_MET.has(kind))
              .map(({ name }) => (
                <Between
                  key={name}
                  name={`Motion ratio at ride, ${spoken(name)}`}
                  value={between(data.motion_ratios[name], "ratio")}
                />
              ))}
            {Object.entries(data.damper_left).map(([name, left]) => (
              <Fragment key={name}>
                <Between
                  name={`Stroke left at full bump, ${spoken(name)}`}
                  value={between(left.bump, "length")}
                />
                <Between
                  name={`Stroke left at full droop, ${spoken(name)}`}
                  value={between(left.droop, "length")}
                />
              </Fragment>
            ))}
            {data.gaps.map(({ one, other, distance }) => (
              <Between
                key={`${one} ${other}`}
                name={`Nearest, ${spoken(one)} to ${spoken(other)}`}
                value={between(distance, "length")}
              />
            ))}
          </dl>
        </>
      )}
    </section>
  );
}

function Between({ name, value }: { name: string; value: string }) {
  if (!value) return null;
  return (
    <div className="flex items-baseline justify-between gap-3 border-b border-rule py-1.5">
      <dt className="leading-tight">{name}</dt>
      <dd className="whitespace-nowrap text-right font-bold leading-tight">{value}</dd>
    </div>
  );
}
