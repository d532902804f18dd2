import { useQuery } from "@tanstack/react-query";
import { Radio } from "lucide-react";
import { useEffect, useState } from "react";
import { answer, client } from "../api/client";
import type { Dimension } from "../quantity/quantity";
import { useUnits } from "../quantity/units";
import { useThere } from "./live";

const LOOK_MS = 250;
const OF: Record<string, [string, string]> = {
  distance: ["distance-meter", "Distance meter"],
  slope: ["angle-finder", "Angle finder"],
  angle: ["angle-finder", "Angle finder"],
};

/** What an instrument reads: a kind of reading between places. */
export interface Wanted {
  kind: { kind: string; seen?: string; dimension: Dimension };
  places: string[];
}

interface Props {
  hand: Wanted;
  spots: Record<string, number[]>;
  onTake: (value: number) => void;
}

/** An instrument that says what it reads by itself: the figure live, steady or not, and a press that takes it. */
export function Instrument({ hand, spots, onTake }: Props) {
  const { quantity } = useUnits();
  const [on, setOn] = useState(false);
  const its = OF[hand.kind.kind];
  const key = its?.[0] ?? "";
  const at = `${hand.kind.kind} ${hand.places.join(" ")}`;
  const live = useQuery({
    queryKey: ["instrument", key],
    queryFn: () => answer(client.GET("/api/instruments/{key}", { params: { path: { key } } })),
    enabled: on && its !== undefined,
    refetchInterval: LOOK_MS,
    retry: false,
    gcTime: 0,
  });
  const standIn = live.data?.stand_in ?? false;
  // biome-ignore lint/correctness/useExhaustiveDependencies: a stand-in is held to what is in hand, once
  useEffect(() => {
    if (!on || !its || !standIn) return;
    const known = hand.places.flatMap((place) => (spots[place] ? [spots[place] as number[]] : []));
    if (known.length !== hand.places.length) return;
    const body = { kind: hand.kind.kind, seen: hand.kind.seen ?? "line", spots: known, at };
    void client.POST("/api/instruments/{key}/aim", { params: { path: { key } }, body }).catch(() => {});
  }, [on, key, at, standIn]);
  const there = useThere(its?.[1] ?? "");
  if (!its || !there) return null;
  const shown = live.data;
  const ready = on && shown?.value !== null && shown?.value !== undefined && shown.steady;
  return (
    <div className="mt-2 flex items-center gap-2">
      <button
        type="button"
        aria-pressed={on}
        onClick={() => setOn(!on)}
        className={`flex min-h-11 items-center gap-1.5 border px-2 text-sm font-semibold ${on ? "border-press bg-press text-white" : "border-edge bg-card"}`}
      >
        <Radio size={18} aria-hidden /> {its[1]}
      </button>
      {on && (
        <>
          <p className="min-w-0 flex-1 text-right leading-tight" data-testid="live">
            <span className="block text-lg font-bold">
              {shown?.value === null || shown?.value === undefined
                ? "–"
                : quantity(shown.value, hand.kind.dimension, hand.kind.dimension === "angle" ? 1 : undefined)}
            </span>
            <span className="block text-sm text-soft">
              {live.isError ? live.error.message : (shown?.said ?? "listening")}
              {shown?.stand_in ? ", stand-in" : ""}
              {shown?.battery !== null && shown?.battery !== undefined && shown.battery < 15
                ? `, battery ${Math.round(shown.battery)} %`
                : ""}
            </span>
          </p>
          <button
            type="button"
            className="press press-main px-3 text-sm"
            disabled={!ready}
            onClick={() => onTake(Math.round((shown?.value ?? 0) * 10) / 10)}
          >
            Take reading
          </button>
        </>
      )}
    </div>
  );
}
