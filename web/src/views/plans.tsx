import { Maximize2, Minimize2, Minus, Plus } from "lucide-react";
import { ToggleGroup } from "radix-ui";
import { lazy, Suspense, useMemo, useState } from "react";
import type { Station } from "../api/client";
import { fetched } from "../session/fetched";
import { KEY } from "./keys";
import { type PlaneProps, PlaneView } from "./plane-view";
import { extent, type Paper, type Plan, project } from "./projection";
import { boxOf, sideOf } from "./shapes";
import { type Size, useSize } from "./use-size";

type Props = Omit<PlaneProps, "plan" | "side" | "paper" | "title" | "labelled" | "barred" | "name">;

const Turnable = lazy(() => fetched(() => import("./turnable")));

const MARGIN = 30;
const TITLE = 22;

/** Front, side and top to one scale, set as a drawing is; the fourth field looks closely. */
export function Plans(props: Props) {
  const { station, picked, points } = props;
  const side = sideOf(station);
  const [frontRef, front] = useSize<HTMLDivElement>();
  const [sideRef, sideSize] = useSize<HTMLDivElement>();
  const [topRef, top] = useSize<HTMLDivElement>();
  const [closeRef, close] = useSize<HTMLDivElement>();
  // The paper stays put while points move within it, so that nothing runs away under the finger.
  const box = useStillBox(station);
  const sizes: Record<Plan, Size> = { front, side: sideSize, top };
  const spans = { y: box.high[1] - box.low[1], x: box.high[0] - box.low[0], z: box.high[2] - box.low[2] };
  const scales = (Object.keys(sizes) as Plan[]).map((plan) => {
    const { u, v } = extent(plan, side, box);
    return Math.min(
      (sizes[plan].width - MARGIN) / (u[1] - u[0]),
      (sizes[plan].height - MARGIN - TITLE) / (v[1] - v[0]),
    );
  });
  const scale = Math.max(0.02, Math.min(...scales));
  const paperOf = (plan: Plan): Paper => {
    const { u, v } = extent(plan, side, box);
    return { scale, middle: [(u[0] + u[1]) / 2, (v[0] + v[1]) / 2 + TITLE / 2 / scale], ...sizes[plan] };
  };
  const [closeLook, setClosePlan] = useState<Plan | "round">("front");
  const closePlan: Plan = closeLook === "round" ? "front" : closeLook;
  const [large, setLarge] = useState(false);
  const [closeScale, setCloseScale] = useState(1.1);
  const about = points[picked ?? ""] ?? points[ofInterest(station)];
  const closePaper: Paper | null = about
    ? { scale: closeScale, middle: project(closePlan, side, about), ...close }
    : null;
  const titles: Record<Plan, string> = {
    front: "Front, looking aft",
    side: side > 0 ? "Left side" : "Right side",
    top: "Top",
  };
  const plane = (plan: Plan) =>
    sizes[plan].width > 0 && (
      <PlaneView
        {...props}
        plan={plan}
        name={plan}
        side={side}
        paper={paperOf(plan)}
        title={titles[plan]}
        labelled={plan === "front"}
        barred={plan === "front" && "foot"}
      />
    );
  const round = (
    <Suspense fallback={<div className="h-full bg-dye p-3 text-soapstone">Setting it up …</div>}>
      <Turnable
        station={station}
        points={points}
        picked={picked}
        onPick={props.onPick}
        controls={
          <button type="button" className={`${KEY} gap-1`} onClick={() => setLarge(!large)}>
            {large ? <Minimize2 size={18} aria-hidden /> : <Maximize2 size={18} aria-hidden />}
            {large ? "Back to the plans" : "Large"}
          </button>
        }
      />
    </Suspense>
  );
  if (large) return <div className="h-full min-h-[420px] max-md:h-[560px]">{round}</div>;
  return (
    <div
      className="grid h-full min-h-[420px] gap-[2px] bg-scribe max-md:!grid-cols-1 max-md:!grid-rows-[320px_280px_280px_280px]"
      style={{
        gridTemplateColumns: `minmax(0,${Math.max(spans.y, spans.x * 0.8)}fr) minmax(0,${Math.max(spans.x, spans.y * 0.5)}fr)`,
        gridTemplateRows: `minmax(0,${spans.z + MARGIN}fr) minmax(0,${Math.max(spans.x, spans.z * 0.6) + MARGIN}fr)`,
      }}
    >
      <div ref={frontRef} className="min-h-0 min-w-0 overflow-hidden">
        {plane("front")}
      </div>
      <div ref={sideRef} className="min-h-0 min-w-0 overflow-hidden">
        {plane("side")}
      </div>
      <div ref={topRef} className="min-h-0 min-w-0 overflow-hidden">
        {plane("top")}
      </div>
      <div ref={closeRef} className="relative min-h-0 min-w-0 overflow-hidden">
        {closeLook === "round" && round}
        {close.width > 0 && closePaper && closeLook !== "round" && (
          <PlaneView
            {...props}
            plan={closePlan}
            name="close"
            side={side}
            paper={closePaper}
            title={`Close-up, ${closePlan}`}
            labelled={false}
            barred="above the keys"
          />
        )}
        <CloseControls
          plan={closeLook}
          onPlan={setClosePlan}
          onScale={(by) => setCloseScale(Math.min(8, Math.max(0.4, closeScale * by)))}
        />
      </div>
    </div>
  );
}

interface ControlProps {
  plan: Plan | "round";
  onPlan: (plan: Plan | "round") => void;
  onScale: (by: number) => void;
}

function CloseControls({ plan, onPlan, onScale }: ControlProps) {
  return (
    <div className="no-print absolute bottom-2 right-2 flex flex-wrap justify-end gap-1">
      <ToggleGroup.Root
        type="single"
        value={plan}
        onValueChange={(value) => value && onPlan(value as Plan | "round")}
        aria-label="What the close-up shows"
        className="flex"
      >
        {(["front", "side", "top", "round"] as const).map((name) => (
          <ToggleGroup.Item key={name} value={name} className={KEY}>
            {name === "round" ? "3D" : name}
          </ToggleGroup.Item>
        ))}
      </ToggleGroup.Root>
      <div className={plan === "round" ? "hidden" : "flex"}>
        <button type="button" className={KEY} aria-label="Closer" onClick={() => onScale(1.5)}>
          <Plus size={18} aria-hidden />
        </button>
        <button type="button" className={KEY} aria-label="Further away" onClick={() => onScale(1 / 1.5)}>
          <Minus size={18} aria-hidden />
        </button>
      </div>
    </div>
  );
}

/** What the close-up looks at while nothing is picked: the moving eye of the first unit. */
function ofInterest(station: Station): string {
  const ends = station.units?.[0]?.ends ?? [];
  return (
    ends.find((end) => !station.chassis.includes(end)) ?? ends[0] ?? Object.keys(station.points)[0] ?? ""
  );
}

/** The station's box, laid out anew only for another station or when a point leaves it. */
function useStillBox(station: Station) {
  const now = useMemo(() => boxOf(station), [station]);
  const [kept, setKept] = useState({ name: station.name, box: now });
  const inside = [0, 1, 2].every(
    (k) =>
      (now.low[k] ?? 0) >= (kept.box.low[k] ?? 0) - 1 && (now.high[k] ?? 0) <= (kept.box.high[k] ?? 0) + 1,
  );
  if (kept.name !== station.name || !inside) {
    setKept({ name: station.name, box: now });
    return now;
  }
  return kept.box;
}
