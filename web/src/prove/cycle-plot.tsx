import { useUnits } from "../quantity/units";
import type { Proof } from "./proving";

const WIDE = 760;
const TALL = 300;
const EDGE = 46;

/** A unit's length over wheel travel as drawn, and every length read beside it, ten times as far off as it is. */
export function CyclePlot({ proof, station, unit }: { proof: Proof; station: string; unit: string }) {
  const { marks, quantity } = useUnits();
  const curve = proof.curves.find((one) => one.station === station && one.unit === unit);
  if (!curve || curve.points.length < 2) return null;
  const rows = proof.cycles
    .filter((one) => one.station === station)
    .flatMap((one) => one.built.filter((row) => row.unit === unit));
  const odd = proof.cycles
    .filter((one) => one.station === station)
    .flatMap((one) => one.misread.filter((row) => row.unit === unit));
  const xs = curve.points.map(([z = 0]) => z);
  const ys = curve.points.map(([, long = 0]) => long);
  const [x0, x1] = [
    Math.min(...xs, ...[...rows, ...odd].map((row) => row.wheel)),
    Math.max(...xs, ...[...rows, ...odd].map((row) => row.wheel)),
  ];
  const [y0, y1] = [
    Math.min(...ys, ...[...rows, ...odd].map((row) => row.length)) - 4,
    Math.max(...ys, ...[...rows, ...odd].map((row) => row.length)) + 4,
  ];
  const x = (value: number) => EDGE + ((value - x0) / (x1 - x0 || 1)) * (WIDE - 2 * EDGE);
  const y = (value: number) => TALL - EDGE + 10 - ((value - y0) / (y1 - y0 || 1)) * (TALL - EDGE - 10);
  const line = curve.points.map(([z = 0, long = 0]) => `${x(z).toFixed(1)} ${y(long).toFixed(1)}`).join("L");
  return (
    <svg
      role="img"
      aria-label={`Length of ${unit} over wheel travel, drawn and read`}
      viewBox={`0 0 ${WIDE} ${TALL}`}
      className="w-full"
    >
      {marks(x0, x1, 6, "length").map((mark) => (
        <g key={`x${mark.value}`} stroke="#f4f1e633">
          <path d={`M${x(mark.value)} 8V${TALL - EDGE + 10}`} />
          <text
            x={x(mark.value)}
            y={TALL - 16}
            textAnchor="middle"
            fontSize={13}
            fill="var(--color-soapstone)"
            stroke="none"
          >
            {mark.words}
          </text>
        </g>
      ))}
      {marks(y0, y1, 4, "length").map((mark) => (
        <g key={`y${mark.value}`} stroke="#f4f1e633">
          <path d={`M${EDGE} ${y(mark.value)}H${WIDE - EDGE}`} />
          <text
            x={EDGE - 6}
            y={y(mark.value) + 4}
            textAnchor="end"
            fontSize={13}
            fill="var(--color-soapstone)"
            stroke="none"
          >
            {mark.words}
          </text>
        </g>
      ))}
      <text x={WIDE - EDGE} y={TALL - 2} textAnchor="end" fontSize={13} fill="var(--color-chalk)">
        wheel, from as drawn
      </text>
      <path d={`M${line}`} fill="none" stroke="var(--color-soapstone)" strokeWidth={2} />
      {rows.map((row) => (
        <g key={`${row.wheel} ${row.length}`}>
          <path
            d={`M${x(row.wheel)} ${y(row.drawn)}V${y(row.length)}`}
            stroke="var(--color-marker)"
            strokeWidth={1.5}
          />
          <circle cx={x(row.wheel)} cy={y(row.length)} r={5} fill="var(--color-marker)">
            <title>{`${quantity(row.length, "length")} read, ${quantity(row.drawn, "length")} drawn`}</title>
          </circle>
        </g>
      ))}
      {odd.map((row) => (
        <g key={`odd ${row.row}`} stroke="var(--color-marker)" strokeWidth={2.5} fill="none">
          <path d={`M${x(row.wheel) - 6} ${y(row.length) - 6}l12 12m0 -12l-12 12`}>
            <title>{`Row ${row.row}: ${quantity(row.length, "length")} read, the others say ${quantity(row.others, "length")}`}</title>
          </path>
        </g>
      ))}
    </svg>
  );
}
