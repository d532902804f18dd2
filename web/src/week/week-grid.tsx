import { Pin } from "lucide-react";
import { useState } from "react";
import { spoken } from "../quantity/spoken";
import {
  dayAfter,
  dayOf,
  type Held,
  hour,
  type Plan,
  type Shop,
  type Stretch,
  weekday,
  written,
} from "./week";

interface Props {
  plan: Plan;
  shop: Shop;
  /** Of steps, by key. */
  names: Map<string, string>;
  /** The Monday that is shown first. */
  first: string;
  onOpen: (step: Stretch) => void;
  onMove: (step: Stretch, to: Pick<Held, "who" | "day">) => void;
}

const SHOWN_DAYS = 14;
const SATURDAY = 5;
/** Jobs are told apart by the line at a step's side as well as by their names. */
const SIDES = ["", "[border-left-style:double]", "[border-left-style:dashed]", "[border-left-style:dotted]"];

/** People down, days across: what each does, in the order of the hours; a step can be dragged to where a person knows better. */
export function WeekGrid({ plan, shop, names, first, onOpen, onMove }: Props) {
  const [held, setHeld] = useState<Stretch | null>(null);
  const [over, setOver] = useState("");
  const days = Array.from({ length: SHOWN_DAYS }, (_, k) => dayAfter(first, k)).filter(
    // What is past is past; a weekend is shown where somebody works at it.
    (day) =>
      day >= plan.first && (weekday(day) < SATURDAY || plan.plan.some((one) => dayOf(one.start) === day)),
  );
  const jobs = new Map(
    plan.jobs.map((one, k) => [one.id, { name: one.name, side: SIDES[k % SIDES.length] }]),
  );
  return (
    <div className="overflow-x-auto">
      <table
        className="w-full min-w-[60rem] table-fixed border-collapse"
        aria-label="Who does what, day by day"
      >
        <thead>
          <tr>
            <th className="w-24 border border-rule p-1 text-left">
              <span className="sr-only">Person</span>
            </th>
            {days.map((day) => (
              <th
                key={day}
                scope="col"
                className={`border border-rule p-1 text-left text-sm ${weekday(day) === 0 ? "border-l-4" : ""}`}
              >
                {written(day)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {shop.people.map((person) => (
            <tr key={person.name}>
              <th scope="row" className="break-words border border-rule p-1 text-left align-top">
                {person.name}
              </th>
              {days.map((day) => {
                const here = `${person.name} ${day}`;
                const away = person.away?.includes(day);
                return (
                  <td
                    key={day}
                    data-day={day}
                    data-who={person.name}
                    className={`h-16 border border-rule p-0.5 align-top ${weekday(day) === 0 ? "border-l-4" : ""} ${over === here ? "bg-marker/30" : away ? "bg-rule/60" : ""}`}
                    onDragOver={(event) => {
                      if (!held) return;
                      event.preventDefault();
                      setOver(here);
                    }}
                    onDragLeave={() => setOver("")}
                    onDrop={(event) => {
                      event.preventDefault();
                      setOver("");
                      if (held) onMove(held, { who: person.name, day });
                      setHeld(null);
                    }}
                  >
                    {away && <span className="text-sm text-soft">away</span>}
                    {plan.plan
                      .filter((one) => one.who === person.name && dayOf(one.start) === day)
                      .map((one) => (
                        <button
                          key={`${one.job} ${one.station} ${one.step} ${one.start}`}
                          type="button"
                          draggable
                          onDragStart={(event) => {
                            event.dataTransfer.setData("text/plain", one.step);
                            event.dataTransfer.effectAllowed = "move";
                            setHeld(one);
                          }}
                          onDragEnd={() => setHeld(null)}
                          onClick={() => onOpen(one)}
                          className={`mb-0.5 block min-h-11 w-full cursor-grab border border-edge border-l-[6px] border-l-press bg-card px-1 py-0.5 text-left text-xs leading-tight ${jobs.get(one.job)?.side ?? ""}`}
                        >
                          <span className="flex items-center gap-1 text-soft">
                            {hour(one.start)}–{hour(one.end)}
                            {one.held && <Pin size={12} aria-label="held" className="text-ink" />}
                          </span>
                          <span className="block font-semibold">
                            {names.get(one.step) ?? one.step}
                            {one.station !== null && `, ${spoken(one.station)}`}
                          </span>
                          <span className="block truncate">{jobs.get(one.job)?.name}</span>
                        </button>
                      ))}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
