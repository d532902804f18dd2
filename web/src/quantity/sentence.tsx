import type { components } from "../api/schema.gen";
import type { Dimension } from "./quantity";
import { useUnits } from "./units";

type Sentence = components["schemas"]["SentenceOut"];

/** Return a function that says a sentence with its quantities in the units in use. */
export function useSay(): (sentence: Sentence) => string {
  const { quantity } = useUnits();
  return (sentence) =>
    sentence.words.replace(/\{(\w+)\}/g, (whole, name: string) => {
      const found = sentence.quantities[name];
      return found
        ? quantity(found.value, found.measures as Dimension, found.measures === "angle" ? 1 : undefined)
        : whole;
    });
}
