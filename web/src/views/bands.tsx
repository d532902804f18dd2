/** Every place one end could stand, shaded on a plan: where the damper keeps stroke at both ends, and the ratio. */

import { extent } from "d3-array";
import { contours } from "d3-contour";
import { scaleLinear } from "d3-scale";
import { useMemo } from "react";
import { client, type Project, type Shape } from "../api/client";
import { useAsked } from "../bench/asked";
import { COUNT, HALF_MM } from "./places-size";
import type { Placing } from "./placing";
import { type Paper, type Plan, project, type Side, toPaper } from "./projection";

export type PlacesMap = Shape["PlacesOut"] & { plan: Plan; point: number[] };

/** The map of a unit's places in a plan, or null while none is asked for. */
export function usePlaces(document: Project, index: number, placing: Placing | null): PlacesMap | null {
  const point = (document.stations[index]?.points[placing?.end ?? ""] ?? null) as number[] | null;
  const asked = {
    unit: placing?.unit ?? "",
    end: placing?.end ?? "",
    plan: placing?.plan ?? ("front" as const),
    half: HALF_MM,
    count: COUNT,
  };
  const found = useAsked(
    "places",
    document,
    index,
    (body) => client.POST("/api/places", { body: { ...body, ...asked } }),
    placing !== null && point !== null,
    [placing],
  );
  return useMemo(
    () => (placing && point && found.data ? { ...found.data, plan: placing.plan, point } : null),
    [placing, point, found.data],
  );
}

interface Props {
  map: PlacesMap;
  plan: Plan;
  side: Side;
  paper: Paper;
}

export function Bands({ map, plan, side, paper }: Props) {
  if (map.plan !== plan) return null;
  const count = map.across.length;
  const axes = { front: [1, 2], side: [0, 2], top: [0, 1] }[plan] as [number, number];
  const spot = (i: number, j: number): [number, number] => {
    const place = [...map.point];
    // Contours count from the corner of the first cell; places stand in the middle of theirs.
    place[axes[0]] = between(map.across, i - 0.5);
    place[axes[1]] = between(map.up, j - 0.5);
    return toPaper(paper, project(plan, side, place));
  };
  const shape = (rings: number[][][][]) =>
    rings
      .flatMap((polygon) =>
        polygon.map(
          (ring) =>
            `M${ring
              .map(([i = 0, j = 0]) =>
                spot(i, j)
                  .map((v) => v.toFixed(1))
                  .join(" "),
              )
              .join("L")}Z`,
        ),
      )
      .join("");
  const last = map.across.length - 0.5;
  const top = map.up.length - 0.5;
  const onEdge = ([i = 0, j = 0]: number[]) => i <= 0.5 || j <= 0.5 || i >= last || j >= top;
  /** A line without the parts that only run along the edge of the map. */
  const open = (rings: number[][][][]) =>
    rings
      .flat()
      .flatMap((ring) =>
        ring.slice(1).map((to, k) => {
          const from = ring[k] ?? to;
          if (onEdge(from) && onEdge(to)) return "";
          const [a, b] = [spot(from[0] ?? 0, from[1] ?? 0), spot(to[0] ?? 0, to[1] ?? 0)];
          return `M${a[0].toFixed(1)} ${a[1].toFixed(1)}L${b[0].toFixed(1)} ${b[1].toFixed(1)}`;
        }),
      )
      .join("");
  const at = contours().size([count, map.up.length]);
  const left =
    map.left_in_bump && map.left_in_droop
      ? map.left_in_bump.map((bump, k) => Math.min(bump, map.left_in_droop?.[k] ?? 0))
      : null;
  const [low = 0, high = 1] = extent(map.ratio);
  const ratios = scaleLinear([low, high], [0, 1]).ticks(6);
  return (
    <g data-testid="bands">
      {left && (
        <path
          d={shape(at.contour(left, 0).coordinates)}
          fill="var(--color-ride)"
          fillOpacity={0.16}
          stroke="var(--color-ride)"
          strokeWidth={1.5}
        />
      )}
      {left && (
        <path
          d={shape(at.contour(left, 5).coordinates)}
          fill="var(--color-ride)"
          fillOpacity={0.2}
          stroke="none"
        />
      )}
      {ratios.map((ratio) => {
        const rings = at.contour(map.ratio, ratio).coordinates;
        const ring = rings[0]?.[0];
        const [i, j] = ring?.[Math.floor(ring.length / 3)] ?? [];
        const label = i !== undefined && j !== undefined ? spot(i, j) : null;
        return (
          <g key={ratio}>
            <path
              d={open(rings)}
              fill="none"
              stroke="var(--color-marker)"
              strokeOpacity={0.6}
              strokeWidth={1}
            />
            {label && (
              <text
                x={label[0] + 3}
                y={label[1] - 3}
                fontSize={11.5}
                fill="var(--color-held)"
                paintOrder="stroke"
                stroke="var(--color-dye)"
                strokeWidth={3}
              >
                {ratio.toFixed(2)}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}

/** A place between the columns, by its number. */
function between(columns: number[], number: number): number {
  const low = Math.min(Math.max(Math.floor(number), 0), columns.length - 2);
  const from = columns[low] ?? 0;
  return from + ((columns[low + 1] ?? from) - from) * (number - low);
}
