import { useState } from "react";
import type { Shape } from "../api/client";
import { newName } from "../api/names";
import { Mark } from "../marks/mark";
import { QuantityField } from "../quantity/quantity-field";
import { useSay } from "../quantity/sentence";
import { useUnits } from "../quantity/units";
import type { Guard, SurveyInHand } from "./store";
import { placeWords } from "./words";

interface Props {
  hand: SurveyInHand;
  told: Shape["GuardOut"][];
  picked: string[];
  /** Where each place is, mm, to say what a guard ought to read. */
  proposed: { between: [string, string]; name: string }[];
  user: string;
}

/** Before you cut: lengths that must be the same after. */
export function Guards({ hand, told, picked, proposed, user }: Props) {
  const say = useSay();
  const { survey } = hand;
  const put = (key: string, guard: Guard) => hand.put("guard", key, guard);
  const add = (between: [string, string], name: string) =>
    setNew({ between, name: unique(name, survey.guards) });
  const [fresh, setNew] = useState<{ between: [string, string]; name: string } | null>(null);
  const taken = new Set(survey.guards.map((guard) => [...guard.between].sort().join("|")));
  const others = proposed.filter((one) => !taken.has([...one.between].sort().join("|"))).slice(0, 3);
  return (
    <section aria-label="Before you cut" className="pt-2">
      <p className="border-l-4 border-warning bg-card p-2 text-sm leading-snug">
        <strong>Brace first.</strong> Stand the vehicle on stands on level ground, chock it, and weld or bolt
        a brace across what will be cut. Then read and sign these, cut, and read them again before anything is
        welded. A frame that moves while it is cut can fall: nobody goes under it.
      </p>
      <ol>
        {survey.guards.map((guard, k) => {
          const key = survey.guardKeys[k] ?? "";
          const its = told.find((one) => one.name === guard.name);
          const mark = its?.state === "moved" ? "fault" : its?.state === "held" ? "good" : "warning";
          return (
            <li key={key} className="border-b border-rule py-2" data-testid={`guard-${its?.state ?? "open"}`}>
              <div className="flex gap-2">
                <Mark mark={mark} size={22} />
                <p className="flex-1 font-semibold leading-snug">{its ? say(its.say) : guard.name}</p>
              </div>
              <div className="mt-1 grid grid-cols-[1fr_1fr_auto] items-end gap-2 text-sm">
                <Length
                  label={`${guard.name}, before`}
                  word="Before"
                  values={guard.before}
                  onRead={(before) => put(key, { ...guard, before, when_before: now() })}
                />
                <Length
                  label={`${guard.name}, after`}
                  word="After"
                  values={guard.after ?? []}
                  onRead={(after) => put(key, { ...guard, after, when_after: now() })}
                />
                {guard.signed ? (
                  <span className="pb-3">signed {guard.signed}</span>
                ) : (
                  <button
                    type="button"
                    className="press px-3"
                    onClick={() => put(key, { ...guard, signed: user })}
                  >
                    Sign it
                  </button>
                )}
              </div>
              <button
                type="button"
                className="mt-1 min-h-11 text-sm underline"
                onClick={() => hand.drop("guard", key)}
              >
                Remove {guard.name}
              </button>
            </li>
          );
        })}
      </ol>
      {fresh && (
        <div className="border-b border-rule py-2">
          <p className="font-semibold">{fresh.between.map((name) => placeWords(name)).join(" to ")}</p>
          <Length
            label="The new check dimension, before"
            word="Read it now, before the cut"
            values={[]}
            onRead={(before) => {
              put(newName(), { ...fresh, before, when_before: now() });
              setNew(null);
            }}
          />
        </div>
      )}
      <div className="flex flex-wrap gap-2 py-3">
        {picked.length === 2 && (
          <button
            type="button"
            className="press press-main whitespace-normal px-3 py-2 text-left text-sm"
            onClick={() =>
              add(picked as [string, string], picked.map((name) => placeWords(name, true)).join("–"))
            }
          >
            Check dimension between the two picked places
          </button>
        )}
        {others.map((one) => (
          <button
            key={one.name}
            type="button"
            className="press whitespace-normal px-3 py-2 text-left text-sm"
            onClick={() => add(one.between, one.name)}
          >
            Check dimension: {one.name}
          </button>
        ))}
        {!others.length && picked.length !== 2 && (
          <p className="text-sm text-soft">
            Pick two places on the drawing: a check dimension goes between them.
          </p>
        )}
      </div>
    </section>
  );
}

function Length({
  label,
  word,
  values,
  onRead,
}: {
  label: string;
  word: string;
  values: number[];
  onRead: (values: number[]) => void;
}) {
  const { quantity } = useUnits();
  return (
    <div>
      <span className="text-soft">
        {word}
        {values.length > 1 &&
          `, read ${values.length} times: ${values.map((one) => quantity(one, "length")).join(", ")}`}
      </span>
      <QuantityField
        label={label}
        value={values.at(-1) ?? 0}
        dimension="length"
        blank={!values.length}
        check={(value) => (value > 0 ? null : "A tape reading must be more than zero.")}
        onCommit={(value) => onRead([...values, value].slice(-4))}
      />
    </div>
  );
}

const now = () => new Date().toISOString();

function unique(name: string, guards: Guard[]): string {
  const names = guards.map((guard) => guard.name);
  let free = name;
  for (let k = 2; names.includes(free); k += 1) free = `${name} ${k}`;
  return free;
}
