import { type KeyboardEvent, useId, useLayoutEffect, useRef, useState } from "react";
import { type Dimension, parseQuantity } from "./quantity";
import { useUnits } from "./units";

interface Props {
  /** Plain name for those who cannot see where it stands. */
  label: string;
  /** In the engine's unit: mm, N/mm, kg, degrees. */
  value: number;
  dimension: Dimension;
  onCommit: (value: number) => void;
  /** Arrow up and down change by this much (mm and the like); Shift ten times, Alt a tenth. 0 turns it off. */
  step?: number;
  digits?: number;
  /** What must hold, else a sentence that says so. */
  check?: (value: number) => string | null;
  onFocus?: () => void;
  compact?: boolean;
  /** Nothing is said yet: the field stands empty instead of showing the value. */
  blank?: boolean;
  /** It may go unsaid: what was typed is taken out whole. */
  onClear?: () => void;
}

/** A field that takes what people say, shows how it was understood, and keeps what was typed. */
export function QuantityField(props: Props) {
  const {
    label,
    value,
    dimension,
    onCommit,
    step = 0,
    digits,
    check,
    onFocus,
    compact,
    blank,
    onClear,
  } = props;
  const { units, number, quantity, unit } = useUnits();
  const [typing, setTyping] = useState<string | null>(null);
  const [said, setSaid] = useState<{ text: string; value: number } | null>(null);
  const note = useId();
  const input = useRef<HTMLInputElement>(null);
  // What stands there is taken up whole as the field is entered, but never once a key has been struck in it:
  // on a slow tablet the second figure would replace the first.
  const [entered, setEntered] = useState(0);
  const struck = useRef(false);
  useLayoutEffect(() => {
    if (entered) input.current?.select();
  }, [entered]);

  const parsed =
    typing === null || ((blank || onClear) && typing.trim() === "")
      ? null
      : parseQuantity(typing, dimension, units);
  const fault = parsed && "fault" in parsed ? parsed.fault : parsed && check ? check(parsed.value) : null;
  const shown = typing ?? (blank ? "" : number(value, dimension, digits));

  const commit = () => {
    if ((blank || onClear) && typing?.trim() === "") {
      if (!blank) onClear?.();
      return setTyping(null);
    }
    if (typing === null || fault || !parsed || "fault" in parsed) return;
    if (blank || Math.abs(parsed.value - value) > 1e-9) onCommit(parsed.value);
    setSaid({ text: typing, value: parsed.value });
    setTyping(null);
  };
  const nudge = (event: KeyboardEvent) => {
    const size = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
    const next = Math.round((value + (event.key === "ArrowUp" ? 1 : -1) * size * step) * 1e6) / 1e6;
    event.preventDefault();
    if (check?.(next)) return;
    setTyping(null);
    onCommit(next);
  };

  return (
    <span className="relative block">
      <span className="flex items-center">
        <input
          ref={input}
          className={`entry text-right ${compact ? "px-1" : ""} ${fault ? "border-2 border-fault" : ""}`}
          aria-label={`${label}, ${unit(dimension) || "ratio"}`}
          aria-invalid={fault !== null}
          aria-describedby={typing === null ? undefined : note}
          inputMode="text"
          autoComplete="off"
          spellCheck={false}
          value={shown}
          onFocus={(event) => {
            onFocus?.();
            // What was typed comes back for as long as it still is the value.
            if (said && Math.abs(said.value - value) < 1e-9) setTyping(said.text);
            struck.current = false;
            setEntered((times) => times + 1);
            // Once more after the press that entered it has put the caret down.
            const field = event.target;
            requestAnimationFrame(() => struck.current || field.select());
          }}
          onChange={(event) => {
            struck.current = true;
            setTyping(event.target.value);
          }}
          onBlur={() => {
            if (!fault) commit();
          }}
          onKeyDown={(event) => {
            struck.current = true;
            if (event.key === "Enter") commit();
            else if (event.key === "Escape") setTyping(null);
            else if (step && (event.key === "ArrowUp" || event.key === "ArrowDown")) nudge(event);
          }}
        />
        {!compact && <span className="w-12 shrink-0 pl-2 text-sm text-soft">{unit(dimension)}</span>}
      </span>
      {parsed && (
        <span
          id={note}
          role={fault ? "alert" : undefined}
          className={`absolute right-0 top-full z-20 mt-px w-max max-w-64 border px-2 py-1 text-sm shadow ${
            fault ? "border-fault bg-card text-fault" : "border-rule bg-card text-soft"
          }`}
        >
          {fault ??
            ("value" in parsed ? `${parsed.said} = ${quantity(parsed.value, dimension, digits)}` : "")}
        </span>
      )}
    </span>
  );
}
