import { type KeyboardEvent, type PointerEvent, useRef } from "react";
import type { Shape } from "../api/client";

type Picture = Shape["PhotographOut"];
type Corner = Shape["CornerOut"];
type Hole = { at: number[]; to?: number[]; diameter: number };

/** The picture with what was found in it; a corner is dragged, or moved by key. */
export function CardPhoto({
  job,
  picture,
  corners,
  holes,
  picked,
  onPicked,
  onCorners,
  onPoint,
}: {
  job: string;
  picture: Picture;
  corners: Corner[];
  holes: Hole[];
  picked: number | null;
  onPicked: (one: number | null) => void;
  onCorners: (corners: Corner[]) => void;
  onPoint: (at: [number, number]) => void;
}) {
  const held = useRef<number | null>(null);
  const sheet = useRef<SVGSVGElement>(null);
  const scale = picture.mm_per_pixel ?? 1;
  const pixel = (at: number[]) => [(at[0] ?? 0) / scale, picture.height - (at[1] ?? 0) / scale] as const;
  const where = (event: PointerEvent): [number, number] => {
    const area = sheet.current?.getBoundingClientRect() ?? { left: 0, top: 0, width: 1, height: 1 };
    return [
      ((event.clientX - area.left) / area.width) * picture.width,
      ((event.clientY - area.top) / area.height) * picture.height,
    ];
  };
  const put = (k: number, at: number[]) =>
    onCorners(corners.map((corner, n) => (n === k ? { ...corner, at } : corner)));
  const reach = Math.max(picture.width, picture.height) / 90;
  const line = corners
    .map((corner, k) => {
      const [x, y] = pixel(corner.at);
      const [u, v] = pixel(corners[(k + 1) % corners.length]?.at ?? corner.at);
      const to = corner.bulge
        ? `A${arcRadius(x, y, u, v, corner.bulge)} ${arcRadius(x, y, u, v, corner.bulge)} 0 ${Math.abs(corner.bulge) > 1 ? 1 : 0} ${corner.bulge > 0 ? 0 : 1} ${u} ${v}`
        : `L${u} ${v}`;
      return `${k ? "" : `M${x} ${y}`}${to}`;
    })
    .join("");
  const nudge = (event: KeyboardEvent, k: number) => {
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
    const corner = corners[k];
    if (!way || !corner) return;
    event.preventDefault();
    const step = event.shiftKey ? 1 : 0.1;
    put(k, [(corner.at[0] ?? 0) + (way[0] ?? 0) * step, (corner.at[1] ?? 0) + (way[1] ?? 0) * step]);
  };
  return (
    <svg
      ref={sheet}
      role="application"
      aria-label="The picture: point at the card; drag a corner, or move it by arrow keys"
      viewBox={`0 0 ${picture.width} ${picture.height}`}
      className="max-h-full max-w-full touch-none"
      style={{ aspectRatio: `${picture.width} / ${picture.height}` }}
      data-testid="card-photo"
      onPointerDown={(event) => {
        if (held.current === null && !(event.target as Element).hasAttribute("data-corner"))
          onPoint(where(event));
      }}
      onPointerMove={(event) => {
        if (held.current === null) return;
        const [x, y] = where(event);
        put(held.current, [x * scale, (picture.height - y) * scale]);
      }}
      onPointerUp={() => {
        held.current = null;
      }}
    >
      <image
        href={`/api/jobs/${job}/photographs/${picture.id}.jpg`}
        width={picture.width}
        height={picture.height}
      />
      {corners.length > 0 && (
        <path
          d={`${line}Z`}
          fill="#ffd40022"
          stroke="var(--color-marker)"
          strokeWidth={2}
          vectorEffect="non-scaling-stroke"
        />
      )}
      {holes.map((hole) => {
        const [x, y] = pixel(hole.at);
        return (
          <path
            key={hole.at.join()}
            d={slotPath(x, y, ...pixel(hole.to ?? hole.at), hole.diameter / 2 / scale)}
            fill="none"
            stroke="var(--color-marker)"
            strokeWidth={2}
            vectorEffect="non-scaling-stroke"
          />
        );
      })}
      {corners.map((corner, k) => {
        const [x, y] = pixel(corner.at);
        return (
          // biome-ignore lint/a11y/noStaticElementInteractions: a corner on the picture is moved by pointer and by key
          <circle
            // biome-ignore lint/suspicious/noArrayIndexKey: corners stand in their order
            key={k}
            data-corner={k}
            cx={x}
            cy={y}
            r={reach}
            tabIndex={0}
            aria-label={`Corner ${k + 1}`}
            fill={picked === k ? "var(--color-marker)" : "#11151a88"}
            stroke="var(--color-marker)"
            strokeWidth={2}
            vectorEffect="non-scaling-stroke"
            onFocus={() => onPicked(k)}
            onKeyDown={(event) => nudge(event, k)}
            onPointerDown={(event) => {
              event.stopPropagation();
              held.current = k;
              onPicked(k);
              sheet.current?.setPointerCapture(event.pointerId);
            }}
          />
        );
      })}
    </svg>
  );
}

function arcRadius(x: number, y: number, u: number, v: number, bulge: number): number {
  return (Math.hypot(u - x, v - y) * (1 + bulge * bulge)) / (4 * Math.abs(bulge));
}

/** A slot round both its ends; a round hole where they are one place. */
function slotPath(x: number, y: number, u: number, v: number, r: number): string {
  const turn = Math.atan2(v - y, u - x);
  const [a, b] = [-Math.sin(turn) * r, Math.cos(turn) * r];
  return `M${x + a} ${y + b}A${r} ${r} 0 0 1 ${x - a} ${y - b}L${u - a} ${v - b}A${r} ${r} 0 0 1 ${u + a} ${v + b}Z`;
}
