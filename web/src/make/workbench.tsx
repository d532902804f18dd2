import type { ReactNode } from "react";
import { Mark } from "../marks/mark";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import type { Part } from "./choosing";
import { FlatShape, TubeShape, widthOf } from "./shapes";

const WIDE = 700;

interface Props {
  parts: Part[];
  picked: string;
  onPick: (key: string) => void;
}

export const keyOf = (part: { station: string; name: string }) => `${part.station}/${part.name}`;

/** Every part drawn to one scale, as it would lie on the bench. */
export function Workbench({ parts, picked, onPick }: Props) {
  const { quantity } = useUnits();
  const longest = Math.max(1, ...parts.map(widthOf));
  const scale = Math.min(1.4, WIDE / (longest + 20));
  const stations = [...new Set(parts.map((one) => one.station))];
  return (
    <>
      {stations.map((station) => (
        <section key={station} aria-label={`Parts of ${station}`} className="pb-3">
          <h2 className="pb-1 text-lg text-soapstone">{station}</h2>
          <div className="flex flex-wrap items-end gap-x-5 gap-y-3">
            {parts
              .filter((part) => part.station === station)
              .map((part) => (
                <PartButton key={part.name} part={part} here={picked === keyOf(part)} onPick={onPick}>
                  <span className="flex flex-wrap items-end gap-2">
                    {part.tube && part.tube.length > 0 && <TubeShape part={part} scale={scale} />}
                    {part.flat && <FlatOnBench part={part} scale={scale} />}
                    {!part.tube && !part.flat && (
                      <span className="text-sm text-chalk">
                        {part.mark === "fault" ? "cannot be drawn" : "bought, not cut"}
                      </span>
                    )}
                  </span>
                  <span className="sr-only">
                    {part.flat ? `, plate ${quantity(part.flat.thickness, "length")}` : ""}
                    {part.tube ? `, tube ${quantity(part.tube.length, "length")}` : ""}
                  </span>
                </PartButton>
              ))}
          </div>
        </section>
      ))}
    </>
  );
}

function FlatOnBench({ part, scale }: { part: Part; scale: number }) {
  if (!part.flat) return null;
  const [x = 0, y = 0, wide = 0, high = 0] = part.flat.box;
  return (
    <svg
      aria-hidden
      width={(wide + 4) * scale}
      height={(high + 4) * scale}
      viewBox={`${x - 2} ${y - 2} ${wide + 4} ${high + 4}`}
    >
      <FlatShape flat={part.flat} />
    </svg>
  );
}

function PartButton({
  part,
  here,
  onPick,
  children,
}: {
  part: Part;
  here: boolean;
  onPick: (key: string) => void;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      aria-pressed={here}
      onClick={() => onPick(keyOf(part))}
      className={`max-w-full overflow-hidden border-2 p-2 text-left text-soapstone ${here ? "border-marker" : "border-transparent"}`}
    >
      {children}
      <span className="mt-1 flex max-w-44 items-start gap-1.5 text-sm leading-tight">
        {part.mark !== "good" && <Mark mark={part.mark} size={18} />}
        <span>
          <span className="font-semibold">{part.count * part.hands} ×</span> {spoken(part.name)}
        </span>
      </span>
    </button>
  );
}
