import { X } from "lucide-react";
import type { Project } from "../api/client";
import type { DraftInHand } from "../bench/draft";
import { QuantityField } from "../quantity/quantity-field";
import { spoken } from "../quantity/spoken";
import { moved } from "./catching";
import { dropNode, setHeld } from "./frame";

interface Props {
  document: Project;
  node: string;
  hand: DraftInHand;
  onDone: () => void;
}

/** How a place is held, as it is chosen. */
export function HeldPick({ document, node, hand }: Omit<Props, "onDone">) {
  return (
    <select
      aria-label={`How ${spoken(node)} is held`}
      className="entry w-auto"
      value={document.frame?.held?.[node] ?? ""}
      onChange={(event) =>
        hand.edit((now) => setHeld(now, node, event.target.value as "fixed" | "pinned" | ""))
      }
    >
      <option value="">free</option>
      <option value="fixed">fixed</option>
      <option value="pinned">pinned</option>
    </select>
  );
}

/** One place of the frame: where it is, whether the rest of the chassis holds it, and what ends there. */
export function NodePanel({ document, node, hand, onDone }: Props) {
  const at = document.frame?.nodes?.[node] as number[] | string | undefined;
  const ends = (document.frame?.members ?? []).filter((one) => one.ends.includes(node));
  if (at === undefined) return null;
  return (
    <section aria-label={`Place ${spoken(node)}`} className="grid gap-2 border-b border-rule py-3">
      <div className="flex items-center justify-between gap-2">
        <h2 className="text-lg font-bold">{spoken(node)}</h2>
        <button type="button" className="press px-3" aria-label="Close" onClick={onDone}>
          <X size={18} aria-hidden />
        </button>
      </div>
      {typeof at === "string" ? (
        <p>It goes with {spoken(at.replace("/", ", "))}.</p>
      ) : (
        <div className="grid grid-cols-3 gap-2">
          {(["ahead", "out, left +", "up"] as const).map((axis, k) => (
            <div key={axis}>
              <span className="text-sm text-soft" aria-hidden>
                {axis}
              </span>
              <QuantityField
                label={`${spoken(node)}, ${axis}`}
                value={at[k] ?? 0}
                dimension="length"
                step={1}
                onCommit={(value) =>
                  hand.edit(
                    (now) =>
                      moved(
                        now,
                        node,
                        at.map((c, n) => (n === k ? value : c)),
                      ),
                    `place ${node} ${k}`,
                  )
                }
              />
            </div>
          ))}
        </div>
      )}
      <div className="flex items-center gap-2">
        <span className="min-w-0 flex-1">By the rest of the chassis it is</span>
        <HeldPick document={document} node={node} hand={hand} />
      </div>
      <p className="text-sm text-soft">
        {ends.length
          ? `Here ${ends.length === 1 ? "ends" : "end"} ${ends.map((one) => spoken(one.name)).join(", ")}.`
          : "No tube ends here."}
      </p>
      <button
        type="button"
        className="press px-3"
        onClick={() => {
          hand.edit((now) => dropNode(now, node));
          onDone();
        }}
      >
        {ends.length ? "Remove the place and its tubes" : "Remove the place"}
      </button>
    </section>
  );
}
