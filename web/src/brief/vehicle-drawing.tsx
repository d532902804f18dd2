import type { Project, Station } from "../api/client";
import { editStation } from "../bench/edits";
import { QuantityField } from "../quantity/quantity-field";
import { useUnits } from "../quantity/units";
import { useSize } from "../views/use-size";
import { type VehicleLines, vehicleLines, type WheelSpot } from "./vehicle-lines";

interface Props {
  document: Project;
  index: number;
  edit: (change: (document: Project) => Project, key?: string) => void;
  onStation: (index: number) => void;
}

const EDGE = 96;
const HEAD = 26;
const GAP = 30;
const FIELD = 118;

/** The vehicle from its left side and from above, to one scale: what each wheel carries is set where it stands. */
export function VehicleDrawing({ document, index, edit, onStation }: Props) {
  const [ref, size] = useSize<HTMLDivElement>();
  const lines = vehicleLines(document);
  if (!lines) return null;
  const long = lines.high[0] - lines.low[0];
  const tall = lines.top - lines.floor;
  const wide = lines.high[1] - lines.low[1];
  const scale = Math.min((size.width - 2 * EDGE) / Math.max(long, 1), 520 / (tall + wide + 700));
  const height = HEAD + tall * scale + GAP + HEAD + wide * scale + 58;
  const x = (mm: number) => size.width / 2 - (mm - (lines.high[0] + lines.low[0]) / 2) * scale;
  const z = (mm: number) => HEAD + (lines.top - mm) * scale;
  const planTop = HEAD + tall * scale + GAP + HEAD + 24;
  const y = (mm: number) => planTop + (mm - lines.low[1]) * scale;
  return (
    <div ref={ref} className="relative overflow-hidden bg-dye" style={{ height: size.width ? height : 420 }}>
      {size.width > 0 && (
        <>
          <svg
            role="img"
            aria-label="The vehicle from its left side and from above, front to the left"
            width={size.width}
            height={height}
            className="absolute inset-0 text-soapstone"
            fill="currentColor"
          >
            <text x={12} y={18} fontSize={13}>
              Left side, front to the left
            </text>
            <path
              d={`M20 ${z(lines.floor)}H${size.width - 20}`}
              stroke="var(--color-scribe)"
              strokeWidth={1.4}
            />
            {lines.wheels
              .filter((wheel) => wheel.at[1] >= -20)
              .map((wheel) => (
                <circle
                  key={wheel.name}
                  cx={x(wheel.at[0])}
                  cy={z(wheel.at[2])}
                  r={wheel.radius * scale}
                  fill="none"
                  stroke={wheel.station === index ? "var(--color-marker)" : "var(--color-scribe)"}
                  strokeWidth={wheel.station === index ? 3 : 2}
                />
              ))}
            <Datums lines={lines} x={x} z={z} />
            <Parts lines={lines} document={document} x={x} z={z} />
            <text x={12} y={planTop - 30} fontSize={13}>
              From above
            </text>
            <path
              d={`M${EDGE / 2} ${y(0)}H${size.width - EDGE / 2}`}
              stroke="var(--color-scribe)"
              strokeDasharray="14 5 3 5"
              opacity={0.55}
            />
            {lines.wheels.map((wheel) => (
              <rect
                key={wheel.name}
                x={x(wheel.at[0] + wheel.radius)}
                y={y(wheel.at[1] - wheel.width / 2)}
                width={2 * wheel.radius * scale}
                height={wheel.width * scale}
                fill="none"
                stroke={wheel.station === index ? "var(--color-marker)" : "var(--color-scribe)"}
                strokeWidth={wheel.station === index ? 3 : 2}
                strokeDasharray={wheel.image ? "5 4" : undefined}
              />
            ))}
          </svg>
          {lines.wheels
            .filter((wheel) => !wheel.image)
            .map((wheel) => (
              <Carried
                key={wheel.name}
                wheel={wheel}
                picked={wheel.station === index}
                left={Math.min(Math.max(x(wheel.at[0]) - FIELD / 2, 4), size.width - FIELD - 4)}
                top={
                  y(wheel.at[1]) +
                  (wheel.at[1] >= 0 ? (wheel.width / 2) * scale + 3 : -(wheel.width / 2) * scale - 47)
                }
                onPick={() => onStation(wheel.station)}
                onMass={(corner) =>
                  edit(
                    (doc) => editStation(doc, wheel.station, (its) => withMass(its, corner)),
                    `mass ${wheel.station}`,
                  )
                }
              />
            ))}
        </>
      )}
    </div>
  );
}

