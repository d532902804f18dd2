import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, client, type Project } from "../api/client";
import { Mark } from "../marks/mark";
import { Heads } from "../quantity/heads";
import { useSay } from "../quantity/sentence";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { asFile, type SurveyFile } from "./store";

interface Props {
  job: string;
  document: Project;
  survey: SurveyFile;
  suspects: number;
  /** Take the document over as one step; says how it went. */
  onTake: (document: Project, reason: string) => Promise<string>;
}

const WAYS = [
  ["own", "Each side as measured"],
  ["mean", "Both the mean, mirrored"],
  ["left", "The left, mirrored to the right"],
  ["right", "The right, mirrored to the left"],
] as const;

/** Adjusted places into the job: what moves, by how much, and what that does, before anything is done. */
export function Take({ job, document, survey, suspects, onTake }: Props) {
  const { quantity, number } = useUnits();
  const say = useSay();
  const [alike, setAlike] = useState<(typeof WAYS)[number][0]>("own");
  const [without, setWithout] = useState<string[]>([]);
  const [said, setSaid] = useState("");
  const body = {
    job,
    document,
    survey: asFile(survey),
    alike,
    without,
  };
  const found = useQuery({
    queryKey: ["take", body],
    queryFn: () => answer(client.POST("/api/survey/take", { body })),
    placeholderData: (before) => before,
    retry: false,
    gcTime: 0,
  });
  const data = found.data;
  const moves = data?.moves ?? [];
  const moved = moves.filter((move) => move.by >= 0.05);
  return (
    <section aria-label="Apply the places to the job" aria-busy={found.isFetching} className="pt-2">
      {suspects > 0 && (
        <p className="flex items-start gap-2 pb-2 leading-snug">
          <Mark mark="warning" size={22} />
          {suspects === 1 ? "One reading does" : `${suspects} readings do`} not fit and{" "}
          {suspects === 1 ? "is" : "are"} left out of this. Settle {suspects === 1 ? "it" : "them"} first.
        </p>
      )}
      <label htmlFor="alike" className="block text-sm text-soft">
        Left and right
      </label>
      <select
        id="alike"
        className="entry mt-1 font-semibold"
        value={alike}
        onChange={(event) => setAlike(event.target.value as typeof alike)}
      >
        {WAYS.map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
      {data?.effects.map((effect) => (
        <dl key={effect.station} className="mt-3 grid grid-cols-[1fr_auto] gap-x-3 border-b border-rule pb-2">
          <dt className="col-span-2 font-bold">{effect.station}</dt>
          {effect.before && effect.after ? (
            <>
              <dt>Stands at</dt>
              <dd className="text-right" data-testid="ride-after">
                {quantity(effect.before.ride_travel, "travel")} →{" "}
                <strong>{quantity(effect.after.ride_travel, "travel")}</strong>
              </dd>
              <dt>Wheel rate</dt>
              <dd className="text-right">
                {quantity(effect.before.wheel_rate, "rate")} →{" "}
                <strong>{quantity(effect.after.wheel_rate, "rate")}</strong>
              </dd>
              {Object.entries(effect.after.ratios).map(([unit, ratio]) => (
                <div key={unit} className="contents">
                  <dt>{spoken(unit)}, motion ratio (damper ÷ wheel)</dt>
                  <dd className="text-right">
                    {number(effect.before?.ratios[unit] ?? ratio, "ratio", 3)} →{" "}
                    <strong>{number(ratio, "ratio", 3)}</strong>
                  </dd>
                </div>
              ))}
            </>
          ) : (
            <dd className="col-span-2 text-fault">
              {effect.fault ?? "It does not stand as it is drawn now."}
            </dd>
          )}
        </dl>
      ))}
      {!!moves.length && (
        <table className="mt-2 w-full border-collapse text-right">
          <Heads names={["Place", "Moves", "Known to ±"]} />
          <tbody>
            {moves.map((move) => {
              const name = `${move.station}/${move.point}`;
              return (
                <tr key={name} className="border-b border-rule">
                  <th scope="row" className="py-1 text-left font-normal">
                    <label className="flex min-h-11 items-center gap-2">
                      <input
                        type="checkbox"
                        className="size-5"
                        checked
                        onChange={() => setWithout([...without, name])}
                      />
                      <span>
                        <span className="font-semibold">{spoken(move.point)}</span>
                        <span className="block text-sm text-soft">{move.station}</span>
                        {move.rests && (
                          <span className="flex items-start gap-1 text-sm leading-snug">
                            <Mark mark="warning" size={18} />
                            {say(move.rests)}
                          </span>
                        )}
                      </span>
                    </label>
                  </th>
                  <td className="px-1 font-semibold">{quantity(move.by, "length")}</td>
                  <td className="px-1">{quantity(move.sigma, "length")}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      {without.length > 0 && (
        <button type="button" className="press mt-2 px-3 text-sm" onClick={() => setWithout([])}>
          Take {without.length === 1 ? "the one" : `the ${without.length}`} left out in again
        </button>
      )}
      {data && !moves.length && (
        <p className="py-3 text-soft">The readings do not locate any place of a station yet.</p>
      )}
      <button
        type="button"
        className="press press-main mt-3 w-full"
        disabled={!data || !moves.length || found.isFetching}
        onClick={() => {
          if (!data) return;
          const reason = `Survey: ${moves.length} ${moves.length === 1 ? "place" : "places"} applied, ${moved.length} moved`;
          void onTake(data.document, reason).then(setSaid);
        }}
      >
        Take {moves.length} {moves.length === 1 ? "place" : "places"} into the job
      </button>
      <p role="status" className="py-2">
        {said}
      </p>
    </section>
  );
}
