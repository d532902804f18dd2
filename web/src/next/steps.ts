import { useQuery } from "@tanstack/react-query";
import { answer, client, type Project, type Shape } from "../api/client";
import { followed } from "../api/working";
import { useResting } from "../bench/resting";
import { asFile, type SurveyInHand } from "../survey/store";

export type Step = Shape["WorkStepOut"];
export type StepState = "done" | "next" | "may" | "waits" | "not_yet" | "again";
export const NAME = "steps";
const RESTS_MS = 400;

/** How a step stands, in the words of the shop; each has its own sign beside it. */
export const STATES: Record<StepState, string> = {
  done: "done",
  next: "next",
  may: "can be begun",
  waits: "waits",
  not_yet: "not yet",
  again: "do it again",
};

/** Every step of the document in hand and how it stands. */
export function useSteps(job: string, revision: number, document: Project, hand: SurveyInHand) {
  // Read, not nudged: asked for once the hand rests.
  const resting = useResting(document, RESTS_MS);
  const records = useResting(hand.records, RESTS_MS);
  const read = useResting(hand.survey, RESTS_MS);
  const body = {
    document: resting,
    survey: asFile(read),
    records: records.map((one) => one.body),
    job,
    revision,
  };
  return useQuery({
    queryKey: ["steps", body],
    queryFn: ({ signal }) =>
      answer(followed(NAME, (headers) => client.POST("/api/steps", { body, headers, signal }), signal)),
    enabled: hand.loaded,
    placeholderData: (before) => before,
    retry: false,
    gcTime: 0,
  });
}

/** What is to be done now: what was undone first, then what comes next of each station and of the vehicle. */
export const toDo = (steps: Step[]) => [
  ...steps.filter((one) => one.state === "again"),
  ...steps.filter((one) => one.state === "next"),
];

/** Where a step is done: its sheet, at its station. */
export function sheetOf(job: string, step: Step, document: Project): string {
  const at = document.stations.findIndex((station) => station.name === step.station);
  return `/jobs/${job}/${step.sheet}${at > 0 ? `?station=${at}` : ""}`;
}

/** Hours as they are said at a bench. */
export function hours(value: number): string {
  if (value < 0.75) return `${Math.max(5, Math.round((value * 60) / 5) * 5)} min`;
  return `${value < 10 ? Math.round(value * 2) / 2 : Math.round(value)} h`;
}
