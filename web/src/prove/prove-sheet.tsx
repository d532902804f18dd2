import type { Project, Station } from "../api/client";
import { isStopped } from "../api/working";
import type { DraftInHand } from "../bench/draft";
import { SideTabs } from "../bench/side-tabs";
import { WorkingOverDrawing } from "../bench/working-line";
import { VerdictLine } from "../findings/verdict";
import { useSay } from "../quantity/sentence";
import { spoken } from "../quantity/spoken";
import type { SurveyInHand } from "../survey/store";
import { BagPressure } from "./bag-pressure";
import { Book } from "./book";
import { AsBuilt } from "./built";
import { CyclePlot } from "./cycle-plot";
import { Cycling, unitsOf } from "./cycling";
import { Gates } from "./gates";
import { OnItsWheels } from "./on-its-wheels";
import { useProof } from "./proving";
import { Weighing } from "./weighing";

/** The sentence above the sheet. */
export function ProveVerdict({ document, hand }: { document: Project; hand: SurveyInHand }) {
  const say = useSay();
  const found = useProof(document, hand);
  return (
    <VerdictLine
      question="Does it stand and move as drawn?"
      mark={found.data?.mark ?? (found.isError ? "warning" : "")}
      words={found.data ? say(found.data.verdict) : (found.error?.message ?? "Working it out …")}
    />
  );
}

interface Props {
  job: string;
  document: Project;
  index: number;
  survey: SurveyInHand;
  hand: DraftInHand;
}

/** Does it stand and move as drawn? */
export function ProveSheet({ job, document, index, survey, hand }: Props) {
  const say = useSay();
  const found = useProof(document, survey);
  const proof = found.data;
  const station = document.stations[index] as Station;
  const weighed = survey.records.filter((one) => one.body.kind === "weigh" && !one.body.raised).at(-1);
  return (
    <div
      aria-busy={found.isFetching}
      className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_440px] lg:grid-rows-[minmax(0,1fr)] max-lg:grid-cols-1 print:block"
    >
      <section
        aria-label="Drawings"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a drawing higher than the screen is scrolled by key
        tabIndex={0}
        className="min-h-0 overflow-y-auto bg-dye p-3 text-soapstone max-lg:max-h-[640px]"
      >
        <WorkingOverDrawing
          lines={[{ name: "prove", error: found.error, again: () => void found.refetch() }]}
        />
        {found.isError && !isStopped(found.error) && <p>{found.error.message}</p>}
        {proof?.now && <OnItsWheels document={document} proof={proof} weighed={weighed} />}
        {proof &&
          unitsOf(station).map((unit) => (
            <section key={unit} aria-label={`${spoken(unit)}, drawn and read`} className="pt-3">
              <h2 className="text-lg">
                {spoken(unit)}, {station.name}: eye to eye over the wheel’s travel
              </h2>
              <CyclePlot proof={proof} station={station.name} unit={unit} />
            </section>
          ))}
        {(proof?.said ?? []).map((words) => (
          <p key={words.words + words.names.join()} className="pt-2 text-marker">
            {say(words)}
          </p>
        ))}
      </section>
      <SideTabs
        label="Prove"
        className=""
        tabs={[
          {
            value: "cycle",
            name: "Cycle",
            room: "px-3 pb-4",
            body: (
              <Cycling
                key={station.name}
                job={job}
                document={document}
                station={station}
                hand={survey}
                proof={proof}
              />
            ),
          },
          {
            value: "weigh",
            name: "Weigh & set",
            room: "px-3 pb-4",
            body: (
              <>
                <Weighing job={job} document={document} hand={survey} proof={proof} />
                <BagPressure key={station.name} document={document} station={station} hand={survey} />
              </>
            ),
          },
          {
            value: "built",
            name: "As built",
            room: "px-3 pb-4",
            body: (
              <AsBuilt document={document} hand={hand} survey={survey} proof={proof} station={station.name} />
            ),
          },
          { value: "book", name: "Book", room: "px-3 pb-4", body: <Book hand={survey} job={job} /> },
          { value: "gates", name: "Gates", room: "px-3 pb-4", body: <Gates proof={proof} hand={survey} /> },
        ]}
      />
    </div>
  );
}
