import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, client, type Project, type Shape, type Station } from "../api/client";
import { useResting } from "../bench/resting";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { SELDOM_MET } from "./figure-rows";

interface Props {
  document: Project;
  index: number;
  picked: string | null;
  onPick: (point: string) => void;
}

type Line = Shape["SensitivityOut"];

/** What a millimetre may be asked about: its change per mm, and how such a change is said. */
interface Asked {
  name: string;
  note?: string;
  per: (line: Line) => number;
  say: (by: number) => string;
}

const AXES = ["fore–aft", "out", "up"];
const MOST = 6;
const RESTS_MS = 450;

/** What one millimetre at each bracket does, to ride height first: which places to measure twice. */
export function Millimetre({ document, index, picked, onPick }: Props) {
  const { units } = useUnits();
  const asked = useAsked(document.stations[index] as Station);
  const [about, setAbout] = useState("");
  const still = useResting(document, RESTS_MS);
  const found = useQuery({
    queryKey: ["sensitivity", still, index],
    queryFn: () =>
      answer(
        client.POST("/api/sensitivity", {
          body: { document: still, station: index },
        }),
      ),
    placeholderData: keepPreviousData,
    gcTime: 0,
    retry: false,
  });
  const points = document.stations[index]?.points ?? {};
  // The file counts y to the left; "out" is away from the centreline on either side.
  const lines = (found.data ?? []).map((line) => {
    const inward = line.axis === 1 && (points[line.point]?.[1] ?? 0) < 0;
    return inward
      ? {
          ...line,
          ride: -line.ride,
          rate: -line.rate,
          ratios: turned(line.ratios),
          gaps: line.gaps.map((gap) => ({ ...gap, by: -gap.by })),
        }
      : line;
  });
  const inch = units.length !== "mm";
  const step = inch ? 1.5875 : 1;
  const said = inch ? "1/16″" : "1 mm";
  if (!lines.length) return null;
  const choices = asked(lines);
  const choice = choices.find((one) => one.name === about) ?? choices[0];
  if (!choice) return null;
  const ranked = [...lines]
    .filter((line) => choice.per(line) !== 0)
    .sort((a, b) => Math.abs(choice.per(b)) - Math.abs(choice.per(a)));
  const mine = lines.filter((line) => line.point === picked);
  return (
    <section aria-label="Measure these twice" className="mt-4 px-2">
      <h2 className="text-lg">Measure these twice</h2>
      <p className="pb-1 text-sm text-soft">
        What an error of {said} at one place further forward, out or up does, strongest first.
      </p>
      <select
        className="entry w-full"
        aria-label="What it does to"
        value={choice.name}
        onChange={(event) => setAbout(event.target.value)}
      >
        {choices.map((one) => (
          <option key={one.name}>{one.name}</option>
        ))}
      </select>
      {choice.note && <p className="pt-1 text-sm text-soft">{choice.note}</p>}
      <ol>
        {ranked.slice(0, MOST).map((line) => (
          <Row
            key={`${line.point} ${line.axis}`}
            line={line}
            does={choice.say(choice.per(line) * step)}
            onPick={onPick}
          />
        ))}
      </ol>
      {picked && mine.length > 0 && (
        <>
          <h3 className="pt-3 font-semibold">The picked point, {spoken(picked)}</h3>
          <ol>
            {[...mine]
              .sort((a, b) => a.axis - b.axis)
              .map((line) => (
                <Row key={line.axis} line={line} does={choice.say(choice.per(line) * step)} onPick={onPick} />
              ))}
          </ol>
        </>
      )}
    </section>
  );
}

const turned = (by: Record<string, number>) =>
  Object.fromEntries(Object.entries(by).map(([name, value]) => [name, -value]));

const AS_SET = "With the wheel brought back to the same height.";

/** What can be asked about: where it stands, each carrying unit's ratio, the wheel rate, the nearest gaps. */
function useAsked(station: Station): (lines: Line[]) => Asked[] {
  const { number, quantity } = useUnits();
  const carrying = (station.units ?? []).filter(({ kind }) => !SELDOM_MET.has(kind)).map(({ name }) => name);
  const size = (by: number, dimension: "length" | "rate", digits?: number) =>
    quantity(Math.abs(by), dimension, digits);
  return (lines) => {
    const gaps = new Map<string, { one: string; other: string }>();
    for (const { one, other } of lines.flatMap((line) => line.gaps))
      gaps.set(`Gap, ${spoken(one)} to ${spoken(other)}`, { one, other });
    return [
      {
        name: "Where it stands",
        per: (line) => line.ride,
        say: (by) => `${size(by, "length", 2)} ${by > 0 ? "lower" : "higher"}`,
      },
      ...carrying.map((unit) => ({
        name: `Motion ratio, ${spoken(unit)}`,
        note: AS_SET,
        per: (line: Line) => line.ratios[unit] ?? 0,
        say: (by: number) => `${number(Math.abs(by), "ratio", 4)} ${by > 0 ? "more" : "less"}`,
      })),
      {
        name: "Wheel rate",
        note: AS_SET,
        per: (line) => line.rate,
        say: (by) => `${size(by, "rate", 2)} ${by > 0 ? "stiffer" : "softer"}`,
      },
      ...[...gaps].map(([name, { one, other }]) => ({
        name,
        per: (line: Line) => line.gaps.find((gap) => gap.one === one && gap.other === other)?.by ?? 0,
        say: (by: number) => `${size(by, "length", 2)} ${by > 0 ? "wider" : "tighter"}`,
      })),
    ];
  };
}

interface RowProps {
  line: Line;
  does: string;
  onPick: (point: string) => void;
}

function Row({ line, does, onPick }: RowProps) {
  return (
    <li className="border-b border-rule">
      <button
        type="button"
        onClick={() => onPick(line.point)}
        className="flex min-h-[44px] w-full items-center justify-between gap-3 text-left"
      >
        <span>
          {spoken(line.point)}, {AXES[line.axis]}
        </span>
        <span className="whitespace-nowrap text-lg font-bold">{does}</span>
      </button>
    </li>
  );
}
