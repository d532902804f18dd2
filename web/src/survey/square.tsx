import type { Shape } from "../api/client";
import { Mark } from "../marks/mark";
import { Heads } from "../quantity/heads";
import { useSay } from "../quantity/sentence";
import { useUnits } from "../quantity/units";
import { placeWords } from "./words";

/** What ought to be nothing: diagonals, wheelbases, axles to the centreline, shafts. */
export function SquareList({ squares }: { squares: Shape["SquareOut"][] }) {
  const say = useSay();
  return (
    <section aria-label="Square" className="pt-2">
      {!squares.length && (
        <p className="py-2 text-soft">
          Read the places of both sides, front and rear, or say of two marks that they ought to be mirror
          images: then diagonals, wheelbases and axles are told here, each with how well it is known.
        </p>
      )}
      <ul>
        {squares.map((one) => (
          <li key={`${one.what} ${one.places.join()}`} className="flex gap-3 border-b border-rule py-2.5">
            <Mark mark={one.mark} size={24} />
            <div className="min-w-0">
              <p className="text-sm text-soft">{one.what}</p>
              <p className="font-semibold leading-snug">{say(one.say)}</p>
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Left beside right: what was read of both, and what lies between one and the other's mirror image. */
export function SidesTable({ sides, places }: { sides: Shape["SideOut"][]; places: Shape["PlaceOut"][] }) {
  const { number, unit } = useUnits();
  const at = (name: string) => places.find((place) => place.name === name)?.at ?? [];
  if (!sides.length) return null;
  const apart = (side: Shape["SideOut"], k: number) =>
    `${number(side.apart[k] ?? 0, "travel", 1)} ± ${number(side.within[k] ?? 0, "length", 1)}`;
  return (
    <section aria-label="Left and right" className="pt-3">
      <h2 className="text-lg">Left and right, {unit("length")}</h2>
      <div className="overflow-x-auto">
        <table className="w-full border-collapse text-right text-sm">
          <Heads names={["Place", "Ahead", "Out", "Up"]} />
          <tbody>
            {sides.map((side) => (
              <tr key={side.left} className="border-b border-rule align-top">
                <th scope="row" className="py-1.5 pr-2 text-left font-semibold">
                  <span className="flex items-center gap-1.5">
                    <Mark mark={side.mark} size={18} /> {placeWords(side.left, true)}
                  </span>
                </th>
                {[0, 1, 2].map((k) => (
                  <td key={k} className="px-1 py-1.5">
                    <span className="block font-semibold">{apart(side, k)}</span>
                    <span className="block text-soft">
                      {number(at(side.left)[k] ?? 0, "length", 0)} ·{" "}
                      {number((at(side.right)[k] ?? 0) * (k === 1 ? -1 : 1), "length", 0)}
                    </span>
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
