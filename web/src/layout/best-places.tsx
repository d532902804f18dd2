import { client, type Project } from "../api/client";
import { useAsked } from "../bench/asked";
import type { Vec } from "../bench/edits";
import { useUnits } from "../quantity/units";
import { COUNT, HALF_MM } from "../views/places-size";
import type { Placing } from "../views/placing";

const WISHES: Record<string, string> = {
  nearest: "Nearest to where it is",
  ratio: "Most ratio",
  steady: "Steadiest ratio",
  lean: "Least lean",
};

/** The best few of the shaded places, each solved with its clearances. */
export function BestPlaces({
  document,
  index,
  placing,
  onPut,
}: {
  document: Project;
  index: number;
  placing: Placing;
  onPut: (place: Vec) => void;
}) {
  const { quantity, number } = useUnits();
  const found = useAsked(
    "best places",
    document,
    index,
    (body) => client.POST("/api/places/best", { body: { ...body, ...placing, half: HALF_MM, count: COUNT } }),
    true,
    [placing],
  );
  if (!found.data) return null;
  if (!found.data.length)
    return (
      <p className="mt-2 border-l-4 border-warning pl-2 text-sm">
        No place in this square keeps the damper inside its stroke.
      </p>
    );
  return (
    <section aria-label="The best few" aria-busy={found.isFetching}>
      <h3 className="pt-2 font-semibold">The best few</h3>
      <ul>
        {found.data.map((one) => (
          <li key={one.wish} className="flex items-center gap-2 border-b border-rule py-1.5">
            <div className="min-w-0 flex-1 text-sm leading-snug">
              <p className="font-semibold">{WISHES[one.wish] ?? one.wish}</p>
              <p>
                {number(one.ratio, "ratio")} ÷ wheel
                {one.left !== null && `, ${quantity(one.left, "length")} of damper left`},{" "}
                {quantity(one.lost, "share")} lost to lean
                {one.clear !== null && `, nearest thing ${quantity(one.clear, "length", 0)}`}
                {one.faults > 0 && `, ✕ ${one.faults} ${one.faults === 1 ? "fault" : "faults"}`}.
              </p>
            </div>
            <button
              type="button"
              className="press px-3"
              aria-label={`Put it there: ${WISHES[one.wish] ?? one.wish}`}
              onClick={() => onPut(one.place as Vec)}
            >
              Put it there
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
