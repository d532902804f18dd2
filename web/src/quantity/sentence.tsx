import type { components } from "../api/schema.gen";
import type { Dimension } from "./quantity";
import { spoken } from "./spoken";
import { useUnits } from "./units";

type Sentence = components["schemas"]["SentenceOut"];

/** Return a function that says a sentence with its quantities in the units in use. */
export function useSay(): (sentence: Sentence) => string {
  const { quantity } = useUnits();
  return (sentence) => {
    const said = sentence.words.replace(/\{(\w+)\}/g, (whole, key: string) => {
      const name = sentence.names[Number(key)];
      if (name !== undefined) return spoken(name);
      const found = sentence.quantities[key];
      if (!found) return whole;
      const told = quantity(
        found.value,
        found.measures as Dimension,
        found.measures === "angle" ? 1 : undefined,
      );
      // A number and its unit stay on one line.
      return told.replaceAll(" ", "\u00a0");
    });
    return said.charAt(0).toUpperCase() + said.slice(1);
  };
}
