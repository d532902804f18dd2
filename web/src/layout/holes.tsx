import { Trash2 } from "lucide-react";
import { useState } from "react";
import { Link, useLocation, useParams } from "react-router";
import type { Station } from "../api/client";
import { type Change, movePoint, type Vec } from "../bench/edits";
import { QuantityField } from "../quantity/quantity-field";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";

interface Props {
  station: Station;
  /** The point that may be bolted in several holes. */
  end: string;
  /** The direction of a new row, as drawn. */
  way: number[];
  change: Change;
}

const MOST = 12;

/** Several bolt holes for one mount: drilled in a row along the line in hand, or where the point stands now. */
export function Holes({ station, end, way, change }: Props) {
  const [pitch, setPitch] = useState(20);
  const { number, unit } = useUnits();
  const { search } = useLocation();
  const { job = "" } = useParams();
  const here = (station.points[end] ?? [0, 0, 0]) as number[];
  const places = (station.holes?.[end]?.places ?? []) as number[][];
  const size = Math.hypot(...way) || 1;
  const step = (by: number) => here.map((value, k) => round(value + (by * (way[k] ?? 0)) / size));
  const put = (next: number[][]) => change((s) => withHoles(s, end, next));
  const others = [step(pitch), step(-pitch)].filter((place) => !places.some((its) => near(its, place)));
  return (
    <section aria-label="Bolt holes" className="mt-5 border-t border-rule pt-3">
      <h2 className="text-lg">Bolt holes at {spoken(end)}</h2>
      {places.length === 0 ? (
        <p className="text-sm text-soft">
          One place only. A row of holes lets height and rate be chosen later.
        </p>
      ) : (
        <ol>
          {places.map((place, k) => {
            const now = near(place, here);
            return (
              <li key={place.join()} className="flex items-center gap-2 border-b border-rule py-1">
                <span className="w-6 font-bold">{letter(k)}</span>
                <span className="flex-1 text-sm">
                  {place.map((value) => number(value, "length")).join(", ")} {unit("length")}
                </span>
                {now ? (
                  <span className="px-3 font-semibold">bolted here</span>
                ) : (
                  <button
                    type="button"
                    className="press px-3"
                    aria-label={`Bolt it here, hole ${letter(k)}`}
                    onClick={() => change((s) => movePoint(s, end, place as Vec))}
                  >
                    Bolt it here
                  </button>
                )}
                <button
                  type="button"
                  className="press border-transparent px-2"
                  aria-label={`Remove hole ${letter(k)}`}
                  onClick={() => put(places.filter((_, n) => n !== k))}
                >
                  <Trash2 size={18} aria-hidden />
                </button>
              </li>
            );
          })}
        </ol>
      )}
      <div className="mt-2 grid grid-cols-[1fr_9.5rem] items-center gap-2">
        <span className="leading-tight">
          From hole to hole
          <span className="block text-sm text-soft">along the line it slides on</span>
        </span>
        <QuantityField
          label="From hole to hole"
          value={pitch}
          dimension="length"
          check={(value) => (value >= 1 && value <= 500 ? null : "Give 1 to 500 mm.")}
          onCommit={setPitch}
        />
      </div>
      <button
        type="button"
        className="press mt-2"
        disabled={places.length + others.length > MOST || others.length === 0}
        onClick={() =>
          put([...(places.some((its) => near(its, here)) ? places : [...places, here]), ...others])
        }
      >
        Drill one each way
      </button>
      {places.length > 1 && (
        <p className="mt-2 text-sm">
          <Link
            className="text-link underline"
            to={{ pathname: `/jobs/${job}/springing`, search, hash: "#holes" }}
          >
            Compare every pair of holes on the Springing sheet
          </Link>
        </p>
      )}
    </section>
  );
}

const round = (value: number) => Math.round(value * 100) / 100;
const near = (a: number[], b: number[]) => Math.hypot(...a.map((value, k) => value - (b[k] ?? 0))) < 1;

/** Holes are called by letters, as they are marked on the bracket. */
export const letter = (k: number) => String.fromCharCode(65 + (k % 26));

function withHoles(station: Station, end: string, places: number[][]): Station {
  const holes = { ...(station.holes ?? {}) } as Record<string, { places: number[][] }>;
  // One hole is no choice; the last two go together.
  if (places.length < 2) delete holes[end];
  else holes[end] = { places };
  const { holes: _, ...rest } = station;
  return (Object.keys(holes).length ? { ...rest, holes } : rest) as Station;
}
