import type { Project, Station } from "../api/client";
import { editStation } from "../bench/edits";
import { QuantityField } from "../quantity/quantity-field";
import { useUnits } from "../quantity/units";
import { useSize } from "../views/use-size";
import { type DatumSpot, type VehicleLines, vehicleLines, type WheelSpot } from "./vehicle-lines";

interface Props {
  document: Project;
  index: number;
  edit: (change: (document: Project) => Project, key?: string) => void;
  onStation: (index: number) => void;
}

const EDGE = 64;
const HEAD = 30;
const FIELD = 118;
/** What a wheel's field takes above or below it, px. */
const ROOM = 50;
/** As wide as this, the two views stand beside each other; narrower, one under the other. */
const ABREAST = 900;
const TALLEST = 320;
/** A line of writing for each part still to come, px. */
const PART = 22;

/** The vehicle from its left side and from above, to one scale: what each wheel carries is set where it stands. */
export function VehicleDrawing({ document, index, edit, onStation }: Props) {
  const [ref, size] = useSize<HTMLDivElement>();
  const lines = vehicleLines(document);
  if (!lines) return null;
  const long = lines.high[0] - lines.low[0];
  const tall = lines.top - lines.floor;
  const wide = lines.high[1] - lines.low[1];
  const abreast = size.width >= ABREAST;
  const column = abreast ? size.width / 2 : size.width;
  const scale = Math.min((column - 2 * EDGE) / Math.max(long, 1), TALLEST / Math.max(wide, tall, 1));
  const above = HEAD + lines.parts.length * PART;
  const plan = ROOM + wide * scale + ROOM + 8;
  const planTop = HEAD + ROOM + (abreast ? 0 : tall * scale + above + 14);
  const height = planTop - ROOM + Math.max(plan, abreast ? above + tall * scale + 20 : 0);
  const along = (mm: number, centre: number) => centre - (mm - (lines.high[0] + lines.low[0]) / 2) * scale;
  const x = (mm: number) => along(mm, column / 2);
  const planX = (mm: number) => along(mm, size.width - column / 2);
  // Abreast, the side view stands as low as the plan reaches.
  const sideTop = abreast ? Math.max(above, (height - tall * scale) / 2) : above;
  const z = (mm: number) => sideTop + (lines.top - mm) * scale;
  const y = (mm: number) => planTop + (mm - lines.low[1]) * scale;
  const spots = placeFields(
    lines.wheels
      .filter((wheel) => !wheel.image)
      .map((wheel) => ({
        name: wheel.name,
        left: Math.min(Math.max(planX(wheel.at[0]) - FIELD / 2, 4), size.width - FIELD - 4),
        top:
          y(wheel.at[1]) +
          (wheel.at[1] >= 0 ? (wheel.width / 2) * scale + 3 : -(wheel.width / 2) * scale - 47),
      })),
  );
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
            <path d={`M20 ${z(lines.floor)}H${column - 20}`} stroke="var(--color-scribe)" strokeWidth={1.4} />
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
            <Parts lines={lines} document={document} wide={column - 4} x={x} z={z} />
            <text x={size.width - column + 12} y={abreast ? 18 : planTop - ROOM - 8} fontSize={13}>
              From above
            </text>
            <path
              d={`M${size.width - column + EDGE / 2} ${y(0)}H${size.width - EDGE / 2}`}
              stroke="var(--color-scribe)"
              strokeDasharray="14 5 3 5"
              opacity={0.55}
            />
            {lines.wheels.map((wheel) => (
              <rect
                key={wheel.name}
                x={planX(wheel.at[0] + wheel.radius)}
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
                {...(spots[wheel.name] ?? { left: 0, top: 0 })}
                onPick={() => onStation(wheel.station)}
                onMass={(corner) =>
                  edit(
                    (doc) => editStation(doc, wheel.station, (its) => withMass(its, corner)),
                    `mass ${wheel.station}`,
                  )
                }
              />
            ))}
          {shownOf(lines).map((datum) => (
            <div
              key={`${datum.station} ${datum.name}`}
              className="absolute text-soapstone [&_span]:text-soapstone"
              style={{ left: datumAt(lines, datum, x) - 8, top: z(lines.floor) + 4, width: FIELD }}
            >
              <QuantityField
                label={`Height at ${datum.name}, ${document.stations[datum.station]?.name}`}
                value={datum.height}
                dimension="length"
                check={(mm) => (mm > 0 && mm <= 5000 ? null : "It stands above the floor, by less than 5 m.")}
                onCommit={(height) =>
                  edit(
                    (doc) =>
                      editStation(doc, datum.station, (its) => ({
                        ...its,
                        datum: { name: datum.name, height },
                      })),
                    `datum ${datum.station}`,
                  )
                }
              />
            </div>
          ))}
        </>
      )}
    </div>
  );
}

