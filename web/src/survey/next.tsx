import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, client, type Project, type Shape } from "../api/client";
import { useUnits } from "../quantity/units";
import { asFile, type Reading, type SurveyFile } from "./store";
import { placesOf, placeWords, wordsOf } from "./words";

interface Props {
  job: string;
  document: Project;
  survey: SurveyFile;
  onTake: (reading: Reading) => void;
}

/** The few readings that say most of what is wanted, in the order one would walk. */
export function ReadNext({ job, document, survey, onTake }: Props) {
  const { quantity } = useUnits();
  const body = { job, document, survey: asFile(survey) };
  const aims = useQuery({
    queryKey: ["aims", body],
    queryFn: () => answer(client.POST("/api/survey/aims", { body })),
    placeholderData: (before) => before,
    retry: false,
    gcTime: 0,
  });
  const [chosen, setChosen] = useState("");
  const list = aims.data ?? [];
  const aim =
    list.find((one) => one.said === chosen) ?? list.find((one) => one.figure === "every place") ?? list[0];
  const found = useQuery({
    queryKey: ["read next", body, aim?.figure, aim?.of],
    queryFn: () =>
      answer(
        client.POST("/api/survey/next", { body: { ...body, figure: aim?.figure ?? "", of: aim?.of ?? "" } }),
      ),
    enabled: aim !== undefined,
    placeholderData: (before) => before,
    retry: false,
    gcTime: 0,
  });
  const told = (value: number) =>
    aim?.figure === "motion ratio" ? value.toFixed(4) : quantity(value, "length");
  return (
    <section aria-label="Read next" aria-busy={aims.isFetching || found.isFetching} className="pt-2">
      <h2 className="text-lg">Read next</h2>
      <label className="block text-sm text-soft" htmlFor="aim">
        What is to be known better
      </label>
      <select
        id="aim"
        className="entry mt-1 font-semibold"
        value={aim?.said ?? ""}
        onChange={(event) => setChosen(event.target.value)}
      >
        {list.map((one) => (
          <option key={one.said} value={one.said}>
            {one.figure === "place" ? placeWords(one.of) : one.said}
          </option>
        ))}
      </select>
      {found.data?.length === 0 && (
        <p className="py-3 text-soft">
          One reading more would gain little here. Read what is loose, or choose something else.
        </p>
      )}
      <ol className="mt-2">
        {(found.data ?? []).map((one) => (
          <Worth key={JSON.stringify(one.reading)} one={one} told={told} onTake={onTake} />
        ))}
      </ol>
    </section>
  );
}

function Worth({
  one,
  told,
  onTake,
}: {
  one: Shape["WorthOut"];
  told: (value: number) => string;
  onTake: (reading: Reading) => void;
}) {
  const { quantity } = useUnits();
  const reading = one.reading as Reading;
  const words = wordsOf(reading);
  const between = placesOf(reading)
    .map((name) => placeWords(name))
    .join(" to ");
  return (
    <li className="flex items-center gap-2 border-b border-rule py-2" data-testid="worth">
      <div className="min-w-0 flex-1 leading-tight">
        <p className="font-semibold">
          {words.name}: {between}
        </p>
        <p className="text-sm text-soft">
          {one.now === null
            ? `not located now${one.then === null ? "; better after" : `, ±${told(one.then)} after`}`
            : `±${told(one.now)} now, ±${told(one.then ?? one.now)} after`}
          . About {quantity(one.would_be, words.dimension)}.
        </p>
      </div>
      <button
        type="button"
        className="press px-3"
        aria-label={`Read it: ${words.name}, ${between}`}
        onClick={() => onTake(reading)}
      >
        Read it
      </button>
    </li>
  );
}
