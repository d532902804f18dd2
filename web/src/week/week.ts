/** The shop's week: what it says of itself, who does what when, and moving a step by hand. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, client, type Shape } from "../api/client";
import { followed } from "../api/working";

export type Shop = Shape["ShopSaid"];
export type Person = Shape["PersonAtWork"];
export type Plan = Shape["WeekPlanOut"];
export type Stretch = Shape["StretchOut"];
export type JobWeek = Shape["JobWeekOut"];
export type Held = Shape["HeldStep"];

export const NAME = "week";
export const PLAN = ["week plan"];
export const WEEK = ["week"];
export const DAYS = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"] as const;
export const DAY_NAMES = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];

/** What the shop says of itself. */
export const weekQuery = {
  queryKey: WEEK,
  queryFn: () => answer(client.GET("/api/week")),
  staleTime: 0,
};
export const useWeek = () => useQuery(weekQuery);

/** Who does what when; asked again after every change of what the shop says. */
export const usePlan = () =>
  useQuery({
    queryKey: PLAN,
    queryFn: ({ signal }) =>
      answer(followed(NAME, (headers) => client.GET("/api/week/plan", { headers, signal }), signal)),
    placeholderData: (before) => before,
    retry: false,
    staleTime: 0,
  });

/** Keep what the shop says of itself, and have it planned anew. */
export function useSay() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (shop: Shop) => {
      const stamp = queries.getQueryData<Shape["WeekOut"]>(WEEK)?.stamp ?? "";
      return answer(client.PUT("/api/week", { params: { query: { stamp } }, body: shop }));
    },
    onSuccess: async ({ stamp }, shop) => {
      queries.setQueryData<Shape["WeekOut"]>(WEEK, (before) =>
        before ? { ...before, shop, stamp } : before,
      );
      await queries.invalidateQueries({ queryKey: PLAN });
    },
    // Somebody else may have changed it: it is shown as it is.
    onError: () => Promise.all([WEEK, PLAN].map((queryKey) => queries.invalidateQueries({ queryKey }))),
  });
}

export const sameStep = (
  one: { job: string; station?: string | null; step: string },
  other: { job: string; station?: string | null; step: string },
) => one.job === other.job && (one.station ?? null) === (other.station ?? null) && one.step === other.step;

/** The shop with a step held to a person and a day, or let go. */
export function withHeld(
  shop: Shop,
  step: Pick<Held, "job" | "station" | "step">,
  to: Pick<Held, "who" | "day"> | null,
): Shop {
  const others = (shop.held ?? []).filter((one) => !sameStep(one, step));
  const { job, station, step: key } = step;
  return { ...shop, held: to ? [...others, { job, station, step: key, ...to }] : others };
}

/** A day of the calendar as text, from its first and so many days after. */
export function dayAfter(first: string, days: number): string {
  const day = new Date(`${first}T12:00:00Z`);
  day.setUTCDate(day.getUTCDate() + days);
  return day.toISOString().slice(0, 10);
}

const noon = (day: string) => new Date(`${day}T12:00:00Z`);

/** A day as people write it: Fri 11 Dec. */
export const written = (day: string) =>
  noon(day).toLocaleDateString(undefined, {
    weekday: "short",
    day: "numeric",
    month: "short",
    timeZone: "UTC",
  });

/** Which day of the week a day is, Monday nought. */
export const weekday = (day: string) => (noon(day).getUTCDay() + 6) % 7;

/** Whole days from one day to another. */
export const apart = (one: string, other: string) =>
  Math.round((noon(other).getTime() - noon(one).getTime()) / 86_400_000);

/** The hour of a moment that is told as day and hour. */
export const hour = (moment: string) => moment.slice(11, 16);
export const dayOf = (moment: string) => moment.slice(0, 10);

/** When a job is done, with its interval, in the words of the shop. */
export function finishWords({ done, finish }: JobWeek): string {
  if (done) return "everything is done";
  const [, likely, late] = finish ?? [];
  if (!likely || !late) return "not as things stand: nobody here does one of its steps";
  return likely === late
    ? written(likely)
    : `${written(likely)}, as late as ${written(late)} one time in ten`;
}

/** By how many days a job's likely end has moved since another plan; nothing where either does not know it. */
export function slipped(now: JobWeek, before: Plan | null): number {
  const was = before?.jobs.find((one) => one.id === now.id)?.finish?.[1];
  const its = now.finish?.[1];
  return was && its ? apart(was, its) : 0;
}
