import { type PointerEvent, useMemo } from "react";
import type { Project, Shape } from "../api/client";
import { useUnits } from "../quantity/units";
import { type Label, placeLabels } from "../views/labels";
import { nudged } from "../views/nudging";
import { extent, type Paper, type Plan, path, project, toPaper } from "../views/projection";
import { useSize } from "../views/use-size";
import type { Reading } from "./store";
import { placesOf, placeWords, wordsOf } from "./words";

type Place = Shape["PlaceOut"];
type Told = Shape["ReadingOut"];

interface Props {
  document: Project;
  /** Every place that can be picked, mm: adjusted where it is, else as drawn. */
  spots: Record<string, number[]>;
  places: Place[];
  readings: Reading[];
  told: Told[];
  /** Places picked, in order. */
  picked: string[];
  onPick: (place: string | null) => void;
  /** Number of the reading that is looked at; null for none. */
  looked: number | null;
  plans: Plan[];
  /** How many times closer than all of it, about the place picked last. */
  closer: number;
  /** Only what belongs to this station, and what was read from it; null for the whole vehicle. */
  station: string | null;
}

const MARGIN = 34;
const MARGIN_V = 40;
const TITLE = 20;
const GAP = 2;
const TIMES = 3;
const TOUCH = 26;
const FACTORS = [1, 2, 5, 10, 20, 50, 100, 200];
const WANTED_PX = 9;
const TITLES: Record<Plan, string> = {
  side: "Left side",
  top: "Top",
  front: "Front, looking aft",
};

/** The vehicle as it was read: places with how well they are known, tapes between them, what is loose and how. */
export function SurveyDrawing(props: Props) {
  const { spots, places, plans, closer } = props;
  const box = useMemo(() => {
    const all = Object.values(spots);
    const low = [0, 1, 2].map((axis) => Math.min(0, ...all.map((p) => p[axis] ?? 0)));
    const high = [0, 1, 2].map((axis) => Math.max(1, ...all.map((p) => p[axis] ?? 0)));
    const at = (axis: number, list: number[]) => list[axis] ?? 0;
    if (all.length) low[0] = Math.min(...all.map((p) => p[0] ?? 0));
    if (all.length) high[0] = Math.max(...all.map((p) => p[0] ?? 0));
    return {
      low: [at(0, low), at(1, low), at(2, low)] as [number, number, number],
      high: [at(0, high), at(1, high), at(2, high)] as [number, number, number],
    };
  }, [spots]);
  const errors = places.flatMap((place) => place.sigma ?? []).sort((a, b) => a - b);
  const usual = errors[errors.length >> 1] ?? 1;
  const [ref, size] = useSize<HTMLDivElement>();
  const ends = plans.map((plan) => spanOf(plan, box));
  const across = Math.max(...ends.map(({ u }) => u[1] - u[0]), 100);
  const high = ends.map(({ v }) => Math.max(v[1] - v[0], 100));
  const room = size.height - plans.length * 2 * MARGIN_V - GAP;
  // One scale for all plans, and what is left over shared by them.
  const fitting = Math.max(
    0.01,
    Math.min((size.width - 2 * MARGIN) / across, room / high.reduce((sum, one) => sum + one, 0)),
  );
  const scale = fitting * closer;
  const about = closer > 1 ? spots[props.picked.at(-1) ?? ""] : undefined;
  const spare = Math.max(0, room - high.reduce((sum, one) => sum + one * fitting, 0)) / plans.length;
  return (
    <div ref={ref} className="flex h-full min-h-[420px] flex-col gap-[2px] bg-scribe">
      {size.width > 0 &&
        plans.map((plan, k) => {
          const { u, v } = ends[k] as Span;
          const paper: Paper = {
            scale,
            middle: about ? flat(plan, about) : [(u[0] + u[1]) / 2, (v[0] + v[1]) / 2 + TITLE / 2 / scale],
            width: size.width,
            height: (high[k] ?? 0) * fitting + 2 * MARGIN_V + spare,
          };
          return <Sheet key={plan} {...props} plan={plan} paper={paper} usual={usual} />;
        })}
    </div>
  );
}

interface Span {
  u: [number, number];
  v: [number, number];
}

function spanOf(plan: Plan, box: { low: [number, number, number]; high: [number, number, number] }): Span {
  if (plan !== "top") return extent(plan, 1, box);
  return { u: [-box.high[0], -box.low[0]], v: [-box.high[1], -box.low[1]] };
}

