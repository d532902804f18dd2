import { extent } from "d3-array";
import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import type { Station, StationView } from "../api/client";
import { placeOf, valueAt } from "../jack/travel";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { useSize } from "../views/use-size";

interface Props {
  station: Station;
  view: StationView;
  travel: number;
  /** The unit that carries: its force is drawn against its own stroke. */
  unit: string;
}

/** Force against the unit's own length: where it stands, and where it ends. */
export function ForcePicture({ station, view, travel, unit }: Props) {
  const [ref, size] = useSize<HTMLDivElement>();
  const { quantity, unit: unitName, marks: marksOf } = useUnits();
  const part = (station.units ?? []).find((its) => its.name === unit);
  const trace = view.units[unit];
  if (!part || !trace) return null;
  const rows = view.travels
    .map((z, k) => ({ z, length: trace.length[k], force: trace.force[k] }))
    .filter(
      (row): row is { z: number; length: number; force: number } =>
        row.length != null &&
        row.force != null &&
        row.z >= -station.travel.droop - 1e-6 &&
        row.z <= station.travel.bump + 1e-6,
    );
  const [shortest = 0, longest = 1] = extent(rows, (row) => row.length);
  const most = Math.max(...rows.map((row) => row.force), 1);
  const x = scaleLinear([longest, shortest], [58, Math.max(size.width - 18, 59)]);
  const y = scaleLinear([0, most * 1.12], [Math.max(size.height - 44, 1), 34]);
  const draw = line<(typeof rows)[number]>(
    (row) => x(row.length),
    (row) => y(row.force),
  );
  const here = placeOf(view.travels, travel);
  const now = { length: valueAt(trace.length, here), force: valueAt(trace.force, here) };
  const ride = view.ride?.units[unit];
  const locks = (view.crossovers[unit] ?? []).filter(
    (lock) => lock.length <= longest && lock.length >= shortest,
  );
  const marks = [...view.ledger.bump, ...view.ledger.droop]
    .filter((event) => event.travel <= station.travel.bump && event.travel >= -station.travel.droop)
    .map((event) => ({ event, length: valueAt(trace.length, placeOf(view.travels, event.travel)) }));
  return (
    <div ref={ref} className="relative h-full min-h-64 bg-dye">
      {size.width > 0 && (
        <svg
          role="img"
          aria-label={`Force of the ${spoken(unit)} against its length`}
          width={size.width}
          height={size.height}
          className="absolute inset-0 text-scribe"
          fill="var(--color-scribe)"
        >
          {marksOf(0, most * 1.12, 5, "force").map((tick) => (
            <g key={tick.value}>
              <path
                d={`M58 ${y(tick.value)}H${size.width - 18}`}
                stroke="var(--color-scribe)"
                opacity={0.16}
              />
              <text x={52} y={y(tick.value) + 4} fontSize={12} textAnchor="end">
                {tick.words}
              </text>
            </g>
          ))}
          {marksOf(shortest, longest, 6, "length").map((tick) => (
            <text key={tick.value} x={x(tick.value)} y={size.height - 26} fontSize={12} textAnchor="middle">
              {tick.words}
            </text>
          ))}
          <text x={10} y={16} fontSize={13}>
            force, {unitName("force")}
          </text>
          <text x={58} y={size.height - 8} fontSize={13}>
            {`← droop · between the mounts, ${unitName("length")} · bump →`}
          </text>
          {marks.map(
            ({ event, length }, k) =>
              length !== null && (
                <g key={`${event.kind} ${event.subjects.join(" ")}`}>
                  <path
                    d={`M${x(length)} 26V${size.height - 44}`}
                    stroke="var(--color-soapstone)"
                    strokeDasharray="3 4"
                    opacity={0.8}
                  />
                  <text
                    x={x(length) + 4}
                    y={40 + (k % 4) * 15}
                    fontSize={12}
                    textAnchor={x(length) > size.width * 0.75 ? "end" : "start"}
                    dx={x(length) > size.width * 0.75 ? -8 : 0}
                  >
                    {event.short}
                  </text>
                </g>
              ),
          )}
          <path d={draw(rows) ?? ""} fill="none" stroke="var(--color-scribe)" strokeWidth={2.6} />
          {locks.map((lock) => (
            <g key={lock.spring}>
              <circle cx={x(lock.length)} cy={y(lock.force)} r={5} fill="var(--color-scribe)" />
              <text x={x(lock.length) - 9} y={y(lock.force) - 9} fontSize={13} textAnchor="end">
                coil {lock.spring + 1} stops giving
              </text>
            </g>
          ))}
          {ride?.length != null && ride.force != null && (
            <g>
              <circle
                cx={x(ride.length)}
                cy={y(ride.force)}
                r={7}
                fill="none"
                stroke="var(--color-ride)"
                strokeWidth={3}
              />
              <text
                x={x(ride.length) + 12}
                y={y(ride.force) + 18}
                fontSize={13}
                fontWeight={600}
                fill="var(--color-ride)"
              >
                ride {quantity(ride.force, "force")}
              </text>
            </g>
          )}
          {now.length !== null && now.force !== null && (
            <circle
              cx={x(now.length)}
              cy={y(now.force)}
              r={7}
              fill="var(--color-marker)"
              stroke="var(--color-jet)"
              strokeWidth={1.6}
            />
          )}
        </svg>
      )}
    </div>
  );
}
