import { memo, useEffect, useRef } from "react";
import type { Station } from "../api/client";
import type { Vec } from "../bench/edits";
import { QuantityField } from "../quantity/quantity-field";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";

interface Props {
  station: Station;
  picked: string | null;
  onPick: (point: string) => void;
  onPlace: (point: string, to: Vec, key: string) => void;
}

const AXES = ["fore–aft", "out from centre", "up from floor"];
const FAR_MM = 20_000;

function tooFar(value: number): string | null {
  return Math.abs(value) > FAR_MM ? "That is more than 20 m from the datum." : null;
}

/** Every hardpoint as drawn: pick a row, type a place, or step it with the arrow keys. */
export function Hardpoints({ station, picked, onPick, onPlace }: Props) {
  const { unit } = useUnits();
  const right = Object.values(station.points).some((place) => (place[1] ?? 0) < 0);
  return (
    <div>
      <p className="py-2 text-sm text-soft">
        As drawn, in {unit("length")}. Arrow up and down step a field by 1 mm, with Shift 10, with Alt 0.1.
      </p>
      <table className="w-full border-collapse">
        <thead>
          <tr className="text-left align-bottom text-sm text-soft">
            <th scope="col" className="pb-1 font-semibold">
              Point
            </th>
            {AXES.map((axis) => (
              <th
                key={axis}
                scope="col"
                className="w-[23%] pb-1 pl-3 pr-1 text-right font-semibold leading-tight"
              >
                {axis}
                {axis === AXES[1] && right && <span className="block font-normal">left is +</span>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {Object.entries(station.points).map(([name, place]) => (
            <Row
              key={name}
              name={name}
              place={place}
              chassis={station.chassis.includes(name)}
              here={name === picked}
              onPick={onPick}
              onPlace={onPlace}
            />
          ))}
        </tbody>
      </table>
    </div>
  );
}

interface RowProps extends Pick<Props, "onPick" | "onPlace"> {
  name: string;
  place: Station["points"][string];
  chassis: boolean;
  here: boolean;
}

/** One hardpoint; drawn anew only where it is moved or picked. */
const Row = memo(function Row({ name, place, chassis, here, onPick, onPlace }: RowProps) {
  const row = useRef<HTMLTableRowElement>(null);
  useEffect(() => {
    if (here) row.current?.scrollIntoView({ block: "nearest" });
  }, [here]);
  const words = spoken(name);
  return (
    <tr ref={row} className={here ? "bg-marker/30" : undefined}>
      <th scope="row" className="p-0 text-left font-medium">
        <button
          type="button"
          onClick={() => onPick(name)}
          aria-pressed={here}
          className="flex min-h-[44px] w-full items-center gap-2 px-1 text-left leading-tight"
        >
          <PointMark chassis={chassis} here={here} />
          <span className="min-w-0 break-words">{words}</span>
        </button>
      </th>
      {AXES.map((axis, k) => (
        <td key={axis} className="p-px">
          <QuantityField
            compact
            label={`${words} ${axis}`}
            value={place[k] ?? 0}
            dimension="length"
            step={1}
            check={tooFar}
            onFocus={() => onPick(name)}
            onCommit={(value) => {
              const to = [...place] as Vec;
              to[k] = value;
              onPlace(name, to, `type ${name} ${axis}`);
            }}
          />
        </td>
      ))}
    </tr>
  );
});

function PointMark({ chassis, here }: { chassis: boolean; here: boolean }) {
  return (
    <svg
      role="img"
      aria-label={chassis ? "on the chassis" : "moving"}
      width="16"
      height="16"
      className="shrink-0"
    >
      {chassis ? (
        <>
          <rect
            x="2"
            y="2"
            width="12"
            height="12"
            fill={here ? "var(--color-marker)" : "none"}
            stroke="currentColor"
            strokeWidth="1.8"
          />
          <path d="M2 14 14 2" stroke="currentColor" strokeWidth="1.4" />
        </>
      ) : (
        <circle
          cx="8"
          cy="8"
          r="6"
          fill={here ? "var(--color-marker)" : "none"}
          stroke="currentColor"
          strokeWidth="1.8"
        />
      )}
    </svg>
  );
}