/** The top plan lies as the side does, so that both have the length across the paper. */
const flat = (plan: Plan, p: readonly number[]): [number, number] =>
  plan === "top" ? [-(p[0] ?? 0), -(p[1] ?? 0)] : project(plan, 1, p);

function Sheet({
  document,
  spots,
  places,
  readings,
  told,
  picked,
  onPick,
  looked,
  plan,
  station,
  paper,
  usual,
}: Props & { plan: Plan; paper: Paper; usual: number }) {
  const { scale } = paper;
  const { number, quantity } = useUnits();
  const at = (p: readonly number[]) => toPaper(paper, flat(plan, p));
  const screen: Record<string, [number, number]> = {};
  for (const [name, p] of Object.entries(spots)) screen[name] = at(p);
  const order = Object.keys(spots);
  const factor = FACTORS.find((its) => its * TIMES * usual * scale >= WANTED_PX) ?? 200;
  const known = new Map(places.map((place) => [place.name, place]));

  const pick = (event: PointerEvent<SVGSVGElement>) => {
    const area = event.currentTarget.getBoundingClientRect();
    const [x, y] = [event.clientX - area.left, event.clientY - area.top];
    let best: string | null = null;
    let least = TOUCH;
    for (const name of order) {
      const [px, py] = screen[name] ?? [0, 0];
      const away = Math.hypot(px - x, py - y) + (picked.includes(name) ? 4 : 0);
      if (away < least) [best, least] = [name, away];
    }
    onPick(best);
  };

  const labels: Label[] = picked.flatMap((name) => {
    const spot = screen[name];
    return spot ? [{ key: name, text: placeWords(name, true), at: spot, strong: true }] : [];
  });
  readings.forEach((reading, k) => {
    const state = told[k];
    const shown = k === looked || state?.suspect;
    if (!shown) return;
    if (!placesOf(reading).every((name) => name in screen)) return;
    const spot = middle(lineOf(reading, spots).map(at));
    const words = wordsOf(reading);
    const read = mean(reading.values);
    if (spot && read !== null)
      labels.push({
        key: `reading ${k}`,
        text: `${state?.suspect ? "✕ " : ""}${quantity(read, words.dimension)}`,
        at: spot,
        strong: k === looked,
      });
  });
  const placed = placeLabels(labels, Object.values(screen), paper.width, paper.height);
  return (
    <div
      style={{ height: paper.height }}
      role="group"
      aria-roledescription="drawing"
      aria-label={`${TITLES[plan]}. ${picked.length ? `Picked: ${picked.map((name) => placeWords(name)).join(" and ")}.` : "No place picked."} Page up and page down go from place to place.`}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the drawing is worked by keyboard: it picks places
      tabIndex={0}
      data-testid={`survey-${plan}`}
      onKeyDown={(event) =>
        nudged(event, { order, picked: picked.at(-1) ?? null, onPick, onNudge: () => {} })
      }
      className="relative min-w-0 shrink-0 overflow-hidden bg-dye"
    >
      {
        <svg
          aria-hidden
          width={paper.width}
          height={paper.height}
          className="absolute inset-0 touch-manipulation select-none"
          onPointerDown={pick}
        >
          {plan !== "top" && <Line d={`M0 ${at([0, 0, 0])[1]}H${paper.width}`} word="floor" paper={paper} />}
          {plan === "top" && (
            <Line d={`M0 ${at([0, 0, 0])[1]}H${paper.width}`} word="centreline" paper={paper} dashed />
          )}
          {plan === "front" && (
            <Line d={`M${at([0, 0, 0])[0]} 0V${paper.height}`} word="" paper={paper} dashed />
          )}
          {document.stations.map((one) =>
            Object.entries(one.bodies).map(([body, members]) => (
              <path
                key={`${one.name} ${body}`}
                d={path(
                  members.flatMap((point) => {
                    const spot = screen[`${one.name}/${point}`];
                    return spot ? [spot] : [];
                  }),
                  members.length > 2,
                )}
                fill="var(--color-scribe)"
                fillOpacity={0.06}
                stroke="var(--color-scribe)"
                strokeOpacity={station === null || station === one.name ? 0.4 : 0.14}
              />
            )),
          )}
          {readings.map((reading, k) => (
            <Scribed
              // biome-ignore lint/suspicious/noArrayIndexKey: a reading is its place in the list
              key={k}
              ends={lineOf(reading, spots).map(at)}
              state={told[k]}
              out={reading.left_out ?? false}
              looked={k === looked}
            />
          ))}
          {order.map((name) => {
            const place = known.get(name);
            const spot = screen[name] as [number, number];
            return (
              <g key={name} data-place={name}>
                {place?.ellipsoid && (
                  <path
                    d={ellipse(place.ellipsoid, plan, spot, TIMES * factor * scale)}
                    fill="var(--color-marker)"
                    fillOpacity={0.12}
                    stroke="var(--color-marker)"
                    strokeOpacity={0.75}
                  />
                )}
                {place?.ways.map((way) => (
                  <Way key={way.join()} at={spot} way={flat(plan, way)} />
                ))}
                <PlaceMark
                  at={spot}
                  state={place ? (place.sigma ? "held" : "loose") : "unread"}
                  picked={picked.includes(name)}
                  faint={station !== null && name.includes("/") && !name.startsWith(`${station}/`)}
                />
              </g>
            );
          })}
          {placed.map((label) => (
            <text
              key={label.key}
              x={label.x}
              y={label.y}
              fontSize={14}
              fontWeight={label.strong ? 650 : 520}
              fill={label.strong ? "var(--color-marker)" : "var(--color-soapstone)"}
              paintOrder="stroke"
              stroke="var(--color-dye)"
              strokeWidth={4}
            >
              {label.text}
            </text>
          ))}
        </svg>
      }
      <p className="pointer-events-none absolute left-2 top-1.5 bg-dye/80 px-1 font-semibold text-soapstone">
        {TITLES[plan]}
        <span className="pl-3 text-sm font-normal">
          {places.some((place) => place.sigma)
            ? `three standard errors, ${factor > 1 ? `drawn ${number(factor, "ratio", 0)} times` : "to scale"}`
            : ""}
        </span>
      </p>
    </div>
  );
}

