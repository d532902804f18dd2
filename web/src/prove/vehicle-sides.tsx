import { useUnits } from "../quantity/units";
import type { Proof, Stance } from "./proving";

interface Props {
  proof: Proof;
  stands: Stance;
  scales: Record<string, number>;
  heights: Record<string, number>;
  /** What stands under its wheels, mm. */
  blocks: Record<string, number>;
}

/** The vehicle from its left and from its right on the floor, to scale: the body as it leans, each wheel's figures. */
export function VehicleSides(props: Props) {
  return (
    <div className="grid gap-2">
      <Side {...props} left />
      <Side {...props} left={false} />
    </div>
  );
}

const OVERHANG = 420;
const BODY = 380;
const TEXT = 96;

function Side({ proof, stands, scales, heights, blocks, left }: Props & { left: boolean }) {
  const { quantity } = useUnits();
  const its = proof.wheels
    .filter((wheel) => (left ? wheel.y >= -20 : wheel.y <= 20))
    .sort((one, other) => other.x - one.x);
  const [first, last] = [its[0], its.at(-1)];
  if (!first || !last) return null;
  const xs = proof.wheels.map((wheel) => wheel.x);
  const [back, front] = [Math.min(...xs) - OVERHANG, Math.max(...xs) + OVERHANG];
  const most = Math.max(...proof.wheels.map((wheel) => wheel.high));
  const wide = front - back + 400;
  const tall = 2 * most + BODY + 5 * TEXT;
  // From the left the front is on the left, from the right on the right.
  const across = (x: number) => 200 + (left ? front - x : x - back);
  const up = (z: number) => tall - 2.6 * TEXT - z;
  // Where the body stands over its drawn place: by what was read, else as it is worked out.
  const rise = (key: string) =>
    (blocks[key] ?? 0) -
    (stands.travels[key] ?? 0) +
    (heights[key] ?? stands.heights[key] ?? 0) -
    (stands.heights[key] ?? 0);
  const floorOfBody = (x: number) => {
    const span = first.x - last.x;
    const share = span > 1 ? (x - last.x) / span : 0;
    return most * 0.8 + rise(last.key) + share * (rise(first.key) - rise(last.key));
  };
  const corners: [number, number][] = [
    [front, floorOfBody(front)],
    [front, floorOfBody(front) + BODY * 0.55],
    [front - (front - back) * 0.3, floorOfBody(front - (front - back) * 0.3) + BODY],
    [back, floorOfBody(back) + BODY],
    [back, floorOfBody(back)],
  ];
  return (
    <svg
      role="img"
      aria-label={`The vehicle on the floor, from its ${left ? "left" : "right"}`}
      viewBox={`0 0 ${wide} ${tall}`}
      className="max-h-[220px] w-full"
    >
      <text x={40} y={TEXT} fontSize={TEXT} fill="var(--color-chalk)">
        From the {left ? "left" : "right"}
      </text>
      <path d={`M40 ${up(0)}H${wide - 40}`} stroke="var(--color-scribe)" strokeWidth={10} />
      <path
        d={`M${corners.map(([x, z]) => `${across(x)} ${up(z)}`).join("L")}Z`}
        fill="var(--color-soapstone)"
        fillOpacity={0.08}
        stroke="var(--color-soapstone)"
        strokeWidth={9}
        strokeLinejoin="round"
      />
      {its.map((wheel) => {
        const height = heights[wheel.key];
        const wanted = proof.datums[wheel.key];
        const off = height !== undefined && wanted !== undefined && Math.abs(wanted - height) > 2;
        const lifted = stands.lifted.includes(wheel.key);
        const block = blocks[wheel.key] ?? 0;
        return (
          <g key={wheel.key}>
            {block > 0 && (
              <rect
                x={across(wheel.x) - wheel.high * 0.7}
                y={up(block)}
                width={wheel.high * 1.4}
                height={block}
                fill="var(--color-soapstone)"
                fillOpacity={0.5}
                stroke="var(--color-scribe)"
                strokeWidth={8}
              />
            )}
            <circle
              cx={across(wheel.x)}
              cy={up(wheel.high + block + (lifted ? 60 : 0))}
              r={wheel.high}
              fill="var(--color-dye)"
              stroke="var(--color-scribe)"
              strokeWidth={14}
              strokeDasharray={lifted ? "40 26" : undefined}
            />
            <text
              x={across(wheel.x)}
              y={up(wheel.high + block) + TEXT / 3}
              textAnchor="middle"
              fontSize={TEXT}
              fontWeight={700}
              fill="var(--color-soapstone)"
            >
              {scales[wheel.key] === undefined ? "–" : quantity(scales[wheel.key] ?? 0, "mass")}
            </text>
            {height !== undefined && (
              <text
                x={across(wheel.x)}
                y={up(0) + TEXT * 1.15}
                textAnchor="middle"
                fontSize={TEXT}
                fill={off ? "var(--color-marker)" : "var(--color-soapstone)"}
              >
                {quantity(height, "length")} high
              </text>
            )}
            {wanted !== undefined && (
              <text
                x={across(wheel.x)}
                y={up(0) + TEXT * 2.2}
                textAnchor="middle"
                fontSize={TEXT * 0.9}
                fill="var(--color-chalk)"
              >
                wanted {quantity(wanted, "length")}
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}
