import { useState } from "react";
import { QuantityField } from "../quantity/quantity-field";
import { useUnits } from "../quantity/units";
import type { SurveyInHand } from "./store";

const WAYS = ["ahead of the datum line", "left of the centreline", "up from the floor"];

/** Places that belong to no linkage: punch marks on the frame, pins in the floor; roughly where is enough. */
export function Marks({ hand, names }: { hand: SurveyInHand; names: string[] }) {
  const { quantity } = useUnits();
  const [name, setName] = useState("");
  const [spot, setSpot] = useState([0, 0, 0]);
  const fault = names.includes(name.trim()) ? "There is a place of that name already." : null;
  return (
    <section aria-label="Marks" className="pt-2">
      <p className="text-sm leading-snug text-soft">
        A punch mark on the frame or a pin in the floor, roughly where it is. Readings find the place.
      </p>
      <label htmlFor="mark-name" className="mt-2 block text-sm text-soft">
        Its name
      </label>
      <input
        id="mark-name"
        className="entry"
        value={name}
        maxLength={80}
        aria-invalid={fault !== null}
        onChange={(event) => setName(event.target.value)}
      />
      {fault && <p className="text-sm text-fault">{fault}</p>}
      {WAYS.map((way, axis) => (
        <div key={way} className="mt-2 grid grid-cols-[1fr_9.5rem] items-center gap-2">
          <span>{way}</span>
          <QuantityField
            label={`The mark, ${way}`}
            value={spot[axis] ?? 0}
            dimension="length"
            step={10}
            check={(value) => (Math.abs(value) <= 20_000 ? null : "That is more than 20 m.")}
            onCommit={(value) => setSpot(spot.map((its, k) => (k === axis ? value : its)))}
          />
        </div>
      ))}
      <button
        type="button"
        className="press press-main mt-3"
        disabled={!name.trim() || fault !== null}
        onClick={() => {
          hand.put("mark", name.trim(), spot);
          setName("");
        }}
      >
        Put the mark there
      </button>
      <ul className="mt-3">
        {Object.entries(hand.survey.marks).map(([mark, [x = 0, y = 0, z = 0]]) => (
          <li key={mark} className="flex items-center gap-2 border-b border-rule py-1">
            <span className="flex-1">
              <strong>{mark}</strong>{" "}
              <span className="text-sm text-soft">
                about {quantity(x, "length")}, {quantity(y, "length")}, {quantity(z, "length")}
              </span>
            </span>
            <button type="button" className="press px-3 text-sm" onClick={() => hand.drop("mark", mark)}>
              Remove {mark}
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
