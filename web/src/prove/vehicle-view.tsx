import { useUnits } from "../quantity/units";
import type { Proof, Stance } from "./proving";

const ROOM = 420;

/** The vehicle from above on its wheels: what each carries, how high each datum stands, wanted beside it. */
export function VehicleView({
  proof,
  stands,
  scales,
  heights,
}: {
  proof: Proof;
  stands: Stance;
  scales: Record<string, number>;
  heights: Record<string, number>;
}) {
  const { quantity } = useUnits();
  const xs = proof.wheels.map((wheel) => wheel.x);
  const ys = proof.wheels.map((wheel) => wheel.y);
  const low = [Math.min(...xs) - 700, Math.min(...ys, -600) - ROOM];
  const wide = Math.max(...ys, 600) + ROOM - (low[1] ?? 0);
  const tall = Math.max(...xs) + 700 - (low[0] ?? 0);
  const most = Math.max(1, ...Object.values(scales));
  // Ahead is up the sheet, left is left.
  const at = (x: number, y: number) => [wide - (y - (low[1] ?? 0)), tall - (x - (low[0] ?? 0))] as const;
  return (
    <svg
      role="img"
      aria-label="The vehicle on its wheels, from above"
      viewBox={`0 0 ${wide} ${tall}`}
      className="max-h-[440px] w-full"
    >
      <path
        d={`M${at(Math.max(...xs) + 350, 260).join(" ")}L${at(Math.max(...xs) + 350, -260).join(" ")}L${at(Math.min(...xs) - 350, -260).join(" ")}L${at(Math.min(...xs) - 350, 260).join(" ")}Z`}
        fill="none"
        stroke="var(--color-soapstone)"
        strokeOpacity={0.5}
        strokeWidth={8}
      />
      {proof.wheels.map((wheel) => {
        const [u, v] = at(wheel.x, wheel.y);
        const its = scales[wheel.key];
        const height = heights[wheel.key];
        const wanted = proof.datums[wheel.key];
        const outward = wheel.y > 20 ? -1 : 1;
        const lifted = stands.lifted.includes(wheel.key);
        return (
          <g key={wheel.key}>
            <rect
              x={u - 80}
              y={v - 280}
              width={160}
              height={560}
              rx={50}
              fill={lifted ? "none" : "var(--color-dye)"}
              stroke="var(--color-soapstone)"
              strokeWidth={10}
              strokeDasharray={lifted ? "30 20" : undefined}
            />
            {its !== undefined && (
              <rect
                x={u - 60}
                y={v + 260 - (520 * its) / most}
                width={120}
                height={(520 * its) / most}
                rx={30}
                fill="var(--color-marker)"
                fillOpacity={0.35}
              />
            )}
            <text x={u} y={v - 430} textAnchor="middle" fontSize={104} fill="var(--color-soapstone)">
              {wheel.key}
            </text>
            <text
              x={u}
              y={v - 310}
              textAnchor="middle"
              fontSize={124}
              fontWeight={700}
              fill="var(--color-soapstone)"
            >
              {its === undefined ? "–" : quantity(its, "mass")}
            </text>
            {height !== undefined && (
              <text
                x={u + outward * 60}
                y={v + 390}
                textAnchor="middle"
                fontSize={104}
                fill={
                  wanted !== undefined && Math.abs(wanted - height) > 2
                    ? "var(--color-marker)"
                    : "var(--color-soapstone)"
                }
              >
                {quantity(height, "length")} high
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}
