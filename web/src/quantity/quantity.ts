/**
 * What people say and what the engine wants: the one place where units are converted.
 *
 * Everything inside is mm, N, N/mm, kg, degrees, bar. A field takes `11 5/8`, `365 mm`, `1' 2"`,
 * `240 lb/in`, `9.2 kgf/mm`, `35 psi`; a bare number is in the unit that is shown.
 */

export type Dimension =
  | "length"
  | "travel"
  | "force"
  | "rate"
  | "mass"
  | "angle"
  | "frequency"
  | "ratio"
  | "share"
  | "pressure"
  | "volume"
  | "area"
  | "direction"
  | "roll_stiffness";

export interface Units {
  length: "mm" | "in16" | "in";
  rate: "N/mm" | "lb/in" | "kgf/mm";
  mass: "kg" | "lb";
}

export const METRIC: Units = { length: "mm", rate: "N/mm", mass: "kg" };
export const INCH: Units = { length: "in16", rate: "lb/in", mass: "lb" };

const INCH_MM = 25.4;
const POUND_KG = 0.45359237;
const POUND_N = 4.4482216152605;
const KGF_N = 9.80665;
const PSI_BAR = 0.0689475729317831;

type Family =
  | "length"
  | "force"
  | "rate"
  | "mass"
  | "angle"
  | "pressure"
  | "frequency"
  | "ratio"
  | "volume"
  | "area"
  | "roll_stiffness";

const FACTORS: Record<Family, Record<string, number>> = {
  length: {
    mm: 1,
    cm: 10,
    m: 1000,
    in: INCH_MM,
    inch: INCH_MM,
    inches: INCH_MM,
    '"': INCH_MM,
    ft: 304.8,
    "'": 304.8,
  },
  force: { n: 1, kn: 1000, kgf: KGF_N, lbf: POUND_N, lb: POUND_N, lbs: POUND_N },
  rate: {
    "n/mm": 1,
    "n/m": 0.001,
    "kgf/mm": KGF_N,
    "kg/mm": KGF_N,
    "lb/in": POUND_N / INCH_MM,
    "lbs/in": POUND_N / INCH_MM,
    "lbf/in": POUND_N / INCH_MM,
  },
  mass: { kg: 1, g: 0.001, t: 1000, lb: POUND_KG, lbs: POUND_KG },
  angle: { "°": 1, deg: 1, degrees: 1 },
  pressure: { bar: 1, psi: PSI_BAR, kpa: 0.01 },
  frequency: { hz: 1 },
  // The file holds mm³; a litre is a million of them.
  volume: {
    l: 1e6,
    litre: 1e6,
    litres: 1e6,
    ml: 1e3,
    "cm³": 1e3,
    cc: 1e3,
    "in³": INCH_MM ** 3,
    cuin: INCH_MM ** 3,
    gal: 231 * INCH_MM ** 3,
  },
  area: { "mm²": 1, "cm²": 100, "in²": INCH_MM ** 2 },
  roll_stiffness: { "n·m/°": 1 },
  ratio: { "%": 0.01, "": 1 },
};

function family(dimension: Dimension): Family {
  if (dimension === "travel") return "length";
  if (dimension === "share" || dimension === "direction") return "ratio";
  return dimension;
}

/** The unit a bare number is in, and that numbers are shown with. */
export function unitOf(dimension: Dimension, units: Units): string {
  switch (dimension) {
    case "length":
    case "travel":
      return units.length === "mm" ? "mm" : "in";
    case "rate":
      return units.rate;
    case "mass":
      return units.mass;
    case "force":
      return units.mass === "lb" ? "lbf" : "N";
    case "pressure":
      return units.length === "mm" ? "bar" : "psi";
    case "angle":
      return "°";
    case "frequency":
      return "Hz";
    case "share":
      return "%";
    case "volume":
      return units.length === "mm" ? "l" : "in³";
    case "roll_stiffness":
      return "N·m/°";
    case "area":
      return units.length === "mm" ? "mm²" : "in²";
    case "ratio":
    case "direction":
      return "";
  }
}

function factorOf(dimension: Dimension, units: Units): number {
  return FACTORS[family(dimension)][unitOf(dimension, units).toLowerCase()] ?? 1;
}

export type Parsed = { value: number; said: string } | { fault: string };

