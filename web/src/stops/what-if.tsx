import { Slider } from "radix-ui";
import type { Station } from "../api/client";
import { setUnit } from "../bench/edits";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";

type Unit = NonNullable<Station["units"]>[number];

/** What may be tried without changing anything: by what name, on which units, and how far each way, mm. */
interface Trial {
  key: string;
  name: string;
  more: string;
  less: string;
  reach: number;
  apply: (station: Station, by: number) => Station;
}

/** What is tried now, mm by trial. */
export type Tried = Record<string, number>;

/** Return the trials that a station offers; units that are alike on both sides go together. */
export function trialsOf(station: Station): Trial[] {
  const units = station.units ?? [];
  const trials: Trial[] = [];
  const taken = new Set<string>();
  for (const unit of units) {
    const its = KINDS[unit.kind];
    if (!its || taken.has(unit.name)) continue;
    const alike = units.filter((other) => other.kind === unit.kind && its.value(other) === its.value(unit));
    for (const other of alike) taken.add(other.name);
    trials.push({
      key: unit.name,
      name: alike.map((other) => spoken(other.name)).join(", "),
      more: its.more,
      less: its.less,
      reach: 30,
      apply: (s, by) =>
        alike.reduce(
          (sum, other) =>
            setUnit(sum, other.name, { [its.field]: Math.round((its.value(other) + by) * 10) / 10 }),
          s,
        ),
    });
  }
  for (const way of ["bump", "droop"] as const)
    trials.push({
      key: `wanted ${way}`,
      name: `${way} wanted`,
      more: "more",
      less: "less",
      reach: Math.min(40, Math.floor(station.travel[way])),
      apply: (s, by) => ({ ...s, travel: { ...s.travel, [way]: Math.max(0, s.travel[way] + by) } }),
    });
  return trials.filter((trial) => trial.reach > 0);
}

const KINDS: Partial<
  Record<Unit["kind"], { field: string; more: string; less: string; value: (unit: Unit) => number }>
> = {
  strap: {
    field: "length",
    more: "longer",
    less: "shorter",
    value: (unit) => (unit.kind === "strap" ? unit.length : 0),
  },
  bump_stop: {
    field: "contact",
    more: "touches earlier",
    less: "touches later",
    value: (unit) => (unit.kind === "bump_stop" ? unit.contact : 0),
  },
  coilover: {
    field: "preload",
    more: "more preload",
    less: "less preload",
    value: (unit) => (unit.kind === "coilover" ? (unit.preload ?? 0) : 0),
  },
};

/** The station with everything tried put on it. */
export function withTried(station: Station, tried: Tried): Station {
  return trialsOf(station).reduce((its, trial) => {
    const by = tried[trial.key] ?? 0;
    return by ? trial.apply(its, by) : its;
  }, station);
}

interface Props {
  station: Station;
  tried: Tried;
  onTried: (tried: Tried) => void;
  onKeep: () => void;
}

/** What if? Sliders that show what would happen, and change nothing until it is kept. */
export function WhatIf({ station, tried, onTried, onKeep }: Props) {
  const { quantity } = useUnits();
  const any = Object.values(tried).some((by) => by !== 0);
  return (
    <section aria-label="What if" className="no-print border-b border-rule py-3">
      <h2 className="text-lg">What if?</h2>
      <p className="text-sm text-soft">Nothing is changed until you keep it.</p>
      {trialsOf(station).map((trial) => {
        const by = tried[trial.key] ?? 0;
        const said =
          by === 0
            ? "as it is"
            : `${quantity(Math.abs(by), "length", 0)} ${by > 0 ? trial.more : trial.less}`;
        return (
          <div key={trial.key} className="grid grid-cols-[1fr_1fr] items-center gap-3 py-0.5">
            <span className="leading-tight">
              {trial.name}
              <span className="block text-sm text-soft">{said}</span>
            </span>
            <Slider.Root
              className="relative flex h-11 touch-none select-none items-center"
              min={-trial.reach}
              max={trial.reach}
              step={1}
              value={[by]}
              onValueChange={([to]) => onTried({ ...tried, [trial.key]: to ?? 0 })}
            >
              <Slider.Track className="relative h-2 flex-1 bg-rule">
                <i className="absolute left-1/2 top-[-4px] block h-4 w-px bg-ink" />
              </Slider.Track>
              <Slider.Thumb
                aria-label={`What if, ${trial.name}`}
                aria-valuetext={said}
                className="flex h-11 w-11 items-center justify-center before:block before:h-9 before:w-6 before:border-2 before:border-jet before:bg-marker before:content-['']"
              />
            </Slider.Root>
          </div>
        );
      })}
      <div className="flex gap-2 pt-1">
        <button type="button" className="press press-main" disabled={!any} onClick={onKeep}>
          Keep it
        </button>
        <button type="button" className="press" disabled={!any} onClick={() => onTried({})}>
          Put it back
        </button>
      </div>
    </section>
  );
}
