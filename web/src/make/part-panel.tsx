import { Link } from "react-router";
import type { Project, Shape, Station } from "../api/client";
import type { Change } from "../bench/edits";
import { tubeKey, tubeOptions } from "../fields/tubes";
import { Mark } from "../marks/mark";
import type { Dimension } from "../quantity/quantity";
import { QuantityField } from "../quantity/quantity-field";
import { useSay } from "../quantity/sentence";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import type { SurveyInHand } from "../survey/store";
import { applyRemedy, type Choice, choose, isChosen, type Part, unchoose } from "./choosing";
import { MadePress } from "./made-press";
import { FootFields, Pick, RunFields } from "./part-fields";
import { Files } from "./part-files";
import { Stacks } from "./stack";

/** What may be changed of a kind of part: key of its choice, plain name, what it measures. */
const SIZES: Record<string, [string, string, Dimension][]> = {
  rod: [["cut_long", "Cut long by, till the cycle has passed", "length"]],
  plate: [["lighten", "Lightening hole", "length"]],
  tab: [
    ["thickness", "Plate", "length"],
    ["width", "Width of the round end", "length"],
    ["foot_width", "Width of the foot", "length"],
    ["reach", "Hole to foot", "length"],
    ["hole", "Hole", "length"],
    ["joint_width", "Over the eye or rod end", "length"],
    ["spacer", "Spacer each side", "length"],
  ],
  tower: [["radius", "Bent about a centre line of", "length"]],
  hoop: [["radius", "Bent about a centre line of", "length"]],
  crossbar: [["radius", "Bent about a centre line of", "length"]],
  cup: [
    ["plate", "Plate across", "length"],
    ["thickness", "Plate thick", "length"],
    ["height", "Height along its middle", "length"],
  ],
  notch: [
    ["rail.width", "Rail, across the vehicle", "length"],
    ["rail.height", "Rail, high", "length"],
    ["rail.wall", "Rail's wall", "length"],
    ["rail_bottom", "Rail's lower face, height", "length"],
    ["axle_tube", "Over the axle's tube", "length"],
    ["clearance", "Clearance all round", "length"],
    ["thickness", "Plate", "length"],
  ],
  adapter: [["diameter", "Round bar across", "length"]],
  sleeve: [
    ["rail", "Over the rail", "length"],
    ["bolt", "Bolt", "length"],
    ["wall", "Wall", "length"],
  ],
  gusset: [
    ["legs.0", "One side", "length"],
    ["legs.1", "Other side", "length"],
    ["angle", "Angle between them", "angle"],
    ["thickness", "Plate", "length"],
    ["hole", "Hole", "length"],
  ],
  doubler: [
    ["legs.0", "Long", "length"],
    ["legs.1", "Wide", "length"],
    ["thickness", "Plate", "length"],
    ["hole", "Hole", "length"],
  ],
  template: [["thickness", "Plate", "length"]],
};

const LINK: [string, string, Dimension][] = [
  ["thickness", "Plate", "length"],
  ["hole", "Bolts", "length"],
  ["edge", "Metal outside its holes", "length"],
];

/** A link of plates says its own sizes; a rocker's are on its own sheet. */
const sizesOf = (kind: string, choice: Choice) =>
  kind === "plate" && choice.thickness !== undefined ? LINK : (SIZES[kind] ?? []);

const MAY_BE_NOTHING = ["spacer", "cut_long", "lighten", "hole"];
const SIGNED = ["rail_bottom"];

interface Props {
  part: Part;
  /** Whose part it is; null of a tube of the frame. */
  station: Station | null;
  job: string;
  document: Project;
  hand: SurveyInHand;
  change: Change;
  onBack: () => void;
  paper: string;
}

