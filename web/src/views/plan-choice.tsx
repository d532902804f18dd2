import type { Plan } from "./projection";

const PLANS: Plan[] = ["front", "side", "top"];

/** Which plan is drawn. */
export function PlanChoice({ plan, onPlan }: { plan: Plan; onPlan: (plan: Plan) => void }) {
  return (
    <fieldset className="flex">
      <legend className="sr-only">What is drawn</legend>
      {PLANS.map((name) => (
        <button
          key={name}
          type="button"
          aria-pressed={plan === name}
          className="press -ml-px px-3 aria-pressed:border-press aria-pressed:bg-press aria-pressed:text-white"
          onClick={() => onPlan(name)}
        >
          {name}
        </button>
      ))}
    </fieldset>
  );
}
