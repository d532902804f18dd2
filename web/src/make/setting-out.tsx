import type { ReactNode } from "react";
import { Link } from "react-router";
import type { Project, Shape } from "../api/client";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { placeWords } from "../survey/words";
import type { Part } from "./choosing";

/** A reading of the angle finder, and the words that say its side. */
const ANGLES = ["bolt_level", "bolt_turn", "tab_plumb", "foot_plan"];

const side = (tab: Part, key: string) => tab.figures.find((one) => one.key === `${key}_side`)?.text ?? "";

/** Whether what stands across the vehicle from a place is in the list too, or is the place itself. */
const hasImage = (mount: Shape["MountOut"], mounts: Shape["MountOut"][]) =>
  mounts.some(
    (one) =>
      one.station === mount.station &&
      Math.abs(one.out + mount.out) < 0.5 &&
      Math.abs(one.up - mount.up) < 0.5 &&
      Math.abs(one.ahead - mount.ahead) < 0.5,
  );

/** Where each mount comes, large enough to be read at the frame. */
export function SettingOut({
  job,
  pages,
  document,
  mounts,
  parts,
  onSee,
}: {
  job: string;
  /** What prints a page for every mount. */
  pages: ReactNode;
  document: Project;
  mounts: Shape["MountOut"][];
  parts: Part[];
  onSee: (mount: Shape["MountOut"]) => void;
}) {
  const { quantity } = useUnits();
  return (
    <section aria-label="Setting out" className="pt-2">
      <div className="pb-2">{pages}</div>
      <p className="text-sm leading-snug text-soft">
        From the floor, from the centreline (left is +), ahead of the datum line; then tape it to three places
        that are there. Read it back once it is tacked.
      </p>
      <ul>
        {mounts.map((mount) => {
          const station = document.stations.findIndex((one) => one.name === mount.station);
          const place = `${mount.station}/${mount.point}`;
          const [along = 0, out = 0, up = 0] = mount.close_enough;
          if (mount.on !== null)
            return (
              <li key={place} className="border-b border-rule py-2 text-sm" data-testid="mount">
                <span className="font-semibold">{placeWords(place)}</span>: on the bolt of the{" "}
                {spoken(mount.on)}, {quantity(Math.abs(mount.ahead_of_it ?? 0), "length")}{" "}
                {(mount.ahead_of_it ?? 0) < 0 ? "behind" : "ahead of"} its middle. No tab stands here.
              </li>
            );
          const drawn = station >= 0 && document.stations[station]?.points[mount.point] !== undefined;
          return (
            <li key={place} className="border-b border-rule py-2" data-testid="mount">
              <div className="flex items-center justify-between gap-2">
                <p className="text-lg font-bold">{placeWords(place)}</p>
                <button
                  type="button"
                  className="press px-3 text-sm"
                  aria-label={`Show it drawn: ${placeWords(place)}`}
                  onClick={() => onSee(mount)}
                >
                  Show it drawn
                </button>
              </div>
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
              {mount.loose && (
                <p className="pt-1 text-sm leading-snug">
                  These tapes do not fix it {mount.loose}: a millimetre of tape is{" "}
                  {mount.tape_mm === null ? "any distance" : quantity(mount.tape_mm, "length")} there. Set its
                  height and plumb mark first.
                </p>
              )}
              {parts
                .filter((part) => part.kind === "tab" && part.station === mount.station)
                .filter((tab) =>
                  [tab.subject[1], ...tab.also.map(([point]) => point)].some((point) =>
                    mount.tabs.includes(point ?? ""),
                  ),
                )
                .map((tab) => (
                  <div key={tab.name} className="pt-1 text-sm leading-snug">
                    <p className="font-semibold">
                      {[tab.subject[2], ...tab.also.map(([, held]) => held)]
                        .map((one) => spoken(one ?? ""))
                        .join(", ")}
                    </p>
                    <ul>
                      {ANGLES.map((key) => tab.figures.find((one) => one.key === key))
                        .filter((one) => one !== undefined)
                        .map((one) => (
                          <li key={one.key}>
                            {[`${one.name} ${quantity(one.value ?? 0, "angle", 1)}`, side(tab, one.key)]
                              .filter(Boolean)
                              .join(", ")}
                          </li>
                        ))}
                    </ul>
                  </div>
                ))}
              {station < 0 ? (
                <p className="pt-1 text-sm">
                  Where the tubes' middle lines meet.
                  {document.frame?.mirrored && !hasImage(mount, mounts)
                    ? " The same on the other side, mirrored."
                    : ""}
                </p>
              ) : drawn ? (
                <Link
                  className="press mt-1 px-3 text-sm"
                  aria-label={`Read it back: ${placeWords(place)}`}
                  to={`/jobs/${job}/survey?station=${station}&read=${encodeURIComponent(place)}`}
                >
                  Read it back
                </Link>
              ) : (
                <p className="pt-1 text-sm">
                  The middle between its two tabs, on one bolt. Read back both ends of the bolt:{" "}
                  {mount.tabs.map((point, k) => (
                    <span key={point}>
                      {k > 0 && " and "}
                      <Link
                        className="underline"
                        to={`/jobs/${job}/survey?station=${station}&read=${encodeURIComponent(`${mount.station}/${point}`)}`}
                      >
                        {spoken(point)}
                      </Link>
                    </span>
                  ))}
                  .
                </p>
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
