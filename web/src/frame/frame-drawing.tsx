import type { Project } from "../api/client";
import { spoken } from "../quantity/spoken";
import { type Paper, type Plan, project, toPaper } from "../views/projection";
import { useSize } from "../views/use-size";
import { BANDS, bandOf, type Carried } from "./frame";

interface Props {
  document: Project;
  found: Carried;
  /** The case whose movement is drawn, and how many times as large. */
  shown: Carried["cases"][number] | null;
  times: number;
  picked: string | null;
  onPick: (member: string) => void;
  plan: Plan;
}

const ROOM = 40;

/** The tubes over the linkage, by how near each is to its limit; as it moves in one case, dashed beside it. */
export function FrameDrawing({ document, found, shown, times, picked, onPick, plan }: Props) {
  const [ref, size] = useSize<HTMLDivElement>();
  // Named, never told by where they are drawn: from the side both sides lie on one another.
  const links = document.stations.flatMap((station) =>
    Object.entries(station.bodies).map(([body, points]) => ({
      name: `${station.name}/${body}`,
      points: points.map((name) => station.points[name] ?? [0, 0, 0]),
    })),
  );
  const units = document.stations.flatMap((station) =>
    (station.units ?? []).map((unit) => ({
      name: `${station.name}/${unit.name}`,
      points: unit.ends.map((name) => station.points[name] ?? [0, 0, 0]),
    })),
  );
  const near = document.stations.filter((one) =>
    found.mounts.some((its) => its.name.startsWith(`${one.name}/`)),
  );
  const around = near.flatMap((station) => Object.values(station.points));
  const flat = [...around, ...found.places, ...found.mounts.map((mount) => mount.at)].map((p) =>
    project(plan, 1, p),
  );
  const paper = paperOf(flat, size);
  const at = (p: readonly number[]) => toPaper(paper, project(plan, 1, p)).map((c) => c.toFixed(1));
  const line = (points: readonly (readonly number[])[]) => points.map((p) => at(p).join(",")).join(" ");
  const moved = (node: number) =>
    (found.places[node] ?? []).map((c, k) => c + times * (shown?.moves[node]?.[k] ?? 0));
  return (
    <div className="relative">
      <div ref={ref} className="h-[420px] bg-dye">
        {size.width > 0 && (
          <svg width={size.width} height={size.height} role="group" aria-label={`Frame, ${plan}`}>
            <g stroke="var(--color-scribe)" strokeOpacity="0.45" fill="none">
              {links.map(({ name, points }) => (
                <polyline key={name} points={line(points)} />
              ))}
              {units.map(({ name, points }) => (
                <polyline key={name} points={line(points)} strokeDasharray="2 3" strokeWidth="2" />
              ))}
            </g>
            {found.members.map((member) => {
              const band = bandOf(member.share);
              const ends = member.ends.map((node) => found.places[node] ?? []);
              const mine = picked === member.name;
              return (
                <g
                  key={member.name}
                  role="button"
                  aria-label={spoken(member.name)}
                  tabIndex={-1}
                  onClick={() => onPick(member.name)}
                  className="cursor-pointer"
                >
                  <polyline points={line(ends)} stroke="transparent" strokeWidth="18" />
                  <polyline
                    points={line(ends)}
                    fill="none"
                    stroke={band.color}
                    strokeDasharray={band.dash}
                    strokeWidth={Math.min(Math.max(4, member.outside * paper.scale), 14) + (mine ? 4 : 0)}
                  />
                  {shown && (
                    <polyline
                      points={line(member.ends.map(moved))}
                      fill="none"
                      stroke="var(--color-scribe)"
                      strokeDasharray="6 5"
                      strokeWidth="1.5"
                    />
                  )}
                </g>
              );
            })}
            {found.places.map((place, node) => {
              const name = found.names[node] ?? "";
              if (!(name in found.held)) return null;
              const [x, y] = at(place).map(Number);
              return (
                <path
                  key={name}
                  d={`M${x} ${y}l-9 14h18z`}
                  fill={found.held[name] === "fixed" ? "var(--color-scribe)" : "none"}
                  stroke="var(--color-scribe)"
                >
                  <title>{`${spoken(name)} is held, ${found.held[name]}`}</title>
                </path>
              );
            })}
            {found.mounts.map((mount) => {
              const [x, y] = at(mount.at);
              return (
                <circle
                  key={mount.name}
                  cx={x}
                  cy={y}
                  r="6"
                  fill="var(--color-dye)"
                  stroke="var(--color-marker)"
                  strokeWidth="2.5"
                >
                  <title>{spoken(mount.name)}</title>
                </circle>
              );
            })}
          </svg>
        )}
      </div>
      <ul
        aria-label="Key to the lines"
        className="flex flex-wrap gap-x-5 gap-y-1 bg-steel px-3 py-2 text-sm text-soapstone"
      >
        {BANDS.map((band) => (
          <li key={band.name} className="flex items-center gap-2">
            <svg width="36" height="8" aria-hidden>
              <path d="M0 4h36" stroke={band.color} strokeWidth="5" strokeDasharray={band.dash} />
            </svg>
            {band.name}
          </li>
        ))}
        <li>triangles: held; rings: mounts</li>
      </ul>
    </div>
  );
}

function paperOf(flat: [number, number][], size: { width: number; height: number }): Paper {
  const [us, vs] = [flat.map(([u]) => u), flat.map(([, v]) => v)];
  const [lowU, highU, lowV, highV] = [Math.min(...us), Math.max(...us), Math.min(...vs), Math.max(...vs)];
  const scale = Math.min(
    (size.width - 2 * ROOM) / Math.max(highU - lowU, 1),
    (size.height - 2 * ROOM) / Math.max(highV - lowV, 1),
  );
  return { scale: Math.max(scale, 0.01), middle: [(lowU + highU) / 2, (lowV + highV) / 2], ...size };
}
