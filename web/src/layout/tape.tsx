import { useQuery } from "@tanstack/react-query";
import { answer, client, type Project, type Station } from "../api/client";
import { followed, isStopped } from "../api/working";
import type { Change } from "../bench/edits";
import { useResting } from "../bench/resting";
import { WorkingLine } from "../bench/working-line";
import { Mark } from "../marks/mark";
import type { Dimension } from "../quantity/quantity";
import { QuantityField } from "../quantity/quantity-field";
import { Row } from "../quantity/row";
import { type Said, saidOnce } from "../quantity/sides";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { SELDOM_MET, type Span, type TapeSpread, widest } from "./figure-rows";

const NAME = "tape";
const MOST_MM = 20;
const RESTS_MS = 900;
const KEPT_MS = 120_000;
/** Of an interval: two sides whose middles are no further apart are said once. */
const LIKE_SHARE = 0.25;

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
              body: { document: still, station: index },
              headers,
              signal,
            }),
          signal,
        ),
      ),
    enabled: shown !== null && still === document,
    // Several sheets ask the same of a document, and its answer never changes.
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: KEPT_MS,
    retry: false,
  });
  return { ...found, data: still === shown ? found.data : undefined };
}

/** "1.48 to 1.54 Hz", "all 1.80 Hz" where they differ in no figure that is shown, or nothing. */
export function useBetween() {
  const { number, unit } = useUnits();
  return (span: Span, dimension: Dimension, digits?: number) => {
    if (!span) return "";
    const [low, high] = [span[0] ?? 0, span[2] ?? 0].map((value) => number(value, dimension, digits));
    const its = unit(dimension);
    return `${low === high ? `all ${low}` : `${low} to ${high}`}${its === "°" ? "" : " "}${its}`.trim();
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
            {saidOnce(tapeRows(data, station.units ?? []), notToBeTold, (one, other) => ({
              span: widest(one.span, other.span),
            })).map(({ what, who, span, dimension }) => (
              <div
                key={`${what} ${who}`}
                className="flex items-baseline justify-between gap-3 border-b border-rule py-1.5"
              >
                <dt className="leading-tight">{who ? `${what}, ${who}` : what}</dt>
                <dd className="whitespace-nowrap text-right font-bold leading-tight">
                  {between(span, dimension)}
                </dd>
              </div>
            ))}
          </dl>
          {data.gaps.length > 0 && (
            <p className="pt-2 text-sm text-soft">
              Gaps are those where they are least as drawn. What takes room stays where it was drawn on what
              carries it: it is the joints that may stand elsewhere.
            </p>
          )}
        </>
      )}
    </section>
  );
}

interface TapeRow extends Said {
  span: Span;
  dimension: Dimension;
}

/** Every interval, those of each part together. */
function tapeRows(data: TapeSpread, units: NonNullable<Station["units"]>): TapeRow[] {
  const rows: TapeRow[] = [
    { what: "Stands at", who: "", span: data.ride_travel, dimension: "travel" },
    { what: "Frequency", who: "", span: data.frequency, dimension: "frequency" },
    { what: "Wheel rate", who: "", span: data.wheel_rate, dimension: "rate" },
    ...units
      .filter(({ kind }) => !SELDOM_MET.has(kind))
      .map(({ name }) => ({
        what: "Motion ratio at ride",
        who: spoken(name),
        span: data.motion_ratios[name],
        dimension: "ratio" as const,
      })),
    ...Object.entries(data.damper_left).flatMap(([name, left]) =>
      (["bump", "droop"] as const).map((way) => ({
        what: `Stroke left at full ${way}`,
        who: spoken(name),
        span: left[way],
        dimension: "length" as const,
      })),
    ),
    ...data.gaps.map(({ one, other, distance }) => ({
      what: "Nearest",
      who: `${spoken(one)} to ${spoken(other)}`,
      span: distance,
      dimension: "length" as const,
    })),
  ];
  return rows.filter(({ span }) => span);
}

/** Whether two sides differ by less than what either is known to. */
function notToBeTold(one: TapeRow, other: TapeRow): boolean {
  const [low = 0, middle = 0, high = 0] = one.span ?? [];
  return Math.abs(middle - (other.span?.[1] ?? 0)) <= LIKE_SHARE * (high - low);
}