function Line({ d, word, paper, dashed }: { d: string; word: string; paper: Paper; dashed?: boolean }) {
  const y = Number(/ ([\d.-]+)H/.exec(d)?.[1] ?? Number.NaN);
  return (
    <>
      <path
        d={d}
        stroke="var(--color-scribe)"
        strokeOpacity={0.5}
        strokeDasharray={dashed ? "14 5 3 5" : undefined}
      />
      {word && Number.isFinite(y) && (
        <text
          x={paper.width - 8}
          y={y - 5}
          textAnchor="end"
          fontSize={12}
          fill="var(--color-soapstone)"
          opacity={0.75}
        >
          {word}
        </text>
      )}
    </>
  );
}

/** A tape, scribed: good thin, loose dotted, suspect broken with a cross, left out faint. */
function Scribed({
  ends,
  state,
  out,
  looked,
}: {
  ends: [number, number][];
  state: Told | undefined;
  out: boolean;
  looked: boolean;
}) {
  if (ends.length < 2) return null;
  const suspect = state?.suspect;
  const unchecked = !suspect && (state?.redundancy ?? 0) < 0.01;
  const [x, y] = middle(ends) ?? [0, 0];
  return (
    <>
      <path
        d={path(ends)}
        fill="none"
        stroke={looked ? "var(--color-marker)" : suspect ? "var(--color-alarm)" : "var(--color-soapstone)"}
        strokeWidth={looked ? 2.5 : suspect ? 2 : 1}
        strokeOpacity={looked || suspect ? 1 : out ? 0.15 : 0.38}
        strokeDasharray={suspect ? "7 4" : out || unchecked ? "2 4" : undefined}
      />
      {suspect && (
        <path d={`M${x - 6} ${y - 6}l12 12m0 -12l-12 12`} stroke="var(--color-alarm)" strokeWidth={2.5} />
      )}
    </>
  );
}

/** Held: a ring with a dot. Loose: an open square. Not read: a small cross. */
function PlaceMark({
  at: [x, y],
  state,
  picked,
  faint,
}: {
  at: [number, number];
  state: "held" | "loose" | "unread";
  picked: boolean;
  faint: boolean;
}) {
  const stroke = picked ? "var(--color-marker)" : "var(--color-soapstone)";
  return (
    <g stroke={stroke} strokeWidth={picked ? 2.5 : 1.5} fill="none" opacity={faint && !picked ? 0.35 : 1}>
      {state === "held" && (
        <>
          <circle cx={x} cy={y} r={5} fill="var(--color-dye)" />
          <circle cx={x} cy={y} r={1.5} fill={stroke} stroke="none" />
        </>
      )}
      {state === "loose" && (
        <rect x={x - 5} y={y - 5} width={10} height={10} fill="var(--color-dye)" strokeDasharray="3 2" />
      )}
      {state === "unread" && <path d={`M${x - 4} ${y}h8M${x} ${y - 4}v8`} />}
      {picked && <circle cx={x} cy={y} r={11} strokeOpacity={0.6} />}
    </g>
  );
}

