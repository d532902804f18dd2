import type { ReactNode } from "react";
import type { Shape } from "../api/client";
import { useUnits } from "../quantity/units";
import { path } from "../views/projection";
import { flat, type Look, type Rocker } from "./plane";
import type { ShortList as Found, Sketch } from "./search";
import { MISSES, NEAREST, TRAITS, traitOf } from "./traits";

type Solution = Shape["SolutionOut"];

interface Props {
  short: Found;
  rocker: Rocker;
  look: Look;
  tried: Solution | null;
  onTry: (solution: Solution | null) => void;
  onTake: (solution: Solution) => void;
}

const TOLD = ["size", "rod_swing", "change", "bow", "turn", "tilt", "damper_left"];

/** The really different ones, each with its drawing, what it gives up, and what a millimetre does to it. */
export function ShortList({ short, rocker, look, tried, onTry, onTake }: Props) {
  const { quantity } = useUnits();
  return (
    <section aria-label="The short list" className="mt-4">
      <h3 className="font-semibold">
        {short.solutions.length
          ? `${short.solutions.length} really different ${short.solutions.length === 1 ? "one" : "ones"}, proved`
          : "None could be proved"}
      </h3>
      {short.untried > 0 && (
        <p className="text-sm text-soft">
          {short.untried} more {short.untried === 1 ? "was" : "were"} not proved in the time there is: pick{" "}
          {short.untried === 1 ? "it" : "them"} among all that were found.
        </p>
      )}
      {short.unmet.map((one) => {
        const trait = traitOf(NEAREST[one.target] ?? "");
        return (
          <p key={one.target} className="mt-1 border-l-4 border-warning pl-2 text-sm">
            No rocker in this space meets every target: {MISSES[one.target] ?? one.target} is missed.
            {one.nearest !== null &&
              trait &&
              ` The nearest is ${quantity(one.nearest, trait.dimension, trait.digits)}`}
            {one.nearest !== null &&
              one.gives.length > 0 &&
              `, for which ${one.gives.map((its) => MISSES[its] ?? its).join(" and ")} would have to give`}
            {one.nearest !== null && "."}
          </p>
        );
      })}
      <ol>
        {short.solutions.map((solution, k) => {
          const mine = tried === solution;
          return (
            <Card key={Object.values(solution.points).join()} {...{ rocker, look, mine }} its={solution}>
              <p className="pt-1 text-sm">
                {solution.faults + solution.warnings === 0
                  ? "No warnings."
                  : `${toLookAt(solution)} with it.`}{" "}
                {givesUp(solution)}
              </p>
              <div className="flex gap-2 pt-1">
                <button
                  type="button"
                  className="press px-3"
                  aria-pressed={mine}
                  onClick={() => onTry(mine ? null : solution)}
                  aria-label={`${mine ? "Take it off the drawing" : "Try it"}, number ${k + 1}`}
                >
                  {mine ? "Take it off the drawing" : "Try it"}
                </button>
                <button
                  type="button"
                  className="press press-main px-3"
                  onClick={() => onTake(solution)}
                  aria-label={`Take it, number ${k + 1}`}
                >
                  Take it
                </button>
              </div>
            </Card>
          );
        })}
      </ol>
    </section>
  );
}

/** What the best would be, told while the hand still moves; proved once it rests. */
export function Sketches({ sketches, rocker, look }: { sketches: Sketch[]; rocker: Rocker; look: Look }) {
  return (
    <section aria-label="What would be found" className="mt-4" data-testid="sketches">
      <h3 className="font-semibold">
        {sketches.length ? "As it would be, not proved yet" : "No rocker in this space takes the travel"}
      </h3>
      <ol>
        {sketches.map((sketch, k) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a place in the list, whose rocker changes under the hand
          <Card key={k} {...{ rocker, look }} mine={k === 0} its={sketch}>
            <p className="pt-1 text-sm">{givesUp(sketch) || "Meets everything that was asked."}</p>
          </Card>
        ))}
      </ol>
    </section>
  );
}

