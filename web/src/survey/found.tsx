import { useState } from "react";
import type { Project } from "../api/client";
import { Mark } from "../marks/mark";
import { Heads } from "../quantity/heads";
import { useUnits } from "../quantity/units";
import { OverPicture } from "./over-picture";
import { drawnAt, type Found, type FoundPicture, withNames } from "./stickers";
import type { SurveyInHand } from "./store";
import { placeWords } from "./words";

/** Nineteen of twenty lie within it. */
const NEARLY_ALL = 1.96;

interface Props {
  job: string;
  document: Project;
  hand: SurveyInHand;
  found: Found | null;
  nameOf: (file: string) => string;
  onDrop: (file: string) => void;
}

/** What the pictures say: what does not fit, each place with how well it is known, each picture with the job drawn over it. */
export function FoundPlaces({ job, document, hand, found, nameOf, onDrop }: Props) {
  const [over, setOver] = useState<string | null>(null);
  const seen = new Map((found?.pictures ?? []).map((one) => [one.file, one]));
  const open = over === null ? undefined : seen.get(over);
  return (
    <>
      {found && !found.now && (
        <p role="status" className="flex items-center gap-2 py-2">
          <Mark mark="warning" size={22} /> Stickers or pictures have changed since: the survey does without
          the pictures until the places are found again.
        </p>
      )}
      {found && (
        <ul aria-label="What the pictures say">
          {found.said.map((words) => (
            <li key={words} className="flex gap-2 border-b border-rule py-1.5 leading-snug">
              <Mark mark="warning" size={20} /> <span>{withNames(words, seen.keys(), nameOf)}</span>
            </li>
          ))}
        </ul>
      )}
      {found?.helps && <p className="py-2 font-semibold leading-snug">{found.helps.say}</p>}
      {found && <Places document={document} found={found} />}
      <ul aria-label="Pictures walked round" className="grid grid-cols-2 gap-2 py-2">
        {hand.survey.pictures.map(({ file }) => (
          <li key={file} className="border border-edge">
            <Picture
              job={job}
              file={file}
              name={nameOf(file)}
              its={found?.now ? seen.get(file) : undefined}
              onOpen={() => setOver(file)}
              onDrop={() => onDrop(file)}
            />
          </li>
        ))}
      </ul>
      {over !== null && open && (
        <OverPicture
          job={job}
          name={nameOf(over)}
          picture={open}
          document={document}
          found={found as Found}
          onClose={() => setOver(null)}
        />
      )}
    </>
  );
}

function Places({ document, found }: { document: Project; found: Found }) {
  const { number, unit } = useUnits();
  const numbers = Object.keys(found.stickers).sort((a, b) => Number(a) - Number(b));
  return (
    <div className="overflow-x-auto pt-2">
      <h3 className="text-base font-semibold">
        Where the places are, beside where they are drawn, {unit("length")}
      </h3>
      <table className="w-full border-collapse text-right text-sm" aria-label="Places from pictures">
        <Heads names={["Place", "In", "Within", "Ahead", "Out", "Up"]} />
        <tbody>
          {numbers.map((its) => {
            const one = found.stickers[its];
            if (!one) return null;
            const was = drawnAt(document, one.place);
            const out = (one.at[1] ?? 0) < 0 ? -1 : 1;
            const off = [0, 1, 2].map(
              (axis) => ((one.at[axis] ?? 0) - (was?.[axis] ?? 0)) * (axis === 1 ? out : 1),
            );
            return (
              <tr key={its} className="border-b border-rule align-top">
                <th scope="row" className="py-1 pr-2 text-left font-semibold leading-tight">
                  {its} · {placeWords(one.place, true)}
                </th>
                <td className="px-1 py-1">{one.seen}</td>
                <td className="px-1 py-1">±{number(NEARLY_ALL * Math.max(...one.sigma), "length", 1)}</td>
                {off.map((by, axis) => (
                  <td key={axis ? (axis === 1 ? "out" : "up") : "ahead"} className="px-1 py-1">
                    {was ? number(by, "travel", 1) : "–"}
                  </td>
                ))}
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="py-1 text-sm leading-snug text-soft">
        In so many pictures; within so much nineteen times of twenty; then how far it stands ahead of, outside
        and above where it is drawn. The survey counts it all in: Square and Apply to job go by it.
      </p>
    </div>
  );
}

function Picture({
  job,
  file,
  name,
  its,
  onOpen,
  onDrop,
}: {
  job: string;
  file: string;
  name: string;
  its: FoundPicture | undefined;
  onOpen: () => void;
  onDrop: () => void;
}) {
  const words =
    its === undefined
      ? "not looked at yet"
      : its.rms === null
        ? `${its.stickers.length} ${its.stickers.length === 1 ? "sticker" : "stickers"}: too few that are known`
        : `${its.stickers.length} stickers, ${its.rms.toFixed(1)} pixels off`;
  return (
    <>
      <button
        type="button"
        className="block w-full text-left disabled:opacity-70"
        disabled={its?.rms == null}
        onClick={onOpen}
      >
        <img
          src={`/api/jobs/${job}/photographs/${file}`}
          alt=""
          className="h-24 w-full object-cover"
          loading="lazy"
        />
        <span className="block p-1.5 text-sm leading-tight">
          <span className="font-semibold">{name}</span>
          <span className="block text-soft">{words}</span>
        </span>
      </button>
      <button type="button" className="press w-full text-sm" onClick={onDrop}>
        Remove {name}
      </button>
    </>
  );
}
