import { useState } from "react";
import { Mark } from "../marks/mark";
import { useSay } from "../quantity/sentence";
import type { SurveyInHand } from "../survey/store";
import { newKey, now, type Proof } from "./proving";

/** What may be welded out, and what is missing; a person's initials beside each. */
export function Gates({ proof, hand }: { proof: Proof | undefined; hand: SurveyInHand }) {
  const say = useSay();
  if (!proof) return <p className="py-3 text-soft">Working it out …</p>;
  const stations = [...new Set(proof.gates.map((gate) => gate.station))];
  return (
    <section aria-label="Gates" className="pt-2">
      <p className="border-l-4 border-warning bg-card p-2 text-sm leading-snug">
        Tacked only, until every gate is met and somebody has put their initials to it. A competent engineer
        and the rules of the road or the track decide, not this list.
      </p>
      {stations.map((station) => (
        <section key={station} aria-label={`Gates of ${station}`} className="pt-2">
          <h3 className="font-semibold">{station}</h3>
          <ul>
            {proof.gates
              .filter((gate) => gate.station === station)
              .map((gate) => (
                <li
                  key={gate.name}
                  className="grid grid-cols-[auto_1fr_5rem] items-center gap-2 border-b border-rule py-1"
                >
                  <Mark mark={gate.met ? "good" : "warning"} size={22} />
                  <span className="leading-tight">
                    <span className="font-semibold">{gate.title}</span>
                    <span className="block text-sm">{say(gate.say)}</span>
                  </span>
                  {gate.initials ? (
                    <span className="text-center text-lg font-bold">{gate.initials}</span>
                  ) : (
                    <Initials
                      label={`Initials, ${gate.title}, ${station}`}
                      disabled={!gate.met}
                      onSign={(initials) =>
                        hand.put("record", newKey(), {
                          kind: "gate",
                          when: now(),
                          name: gate.name,
                          station,
                          initials,
                        })
                      }
                    />
                  )}
                </li>
              ))}
          </ul>
        </section>
      ))}
    </section>
  );
}

function Initials({
  label,
  disabled,
  onSign,
}: {
  label: string;
  disabled: boolean;
  onSign: (initials: string) => void;
}) {
  const [text, setText] = useState("");
  const sign = () => {
    if (!text.trim()) return;
    onSign(text.trim());
    // Signed once: leaving the field signs nothing more.
    setText("");
  };
  return (
    <input
      className="entry text-center"
      aria-label={label}
      disabled={disabled}
      maxLength={4}
      value={text}
      onChange={(event) => setText(event.target.value)}
      onKeyDown={(event) => event.key === "Enter" && sign()}
      onBlur={sign}
    />
  );
}
