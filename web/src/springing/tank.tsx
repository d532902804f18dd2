import type { Station } from "../api/client";
import type { Change } from "../bench/edits";
import { QuantityField } from "../quantity/quantity-field";

/** Bags joined by pipe, with or without a tank: one pressure in all of them, and more air to squeeze. */
export function Tank({ station, change }: { station: Station; change: Change }) {
  const bags = (station.units ?? []).filter((unit) => unit.kind === "air_spring").map((unit) => unit.name);
  const tank = (station.tanks ?? [])[0];
  const put = (tanks: Station["tanks"]) =>
    change((s) => {
      const { tanks: _, ...rest } = s;
      return (tanks?.length ? { ...rest, tanks } : rest) as Station;
    });
  return (
    <div className="mt-2">
      <label className="flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          className="size-6"
          checked={tank !== undefined}
          onChange={(event) =>
            put(event.target.checked ? ([{ name: "tank", bags, volume: 1e6 }] as Station["tanks"]) : [])
          }
        />
        <span className="leading-tight">
          {bags.length > 1 ? "Bags joined by pipe, or to a tank" : "A tank stays joined to the bag"}
          <span className="block text-sm text-soft">
            valve open between them while it drives: softer, for there is more air to squeeze
          </span>
        </span>
      </label>
      {tank && (
        <div className="grid max-w-md grid-cols-[1fr_9.5rem] items-center gap-2">
          <span>Air in tank and pipe</span>
          <QuantityField
            label="Air in tank and pipe"
            value={tank.volume ?? 0}
            dimension="volume"
            check={(value) => (value >= 0 && value <= 2e8 ? null : "Give 0 to 200 litres.")}
            onCommit={(volume) => put([{ ...tank, volume }] as Station["tanks"])}
          />
        </div>
      )}
    </div>
  );
}
