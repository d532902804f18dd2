import { QuantityField } from "../quantity/quantity-field";
import { spoken } from "../quantity/spoken";
import type { Locks, Rocker } from "./plane";

/** What stays when the drawing is pushed and pulled. */
export function HandBar({
  locks,
  onLocks,
  refused,
  rockers,
  which,
  onWhich,
}: {
  locks: Locks;
  onLocks: (locks: Locks) => void;
  refused: string | null;
  rockers: Rocker[];
  which: number;
  onWhich: (which: number) => void;
}) {
  const press = (name: string, on: boolean, values: Partial<Locks>) => (
    <button
      type="button"
      aria-pressed={on}
      className="press px-3 aria-pressed:border-press aria-pressed:bg-press aria-pressed:text-white"
      onClick={() => onLocks({ ...locks, ...values })}
    >
      {name}
    </button>
  );
  return (
    <div className="no-print flex flex-wrap items-center gap-2 border-t border-rule px-3 py-1.5">
      {refused && (
        <p role="alert" className="w-full border-l-4 border-fault pl-2 text-sm">
          {refused}
        </p>
      )}
      {rockers.length > 1 && (
        <select
          aria-label="Rocker"
          className="entry w-auto"
          value={which}
          onChange={(event) => onWhich(Number(event.target.value))}
        >
          {rockers.map((one, k) => (
            <option key={one.rocker} value={k}>
              {spoken(one.rocker)}
            </option>
          ))}
        </select>
      )}
      <span className="text-sm text-soft">When dragged, keep</span>
      {press("arm lengths", locks.arms, { arms: !locks.arms })}
      {press("angle", locks.angle, { angle: !locks.angle })}
      <span className="flex items-center gap-2">
        <span className="text-sm text-soft">hole grid</span>
        <span className="w-[6.5rem]">
          <QuantityField
            label="Hole grid"
            value={locks.grid}
            blank={locks.grid === 0}
            dimension="length"
            digits={0}
            check={(value) => (value >= 0 && value <= 100 ? null : "Give 0 to 100 mm; 0 is no grid.")}
            onCommit={(grid) => onLocks({ ...locks, grid })}
          />
        </span>
      </span>
    </div>
  );
}
