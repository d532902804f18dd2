import { Plus, Trash2 } from "lucide-react";
import type { Project, Shape } from "../api/client";
import type { DraftInHand } from "../bench/draft";
import { QuantityField } from "../quantity/quantity-field";

type Part = Shape["ComingPart"];

interface Props {
  document: Project;
  edit: DraftInHand["edit"];
}

/** Parts that are still to be fitted: what each weighs, and which stations carry how much of it. */
export function Coming({ document, edit }: Props) {
  const parts = document.coming ?? [];
  const put = (next: Part[], key = "") =>
    edit((doc) => {
      const changed = { ...doc, coming: next } as Project;
      if (!next.length) delete (changed as Partial<Project>).coming;
      return changed;
    }, key);
  const set = (at: number, values: Partial<Part>, key: string) =>
    put(
      parts.map((part, k) => (k === at ? { ...part, ...values } : part)),
      key,
    );
  // A variant carries what the station it stands for does.
  const names = document.stations.filter((station) => !station.variant_of).map((station) => station.name);
  return (
    <section aria-label="Parts still to come" className="mt-6 border-t border-rule pt-3">
      <h2 className="text-xl">Parts still to come</h2>
      <p className="text-sm text-soft">
        Springs are sized for what it weighs when finished. Say what is not on yet, and who carries it.
      </p>
      {parts.map((part, k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the name is being typed; its place in the list is its own
        <div key={k} className="border-b border-rule py-2">
          <div className="flex items-center gap-2">
            <input
              className="entry min-w-0 flex-1"
              aria-label={`Name of part ${k + 1}`}
              value={part.name}
              maxLength={120}
              onChange={(event) =>
                set(k, { name: event.target.value.trim() ? event.target.value : "part" }, `coming name ${k}`)
              }
            />
            <span className="w-[8.5rem]">
              <QuantityField
                label={`${part.name} weighs`}
                value={part.mass}
                dimension="mass"
                check={(value) => (value > 0 ? null : "Its weight must be more than zero.")}
                onCommit={(mass) => set(k, { mass }, "")}
              />
            </span>
            <button
              type="button"
              className="press border-transparent px-3"
              aria-label={`Remove ${part.name} of the list`}
              onClick={() => put(parts.filter((_, n) => n !== k))}
            >
              <Trash2 size={18} aria-hidden />
            </button>
          </div>
          <div className="flex flex-wrap gap-x-4 gap-y-1 pt-1">
            {names.map((name) => (
              <span key={name} className="flex items-center gap-2 text-sm">
                <span>{name}</span>
                <span className="w-[6.2rem]">
                  <QuantityField
                    label={`${name} carries of ${part.name}`}
                    value={part.carried?.[name] ?? 0}
                    dimension="share"
                    digits={0}
                    check={(value) => {
                      if (value < 0) return "It cannot be negative.";
                      const others = names.reduce(
                        (sum, other) => sum + (other === name ? 0 : (part.carried?.[other] ?? 0)),
                        0,
                      );
                      return others + value <= 1.0005
                        ? null
                        : "Together they carry more than the whole part. Take some off another first.";
                    }}
                    onCommit={(share) => set(k, { carried: withShare(part, name, share) }, "")}
                  />
                </span>
              </span>
            ))}
          </div>
          <Uncarried part={part} names={names} />
        </div>
      ))}
      <button
        type="button"
        className="press mt-3"
        onClick={() => put([...parts, { name: freeName(parts), mass: 20, carried: evenly(names) } as Part])}
      >
        <Plus size={18} aria-hidden /> A part still to come
      </button>
    </section>
  );
}

function Uncarried({ part, names }: { part: Part; names: string[] }) {
  const carried = names.reduce((sum, name) => sum + (part.carried?.[name] ?? 0), 0);
  if (carried > 0.9995) return null;
  return (
    <p className="pt-1 text-sm text-soft">
      {Math.round((1 - carried) * 100)} % of it is carried by no station of this job.
    </p>
  );
}

function withShare(part: Part, name: string, share: number): Record<string, number> {
  const { [name]: _, ...rest } = (part.carried ?? {}) as Record<string, number>;
  return share > 0 ? { ...rest, [name]: Math.round(share * 1e4) / 1e4 } : rest;
}

function evenly(names: string[]): Record<string, number> {
  const share = Math.floor(1e4 / Math.max(names.length, 1)) / 1e4;
  return Object.fromEntries(names.map((name) => [name, share]));
}

function freeName(parts: Part[]): string {
  const taken = new Set(parts.map((part) => part.name));
  let name = "part";
  for (let k = 2; taken.has(name); k++) name = `part ${k}`;
  return name;
}
