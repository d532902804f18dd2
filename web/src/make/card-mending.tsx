import type { Shape } from "../api/client";
import { QuantityField } from "../quantity/quantity-field";
import { useUnits } from "../quantity/units";

type Corner = Shape["CornerOut"];
type Hole = { at: number[]; to?: number[]; diameter: number };

/** What was found in figures, to be mended by hand. */
export function Mending({
  corners,
  holes,
  picked,
  onPicked,
  onCorners,
  onHoles,
}: {
  corners: Corner[];
  holes: Hole[];
  picked: number | null;
  onPicked: (one: number | null) => void;
  onCorners: (corners: Corner[]) => void;
  onHoles: (holes: Hole[]) => void;
}) {
  const { quantity } = useUnits();
  const corner = picked === null ? undefined : corners[picked];
  const next = picked === null ? undefined : corners[(picked + 1) % corners.length];
  const xs = corners.map((one) => one.at[0] ?? 0);
  const ys = corners.map((one) => one.at[1] ?? 0);
  return (
    <section aria-label="What was found" className="mt-2">
      <p>
        {corners.length} corners, {holes.length} {holes.length === 1 ? "hole" : "holes"}; about{" "}
        {quantity(Math.max(...xs) - Math.min(...xs), "length")} ×{" "}
        {quantity(Math.max(...ys) - Math.min(...ys), "length")}.
      </p>
      {corner && next && picked !== null ? (
        <div className="flex flex-wrap gap-1 py-1">
          <span className="w-full text-sm text-soft">
            Corner {picked + 1}: drag it, or arrow keys by 0.1 mm
          </span>
          <button
            type="button"
            className="press px-3 text-sm"
            disabled={corners.length <= 3}
            onClick={() => {
              onCorners(corners.filter((_, k) => k !== picked));
              onPicked(null);
            }}
          >
            Remove it
          </button>
          <button
            type="button"
            className="press px-3 text-sm"
            onClick={() => {
              const at = [0, 1].map((axis) => ((corner.at[axis] ?? 0) + (next.at[axis] ?? 0)) / 2);
              const more = corners.slice();
              more.splice(picked, 1, { ...corner, bulge: 0 }, { at, bulge: 0 });
              onCorners(more);
              onPicked(picked + 1);
            }}
          >
            Corner after it
          </button>
          {corner.bulge !== 0 && (
            <button
              type="button"
              className="press px-3 text-sm"
              onClick={() => onCorners(corners.map((one, k) => (k === picked ? { ...one, bulge: 0 } : one)))}
            >
              Straight after it
            </button>
          )}
        </div>
      ) : (
        <p className="text-sm text-soft">Touch a corner to move it.</p>
      )}
      {holes.map((hole, k) => (
        <div
          key={hole.at.join()}
          className="grid grid-cols-[1fr_8rem_auto] items-center gap-1 border-b border-rule py-1"
        >
          <span>
            {hole.to
              ? `Slot ${k + 1}, ${quantity(between(hole.at, hole.to) + hole.diameter, "length")} long, wide`
              : `Hole ${k + 1}`}
          </span>
          <QuantityField
            label={hole.to ? `Slot ${k + 1}, width` : `Hole ${k + 1}, diameter`}
            value={hole.diameter}
            dimension="length"
            check={(value) => (value > 0 ? null : "Give more than zero.")}
            onCommit={(value) =>
              onHoles(holes.map((one, n) => (n === k ? { ...one, diameter: value } : one)))
            }
          />
          <button
            type="button"
            className="press px-2 text-sm"
            aria-label={`Leave hole ${k + 1} out`}
            onClick={() => onHoles(holes.filter((_, n) => n !== k))}
          >
            Out
          </button>
        </div>
      ))}
    </section>
  );
}

function between(one: number[], other: number[]): number {
  return Math.hypot((one[0] ?? 0) - (other[0] ?? 0), (one[1] ?? 0) - (other[1] ?? 0));
}