const NUMBER = String.raw`(?:\d+(?:\.\d*)?|\.\d+)`;
const MIXED = /^(?:(\d+)[\s-]+)?(\d+)\s*\/\s*(\d+)/;
const PLAIN = new RegExp(`^${NUMBER}`);

/** Read what was typed; the value is in the engine's unit. */
export function parseQuantity(text: string, dimension: Dimension, units: Units): Parsed {
  let rest = text
    .trim()
    .replaceAll("−", "-")
    .replaceAll("”", '"')
    .replaceAll("″", '"')
    .replaceAll("’", "'")
    .replaceAll("′", "'");
  if (!rest) return { fault: "Type a number." };
  if (/\d,\d{3}(?!\d)/.test(rest))
    return { fault: "A comma could mean two things here: write 1250 or 1.25." };
  rest = rest.replace(/(\d),(\d)/g, "$1.$2");
  let sign = 1;
  if (/^[+-]/.test(rest)) {
    sign = rest.startsWith("-") ? -1 : 1;
    rest = rest.slice(1).trim();
  }
  const said: string[] = [];
  let total = 0;
  let pieces = 0;
  while (rest) {
    const piece = readPiece(rest, dimension, units, pieces > 0);
    if ("fault" in piece) return piece;
    total += piece.value;
    said.push(piece.said);
    rest = piece.rest;
    pieces += 1;
    if (pieces > 1 && (family(dimension) !== "length" || pieces > 2))
      return { fault: `“${text.trim()}” is more than one number.` };
  }
  if (!Number.isFinite(total)) return { fault: "That number is too large." };
  return { value: sign * total, said: `${sign < 0 ? "−" : ""}${said.join(" ")}` };
}

type Piece = { value: number; said: string; rest: string } | { fault: string };

