import { type ReactNode, useEffect, useRef, useState } from "react";
import { Heads } from "../quantity/heads";

interface Props<T> {
  /** Headings; the first stands over the options' own names. */
  names: string[];
  /** Headings of words, which start at the left. */
  words?: string[];
  options: T[];
  /** What sets an option apart from the others. */
  of: (option: T) => string;
  /** Its name, and what stands small under it. */
  title: (option: T) => ReactNode;
  under?: (option: T) => ReactNode;
  /** Its figures, a cell each. */
  cells: (option: T) => ReactNode;
  now: (option: T) => boolean;
  /** What is said of the one there is now, in the place of its press. */
  said?: string;
  onTake: (option: T) => void;
  /** What a press takes, in words. */
  takes: (option: T) => string;
  /** px below which it is moved sideways. */
  wide?: number;
}

/** What may be fitted, side by side: the one there is now marked, each of the others a press away. */
export function OptionTable<T>(props: Props<T>) {
  const { names, words, options, of, title, under, cells, now, said, onTake, takes, wide } = props;
  const table = useRef<HTMLTableElement>(null);
  const [taken, setTaken] = useState("");
  const fitted = options.find(now);
  // What was taken has no press any more: its row is in hand instead.
  useEffect(() => {
    if (!taken || !fitted || of(fitted) !== taken) return;
    table.current?.querySelector<HTMLElement>("[data-now]")?.focus();
    setTaken("");
  });
  return (
    <div className="overflow-x-auto">
      <table
        ref={table}
        className="mt-2 w-full border-collapse text-right [&_td]:whitespace-nowrap"
        style={{ minWidth: wide }}
      >
        <Heads names={names} words={words} action="Take it" />
        <tbody>
          {options.map((option) => (
            <tr
              key={of(option)}
              className={`border-b border-rule ${now(option) ? "bg-marker/25 font-bold" : ""}`}
            >
              <th scope="row" className="py-1 pr-2 text-left text-lg font-bold">
                {title(option)}
                {under && <span className="block text-sm font-normal text-soft">{under(option)}</span>}
              </th>
              {cells(option)}
              <td className="py-1 pl-2">
                {now(option) ? (
                  <span data-now tabIndex={-1} className="px-3">
                    {said}
                  </span>
                ) : (
                  <button
                    type="button"
                    className="press px-3"
                    onClick={() => {
                      setTaken(of(option));
                      onTake(option);
                    }}
                    aria-label={`Take ${takes(option)}`}
                  >
                    Take
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** A tick after a figure that is as it is wanted. */
export function AsWanted() {
  return (
    <>
      {" "}
      <span aria-hidden>✓</span>
      <span className="sr-only">as wanted</span>
    </>
  );
}

/** How far a coil stays squeezed in droop, or how loose it comes. */
export function Seat({ left, words }: { left: number | null; words: (mm: number) => string }) {
  if (left === null) return <td className="px-2">–</td>;
  return (
    <td className={`px-2 ${left < 0 ? "text-fault" : ""}`}>
      {left < 0 ? `✕ loose by ${words(-left)}` : words(left)}
    </td>
  );
}
