import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answer, client, type Project, type Shape } from "../api/client";
import { followed } from "../api/working";
import type { SurveyInHand } from "../survey/store";

export type Proof = Shape["ProofOut"];
export type Stance = Shape["StanceOut"];

/** The document in hand proved by its records; both as they are on the screen. */
export function useProof(document: Project, hand: SurveyInHand) {
  // Rows come faster than they can be worked out: the last ones are asked for when the hand rests.
  const records = useDeferred(hand.records);
  const body = {
    document,
    records: records.map((one) => one.body),
  };
  return useQuery({
    queryKey: ["prove", body],
    queryFn: ({ signal }) =>
      answer(followed("prove", (headers) => client.POST("/api/prove", { body, headers, signal }), signal)),
    enabled: hand.loaded,
    placeholderData: (before) => before,
    retry: false,
    gcTime: 0,
  });
}

const RESTS_MS = 700;

function useDeferred<T>(value: T): T {
  const [slow, setSlow] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSlow(value), RESTS_MS);
    return () => clearTimeout(timer);
  }, [value]);
  return slow;
}

/** A key of its own for a new record. */
export const newKey = () =>
  `${Date.now().toString(36)}-${crypto.getRandomValues(new Uint32Array(1))[0]?.toString(36) ?? ""}`;

export const now = () => new Date().toISOString();

export interface Row {
  wheel: number;
  lengths: Record<string, number>;
}

export type Cycle = Shape["CycleRecord"];

/** A quarter turn is as fine as a spanner goes. */
export function quarterTurns(turns: number): string {
  const quarters = Math.round(Math.abs(turns) * 4);
  const whole = Math.floor(quarters / 4);
  const part = ["", "¼", "½", "¾"][quarters % 4];
  if (!quarters) return "leave it";
  return `${turns > 0 ? "+" : "−"}${whole || !part ? whole : ""}${part} ${quarters > 4 ? "turns" : "turn"}`;
}
