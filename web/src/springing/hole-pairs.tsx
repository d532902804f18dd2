import { extent } from "d3-array";
import { scaleLinear } from "d3-scale";
import { client, type Project, type Shape } from "../api/client";
import { useAsked } from "../bench/asked";
import { type Change, movePoint, type Vec } from "../bench/edits";
import { letter } from "../layout/holes";
import { useSay } from "../quantity/sentence";
import { spoken } from "../quantity/spoken";
import { ends, useUnits } from "../quantity/units";
import { placeLabels } from "../views/labels";
import { useSize } from "../views/use-size";
import { OptionTable, Seat } from "./option-table";

type Pairs = Shape["PairsOut"];
type Pair = Shape["PairOut"];

interface Props {
  document: Project;
  index: number;
  settled: boolean;
  change: Change;
}

const named = (pair: Pair) => pair.holes.map(letter).join("–");

/** Every pair of bolt holes: what height, rate and travel each gives, and which two make the widest choice. */
export function HolePairs({ document, index, settled, change }: Props) {
  const { quantity } = useUnits();
  const say = useSay();
  const holes = document.stations[index]?.holes ?? {};
  const any = Object.keys(holes).length > 0;
  const found = useAsked(
    "holes",
    document,
    index,
    (body) => client.POST("/api/holes", { body }),
    settled && any,
  );
  if (!any || !found.data?.pairs.length) return null;
  const { pairs, patterns, soft_high, firm_low, chassis_only } = found.data;
  const take = (pair: Pair) =>
    change((station) =>
      Object.entries(pair.points).reduce(
        (its, [point, place]) => movePoint(its, point, place as Vec),
        station,
      ),
    );
  return (
    <section aria-label="Holes side by side" aria-busy={found.isFetching}>
      <p className="text-sm text-soft">
        {patterns.map((points) => points.map(spoken).join(" and ")).join("; then ")}. The first letter is the
        first mount's hole.
      </p>
      {soft_high != null && firm_low != null && (
        <p className="pt-1">
          Toward soft and high: <strong>{named(pairs[soft_high] as Pair)}</strong>. Toward firm and low:{" "}
          <strong>{named(pairs[firm_low] as Pair)}</strong>. {chassis_only && say(chassis_only)}
        </p>
      )}
      <Picture data={found.data} />
      <OptionTable
        wide={640}
        names={[
          "Holes",
          "Stands at",
          "Wheel rate",
          "Frequency",
          "Up, down from ride",
          "Nearest thing",
          "Seat in droop",
        ]}
        options={pairs}
        of={named}
        title={named}
        under={(pair) => (
          <>
            {pair === pairs[soft_high ?? -1]
              ? "soft and high"
              : pair === pairs[firm_low ?? -1]
                ? "firm and low"
                : ""}
            {pair.faults > 0 && ` ✕ ${pair.faults} ${pair.faults === 1 ? "fault" : "faults"}`}
          </>
        )}
        cells={(pair) =>
          pair.ride === null ? (
            <td className="px-2 text-left text-sm text-soft whitespace-normal!" colSpan={6}>
              {pair.fault}
            </td>
          ) : (
            <>
              <td className="px-2">{quantity(pair.ride, "travel")}</td>
              <td className="px-2">{quantity(pair.wheel_rate ?? 0, "rate")}</td>
              <td className="px-2">{quantity(pair.frequency ?? 0, "frequency")}</td>
              <td className="px-2">
                {pair.bump === null ? "–" : quantity(pair.bump, "length", 0)},{" "}
                {pair.droop === null ? "–" : quantity(pair.droop, "length", 0)}
              </td>
              <td className="px-2">{pair.clear === null ? "–" : quantity(pair.clear, "length", 0)}</td>
              <Seat left={pair.seat} words={(mm) => quantity(mm, "length")} />
            </>
          )
        }
        now={(pair) => pair.now}
        said="bolted"
        onTake={take}
        takes={(pair) => `holes ${named(pair)}`}
      />
    </section>
  );
}

/** Height against rate: each pair a mark with its letters. */
function Picture({ data }: { data: Pairs }) {
  const [ref, size] = useSize<HTMLDivElement>();
  const { unit, marks } = useUnits();
  const pairs = data.pairs.filter((pair) => pair.ride !== null && pair.wheel_rate !== null);
  if (pairs.length < 2) return null;
  const grown = ([low = 0, high = 1]: [number, number] | [undefined, undefined]): [number, number] => {
    const more = Math.max((high - low) * 0.12, 0.5);
    return [low - more, high + more];
  };
  const x = scaleLinear(grown(extent(pairs, (pair) => pair.wheel_rate ?? 0)), [
    56,
    Math.max(size.width - 20, 57),
  ]);
  // The body stands high where the wheel is low.
  const y = scaleLinear(grown(extent(pairs, (pair) => -(pair.ride ?? 0))), [
    Math.max(size.height - 40, 1),
    26,
  ]);
  const spots = pairs.map((pair) => [x(pair.wheel_rate ?? 0), y(-(pair.ride ?? 0))] as [number, number]);
  const labels = placeLabels(
    pairs.map((pair, k) => ({
      key: named(pair),
      text: `${pair.faults && !pair.now ? "✕ " : ""}${named(pair)}`,
      at: spots[k] ?? [0, 0],
    })),
    spots,
    size.width,
    size.height - 36,
  );
  return (
    <div ref={ref} className="relative mt-2 h-56 bg-dye">
      {size.width > 0 && (
        <svg
          role="img"
          aria-label="Body height against wheel rate for every pair of holes"
          width={size.width}
          height={size.height}
          className="absolute inset-0 text-scribe"
          fill="var(--color-scribe)"
        >
          {marks(...ends(y), 4, "travel").map((tick) => (
            <g key={tick.value}>
              <path
                d={`M56 ${y(tick.value)}H${size.width - 20}`}
                stroke="var(--color-scribe)"
                opacity={0.16}
              />
              <text x={50} y={y(tick.value) + 4} fontSize={12} textAnchor="end">
                {tick.words}
              </text>
            </g>
          ))}
          {marks(...ends(x), 6, "rate").map((tick) => (
            <text key={tick.value} x={x(tick.value)} y={size.height - 22} fontSize={12} textAnchor="middle">
              {tick.words}
            </text>
          ))}
          <text x={10} y={16} fontSize={13}>
            body above drawn, {unit("length")}
          </text>
          <text x={56} y={size.height - 6} fontSize={13}>
            wheel rate, {unit("rate")}
          </text>
          {pairs.map((pair, k) => (
            <circle
              key={named(pair)}
              cx={spots[k]?.[0]}
              cy={spots[k]?.[1]}
              r={pair.now ? 8 : 6}
              fill={
                pair.now ? "var(--color-marker)" : pair.faults ? "var(--color-alarm)" : "var(--color-ride)"
              }
              stroke="var(--color-jet)"
            />
          ))}
          {labels.map((label) => (
            <text key={label.key} x={label.x} y={label.y} fontSize={13} fontWeight={600}>
              {label.text}
            </text>
          ))}
        </svg>
      )}
    </div>
  );
}
