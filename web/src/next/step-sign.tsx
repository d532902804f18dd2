import { ArrowRight, Check, Circle, Hourglass, RotateCcw, TriangleAlert } from "lucide-react";
import { STATES, type StepState } from "./steps";

const SIGNS = {
  done: [Check, "bg-good text-card"],
  next: [ArrowRight, "bg-marker text-jet"],
  may: [Circle, "border-2 border-edge text-ink"],
  waits: [Hourglass, "border border-rule text-soft"],
  not_yet: [TriangleAlert, "border-2 border-warning text-warning"],
  again: [RotateCcw, "bg-fault text-card"],
} as const;

/** How a step stands: a sign of its own, and its word for who does not see it. */
export function StepSign({ state, large = false }: { state: string; large?: boolean }) {
  const [Icon, look] = SIGNS[state as StepState];
  return (
    <span
      className={`inline-flex ${large ? "size-9" : "size-7"} shrink-0 items-center justify-center ${look}`}
    >
      <Icon size={large ? 22 : 17} strokeWidth={2.5} aria-hidden />
      <span className="sr-only">{STATES[state as StepState]}</span>
    </span>
  );
}
