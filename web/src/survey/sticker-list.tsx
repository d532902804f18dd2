import { useState } from "react";
import type { Project } from "../api/client";
import { QuantityField } from "../quantity/quantity-field";
import { useUnits } from "../quantity/units";
import { placeOf, SIZES, standsOff, USUAL_SIZE, without, withPlaces, withStandOff } from "./stickers";
import type { SurveyInHand } from "./store";
import { placeWords } from "./words";

interface Props {
  document: Project;
  hand: SurveyInHand;
  names: string[];
}

/** Which sticker is on which place. */
export function StickerList({ document, hand, names }: Props) {
  const { quantity } = useUnits();
  const { stickers } = hand.survey;
  const [place, setPlace] = useState("");
  const numbers = Object.keys(stickers?.places ?? {}).sort((a, b) => Number(a) - Number(b));
  const has = new Set(numbers.map((number) => placeOf(stickers?.places[number] ?? "")));
  const free = names.filter((name) => !has.has(name));
  const put = (to: ReturnType<typeof withPlaces>) => hand.put("stickers", "stickers", to);
  const size = stickers?.size ?? USUAL_SIZE;
  const next = free.includes(place) ? place : (free[0] ?? "");
  return (
    <>
      <fieldset className="flex items-center gap-1 py-1 text-sm">
        <legend className="sr-only">Side of the black square</legend>
        <span className="pr-1 text-soft">black square</span>
        {SIZES.map((one) => (
          <button
            key={one}
            type="button"
            aria-pressed={one === size}
            onClick={() => put({ ...withPlaces(stickers, []), size: one })}
            className={`min-h-11 border px-2 font-semibold ${one === size ? "border-press bg-press text-white" : "border-edge bg-card"}`}
          >
            {quantity(one, "length", 0)}
          </button>
        ))}
        <span className="pl-1 text-soft">larger is seen from further</span>
      </fieldset>
      {free.length > 0 && (
        <div className="flex flex-wrap gap-2 py-1">
          <select
            aria-label="Place for a sticker"
            className="entry min-w-0 flex-1"
            value={next}
            onChange={(event) => setPlace(event.target.value)}
          >
            {free.map((name) => (
              <option key={name} value={name}>
                {placeWords(name)}
              </option>
            ))}
          </select>
          <button
            type="button"
            className="press px-3 text-sm"
            onClick={() => put(withPlaces(stickers, [next]))}
          >
            Give it a sticker
          </button>
          {document.stations.map((station) => {
            const its = free.filter((name) => name.startsWith(`${station.name}/`));
            return (
              its.length > 1 && (
                <button
                  key={station.name}
                  type="button"
                  className="press px-3 text-sm"
                  onClick={() => put(withPlaces(stickers, its))}
                >
                  All {its.length} of {station.name}
                </button>
              )
            );
          })}
        </div>
      )}
      {stickers && numbers.length > 0 && (
        <ul aria-label="Stickers on places" className="max-h-72 overflow-y-auto">
          {numbers.map((number) => {
            const its = stickers.places[number] ?? "";
            const words = placeWords(placeOf(its));
            return (
              <li key={number} className="flex items-center gap-2 border-b border-rule py-1 text-sm">
                <span className="w-8 text-right text-base font-semibold">{number}</span>
                <span className="min-w-0 flex-1 leading-tight">{words}</span>
                <span className="w-28 shrink-0">
                  <QuantityField
                    label={`Sticker ${number} stands off its place by`}
                    value={standsOff(its)}
                    dimension="length"
                    step={0.5}
                    check={(value) =>
                      Math.abs(value) <= 200 ? null : "A sticker stands 200 mm off at most."
                    }
                    onCommit={(value) => put(withStandOff(stickers, number, value))}
                  />
                </span>
                <button
                  type="button"
                  className="press px-3"
                  aria-label={`Remove sticker ${number} from ${words}`}
                  onClick={() => put(without(stickers, number))}
                >
                  ✕
                </button>
              </li>
            );
          })}
        </ul>
      )}
      {numbers.length > 0 && (
        <p className="text-sm leading-snug text-soft">
          The field is how far the sticker's face stands off the place: a bolt's head and washer under a card.
          Nothing where it lies on the place itself.
        </p>
      )}
    </>
  );
}