function withMass(station: Station, corner: number): Station {
  return { ...station, mass: { ...station.mass, corner } };
}

/** What one wheel carries, set where it stands. */
function Carried({
  wheel,
  picked,
  left,
  top,
  onPick,
  onMass,
}: {
  wheel: WheelSpot;
  picked: boolean;
  left: number;
  top: number;
  onPick: () => void;
  onMass: (kg: number) => void;
}) {
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: focus within picks the station; the field itself is the control
    <div
      className={`absolute ${picked ? "outline outline-2 outline-[var(--color-marker)]" : ""}`}
      style={{ left, top, width: FIELD }}
      onFocus={onPick}
    >
      <QuantityField
        label={`Mass on ${wheel.name}`}
        value={wheel.mass}
        dimension="mass"
        check={(kg) => (kg > 0 && kg <= 50_000 ? null : "A wheel carries more than nothing.")}
        onCommit={onMass}
      />
    </div>
  );
}

interface Drawn {
  lines: VehicleLines;
  x: (mm: number) => number;
  z: (mm: number) => number;
}

/** Heights above the floor at the places that the shop measures them. */
function Datums({ lines, x, z }: Drawn) {
  const { quantity } = useUnits();
  return lines.datums.map((datum) => {
    const at = x(datum.x) + (datum.x > (lines.high[0] + lines.low[0]) / 2 ? 1 : -1) * 46;
    return (
      <g key={`${datum.station} ${datum.name}`} stroke="var(--color-soapstone)" fill="var(--color-soapstone)">
        <path d={`M${at} ${z(lines.floor)}V${z(lines.floor + datum.height)}m-8 0h16`} fill="none" />
        <text x={at + 8} y={z(lines.floor + datum.height / 2) + 4} fontSize={13} stroke="none">
          {quantity(datum.height, "length")}
        </text>
        <text x={at + 8} y={z(lines.floor + datum.height) - 5} fontSize={12} stroke="none">
          {datum.name}
        </text>
      </g>
    );
  });
}

/** Parts still to come where the stations that carry them put them, and the centre of gravity where it is given. */
function Parts({ lines, document, x, z }: Drawn & { document: Project }) {
  const { quantity } = useUnits();
  const height = document.vehicle?.cg_height;
  const middle = lines.floor + (height ?? (lines.top - lines.floor) * 0.75);
  const whole = lines.wheels.reduce((sum, wheel) => sum + wheel.mass, 0);
  const along = lines.wheels.reduce((sum, wheel) => sum + wheel.mass * wheel.at[0], 0) / whole;
  return (
    <>
      {height !== undefined && (
        <g stroke="var(--color-soapstone)" fill="var(--color-soapstone)">
          <circle cx={x(along)} cy={z(middle)} r={8} fill="none" />
          <path d={`M${x(along) - 8} ${z(middle)}h16M${x(along)} ${z(middle) - 8}v16`} />
          <text x={x(along) + 13} y={z(middle) + 4} fontSize={12.5} stroke="none">
            centre of gravity, {quantity(height, "length")} up; {quantity(whole, "mass")} in all
          </text>
        </g>
      )}
      {lines.parts.map(
        (part, k) =>
          part.x !== null && (
            <g key={part.name} stroke="var(--color-marker)" fill="var(--color-marker)">
              <path
                d={`M${x(part.x)} ${z(middle) - 26 - k * 22}l7 7-7 7-7-7Z`}
                fill="none"
                strokeWidth={2}
                strokeDasharray="3 2"
              />
              <text x={x(part.x) + 12} y={z(middle) - 15 - k * 22} fontSize={12.5} stroke="none">
                {part.name}, {quantity(part.mass, "mass")} to come
              </text>
            </g>
          ),
      )}
    </>
  );
}