/** One part: what it is cut to, what it bears, what may be changed, and its drawings. */
export function PartPanel({ part, station, job, document, hand, change, onBack, paper }: Props) {
  const { quantity } = useUnits();
  const chosen = station !== null && isChosen(station, part);
  const choice = part.choice as Choice | null;
  const set = (values: Record<string, unknown>) =>
    choice &&
    change((now) => choose(now, { ...choice, ...values }), `make ${part.name} ${Object.keys(values)}`);
  return (
    <div data-testid="part">
      <h2 className="pt-2 text-xl leading-tight">
        {part.count * part.hands} × {spoken(part.name)}
      </h2>
      <p className="text-sm text-soft">
        {part.station}
        {part.hands === 2 ? `, ${part.count} a side` : ""}
        {part.proposed ? "; proposed from stock" : chosen ? "; customised" : ""}
      </p>
      <Said part={part} change={change} />
      <div className="flex flex-wrap gap-1 py-2">
        <Files part={part} document={document} hand={hand} paper={paper} />
        <MadePress part={part} hand={hand} />
        {part.kind === "frame" && (
          <Link className="press px-3 text-sm" to={`/jobs/${job}/frame`}>
            Change it on Frame
          </Link>
        )}
        {choice && !chosen && (
          <button
            type="button"
            className="press px-3 text-sm"
            onClick={() => change((now) => choose(now, choice))}
          >
            Lock this design
          </button>
        )}
        {choice && part.kind === "rod" && (
          <button
            type="button"
            className="press px-3 text-sm"
            onClick={() => {
              const plates = { kind: "plate", name: `${spoken(part.name)} link`, body: choice.body };
              change((now) => choose(unchoose(now, choice), plates));
              onBack();
            }}
          >
            Make it of two plates
          </button>
        )}
        {choice && chosen && (
          <button
            type="button"
            className="press px-3 text-sm"
            onClick={() => {
              change((now) => unchoose(now, choice));
              onBack();
            }}
          >
            {["rod", "plate", "tab", "cup", "adapter"].includes(part.kind)
              ? "Back to suggestion"
              : "Remove it"}
          </button>
        )}
        <button type="button" className="press px-3 text-sm" onClick={onBack}>
          All parts
        </button>
      </div>
      <Figures part={part} />
      <Stacks stacks={part.stacks} />
      {part.checks.length > 0 && (
        <section aria-label="How strong it is" className="pt-3">
          <h3 className="font-semibold">Safety factor at peak load</h3>
          <ul>
            {part.checks.map((check) => (
              <li key={check.what} className="flex justify-between gap-3 border-b border-rule py-1">
                <span>
                  {check.what}
                  {check.case && <span className="block text-sm text-soft">{check.case}</span>}
                </span>
                <span className="font-bold">
                  {check.factor < 100 ? `${check.factor.toFixed(1)} ×` : "over 100 ×"}
                </span>
              </li>
            ))}
          </ul>
          <p className="pt-1 text-sm text-soft">
            Yield over the stress of the load case named, the worst for it; no fatigue, no heat of the weld. A
            first check, no certificate.
          </p>
        </section>
      )}
      {choice && (
        <section aria-label="Sizes" className="pt-3">
          <h3 className="font-semibold">Change how it is made</h3>
          {part.kind === "tab" && (
            <>
              <Pick
                name="One tab or a pair"
                value={String(choice.pair ?? true)}
                options={[
                  ["true", "a pair, double shear"],
                  ["false", "one, single shear"],
                ]}
                onPick={(value) => set({ pair: value === "true" })}
              />
              <FootFields choice={choice} set={set} />
              <Pick
                name="Gusset across its back"
                value={String(choice.gusset ?? false)}
                options={[
                  ["false", "none"],
                  ["true", "one"],
                ]}
                onPick={(value) => set({ gusset: value === "true" })}
              />
            </>
          )}
          {choice.tube !== undefined && (
            <Pick
              name="Tube"
              value={tubeKey(choice.tube as { outside: number; wall: number })}
              options={tubeOptions(choice.tube as { outside: number; wall: number }, quantity)}
              onPick={(value) => {
                const [outside, wall] = value.split("x").map(Number);
                set({ tube: { ...(choice.tube as object), outside, wall } });
              }}
            />
          )}
          {choice.grade !== undefined && (
            <Pick
              name="Steel"
              value={String(choice.grade)}
              options={["S235", "S275", "S355"].map((one) => [one, one] as [string, string])}
              onPick={(value) => set({ grade: value })}
            />
          )}
          {sizesOf(part.kind, choice).map(([key, name, dimension]) => (
            <div
              key={key}
              data-choice={key}
              className="grid grid-cols-[1fr_9.5rem] items-center gap-2 border-b border-rule py-1"
            >
              <span className="leading-tight">{name}</span>
              <QuantityField
                label={name}
                value={Number(at(choice, key) ?? part.figures.find((one) => one.key === key)?.value ?? 0)}
                dimension={dimension}
                step={1}
                check={(value) =>
                  SIGNED.includes(key) || value > 0 || (value === 0 && MAY_BE_NOTHING.includes(key))
                    ? null
                    : "Give more than zero."
                }
                onCommit={(value) => set(withAt(choice, key, value))}
              />
            </div>
          ))}
          {Array.isArray(choice.corners) && station && (
            <RunFields choice={choice} station={station} set={set} />
          )}
          {part.kind === "plate" && choice.thickness === undefined && (
            <p className="pt-1 text-sm text-soft">
              Thickness, bores and metal of a rocker are on the Rocker sheet, Plate.
            </p>
          )}
          {part.kind === "rod" && (
            <p className="pt-1 text-sm text-soft">
              Thread, hands and engagement are on Layout, Rods &amp; parts.
            </p>
          )}
        </section>
      )}
      {part.hardware.length > 0 && (
        <section aria-label="Hardware of it" className="pt-3">
          <h3 className="font-semibold">Takes</h3>
          <ul>
            {part.hardware.map((one) => (
              <li
                key={`${one.what} ${one.size}`}
                className="flex justify-between gap-3 border-b border-rule py-1"
              >
                <span>
                  {one.count} × {one.what}
                </span>
                <span className="text-right">{one.size}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

function Said({ part, change }: { part: Part; change: Change }) {
  const say = useSay();
  return (
    <ul>
      {part.said.map((one) => {
        const remedy = one.remedy;
        return (
          <li key={one.say.words + one.say.names.join()} className="flex gap-2 py-1.5">
            <Mark mark={one.mark === "note" ? "good" : one.mark} size={22} />
            <div className="leading-snug">
              <p>{say(one.say)}</p>
              {remedy && (
                <button
                  type="button"
                  className="press mt-1 px-3 text-sm"
                  onClick={() => change((now) => applyRemedy(now, part, remedy))}
                >
                  {say(remedy.say)}
                </button>
              )}
            </div>
          </li>
        );
      })}
    </ul>
  );
}

/** What stands on a bolt is drawn, not written among the figures. */
const isFigure = (one: Shape["FigureOut"]) => !one.key.endsWith("stack");

function Figures({ part }: { part: Part }) {
  const { quantity, number } = useUnits();
  const shown = (one: Shape["FigureOut"]) => {
    if (one.measures === "words" || one.text) return one.text;
    if (one.value === null) return one.measures === "factor" ? "never pushed" : "none";
    if (one.measures === "factor") return `${number(one.value, "ratio", 1)} ×`;
    if (one.measures === "pitch") return quantity(one.value, "length", 2);
    return quantity(one.value, one.measures as Dimension, one.measures === "angle" ? 1 : undefined);
  };
  return (
    <dl>
      {part.figures.filter(isFigure).map((one) => (
        <div key={one.key} className="flex items-baseline justify-between gap-3 border-b border-rule py-1">
          <dt className="leading-tight">{one.name}</dt>
          <dd className="text-right text-lg font-bold">{shown(one)}</dd>
        </div>
      ))}
      {part.mass > 0 && (
        <div className="flex items-baseline justify-between gap-3 border-b border-rule py-1">
          <dt>Mass of each</dt>
          <dd className="text-right text-lg font-bold">{quantity(part.mass, "mass", 2)}</dd>
        </div>
      )}
    </dl>
  );
}

/** What stands in a choice at a key, or at a key below one: `rail.width`, `legs.0`. */
function at(choice: Choice, key: string): unknown {
  return key
    .split(".")
    .reduce<unknown>((its, part) => (its as Record<string, unknown> | undefined)?.[part], choice);
}

function withAt(choice: Choice, key: string, value: number): Record<string, unknown> {
  const [first = "", second] = key.split(".");
  if (second === undefined) return { [first]: value };
  const its = choice[first];
  if (Array.isArray(its)) return { [first]: its.map((old, k) => (String(k) === second ? value : old)) };
  return { [first]: { ...(its as object), [second]: value } };
}
