import type { Shape } from "../api/client";
import type { Part } from "./choosing";

const GAP = 26;

/** A plate at its own size in user units; its weakest place ringed where it is asked for. */
export function FlatShape({
  flat,
  weak,
  thin = 1,
}: {
  flat: Shape["FlatOut"];
  weak?: Shape["CheckOut"] | null;
  thin?: number;
}) {
  return (
    <g stroke="var(--color-soapstone)" fill="var(--color-dye)" strokeWidth={thin}>
      <path d={flat.path} />
      {flat.folds.map((fold) => (
        <path key={fold.path} d={fold.path} strokeDasharray={`${4 * thin} ${3 * thin}`} />
      ))}
      {flat.holes.map((hole) => (
        <g key={`${hole.what} ${hole.x} ${hole.y}`}>
          <HoleShape hole={hole} />
          <path
            d={`M${hole.x - hole.diameter / 4} ${-hole.y}h${hole.diameter / 2}M${hole.x} ${-hole.y - hole.diameter / 4}v${hole.diameter / 2}`}
            strokeWidth={thin / 2}
          />
        </g>
      ))}
      {weak && weak.x !== null && weak.y !== null && (
        <circle
          cx={weak.x}
          cy={-weak.y}
          r={14}
          fill="none"
          stroke="var(--color-marker)"
          strokeWidth={2 * thin}
        />
      )}
    </g>
  );
}

function HoleShape({ hole }: { hole: Shape["PlateHoleOut"] }) {
  const half = hole.diameter / 2;
  const [u, v] = hole.to ?? [];
  if (u === undefined || v === undefined) return <circle cx={hole.x} cy={-hole.y} r={half} />;
  const long = Math.hypot(u - hole.x, v - hole.y);
  const turned = (Math.atan2(-(v - hole.y), u - hole.x) * 180) / Math.PI;
  return (
    <rect
      x={-half}
      y={-half}
      width={long + hole.diameter}
      height={hole.diameter}
      rx={half}
      transform={`translate(${hole.x} ${-hole.y}) rotate(${turned})`}
    />
  );
}

/** A straight tube with what is screwed into it, or a run of tube laid out straight. */
export function TubeShape({ part, scale }: { part: Part; scale: number }) {
  const tube = part.tube;
  if (!tube) return null;
  const between = part.figures.find((one) => one.key === "centre_to_centre")?.value ?? null;
  const whole = between ?? tube.length;
  const half = (tube.outside / 2) * scale;
  const middle = Math.max(15, half + 7);
  const left = (GAP / 2) * scale;
  const right = left + whole * scale;
  const long = Math.max(0, tube.length) * scale;
  const start = left + ((whole - Math.max(0, tube.length)) / 2) * scale;
  return (
    <svg aria-hidden width={(whole + GAP) * scale} height={Math.max(30, tube.outside * scale + 14)}>
      <g stroke="var(--color-soapstone)" fill="none" strokeWidth={1.5}>
        {between !== null && (
          <path d={`M${left} ${middle}H${right}`} strokeWidth={Math.max(2, 9 * scale)} strokeOpacity={0.55} />
        )}
        <rect x={start} y={middle - half} width={long} height={2 * half} fill="var(--color-dye)" />
        <path d={`M${start} ${middle}H${start + long}`} strokeDasharray="10 4 2 4" strokeOpacity={0.6} />
        {between !== null &&
          [left, right].map((x) => (
            <g key={x}>
              <circle cx={x} cy={middle} r={8 * Math.min(1, scale * 1.4)} fill="var(--color-dye)" />
              <circle cx={x} cy={middle} r={3} />
            </g>
          ))}
      </g>
    </svg>
  );
}

/** How wide a part lies on the bench, mm. */
export function widthOf(part: Part): number {
  const between = part.figures.find((one) => one.key === "centre_to_centre")?.value ?? 0;
  return Math.max(part.flat?.box[2] ?? 0, part.tube ? Math.max(part.tube.length, between ?? 0) + GAP : 0);
}
