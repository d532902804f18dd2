import type { Plan } from "./projection";

/** Which end of which unit is being placed, and the plan that its places are shaded on. */
export interface Placing {
  unit: string;
  end: string;
  plan: Plan;
}