/** The way in which a place can still go: an arrow both ways; straight at the eye it is a ring. */
function Way({ at: [x, y], way: [u, v] }: { at: [number, number]; way: [number, number] }) {
  const long = Math.hypot(u, v);
  if (long < 0.25)
    return (
      <circle
        cx={x}
        cy={y}
        r={9}
        fill="none"
        stroke="var(--color-held)"
        strokeWidth={1.5}
        strokeDasharray="3 2"
      />
    );
  const [dx, dy] = [(u / long) * 26 * long, (-v / long) * 26 * long];
  const head = (sx: number, sy: number, way: number) =>
    `M${sx} ${sy}l${-way * (dx * 0.3 - dy * 0.18)} ${-way * (dy * 0.3 + dx * 0.18)}M${sx} ${sy}l${-way * (dx * 0.3 + dy * 0.18)} ${-way * (dy * 0.3 - dx * 0.18)}`;
  return (
    <path
      d={`M${x - dx} ${y - dy}L${x + dx} ${y + dy}${head(x + dx, y + dy, 1)}${head(x - dx, y - dy, -1)}`}
      stroke="var(--color-held)"
      strokeWidth={2}
      fill="none"
    />
  );
}

/** The outline of a place's error as seen on a plan; covariance mm², `times` px per mm of one standard error. */
function ellipse(covariance: number[][], plan: Plan, [x, y]: [number, number], times: number): string {
  const axes = [0, 1].map((k) =>
    [0, 1, 2].map(
      (axis) =>
        flat(
          plan,
          [0, 1, 2].map((one) => (one === axis ? 1 : 0)),
        )[k] ?? 0,
    ),
  );
  const part = (one: number, other: number) =>
    axes[one]?.reduce(
      (sum, a, i) =>
        sum + a * (axes[other]?.reduce((rest, b, j) => rest + (covariance[i]?.[j] ?? 0) * b, 0) ?? 0),
      0,
    ) ?? 0;
  const [a, b, c] = [part(0, 0), part(0, 1), part(1, 1)];
  const turn = Math.atan2(2 * b, a - c) / 2;
  const half = Math.hypot((a - c) / 2, b);
  const [long, short] = [
    Math.sqrt(Math.max((a + c) / 2 + half, 0)),
    Math.sqrt(Math.max((a + c) / 2 - half, 0)),
  ];
  const points: [number, number][] = Array.from({ length: 32 }, (_, k) => {
    const t = (k * Math.PI) / 16;
    const [p, q] = [long * Math.cos(t) * times, short * Math.sin(t) * times];
    return [x + p * Math.cos(turn) - q * Math.sin(turn), y - p * Math.sin(turn) - q * Math.cos(turn)];
  });
  return path(points, true);
}

/** What a reading is drawn between: its places, or its place and what it is read from. */
function lineOf(reading: Reading, spots: Record<string, number[]>): number[][] {
  const named = placesOf(reading);
  const found = named.flatMap((name) => (spots[name] ? [spots[name] as number[]] : []));
  if (found.length < named.length) return [];
  const [one, ...rest] = found;
  if (!one) return [];
  if (reading.kind === "angle" && rest.length === 2) return [rest[0] ?? one, one, rest[1] ?? one];
  if (found.length > 1) return found;
  const [x = 0, y = 0, z = 0] = one;
  if (reading.kind === "height") return [one, [x, y, 0]];
  if (reading.kind === "offset") return [one, [x, 0, z]];
  return [];
}

function middle(spots: ([number, number] | undefined)[]): [number, number] | null {
  const known = spots.filter((spot): spot is [number, number] => spot !== undefined);
  if (!known.length) return null;
  const sum = known.reduce(([a, b], [c, d]) => [a + c, b + d], [0, 0]);
  return [sum[0] / known.length, sum[1] / known.length];
}

export const mean = (values: number[] | undefined): number | null =>
  values?.length ? values.reduce((sum, one) => sum + one, 0) / values.length : null;
