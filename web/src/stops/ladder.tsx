import { scaleLinear } from "d3-scale";
import type { StationView } from "../api/client";
import { useUnits } from "../quantity/units";
import { useSize } from "../views/use-size";
import { type Lane, lanesOf } from "./lanes";

interface Props {
  view: StationView;
  bump: number;
  droop: number;
  travel: number;
}

const LEFT = 66;
const TOP = 40;
const FOOT = 16;
const RIGHT = 76;

/** The whole travel upright, each part that can end it in a lane of its own: where it is free, and what ends it. */
export function Ladder({ view, bump, droop, travel }: Props) {
  const [ref, size] = useSize<HTMLDivElement>();
  const { unit, marks } = useUnits();
  const low = view.travels[0] ?? -droop;
  const high = view.travels.at(-1) ?? bump;
  const y = scaleLinear([low, high], [Math.max(size.height - FOOT, TOP + 1), TOP]);
  const lanes = lanesOf(view.ledger);
  const width = Math.max((size.width - LEFT - RIGHT) / Math.max(lanes.length, 1), 1);
  const ticks = marks(low, high, 10, "travel");
  return (
    <div ref={ref} className="relative h-full min-h-80 bg-dye">
      {size.width > 0 && (
        <svg
          role="img"
          aria-label="Where each part is free through the travel, and what ends it"
          width={size.width}
          height={size.height}
          className="absolute inset-0"
        >
          <rect
            x={LEFT}
            y={y(bump)}
            width={size.width - LEFT}
            height={y(-droop) - y(bump)}
            fill="#ffffff"
            opacity={0.09}
          />
          {ticks.map(({ value, words }) => (
            <g key={value}>
              <path d={`M${LEFT} ${y(value)}H${size.width}`} stroke="var(--color-scribe)" opacity={0.16} />
              <text
                x={LEFT - 14}
                y={y(value) + 4}
                fontSize={12.5}
                textAnchor="end"
                fill="var(--color-scribe)"
              >
                {Math.abs(value) < 1e-9 ? "drawn" : words}
              </text>
            </g>
          ))}
          <text x={12} y={20} fontSize={13} fill="var(--color-scribe)">
            {unit("travel")}
          </text>
          {[
            [bump, "full bump"],
            [-droop, "full droop"],
          ].map(([at, words]) => (
            <g key={words}>
              <path
                d={`M${LEFT} ${y(at as number)}H${size.width}`}
                stroke="var(--color-soapstone)"
                strokeDasharray="7 5"
                strokeWidth={1.4}
              />
              <text
                x={size.width - 8}
                y={y(at as number) + (words === "full bump" ? -6 : 16)}
                fontSize={12.5}
                textAnchor="end"
                fill="var(--color-soapstone)"
              >
                {words}
              </text>
            </g>
          ))}
          {view.ride && (
            <g>
              <path
                d={`M${LEFT} ${y(view.ride.travel)}H${size.width}`}
                stroke="var(--color-ride)"
                strokeWidth={1.6}
              />
              <text
                x={size.width - 8}
                y={y(view.ride.travel) + (view.ride.travel <= travel ? 15 : -5)}
                fontSize={12.5}
                textAnchor="end"
                fill="var(--color-ride)"
              >
                ride
              </text>
            </g>
          )}
          {lanes.map((lane, k) => (
            <LaneMarks
              key={lane.subject}
              lane={lane}
              x={LEFT + width * (k + 0.5)}
              room={width}
              y={y}
              low={low}
              high={high}
              bump={bump}
              droop={droop}
            />
          ))}
          <path d={`M${LEFT} ${y(travel)}H${size.width}`} stroke="var(--color-marker)" strokeWidth={2.4} />
          <path
            d={`M${LEFT - 2} ${y(travel)}l-9 -6v12Z`}
            fill="var(--color-marker)"
            stroke="var(--color-jet)"
            strokeWidth={0.8}
          />
        </svg>
      )}
    </div>
  );
}

interface LaneProps {
  lane: Lane;
  x: number;
  room: number;
  y: (travel: number) => number;
  low: number;
  high: number;
  bump: number;
  droop: number;
}

function LaneMarks({ lane, x, room, y, low, high, bump, droop }: LaneProps) {
  const top = lane.high?.travel ?? high;
  const bottom = lane.low?.travel ?? low;
  const wide = Math.min(26, room * 0.4);
  const words = lane.subject.split(" ");
  return (
    <g>
      {words.map((word, k) => (
        <text
          key={word}
          x={x}
          y={16 + k * 14}
          fontSize={12.5}
          fontWeight={600}
          textAnchor="middle"
          fill="var(--color-soapstone)"
        >
          {word}
        </text>
      ))}
      <rect
        x={x - wide / 2}
        y={y(top)}
        width={wide}
        height={Math.max(y(bottom) - y(top), 0)}
        fill="var(--color-scribe)"
        opacity={0.32}
      />
      {lane.high && lane.highEnd && (
        <Give x={x} wide={wide} from={y(lane.high.travel)} to={y(lane.highEnd.travel)} />
      )}
      {lane.low && lane.lowEnd && (
        <Give x={x} wide={wide} from={y(lane.low.travel)} to={y(lane.lowEnd.travel)} />
      )}
      {[lane.high, lane.low].map((event) => {
        if (!event) return null;
        const soft = event.takes === "soft";
        const inside = !soft && event.travel < bump && event.travel > -droop;
        return (
          <path
            key={event.kind}
            d={`M${x - wide / 2 - 6} ${y(event.travel)}h${wide + 12}`}
            stroke={inside ? "var(--color-alarm)" : "var(--color-soapstone)"}
            strokeWidth={soft ? 2.5 : 5}
          />
        );
      })}
    </g>
  );
}

/** A soft stop giving way: hatched from where it touches to where it has given all it can. */
function Give({ x, wide, from, to }: { x: number; wide: number; from: number; to: number }) {
  const top = Math.min(from, to);
  const tall = Math.abs(to - from);
  const lines = Math.max(Math.floor(tall / 5), 1);
  return (
    <g stroke="var(--color-soapstone)" strokeWidth={1.2}>
      <rect x={x - wide / 2} y={top} width={wide} height={tall} fill="none" />
      {Array.from({ length: lines }, (_, k) => top + ((k + 0.5) * tall) / lines).map((line) => (
        <path key={line} d={`M${x - wide / 2} ${line + 2}l${wide} -4`} />
      ))}
    </g>
  );
}