/** Fields beside their wheels; one that would lie on another steps aside along the vehicle. */
function placeFields(
  wanted: { name: string; left: number; top: number }[],
): Record<string, { left: number; top: number }> {
  const placed: Record<string, { left: number; top: number }> = {};
  for (const { name, left, top } of wanted) {
    const clash = Object.values(placed).find(
      (its) => Math.abs(its.left - left) < FIELD && Math.abs(its.top - top) < ROOM - 6,
    );
    placed[name] = { left: clash ? clash.left + FIELD + 6 : left, top };
  }
  return placed;
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
      className={`absolute text-soapstone [&_span]:text-soapstone ${picked ? "outline outline-2 outline-[var(--color-marker)]" : ""}`}
      style={{ left, top, width: FIELD }}
      onFocus={onPick}
    >
      <QuantityField
        label={`Mass on ${wheel.name}`}
        value={wheel.mass}
        dimension="mass"
        check={(kg) => (kg > 0 && kg <= 50_000 ? null : "The load on a wheel must be more than zero.")}
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

/** The datums that the left side shows; those of the right side stand behind them. */
function shownOf(lines: VehicleLines): DatumSpot[] {
  return lines.datums.filter((datum) => datum.y >= -20);
}

/** Where a datum's line stands: clear of the tyre, towards the middle of the vehicle. */
function datumAt(lines: VehicleLines, datum: DatumSpot, x: (mm: number) => number): number {
  const tyre = lines.wheels.find((wheel) => wheel.station === datum.station)?.radius ?? 0;
  const inward = datum.x > (lines.high[0] + lines.low[0]) / 2 ? -1 : 1;
  return x(datum.x + inward * tyre) - inward * 10 + (inward < 0 ? 0 : -FIELD);
}

/** Heights above the floor at the places that the shop measures them. */
function Datums({ lines, x, z }: Drawn) {
  return shownOf(lines).map((datum) => {
    const at = datumAt(lines, datum, x);
    return (
      <g key={`${datum.station} ${datum.name}`} stroke="var(--color-soapstone)" fill="var(--color-soapstone)">
        <path d={`M${at} ${z(lines.floor)}V${z(lines.floor + datum.height)}m-8 0h16`} fill="none" />
        <text x={at + 8} y={z(lines.floor + datum.height) - 5} fontSize={12} stroke="none">
          {datum.name}
        </text>
      </g>
    );
  });
}

const LETTER_PX = 6.6;

/** Words beside a mark: after it, or before it where they would run off the drawing; the last of them only where there is room. */
function Said({ at, y, words, wide }: { at: number; y: number; words: [string, string]; wide: number }) {
  const [short, more] = words;
  const off = 12;
  const long = (text: string) => text.length * LETTER_PX;
  const fits = (text: string) => at + off + long(text) <= wide || at - off >= long(text);
  const said = fits(short + more) ? short + more : short;
  const before = at + off + long(said) > wide && at - off >= long(said);
  return (
    <text
      x={before ? at - off : at + off}
      textAnchor={before ? "end" : "start"}
      y={y}
      fontSize={12.5}
      stroke="none"
    >
      {said}
    </text>
  );
}

/** Parts still to come where the stations that carry them put them, and the centre of gravity where it is given. */
function Parts({ lines, document, wide, x, z }: Drawn & { document: Project; wide: number }) {
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
          <Said
            at={x(along)}
            y={z(middle) + 4}
            words={[`centre of gravity, ${quantity(height, "length")}`, " up"]}
            wide={wide}
          />
        </g>
      )}
      {lines.parts.map(
        (part, k) =>
          part.x !== null && (
            <g key={part.name} stroke="var(--color-marker)" fill="var(--color-marker)">
              <path
                d={`M${x(part.x)} ${z(lines.top) - 24 - k * PART}l7 7-7 7-7-7Z`}
                fill="none"
                strokeWidth={2}
                strokeDasharray="3 2"
              />
              <Said
                at={x(part.x)}
                y={z(lines.top) - 13 - k * PART}
                words={[`${part.name}, ${quantity(part.mass, "mass")}`, " to come"]}
                wide={wide}
              />
            </g>
          ),
      )}
    </>
  );
}
