import { Plus, Trash2 } from "lucide-react";
import type { Shape, Station, StationView } from "../api/client";
import type { Change } from "../bench/edits";
import { QuantityField } from "../quantity/quantity-field";
import { useUnits } from "../quantity/units";

type Spring = Shape["Spring"];

interface Props {
  station: Station;
  view: StationView;
  change: Change;
}

/** One to three coils end to end: where the soft one stops giving, and what it rides on before and after. */
export function Stack({ station, view, change }: Props) {
  const { quantity } = useUnits();
  const unit = (station.units ?? []).find((part) => part.kind === "coilover" || part.kind === "spring");
  if (!unit || (unit.kind !== "coilover" && unit.kind !== "spring")) return null;
  const springs = unit.springs;
  // Both sides of an axle carry the same stack: whatever was the same before stays so.
  const alike = (part: NonNullable<Station["units"]>[number]) =>
    part.kind === unit.kind && JSON.stringify(part.springs) === JSON.stringify(springs);
  const put = (next: Spring[], key = "") =>
    change(
      (s) => ({
        ...s,
        units: (s.units ?? []).map((part) =>
          alike(part) ? { ...part, springs: next } : part,
        ) as Station["units"],
      }),
      key,
    );
  const set = (at: number, values: Partial<Spring>) =>
    put(springs.map((spring, k) => (k === at ? { ...spring, ...values } : spring)));
  const locks = view.crossovers[unit.name] ?? [];
  return (
    <section aria-label="The stack">
      <p className="text-sm text-soft">
        {springs.length === 1
          ? "One coil. A softer one under it gives two rates; a crossover ring says where the first one stops."
          : "Coils end to end carry the same force; a crossover ring or its own coils stop the soft one."}
      </p>
      {springs.map((spring, k) => (
        <div
          // biome-ignore lint/suspicious/noArrayIndexKey: springs have no name; their order is their place in the stack
          key={k}
          className="flex flex-wrap items-center gap-x-5 gap-y-1 border-b border-rule py-1.5"
        >
          <span className="w-20 font-semibold">{springs.length > 1 ? `Coil ${k + 1}` : "The coil"}</span>
          {spring.rate != null ? (
            <Field name="rate">
              <QuantityField
                label={`Coil ${k + 1} rate`}
                value={spring.rate}
                dimension="rate"
                step={1}
                check={(value) => (value > 0 ? null : "A rate must be more than zero.")}
                onCommit={(rate) => set(k, { rate })}
              />
            </Field>
          ) : (
            <span className="text-sm text-soft">rate measured, see Rods & parts</span>
          )}
          {springs.length > 1 && (
            <>
              <Field name="free">
                <QuantityField
                  label={`Coil ${k + 1} free length`}
                  value={spring.free_length}
                  dimension="length"
                  check={(value) => (value > spring.solid_length ? null : "It must be longer than solid.")}
                  onCommit={(free_length) => set(k, { free_length })}
                />
              </Field>
              <Field name="solid">
                <QuantityField
                  label={`Coil ${k + 1} solid length`}
                  value={spring.solid_length}
                  dimension="length"
                  check={(value) =>
                    value >= 0 && value < spring.free_length ? null : "It must be shorter than free."
                  }
                  onCommit={(solid_length) => set(k, { solid_length })}
                />
              </Field>
              <Field name="ring at">
                <QuantityField
                  label={`Coil ${k + 1} crossover ring`}
                  value={spring.stop ?? spring.free_length - spring.solid_length}
                  dimension="length"
                  check={(value) => (value > 0 ? null : "It gives at least a little.")}
                  onCommit={(stop) => set(k, { stop })}
                />
              </Field>
              <button
                type="button"
                className="press border-transparent px-3"
                aria-label={`Remove coil ${k + 1}`}
                onClick={() => put(springs.filter((_, n) => n !== k))}
              >
                <Trash2 size={18} aria-hidden />
              </button>
            </>
          )}
        </div>
      ))}
      {locks.map((lock) => (
        <p key={lock.spring} className="pt-1.5">
          Coil {lock.spring + 1} stops giving at{" "}
          <strong>{quantity(lock.length, "length")} between the mounts</strong> and{" "}
          {quantity(lock.force, "force")}: {quantity(lock.rate_before, "rate")} before it,{" "}
          {quantity(lock.rate_after, "rate")} after.
        </p>
      ))}
      {springs.length < 3 && springs.every((spring) => spring.rate != null) && (
        <button type="button" className="press mt-2" onClick={() => put([...springs, tender(springs)])}>
          <Plus size={18} aria-hidden /> A coil under it
        </button>
      )}
    </section>
  );
}

function Field({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <span className="flex items-center gap-1.5">
      <span className="text-sm text-soft">{name}</span>
      <span className="w-[8.2rem]">{children}</span>
    </span>
  );
}

/** A soft short coil to begin with, locked when it has given half of what it can. */
function tender(springs: Spring[]): Spring {
  const rate = Math.max(1, Math.round((springs[0]?.rate ?? 50) * 0.6));
  return { rate, free_length: 70, solid_length: 26, stop: 30 } as Spring;
}
