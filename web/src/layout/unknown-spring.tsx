import type { Shape } from "../api/client";
import type { Dimension } from "../quantity/quantity";
import { QuantityField } from "../quantity/quantity-field";
import { useUnits } from "../quantity/units";

type Spring = Shape["Spring"];

interface Props {
  label: string;
  spring: Spring;
  /** What the measurement comes to, N/mm; null while it is not solved. */
  found: number | null;
  onSpring: (spring: Spring) => void;
}

const WAYS = [
  ["rate", "rate known"],
  ["two_loads", "two loads"],
  ["wire", "from its wire"],
] as const;

type Way = (typeof WAYS)[number][0];

/** A coil without a label: its rate from two loads and two heights, or from its wire. */
export function UnknownSpring({ label, spring, found, onSpring }: Props) {
  const { quantity } = useUnits();
  if (spring.table) return null;
  const way: Way = spring.wire ? "wire" : spring.two_loads ? "two_loads" : "rate";
  const { rate: _rate, wire: _wire, two_loads: _loads, ...bare } = spring;
  const choose = (next: Way) => {
    const lengths = { free: spring.free_length, solid: spring.solid_length };
    const sag = (lengths.free - lengths.solid) / 4;
    if (next === "rate") onSpring({ ...bare, rate: found ?? 50 } as Spring);
    else if (next === "wire")
      onSpring({ ...bare, wire: { diameter: 12, mean_diameter: 80, active_coils: 7 } } as Spring);
    else
      onSpring({
        ...bare,
        two_loads: [
          [20, lengths.free - sag],
          [80, lengths.free - 2 * sag],
        ],
      } as Spring);
  };
  const loads = spring.two_loads ?? [];
  const setLoad = (row: number, column: number, value: number) =>
    onSpring({
      ...spring,
      two_loads: loads.map((its, k) => (k === row ? its.map((v, n) => (n === column ? value : v)) : its)),
    } as Spring);
  const above = (value: number) => (value > 0 ? null : "It must be more than zero.");
  const wire = spring.wire;
  const fields: ["diameter" | "mean_diameter" | "active_coils", string, Dimension][] = [
    ["diameter", "Wire", "length"],
    ["mean_diameter", "Across the coil, between wire middles", "length"],
    ["active_coils", "Coils that are free to move", "ratio"],
  ];
  return (
    <div>
      <label className="grid grid-cols-[1fr_9.5rem] items-center gap-2 py-0.5">
        <span>{label}</span>
        <select className="entry" value={way} onChange={(event) => choose(event.target.value as Way)}>
          {WAYS.map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
      </label>
      {loads.map((load, row) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the first and the second load
        <div key={row} className="grid grid-cols-2 gap-2 py-0.5">
          {(["mass", "length"] as const).map((dimension, column) => (
            <QuantityField
              key={dimension}
              label={`${label}, ${column ? "height under load" : "load"} ${row + 1}`}
              value={load[column] ?? 0}
              dimension={dimension}
              check={column ? above : (value) => (value >= 0 ? null : "It cannot be negative.")}
              onCommit={(value) => setLoad(row, column, value)}
            />
          ))}
        </div>
      ))}
      {wire &&
        fields.map(([key, name, dimension]) => (
          <div key={key} className="grid grid-cols-[1fr_9.5rem] items-center gap-2 py-0.5">
            <span className="leading-tight">{name}</span>
            <QuantityField
              label={`${label}, ${name}`}
              value={wire[key] ?? 0}
              dimension={dimension}
              check={above}
              onCommit={(value) => onSpring({ ...spring, wire: { ...wire, [key]: value } })}
            />
          </div>
        ))}
      {way !== "rate" && found !== null && (
        <p className="py-1 font-semibold" role="status">
          That is {quantity(found, "rate")}.
        </p>
      )}
      {way === "two_loads" && (
        <p className="text-sm text-soft">
          Stand it on scales under a press or plates, and keep out of its line: it jumps if it tips.
        </p>
      )}
    </div>
  );
}
