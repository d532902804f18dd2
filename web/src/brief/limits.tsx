import { useQuery } from "@tanstack/react-query";
import { answer, client, type Project } from "../api/client";
import type { DraftInHand } from "../bench/draft";
import type { Dimension } from "../quantity/quantity";
import { QuantityField } from "../quantity/quantity-field";
import { useUnits } from "../quantity/units";

interface Props {
  document: Project;
  edit: DraftInHand["edit"];
}

type Value = number | number[] | null;

/** Keys of `judging`: what each limits, in the words of the bench; a pair is what is good and what is still allowed. */
const LIMITS: { key: string; name: string; hint: string; dimension: Dimension; pair?: [string, string] }[] = [
  {
    key: "frequency_hz",
    name: "Ride frequency",
    hint: "what it should ride at",
    dimension: "frequency",
    pair: ["from", "to"],
  },
  {
    key: "tyre_structure_mm",
    name: "Tyre to structure",
    hint: "through all of its travel",
    dimension: "length",
    pair: ["good", "least"],
  },
  {
    key: "tyre_spring_mm",
    name: "Tyre to spring",
    hint: "spring, coil or bag",
    dimension: "length",
    pair: ["good", "least"],
  },
  {
    key: "clear_mm",
    name: "Anything else apart",
    hint: "rod to arm, spring to tower",
    dimension: "length",
    pair: ["good", "least"],
  },
  {
    key: "bag_clear_mm",
    name: "Bag, clear all round",
    hint: "at its largest",
    dimension: "length",
    pair: ["good", "least"],
  },
  {
    key: "damper_left_mm",
    name: "Damper left at either end",
    hint: "never stop on the damper",
    dimension: "length",
  },
  {
    key: "stroke_split_bump",
    name: "Stroke kept for bump",
    hint: "of what is used, from ride",
    dimension: "share",
  },
  {
    key: "coil_left_share",
    name: "Coil left before solid",
    hint: "of free to solid, at full bump",
    dimension: "share",
  },
  {
    key: "strap_before_damper_mm",
    name: "Strap taut before the damper tops",
    hint: "after its stretch",
    dimension: "length",
  },
  {
    key: "adjustment_share",
    name: "Adjustment left each way",
    hint: "of all there is to turn",
    dimension: "share",
  },
  {
    key: "rod_square_good_deg",
    name: "Rod off square at ride",
    hint: "rod to rocker arm",
    dimension: "angle",
  },
  {
    key: "joint_spare_deg",
    name: "Joint tilt to spare",
    hint: "below what it is rated",
    dimension: "angle",
  },
  {
    key: "roll_gradient_deg_per_g",
    name: "Lean allowed",
    hint: "degrees at 1 g across",
    dimension: "angle",
  },
  {
    key: "peak_multiple",
    name: "Worst wheel load",
    hint: "times the static load",
    dimension: "ratio",
  },
];

const MOST: Partial<Record<Dimension, number>> = { share: 1, angle: 90, frequency: 20, length: 1000 };

/** The shop's own limits in place of the usual ones of its purpose; every one can be put back. */
export function Limits({ document, edit }: Props) {
  const { unit } = useUnits();
  const judging = (document.judging ?? {}) as Record<string, Value | string>;
  const purpose = typeof judging.purpose === "string" ? judging.purpose : "";
  const usual = useQuery({
    queryKey: ["usual-limits", purpose],
    queryFn: () => answer(client.GET("/api/usual-limits", { params: { query: { purpose } } })),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const own = LIMITS.filter(({ key }) => judging[key] != null);
  const set = (key: string, value: Value) => edit((doc) => withLimit(doc, key, value), `limit ${key}`);
  return (
    <details className="mt-6 border-t border-rule pt-2">
      <summary className="flex min-h-11 cursor-pointer items-center text-xl font-bold">
        Preferred limits
        <span className="pl-2 text-base font-normal text-soft">
          {own.length ? `${own.length} of your own` : "all as usual"}
        </span>
      </summary>
      <p className="text-sm text-soft">
        Common workshop values{purpose ? " for this purpose" : ""}. Change what you see differently:
        everything is judged by what stands here.
      </p>
      {usual.isError && <p className="text-sm text-fault">{usual.error.message}</p>}
      {usual.data &&
        LIMITS.map(({ key, name, hint, dimension, pair }) => {
          const given = judging[key] as Value | undefined;
          const value = given ?? usual.data[key];
          const values = (Array.isArray(value) ? value : [value]) as (number | null)[];
          const many = pair ? [0, 1] : [0];
          return (
            <div
              key={key}
              className="grid grid-cols-[1fr_auto] items-center gap-x-2 border-b border-rule py-1 max-sm:grid-cols-1"
            >
              <span className="leading-tight">
                {name}
                <span className="block text-sm text-soft">
                  {hint}
                  {pair && `, ${unit(dimension)}`}
                  {given != null && (
                    <button type="button" className="ml-2 text-link underline" onClick={() => set(key, null)}>
                      as usual
                    </button>
                  )}
                </span>
              </span>
              <span className="flex gap-1">
                {many.map((k) => (
                  <span key={k} className="flex w-[8.6rem] items-center gap-1">
                    {pair && <span className="w-9 text-right text-sm text-soft">{pair[k]}</span>}
                    <span className="min-w-0 flex-1">
                      <QuantityField
                        label={`${name}${pair ? `, ${pair[k]}` : ""}`}
                        value={values[k] ?? 0}
                        dimension={dimension}
                        compact={pair !== undefined}
                        digits={dimension === "angle" || dimension === "ratio" ? 1 : undefined}
                        check={(next) => faultOf(key, dimension, k, next, values)}
                        onCommit={(next) =>
                          set(
                            key,
                            pair
                              ? [k === 0 ? next : (values[0] ?? 0), k === 1 ? next : (values[1] ?? 0)]
                              : next,
                          )
                        }
                      />
                    </span>
                  </span>
                ))}
              </span>
            </div>
          );
        })}
    </details>
  );
}

function faultOf(
  key: string,
  dimension: Dimension,
  place: number,
  next: number,
  values: (number | null)[],
): string | null {
  if (next < 0 || (next === 0 && key.endsWith("_hz"))) return "It must be more than zero.";
  const most = MOST[dimension];
  if (most !== undefined && next > most) return "That is more than makes sense here.";
  const other = values[1 - place];
  if (values.length < 2 || other == null) return null;
  const low = key === "frequency_hz";
  if (place === 0 && (low ? next > other && other > 0 : next < other))
    return low ? "It must be below the upper one." : "Good is at least as much as the least.";
  if (place === 1 && (low ? next < other : next > other))
    return low ? "It must be above the lower one." : "The least is at most what is good.";
  return null;
}

/** The document with one of its limits set, or put back to what is usual. */
function withLimit(document: Project, key: string, value: Value): Project {
  const judging = { ...((document.judging ?? {}) as Record<string, unknown>) };
  if (value === null) delete judging[key];
  else judging[key] = value;
  const next = { ...document, judging } as Project;
  if (Object.keys(judging).length === 0) delete (next as Partial<Project>).judging;
  return next;
}
