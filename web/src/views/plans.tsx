import { Maximize, Minus, Plus } from "lucide-react";
import { useMemo, useState } from "react";
import type { Station, StationView } from "../api/client";
import type { Vec } from "../bench/edits";
import { PlaneView } from "./plane-view";
import { extent, type Paper, type Plan, project } from "./projection";
import { boxOf, sideOf } from "./shapes";
import { type Size, useSize } from "./use-size";

interface Props {
  station: Station;
  view: StationView | null;
  points: Record<string, number[]>;
  angles: { point: string; text: string }[];
  lengths: Record<string, string>;
  picked: string | null;
  onPick: (point: string | null) => void;
  onMove: (point: string, by: Vec, key: string) => void;
  broken: string[];
}

const MARGIN = 34;

/** Front, side and top to one scale. */
export function Plans(props: Props) {
  const { station, picked, points } = props;
  const side = sideOf(station);
  const [frontRef, front] = useSize<HTMLDivElement>();
  const [sideRef, sideSize] = useSize<HTMLDivElement>();
  const [topRef, top] = useSize<HTMLDivElement>();
  const [zoom, setZoom] = useState(1);
  // The paper stays put while points move; it is laid again when asked, or for another station.
  const [laid, setLaid] = useState(0);
  const [about, setAbout] = useState<number[] | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: on purpose not on every nudge
  const box = useMemo(() => boxOf(station), [station.name, laid]);

  const sizes: Record<Plan, Size> = { front, side: sideSize, top };
  const plans: Plan[] = ["front", "side", "top"];
  const scales = plans.map((plan) => {
    const { u, v } = extent(plan, side, box);
    const size = sizes[plan];
    return Math.min((size.width - MARGIN) / (u[1] - u[0]), (size.height - MARGIN - 16) / (v[1] - v[0]));
  });
  const scale = Math.max(0.02, Math.min(...scales)) * zoom;
  const paperOf = (plan: Plan): Paper => {
    const { u, v } = extent(plan, side, box);
    const middle: [number, number] = about
      ? project(plan, side, about)
      : [(u[0] + u[1]) / 2, (v[0] + v[1]) / 2 + 8 / scale];
    return { scale, middle, ...sizes[plan] };
  };
  const closer = (by: number) => {
    const next = Math.min(12, Math.max(1, zoom * by));
    setZoom(next);
    if (next === 1) setAbout(null);
    else if (picked && points[picked]) setAbout(points[picked]);
    else if (!about) setAbout([0, 1, 2].map((k) => ((box.low[k] ?? 0) + (box.high[k] ?? 0)) / 2));
  };
  const fit = () => {
    setZoom(1);
    setAbout(null);
    setLaid(laid + 1);
  };
  const titles: Record<Plan, string> = {
    front: "Front, looking aft",
    side: side > 0 ? "Left side" : "Right side",
    top: "Top",
  };
  const plane = (plan: Plan, size: Size) =>
    size.width > 0 && (
      <PlaneView
        {...props}
        plan={plan}
        side={side}
        paper={paperOf(plan)}
        title={titles[plan]}
        labelled={plan === "front"}
      />
    );
  return (
    <div className="relative grid h-full min-h-[420px] grid-cols-[3fr_2fr] grid-rows-2 gap-[2px] bg-[#e9edf7] max-md:h-auto max-md:grid-cols-1 max-md:grid-rows-[340px_260px_260px]">
      <div ref={frontRef} className="row-span-2 min-h-0 min-w-0 overflow-hidden max-md:row-span-1">
        {plane("front", front)}
      </div>
      <div ref={sideRef} className="min-h-0 min-w-0 overflow-hidden">
        {plane("side", sideSize)}
      </div>
      <div ref={topRef} className="min-h-0 min-w-0 overflow-hidden">
        {plane("top", top)}
      </div>
      <div className="no-print absolute left-2 top-9 flex">
        {(
          [
            ["Closer, about the picked point", Plus, () => closer(1.6)],
            ["Further away", Minus, () => closer(1 / 1.6)],
            ["Fit everything on the sheet", Maximize, fit],
          ] as const
        ).map(([name, Icon, act]) => (
          <button
            key={name}
            type="button"
            aria-label={name}
            onClick={act}
            className="-ml-px flex h-11 w-11 items-center justify-center border border-[#8ea3d1] bg-[#16336b] text-[#f4f1e6]"
          >
            <Icon size={18} aria-hidden />
          </button>
        ))}
      </div>
    </div>
  );
}
