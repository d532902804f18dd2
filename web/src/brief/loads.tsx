import { Plus, Trash2 } from "lucide-react";
import type { Project, Shape } from "../api/client";
import type { DraftInHand } from "../bench/draft";
import { QuantityField } from "../quantity/quantity-field";

type Case = Shape["LoadCase"];
type Mass = Shape["PutIn"];

interface Props {
  document: Project;
  edit: DraftInHand["edit"];
}

const WAYS = ["ahead", "left", "up"] as const;

/** What is put in besides the vehicle's own weight: a driver, a full tank, tools; each where it sits. */
export function Loads({ document, edit }: Props) {
  const cases = document.loads ?? [];
  const put = (next: Case[], key = "") =>
    edit((doc) => {
      const changed = { ...doc, loads: next } as Project;
      if (!next.length) delete (changed as Partial<Project>).loads;
      return changed;
    }, key);
  const set = (at: number, values: Partial<Case>, key = "") =>
    put(
      cases.map((one, k) => (k === at ? { ...one, ...values } : one)),
      key,
    );
  return (
    <section aria-label="Load cases" className="mt-6 border-t border-rule pt-3">
      <h2 className="text-xl">Load cases</h2>
      <p className="text-sm text-soft">
        Who sits in it, what is in the tank and on the bed. Prove shows how it stands with each, and weighs it
        with one.
      </p>
      {cases.map((one, k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the name is being typed; its place in the list is its own
        <fieldset key={k} className="border-b border-rule py-2">
          <legend className="sr-only">Load case {k + 1}</legend>
          <div className="flex items-center gap-2">
            <input
              className="entry min-w-0 flex-1 font-semibold"
              aria-label={`Name of load case ${k + 1}`}
              value={one.name}
              maxLength={120}
              onChange={(event) =>
                set(k, { name: event.target.value.trim() ? event.target.value : "case" }, `case ${k}`)
              }
            />
            <button
              type="button"
              className="press px-2 text-sm"
              onClick={() => set(k, { masses: [...(one.masses ?? []), fresh(one)] })}
            >
              <Plus size={16} aria-hidden /> A mass
            </button>
            <button
              type="button"
              className="press border-transparent px-3"
              aria-label={`Remove ${one.name} of the load cases`}
              onClick={() => put(cases.filter((_, n) => n !== k))}
            >
              <Trash2 size={18} aria-hidden />
            </button>
          </div>
          {(one.masses ?? []).map((mass, n) => (
            <Row
              // biome-ignore lint/suspicious/noArrayIndexKey: the name is being typed; its place in the list is its own
              key={n}
              mass={mass}
              set={(values, key) =>
                set(
                  k,
                  { masses: (one.masses ?? []).map((its, m) => (m === n ? { ...its, ...values } : its)) },
                  key && `${key} ${k} ${n}`,
                )
              }
              drop={() => set(k, { masses: (one.masses ?? []).filter((_, m) => m !== n) })}
            />
          ))}
        </fieldset>
      ))}
      <button type="button" className="press mt-3" onClick={() => put([...cases, freshCase(cases)])}>
        <Plus size={18} aria-hidden /> A load case
      </button>
    </section>
  );
}

function Row({
  mass,
  set,
  drop,
}: {
  mass: Mass;
  set: (values: Partial<Mass>, key?: string) => void;
  drop: () => void;
}) {
  return (
    <div className="pt-1.5 pl-4">
      <div className="flex items-center gap-2">
        <input
          className="entry min-w-0 flex-1"
          aria-label="What is put in"
          value={mass.name}
          maxLength={120}
          onChange={(event) =>
            set({ name: event.target.value.trim() ? event.target.value : "mass" }, "mass name")
          }
        />
        <span className="w-[8.5rem]">
          <QuantityField
            label={`${mass.name} weighs`}
            value={mass.mass}
            dimension="mass"
            check={(value) => (value > 0 ? null : "Its weight must be more than zero.")}
            onCommit={(value) => set({ mass: value })}
          />
        </span>
        <button
          type="button"
          className="press border-transparent px-3"
          aria-label={`Remove ${mass.name}`}
          onClick={drop}
        >
          <Trash2 size={16} aria-hidden />
        </button>
      </div>
      <div className="flex flex-wrap gap-x-3 pt-1 text-sm">
        {WAYS.map((way, axis) => (
          <span key={way} className="flex items-center gap-1">
            <span>{way}</span>
            <span className="w-[8rem]">
              <QuantityField
                label={`${mass.name} ${way}`}
                value={mass.at[axis] ?? 0}
                dimension="length"
                onCommit={(value) =>
                  set({ at: mass.at.map((c, n) => (n === axis ? value : c)) as Mass["at"] })
                }
              />
            </span>
          </span>
        ))}
      </div>
    </div>
  );
}

function fresh(one: Case): Mass {
  const count = one.masses?.length ?? 0;
  return { name: count ? `mass ${count + 1}` : "driver", mass: 80, at: [-1000, 350, 500] };
}

function freshCase(cases: Case[]): Case {
  const taken = new Set(cases.map((one) => one.name));
  let name = "driver in";
  for (let k = 2; taken.has(name); k++) name = `case ${k}`;
  return { name, masses: [fresh({ name, masses: [] })] };
}
