import { Delete, SkipForward } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { Instrument } from "../instruments/instrument";
import { parseQuantity } from "../quantity/quantity";
import { useUnits } from "../quantity/units";
import type { InHand } from "./in-hand";
import { KINDS, type KindWords, placeWords } from "./words";

interface Props {
  /** The reading that is wanted: what was picked, or the next of the list. Null where there is none. */
  hand: InHand | null;
  /** Whether the list to read is there: it takes a moment to work out. */
  listed: boolean;
  /** Whether it was picked on the drawing, and not taken from the list. */
  picked: boolean;
  onKind: (kind: KindWords) => void;
  onEnter: (hand: InHand, values: number[]) => void;
  onSkip: () => void;
  onClear: () => void;
  /** Where every place is, mm: what a stand-in for an instrument is held to. */
  spots: Record<string, number[]>;
}

/** The field of the reading in hand: figures typed on the drawing go there. */
export const ENTRY = "survey-entry";

const KEYS = ["7", "8", "9", "4", "5", "6", "1", "2", "3", "−", "0", "."];

/** What is being typed, and for which reading. */
interface Typed {
  is: string;
  text: string;
  values: number[];
}

/** One reading by a keypad for gloves: the number, read again if it was, and Enter; the next wanted one comes up. */
export function Entry({ hand, listed, picked, onKind, onEnter, onSkip, onClear, spots }: Props) {
  const { units, quantity, unit } = useUnits();
  const [typed, setTyped] = useState<Typed>({ is: "", text: "", values: [] });
  const field = useRef<HTMLInputElement>(null);
  const is = hand ? `${hand.kind.kind} ${hand.kind.seen} ${hand.places.join("|")}` : "";
  // Another reading in hand starts with an empty field.
  const { text, values } = typed.is === is ? typed : { text: "", values: [] };
  const setText = (next: string) => setTyped({ is, text: next, values });
  // The whole list is read in by the keypad alone; whoever picks on the drawing by key stays there.
  const there = hand !== null;
  useEffect(() => {
    if (there && !document.activeElement?.closest('[aria-roledescription="drawing"]')) field.current?.focus();
  }, [there]);
  if (!hand)
    return (
      <p className="p-4 text-soft">
        Pick two places on the drawing and read the tape, or one and its height.{" "}
        {listed ? "Everything on the list has been read." : "The list to read is being worked out."}
      </p>
    );
  const { kind, places } = hand;
  const alike = kind.kind === "mirrored";
  const parsed = text.trim() ? parseQuantity(text, kind.dimension, units) : null;
  const fault = parsed && "fault" in parsed ? parsed.fault : parsed ? wrong(kind, parsed.value) : null;
  const value = parsed && "value" in parsed && !fault ? parsed.value : null;
  const ready = alike || value !== null || (values.length > 0 && !text.trim());
  const again = () => {
    if (value === null) return;
    setTyped({ is, text: "", values: [...values, value] });
    field.current?.focus();
  };
  const enter = () => {
    if (!ready) return;
    setTyped({ is: "", text: "", values: [] });
    onEnter(hand, value === null ? values : [...values, value]);
  };
  const type = (sign: string) => setText(text + sign);
  const choices = KINDS.filter((one) => one.places === places.length);
  return (
    <section aria-label="Reading in hand" className="border-b border-rule p-3">
      <div className="flex items-start justify-between gap-2">
        <p className="min-w-0 text-lg font-bold leading-tight" data-testid="in-hand">
          {places.map((place) => placeWords(place)).join(kind.kind === "angle" ? " · " : " to ")}
        </p>
        {picked ? (
          <button type="button" className="press shrink-0 px-3 text-sm" onClick={onClear}>
            Back to the list
          </button>
        ) : (
          <button type="button" className="press shrink-0 px-3 text-sm" onClick={onSkip}>
            <SkipForward size={18} aria-hidden /> Skip
          </button>
        )}
      </div>
      <p className="text-sm leading-snug text-soft">{hand.hint ?? `${kind.ask}, by ${kind.tool}`}</p>
      <fieldset className="mt-2 flex flex-wrap gap-1">
        <legend className="sr-only">What is read</legend>
        {choices.map((one) => (
          <button
            key={one.name}
            type="button"
            aria-pressed={one === kind}
            onClick={() => onKind(one)}
            className={`min-h-11 flex-auto border px-2 text-sm font-semibold ${one === kind ? "border-press bg-press text-white" : "border-edge bg-card"}`}
          >
            {one.name}
          </button>
        ))}
      </fieldset>
      {!alike && (
        <>
          <Instrument
            hand={hand}
            spots={spots}
            onTake={(reading) => {
              setTyped({ is, text, values: [...values, reading] });
              field.current?.focus();
            }}
          />
          <div className="mt-2 flex items-center gap-2">
            <input
              ref={field}
              id={ENTRY}
              className={`entry !min-h-14 text-right text-2xl font-bold ${fault ? "border-2 border-fault" : ""}`}
              aria-label={`${kind.name}, ${unit(kind.dimension)}`}
              aria-invalid={fault !== null}
              aria-describedby="entry-note"
              inputMode="none"
              autoComplete="off"
              spellCheck={false}
              value={text}
              onChange={(event) => setText(event.target.value.replaceAll("-", "−"))}
              onKeyDown={(event) => {
                if (event.key === "Enter") enter();
                else if (event.key === "&" || (event.key === "Enter" && event.shiftKey)) again();
                else if (event.key === "PageDown") onSkip();
                else if (event.key === "Escape") onClear();
                else return;
                event.preventDefault();
              }}
            />
            <span className="w-8 text-soft">{unit(kind.dimension)}</span>
          </div>
          <p
            id="entry-note"
            role={fault ? "alert" : undefined}
            className={`mt-1 min-h-6 text-right text-sm ${fault ? "font-semibold text-fault" : "text-soft"}`}
          >
            {fault ??
              [
                values.length ? `read ${values.map((one) => quantity(one, kind.dimension)).join(", ")}` : "",
                value !== null && parsed && "value" in parsed
                  ? `${parsed.said} = ${quantity(value, kind.dimension)}`
                  : "",
              ]
                .filter(Boolean)
                .join(" · ")}
          </p>
          <div className="grid grid-cols-4 gap-1">
            <div className="col-span-3 grid grid-cols-3 gap-1">
              {KEYS.map((sign) => (
                <PadKey key={sign} name={sign} onPress={() => type(sign)} />
              ))}
              <PadKey name="/" onPress={() => type("/")} />
              <PadKey name="space" onPress={() => type(" ")} small />
              <PadKey name="″" onPress={() => type('"')} />
            </div>
            <div className="grid grid-rows-[1fr_1fr_2fr] gap-1">
              <button
                type="button"
                aria-label="Clear the last figure"
                className="press h-full px-0"
                onClick={() => setText(text.slice(0, -1))}
              >
                <Delete size={22} aria-hidden />
              </button>
              <button
                type="button"
                className="press h-full whitespace-normal px-1 text-sm leading-tight"
                disabled={value === null}
                onClick={again}
              >
                And read again
              </button>
              <button
                type="button"
                className="press press-main h-full text-lg"
                disabled={!ready}
                onClick={enter}
              >
                Enter
              </button>
            </div>
          </div>
        </>
      )}
      {alike && (
        <button type="button" className="press press-main mt-2 w-full" onClick={enter}>
          They ought to be mirror images
        </button>
      )}
    </section>
  );
}

function PadKey({ name, onPress, small }: { name: string; onPress: () => void; small?: boolean }) {
  return (
    <button
      type="button"
      tabIndex={-1}
      onPointerDown={(event) => event.preventDefault()}
      onClick={onPress}
      className={`press min-h-12 px-0 ${small ? "text-sm" : "text-xl"}`}
    >
      {name}
    </button>
  );
}

/** What no tool reads, in a sentence. */
function wrong(kind: KindWords, value: number): string | null {
  if (kind.kind === "angle" && (value < 0 || value > 180)) return "An angle between two ways is 0 to 180°.";
  if (kind.kind === "slope" && Math.abs(value) > 90) return "A slope is at most 90° up or down.";
  if (["distance", "floor_distance"].includes(kind.kind) && value <= 0)
    return "A tape reading must be more than zero.";
  if (kind.dimension === "length" && Math.abs(value) > 20_000) return "That is more than 20 m.";
  return null;
}
