import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { answer, client, type Project, type Shape, type Station } from "../api/client";
import { documentOf } from "../bench/draft";
import { OnTheJack, type Side, useSide } from "../beside/on-the-jack";

interface Props {
  job: string;
  /** The document in hand. */
  document: Project;
  /** The station in hand. */
  index: number;
  revisions: Shape["RevisionLine"][];
  /** The revision to begin with beside what is in hand; where none is given, the variant or the one before. */
  against?: number;
  onClose: () => void;
}

/** What one side shows: a revision (0 is the work in hand) and one of its stations. */
interface Choice {
  revision: number;
  station: number;
}

const IN_HAND = 0;

/** The station in hand and its variant, or the station that it is a variant of; none, and it is -1. */
function pairOf(stations: Station[], index: number): number {
  const station = stations[index];
  const is = (its: Station) => its.name === station?.variant_of || its.variant_of === station?.name;
  return stations.findIndex(is);
}

/** Two revisions, or two variants of a station, side by side on one Jack. */
export function Beside({ job, document, index, revisions, against, onClose }: Props) {
  const pair = against === undefined ? pairOf(document.stations, index) : -1;
  const first = pair >= 0 && pair < index ? pair : index;
  const [one, setOne] = useState<Choice>(
    pair >= 0
      ? { revision: IN_HAND, station: first }
      : { revision: against ?? (revisions[1] ?? revisions[0])?.number ?? IN_HAND, station: index },
  );
  const [other, setOther] = useState<Choice>({
    revision: IN_HAND,
    station: pair >= 0 ? Math.max(pair, index) : index,
  });
  const left = useChosen(job, document, one);
  const right = useChosen(job, document, other);
  const heads = (["Left", "Right"] as const).map((title, k) => (
    <Chooser
      key={title}
      title={title}
      side={k ? right : left}
      choice={k ? other : one}
      onChoice={k ? setOther : setOne}
      revisions={revisions}
    />
  )) as [ReactNode, ReactNode];
  return (
    <OnTheJack
      left={left}
      right={right}
      names={["Left", "Right"]}
      heads={heads}
      title="Side by side on the Jack"
    >
      <button type="button" className="press" onClick={onClose}>
        Back to the log
      </button>
    </OnTheJack>
  );
}

function useChosen(job: string, inHand: Project, choice: Choice): Side {
  const fetched = useQuery({
    queryKey: ["revision", job, choice.revision],
    queryFn: () =>
      answer(
        client.GET("/api/jobs/{job_id}/revisions/{number}", {
          params: { path: { job_id: job, number: choice.revision } },
        }),
      ),
    enabled: choice.revision !== IN_HAND,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const document = choice.revision === IN_HAND ? inHand : fetched.data ? documentOf(fetched.data) : null;
  return useSide(inHand, document, choice.station, fetched.error?.message);
}

interface ChooserProps {
  title: string;
  side: Side;
  choice: Choice;
  onChoice: (choice: Choice) => void;
  revisions: Shape["RevisionLine"][];
}

/** Which revision, and which of its stations. */
function Chooser({ title, side: { document }, choice, onChoice, revisions }: ChooserProps) {
  return (
    <div className="flex flex-wrap gap-2 p-2">
      <select
        aria-label={`${title}: revision`}
        className="entry min-w-0 flex-1"
        value={choice.revision}
        onChange={(event) => onChoice({ ...choice, revision: Number(event.target.value) })}
      >
        <option value={IN_HAND}>Work in hand</option>
        {revisions.map((line) => (
          <option key={line.number} value={line.number}>
            Revision {line.number}: {line.reason}
          </option>
        ))}
      </select>
      <select
        aria-label={`${title}: station`}
        className="entry min-w-0 flex-1"
        value={choice.station}
        onChange={(event) => onChoice({ ...choice, station: Number(event.target.value) })}
      >
        {(document?.stations ?? []).map((its, k) => (
          <option key={its.name} value={k}>
            {its.name}
          </option>
        ))}
      </select>
    </div>
  );
}
