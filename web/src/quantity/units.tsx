import { createContext, type ReactNode, useCallback, useContext, useMemo, useState } from "react";
import { keep, kept as keptText } from "../api/storage";
import {
  type Dimension,
  digitsOfMarks,
  formatNumber,
  formatQuantity,
  METRIC,
  roundMarks,
  type Units,
  unitOf,
} from "./quantity";

interface UnitsInUse {
  units: Units;
  choose: (units: Units) => void;
}

const Context = createContext<UnitsInUse>({ units: METRIC, choose: () => {} });

function kept(job: string): Units {
  try {
    return { ...METRIC, ...JSON.parse(keptText(`jugatrix-units-${job}`) ?? "{}") };
  } catch {
    return METRIC;
  }
}

/** Holds the units a job is read in; each job remembers its own. */
export function UnitsOfJob({ job, children }: { job: string; children: ReactNode }) {
  const [units, setUnits] = useState(() => kept(job));
  const choose = useCallback(
    (next: Units) => {
      keep(`jugatrix-units-${job}`, JSON.stringify(next));
      setUnits(next);
    },
    [job],
  );
  return <Context value={useMemo(() => ({ units, choose }), [units, choose])}>{children}</Context>;
}

/** The units in use, and how numbers are shown in them. */
export function useUnits() {
  const { units, choose } = useContext(Context);
  return useMemo(
    () => ({
      units,
      choose,
      number: (value: number, dimension: Dimension, digits?: number) =>
        formatNumber(value, dimension, units, digits),
      quantity: (value: number, dimension: Dimension, digits?: number) =>
        formatQuantity(value, dimension, units, digits),
      unit: (dimension: Dimension) => unitOf(dimension, units),
      /** Marks for a scale, round in the unit shown, each with its number. */
      marks: (low: number, high: number, count: number, dimension: Dimension) => {
        const at = roundMarks(low, high, count, dimension, units);
        const digits = digitsOfMarks(at, dimension, units);
        return at.map((value) => ({ value, words: formatNumber(value, dimension, units, digits) }));
      },
    }),
    [units, choose],
  );
}

/** The two ends of a scale's domain. */
export function ends(scale: { domain: () => number[] }): [number, number] {
  const [low = 0, high = 1] = scale.domain();
  return [low, high];
}
