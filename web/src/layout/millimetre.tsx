import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answer, client, type Project, type Shape } from "../api/client";
import { useResting } from "../bench/resting";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";

interface Props {
  document: Project;
  index: number;
  picked: string | null;
  onPick: (point: string) => void;
}

type Line = Shape["SensitivityOut"];

const AXES = ["fore–aft", "out", "up"];
const MOST = 6;

/** What one millimetre at each bracket does to ride height: which places to measure twice. */
export function Millimetre({ document, index, picked, onPick }: Props) {
  const { units, quantity } = useUnits();
  const still = useResting(document);
  const found = useQuery({
    queryKey: ["sensitivity", still, index],
    queryFn: () =>
      answer(
        client.POST("/api/sensitivity", {
          body: { document: still as unknown as Record<string, unknown>, station: index },
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
    return inward ? { ...line, ride: -line.ride } : line;
  });
  const inch = units.length !== "mm";
  const step = inch ? 1.5875 : 1;
  const said = inch ? "1/16″" : "1 mm";
  if (!lines.length) return null;
  const mine = lines.filter((line) => line.point === picked);
  return (
    <section aria-label="Measure these twice" className="mt-4 px-2">
      <h2 className="text-lg">Measure these twice</h2>
      <p className="pb-1 text-sm text-soft">
        What an error of {said} at one place further forward, out or up does to where the vehicle stands,
        strongest first.
      </p>
      <ol>
        {lines.slice(0, MOST).map((line) => (
          <Row
            key={`${line.point} ${line.axis}`}
            line={line}
            step={step}
            quantity={quantity}
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
                <Row key={line.axis} line={line} step={step} quantity={quantity} onPick={onPick} />
              ))}
          </ol>
        </>
      )}
    </section>
  );
}

interface RowProps {
  line: Line;
  step: number;
  quantity: ReturnType<typeof useUnits>["quantity"];
  onPick: (point: string) => void;
}

function Row({ line, step, quantity, onPick }: RowProps) {
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
        <span className="whitespace-nowrap text-lg font-bold">
          {quantity(Math.abs(line.ride * step), "length", 2)} {line.ride > 0 ? "lower" : "higher"}
        </span>
      </button>
    </li>
  );
}
