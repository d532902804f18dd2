/** What a part of the project file can have said of it, as the engine publishes it. */

import type { Dimension } from "../quantity/quantity";
import published from "./parts.gen.json";

interface Published {
  type?: string;
  const?: string;
  enum?: string[];
  anyOf?: Published[];
  $ref?: string;
  items?: Published;
  minItems?: number;
  maxItems?: number;
  description?: string;
  default?: unknown;
  minimum?: number;
  exclusiveMinimum?: number;
  maximum?: number;
  "x-measures"?: string;
  "x-columns"?: string[];
}

/** One field: what kind of value it takes, and between what. */
export interface Field extends Published {
  key: string;
  name: string;
  hint: string;
  optional: boolean;
  kind: "number" | "choice" | "yes or no" | "table" | "direction" | "part" | "parts" | "other";
}

export type Part = keyof typeof published;

const NAMES: Record<string, string> = {
  adjust: "Adjuster range",
  bore: "Inside",
  gas_force: "Gas force, extended",
  gas_force_compressed: "Gas force, compressed",
  height_table: "Area over height",
  law: "Gas exponent",
  load: "Load that stretches it so",
  max_diameter: "Widest",
  max_height: "Greatest height",
  max_pressure: "Rated pressure",
  min_height: "Least height",
  seat: "Seats made for coils of",
  solid: "Fully squashed after",
  stop: "Crossover ring at",
  stretch: "Stretch at full load",
  table: "Force over deflection",
  tip: "End of its arm",
};

/** Every field of a part but its name, its kind and where it ends, in the file's own order. */
export function fieldsOf(part: Part): Field[] {
  const properties = published[part].properties as Record<string, Published>;
  return Object.entries(properties)
    .filter(([key]) => !["name", "kind", "ends"].includes(key))
    .map(([key, said]) => described(key, said));
}

function described(key: string, said: Published): Field {
  const either = said.anyOf?.find((one) => one.type !== "null");
  const whole = { ...either, ...said };
  const words = key.replaceAll("_", " ");
  const name = NAMES[key] ?? words.charAt(0).toUpperCase() + words.slice(1);
  return {
    ...whole,
    key,
    name,
    hint: hinted(said.description ?? ""),
    optional: Boolean(said.anyOf),
    kind: kindOf(whole),
  };
}

/** The description without the file's own unit, which the field shows in everybody's own. */
function hinted(description: string): string {
  if (description.startsWith("[[")) return "";
  return description.replace(/^(mm|N·m|N|degrees|bar gauge)(?![\w/·²])[,;]? ?/, "").replaceAll("`", "");
}

function kindOf(field: Published): Field["kind"] {
  if (field["x-measures"] === "direction") return "direction";
  if (field["x-columns"]) return "table";
  if (field.enum) return "choice";
  if (field.type === "boolean") return "yes or no";
  if (field.type === "number") return "number";
  if (field.$ref) return "part";
  if (field.type === "array" && field.items?.$ref) return "parts";
  return "other";
}

export function measured(field: Published): Dimension {
  return (field["x-measures"] ?? "ratio") as Dimension;
}

/** What is wrong with a number here, in words; null where nothing is. */
export function refused(field: Published, value: number): string | null {
  if (field.exclusiveMinimum !== undefined && !(value > field.exclusiveMinimum))
    return `It must be more than ${field.exclusiveMinimum}.`;
  if (field.minimum !== undefined && value < field.minimum)
    return field.minimum === 0 ? "It cannot be negative." : `It must be at least ${field.minimum}.`;
  if (field.maximum !== undefined && value > field.maximum) return "That is more than any part has.";
  return null;
}
