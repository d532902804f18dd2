import { scaleLinear } from "d3-scale";
import { Slider } from "radix-ui";
import { memo, useMemo } from "react";
import type { StationView } from "../api/client";
import { useUnits } from "../quantity/units";
import { useSize } from "../views/use-size";
import { notchesOf, spreadAround } from "./notches";

interface Props {
  view: StationView;
  bump: number;
  droop: number;
  /** Wheel travel from the drawn position, mm, bump positive. */
  travel: number;
  onTravel: (travel: number) => void;
  /** How far the left wheel stands above the mean and the right one below it, mm; only for an axle. */
  articulation?: number;
  onArticulation?: (articulation: number) => void;
}

const TOP = 14;
const HANDLE = 44;
const NAMES = 78; // where the names of notches begin, px: right of the scale's numbers

/** The rail that stands for the jack under the hub: scale, limits chart and scrubber in one. */
export const Jack = memo(function Jack({
  view,
  bump,
  droop,
  travel,
  onTravel,
  articulation = 0,
  onArticulation,
}: Props) {
  const most = Math.floor(view.articulation ?? 0);
  const { quantity, number, unit, marks } = useUnits();
  const [rail, size] = useSize<HTMLDivElement>();
  const reached = useMemo(() => view.travels.filter((_, row) => view.reached[row]), [view]);
  const low = reached[0] ?? 0;
  const high = reached.at(-1) ?? 0;
  // Whole millimetres at both ends: the slider counts its steps from its lower one.
  const whole: [number, number] = [
    Math.floor(view.travels[0] ?? low),
    Math.ceil(view.travels.at(-1) ?? high),
  ];
  // Radix keeps half a handle free at each end; the scale does the same, so both agree.
  const y = scaleLinear(whole, [Math.max(size.height - HANDLE / 2, 1), HANDLE / 2]);
  const ticks = marks(whole[0], whole[1], 9, "travel");
  const notches = notchesOf(view, bump, droop);
  const labels = spreadAround(
    notches.map((notch) => y(notch.travel)),
    19,
    TOP,
    size.height - 8,
    y(travel),
    HANDLE / 2 + 9,
  );
  const ride = view.ride?.travel;
  const go = (to: number) => onTravel(Math.min(high, Math.max(low, to)));
  return (
    <section
      aria-label="Jack"
      className="flex h-full min-h-[420px] flex-col bg-steel text-soapstone"
      data-testid="jack"
    >
      <h2 className="px-3 pt-3 text-lg leading-tight">Jack</h2>
      <p className="px-3 pb-2 text-sm text-chalk">wheel travel, {unit("travel")}</p>
      <div ref={rail} className="relative min-h-0 flex-1">
        {size.height > 0 && (
          <svg aria-hidden width={size.width} height={size.height} className="absolute inset-0">
            <rect
              x={18}
              y={y(whole[1])}
              width={12}
              height={y(whole[0]) - y(whole[1])}
              fill="var(--color-pit)"
            />
            <rect x={18} y={y(bump)} width={12} height={y(-droop) - y(bump)} fill="#dfe4ee" />
            {ticks.map(({ value, words }) => (
              <g key={value}>
                <path d={`M34 ${y(value)}h6`} stroke="var(--color-chalk)" />
                <text
                  x={43}
                  y={y(value) + 4}
                  fontSize={11.5}
                  fill="var(--color-chalk)"
                  className="max-sm:hidden"
                >
                  {Math.abs(value) < 1e-9 ? "0" : words}
                </text>
              </g>
            ))}
            {notches.map((notch, k) => {
              const at = y(notch.travel);
              const ink =
                notch.mark === "ride"
                  ? "var(--color-ride)"
                  : notch.mark === "fault"
                    ? "var(--color-alarm)"
                    : "var(--color-soapstone)";
              return (
                <g key={`${notch.words}${notch.travel}`} fill={ink} stroke={ink}>
                  <path d={`M8 ${at}h26`} strokeWidth={notch.mark === "stop" ? 2 : 3} />
                  {size.width > 100 && (
                    <>
                      {/* From the rail past the scale's numbers, which stay readable, to its name. */}
                      <path
                        d={`M34 ${at}H41M${NAMES - 6} ${labels[k] ?? at}h4`}
                        strokeWidth={1.4}
                        fill="none"
                      />
                      <text
                        x={NAMES}
                        y={(labels[k] ?? at) + 4}
                        fontSize={12.5}
                        fontWeight={600}
                        stroke="none"
                      >
                        {notch.mark === "fault" ? "✕ " : ""}
                        {notch.words}
                      </text>
                    </>
                  )}
                </g>
              );
            })}
          </svg>
        )}
        <Slider.Root
          orientation="vertical"
          className="absolute inset-0 flex touch-none select-none justify-center"
          min={whole[0]}
          max={whole[1]}
          step={1}
          value={[travel]}
          onValueChange={([to]) => to !== undefined && go(to)}
        >
          <Slider.Track className="relative h-full w-full" />
          <Slider.Thumb
            aria-label="Wheel travel"
            aria-valuetext={`${quantity(travel, "travel")} ${travel >= 0 ? "bump" : "droop"}`}
            className="flex h-[44px] w-[calc(100%-12px)] cursor-grab items-center justify-center gap-2 border-2 border-jet bg-marker text-jet shadow-[0_2px_8px_rgb(0_0_0/0.5)]"
            style={{ width: Math.max(size.width - 12, 44) }}
          >
            <span aria-hidden className="flex flex-col gap-[3px] max-sm:hidden">
              <i className="block h-[2px] w-3 bg-jet" />
              <i className="block h-[2px] w-3 bg-jet" />
              <i className="block h-[2px] w-3 bg-jet" />
            </span>
            <span className="text-xl font-bold">{number(travel, "travel")}</span>
          </Slider.Thumb>
        </Slider.Root>
      </div>
      {most > 0 && onArticulation && (
        <div className="px-2 pt-2">
          <p className="text-sm leading-tight text-chalk">
            one wheel up
            <span className="block text-base font-bold text-soapstone" data-testid="articulation">
              {articulation === 0
                ? "level"
                : `${articulation > 0 ? "left" : "right"} ${quantity(Math.abs(articulation), "length")}`}
            </span>
          </p>
          <Slider.Root
            className="relative flex h-11 touch-none select-none items-center"
            min={-most}
            max={most}
            step={1}
            value={[articulation]}
            onValueChange={([to]) => to !== undefined && onArticulation(to)}
            inverted
          >
            <Slider.Track className="relative h-3 flex-1 bg-pit" />
            <Slider.Thumb
              aria-label="Articulation"
              aria-valuetext={
                articulation === 0
                  ? "level"
                  : `${articulation > 0 ? "left" : "right"} wheel up ${quantity(Math.abs(articulation), "length")}`
              }
              className="flex h-11 w-11 items-center justify-center before:block before:h-11 before:w-6 before:border-2 before:border-jet before:bg-marker before:content-['']"
            />
          </Slider.Root>
        </div>
      )}
      <div className="grid gap-2 p-2">
        <button
          type="button"
          className="press press-dark px-2"
          onClick={() => ride !== undefined && go(ride)}
          disabled={ride === undefined}
        >
          Ride {ride !== undefined && <span className="max-sm:hidden">{number(ride, "travel")}</span>}
        </button>
        <button
          type="button"
          className="press press-dark px-2"
          onClick={() => {
            go(0);
            onArticulation?.(0);
          }}
        >
          Drawn
        </button>
      </div>
    </section>
  );
});