function readPiece(text: string, dimension: Dimension, units: Units, second: boolean): Piece {
  const mixed = MIXED.exec(text);
  const plain = PLAIN.exec(text);
  const found = mixed ?? plain;
  if (!found) return { fault: `“${text}” is not a number.` };
  if (mixed && Number(mixed[3]) === 0) return { fault: "A fraction cannot have 0 below the line." };
  const number = mixed ? Number(mixed[1] ?? 0) + Number(mixed[2]) / Number(mixed[3]) : Number(found[0]);
  const after = text.slice(found[0].length).trim();
  const unit = /^(?:["']|[^\d\s.+-][^\s\d]*)/.exec(after)?.[0] ?? "";
  const factors = FACTORS[family(dimension)];
  if (unit && !(unit.toLowerCase() in factors)) {
    return { fault: `“${unit}” is not a unit for this. Use ${unitList(dimension)}.` };
  }
  // Workshops write fractions in inches whatever the sheet is set to.
  const inches = mixed !== null || second;
  const shown = unit || (family(dimension) === "length" && inches ? "in" : unitOf(dimension, units));
  const factor = factors[shown.toLowerCase()] ?? factorOf(dimension, units);
  return {
    value: number * factor,
    said: `${found[0]} ${shown}`.trim(),
    rest: after.slice(unit.length).trim(),
  };
}

function unitList(dimension: Dimension): string {
  const names: Record<Family, string> = {
    length: "mm, cm, m, in or ft",
    force: "N, kN, kgf or lbf",
    rate: "N/mm, kgf/mm or lb/in",
    mass: "kg, g, t or lb",
    angle: "°",
    pressure: "bar, psi or kPa",
    frequency: "Hz",
    ratio: "%",
    volume: "l, ml, cm³, in³ or gal",
    area: "mm², cm² or in²",
    roll_stiffness: "N·m/°",
  };
  return names[family(dimension)];
}

/** Inches as people say them: whole, and the nearest sixteenth (or finer) in lowest terms. */
export function sixteenths(inches: number, finest = 16): string {
  const total = Math.round(Math.abs(inches) * finest);
  const whole = Math.floor(total / finest);
  let top = total % finest;
  let below = finest;
  while (top && top % 2 === 0) {
    top /= 2;
    below /= 2;
  }
  const sign = inches < 0 && total > 0 ? "−" : "";
  if (!top) return `${sign}${whole}`;
  return whole ? `${sign}${whole} ${top}/${below}` : `${sign}${top}/${below}`;
}

function digitsOf(dimension: Dimension, units: Units): number {
  switch (dimension) {
    case "length":
    case "travel":
      return units.length === "mm" ? 1 : 3;
    case "rate":
      return units.rate === "lb/in" ? 0 : units.rate === "kgf/mm" ? 2 : 1;
    case "mass":
      return 1;
    case "pressure":
      return units.length === "mm" ? 2 : 0;
    case "angle":
    case "frequency":
    case "volume":
      return 2;
    case "ratio":
    case "direction":
      return 3;
    case "area":
      return units.length === "mm" ? 0 : 2;
    case "share":
    case "force":
    case "roll_stiffness":
      return 0;
  }
}

/** Below this, in the engine's own units, a number is nothing at any bench; above it, it never shows as 0. */
const NOTHING: Record<Family, number> = {
  length: 0.005,
  force: 0.05,
  rate: 0.0005,
  mass: 0.0005,
  angle: 0.0005,
  pressure: 0.0005,
  frequency: 0.0005,
  ratio: 0.00005,
  volume: 1,
  area: 0.05,
  roll_stiffness: 0.005,
};
const MOST_DIGITS = 6;

/** The number alone, as it is shown; the minus is a real minus, and travel always says its sign. */
export function formatNumber(value: number, dimension: Dimension, units: Units, digits?: number): string {
  const nothing = Math.abs(value) < NOTHING[family(dimension)];
  const shown = nothing ? 0 : value / factorOf(dimension, units);
  const sign = nothing ? "" : value < 0 ? "−" : dimension === "travel" ? "+" : "";
  const size = Math.abs(shown);
  if (family(dimension) === "length" && units.length === "in16") {
    for (const finest of [16, 32]) {
      const text = sixteenths(size, finest);
      if (text !== "0") return sign + text;
    }
    return nothing ? "0" : sign + finer(size, 3);
  }
  const text = size.toFixed(digits ?? digitsOf(dimension, units));
  if (Number(text) !== 0 || nothing) return sign + text;
  return sign + finer(size, (digits ?? digitsOf(dimension, units)) + 1);
}

/** What is not nothing in as many digits as it takes to show. */
function finer(size: number, from: number): string {
  for (let digits = from; digits < MOST_DIGITS; digits++) {
    const text = size.toFixed(digits);
    if (Number(text) !== 0) return text;
  }
  return size.toPrecision(1);
}

/** Places for a scale's marks that are round in the unit shown: in the engine's unit, from low to high. */
export function roundMarks(
  low: number,
  high: number,
  count: number,
  dimension: Dimension,
  units: Units,
): number[] {
  const factor = factorOf(dimension, units);
  const span = Math.abs(high - low) / factor;
  if (!(span > 0) || !Number.isFinite(span)) return [];
  const wanted = span / Math.max(count, 1);
  const inches = family(dimension) === "length" && units.length === "in16";
  const step = inches ? (INCH_STEPS.find((one) => one >= wanted) ?? roundStep(wanted)) : roundStep(wanted);
  const first = Math.ceil(Math.min(low, high) / factor / step - 1e-9);
  const last = Math.floor(Math.max(low, high) / factor / step + 1e-9);
  return Array.from({ length: Math.max(last - first + 1, 0) }, (_, k) => (first + k) * step * factor);
}

const INCH_STEPS = [1 / 16, 1 / 8, 1 / 4, 1 / 2, 1, 2, 3, 6, 12];

/** One, two or five of a power of ten, not less than wanted. */
function roundStep(wanted: number): number {
  const power = 10 ** Math.floor(Math.log10(wanted));
  const lead = wanted / power;
  return (lead <= 1 ? 1 : lead <= 2 ? 2 : lead <= 5 ? 5 : 10) * power;
}

/** As many digits as the steps between marks need. */
export function digitsOfMarks(marks: number[], dimension: Dimension, units: Units): number {
  const step = Math.abs((marks[1] ?? 1) - (marks[0] ?? 0)) / factorOf(dimension, units);
  return step > 0 ? Math.max(0, Math.min(4, -Math.floor(Math.log10(step) + 1e-9))) : 0;
}

/** A quantity with its unit. */
export function formatQuantity(value: number, dimension: Dimension, units: Units, digits?: number): string {
  const unit = unitOf(dimension, units);
  const number = formatNumber(value, dimension, units, digits);
  if (!unit) return number;
  // In a sentence "1/8 in in bump" is a stumble; the inch mark is not.
  if (unit === "in") return `${number}″`;
  return unit === "°" || unit === "%" ? number + unit : `${number} ${unit}`;
}