const givesUp = ({ misses }: Sketch): string => {
  const gives = Object.entries(misses).filter(([, miss]) => Math.abs(miss) > 1);
  return gives.length ? `Misses ${gives.map(([name]) => MISSES[name] ?? name).join(" and ")}.` : "";
};

/** One rocker of a list: its drawing and what it is compared by. */
function Card({
  its,
  rocker,
  look,
  mine,
  children,
}: {
  its: Sketch;
  rocker: Rocker;
  look: Look;
  mine: boolean;
  children: ReactNode;
}) {
  const { quantity } = useUnits();
  return (
    <li
      className={`mt-2 border bg-card p-2 ${mine ? "border-2 border-press dark:border-marker" : "border-rule"}`}
    >
      <div className="flex gap-2">
        <Small points={its.points} rocker={rocker} look={look} />
        <dl className="grid min-w-0 flex-1 grid-cols-[1fr_auto] gap-x-2 text-sm leading-snug">
          {TRAITS.filter((trait) => TOLD.includes(trait.key) && its.traits[trait.key] !== undefined).map(
            (trait) => (
              <div key={trait.key} className="contents">
                <dt>{trait.name}</dt>
                <dd className="text-right font-semibold">
                  {quantity(its.traits[trait.key] ?? 0, trait.dimension, trait.digits)}
                </dd>
              </div>
            ),
          )}
          <div className="contents">
            <dt>1 mm of error, ratio</dt>
            <dd className="text-right font-semibold">± {quantity(its.robust, "share", 1)}</dd>
          </div>
        </dl>
      </div>
      {children}
    </li>
  );
}

function toLookAt({ faults, warnings }: Solution): string {
  const parts = [
    faults ? `${faults} ${faults === 1 ? "fault" : "faults"}` : "",
    warnings ? `${warnings} to look at` : "",
  ];
  return parts.filter(Boolean).join(" and ");
}

/** A rocker in a corner of its card. */
function Small({ points, rocker, look }: { points: Record<string, number[]>; rocker: Rocker; look: Look }) {
  const at = (name: string) => flat(look, points[name] ?? [0, 0, 0]);
  const pivot = rocker.pivots
    .map(at)
    .reduce((sum, p) => [sum[0] + p[0] / 2, sum[1] + p[1] / 2] as [number, number], [0, 0] as [
      number,
      number,
    ]);
  const [joint, eye, far] = [at(rocker.rod_joint), at(rocker.eye), at(rocker.far)];
  const all = [pivot, joint, eye, far];
  const span = Math.max(
    ...[0, 1].map((k) => Math.max(...all.map((p) => p[k] ?? 0)) - Math.min(...all.map((p) => p[k] ?? 0))),
  );
  const middle = [0, 1].map(
    (k) => (Math.max(...all.map((p) => p[k] ?? 0)) + Math.min(...all.map((p) => p[k] ?? 0))) / 2,
  );
  const paper = (p: [number, number]): [number, number] => [
    46 + ((p[0] - (middle[0] ?? 0)) / span) * 72,
    46 - ((p[1] - (middle[1] ?? 0)) / span) * 72,
  ];
  return (
    <svg aria-hidden width={92} height={92} className="shrink-0 bg-dye">
      <path
        d={path([joint, pivot, eye].map(paper), true)}
        fill="var(--color-soapstone)"
        fillOpacity={0.2}
        stroke="var(--color-soapstone)"
        strokeWidth={1.6}
      />
      <path d={path([eye, far].map(paper))} stroke="var(--color-marker)" strokeWidth={3} />
      <rect
        x={paper(pivot)[0] - 3}
        y={paper(pivot)[1] - 3}
        width={6}
        height={6}
        fill="var(--color-soapstone)"
      />
    </svg>
  );
}
