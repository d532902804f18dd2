import { Link } from "react-router";
import type { Project, Shape } from "../api/client";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { placeWords } from "../survey/words";
import type { Part } from "./choosing";

const ANGLES = ["bolt_level", "bolt_turn", "tab_plumb"];

/** Where each mount comes, large enough to be read at the frame. */
export function SettingOut({
  job,
  document,
  mounts,
  parts,
}: {
  job: string;
  document: Project;
  mounts: Shape["MountOut"][];
  parts: Part[];
}) {
  const { quantity } = useUnits();
  return (
    <section aria-label="Setting out" className="pt-2">
      <p className="text-sm leading-snug text-soft">
        From the floor, from the centreline (left is +), ahead of the datum line; then tape it to three places
        that are there. Read it back once it is tacked.
      </p>
      <ul>
        {mounts.map((mount) => {
          const station = document.stations.findIndex((one) => one.name === mount.station);
          const place = `${mount.station}/${mount.point}`;
          const [along = 0, out = 0, up = 0] = mount.close_enough;
          return (
            <li key={place} className="border-b border-rule py-2" data-testid="mount">
              <p className="text-lg font-bold">{placeWords(place)}</p>
              <dl className="grid grid-cols-3 gap-2 text-center">
                {(
                  [
                    ["Up", mount.up, up],
                    ["Out", mount.out, out],
                    ["Ahead", mount.ahead, along],
                  ] as const
                ).map(([name, value, close]) => (
                  <div key={name} className="bg-card py-1">
                    <dt className="text-sm text-soft">{name}</dt>
                    <dd className="text-xl font-bold">{quantity(value, "length")}</dd>
                    <dd className="text-sm text-soft">within {quantity(close, "length")}</dd>
                  </div>
                ))}
              </dl>
              <ul className="mt-1">
                {mount.tapes.map((tape) => (
                  <li key={tape.to} className="flex justify-between gap-2">
                    <span>tape to {placeWords(tape.to)}</span>
                    <span className="font-bold">{quantity(tape.length, "length")}</span>
                  </li>
                ))}
              </ul>
              {parts
                .filter(
                  (part) =>
                    part.kind === "tab" && part.station === mount.station && part.subject[1] === mount.point,
                )
                .map((tab) => (
                  <p key={tab.name} className="pt-1 text-sm leading-snug">
                    <span className="font-semibold">{spoken(tab.subject[2] ?? "")}:</span>{" "}
                    {ANGLES.map((key) => tab.figures.find((one) => one.key === key))
                      .filter((one) => one !== undefined)
                      .map((one) => `${one.name.toLowerCase()} ${quantity(one.value ?? 0, "angle", 1)}`)
                      .join(", ")}
                    .
                  </p>
                ))}
              <Link
                className="press mt-1 px-3 text-sm"
                to={`/jobs/${job}/survey?station=${station}&read=${encodeURIComponent(place)}`}
              >
                Read it back
              </Link>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
