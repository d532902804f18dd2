import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, client, type Shape } from "../api/client";
import { DAY_NAMES, DAYS, type Person, type Shop, WEEK } from "./week";

interface Props {
  shop: Shop;
  usual: Record<string, string[]>;
  steps: Shape["StepNamed"][];
  calendars: string[];
  onShop: (shop: Shop) => void;
}

/** Who works in the shop, when, and what each does. */
export function PeopleAtWork({ shop, usual, steps, calendars, onShop }: Props) {
  const [name, setName] = useState("");
  const free = name.trim() && !shop.people.some((one) => one.name === name.trim());
  const put = (number: number, person: Person | null) =>
    onShop({
      ...shop,
      people: shop.people.flatMap((one, k) => (k === number ? (person ? [person] : []) : [one])),
      // Whom a step was held to is gone: it is anybody's again.
      held: person
        ? (shop.held ?? []).map((one) =>
            one.who === shop.people[number]?.name ? { ...one, who: person.name } : one,
          )
        : (shop.held ?? []).filter((one) => one.who !== shop.people[number]?.name || one.day),
    });
  return (
    <section aria-label="People at work">
      <h2 className="text-xl">Who works when</h2>
      {shop.people.map((person, number) => (
        <PersonCard
          key={person.name}
          person={person}
          steps={steps}
          calendar={calendars.includes(person.name)}
          onPerson={(to) => put(number, to)}
          onGone={shop.people.length > 1 ? () => put(number, null) : null}
        />
      ))}
      <form
        className="flex gap-2 py-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (!free) return;
          onShop({
            ...shop,
            people: [...shop.people, { name: name.trim(), hours: usual, away: [], can: "all" }],
          });
          setName("");
        }}
      >
        <input
          aria-label="Name of another person"
          className="entry min-w-0 flex-1"
          value={name}
          maxLength={80}
          placeholder="a name"
          onChange={(event) => setName(event.target.value)}
        />
        <button type="submit" className="press press-main" disabled={!free}>
          Add a person
        </button>
      </form>
      <Things shop={shop} onShop={onShop} />
    </section>
  );
}

const hoursText = (stretches: string[] | undefined) => (stretches ?? []).join(", ");
const asList = (text: string) =>
  text
    .split(",")
    .map((one) => one.trim())
    .filter(Boolean);

function PersonCard({
  person,
  steps,
  calendar,
  onPerson,
  onGone,
}: {
  person: Person;
  steps: Shape["StepNamed"][];
  calendar: boolean;
  onPerson: (to: Person) => void;
  onGone: (() => void) | null;
}) {
  return (
    <details className="border-b border-rule">
      <summary className="flex min-h-11 cursor-pointer items-center gap-3 py-1">
        <span className="text-lg font-semibold">{person.name}</span>
        <span className="text-sm text-soft">
          {DAYS.filter((day) => person.hours[day]?.length).length} days a week
          {person.can === "all" || person.can === undefined ? "" : `, ${person.can.length} kinds of step`}
        </span>
      </summary>
      <div className="grid grid-cols-[7rem_1fr] items-center gap-x-2 gap-y-1 pb-3">
        {DAYS.map((day, k) => (
          <Line
            key={day}
            label={DAY_NAMES[k] ?? day}
            of={person.name}
            value={hoursText(person.hours[day])}
            hint="08:00-12:00, 13:00-17:00"
            onCommit={(text) => onPerson({ ...person, hours: { ...person.hours, [day]: asList(text) } })}
          />
        ))}
        <Line
          label="Away on"
          of={person.name}
          value={hoursText(person.away)}
          hint="2026-12-24, 2026-12-25"
          onCommit={(text) => onPerson({ ...person, away: asList(text) })}
        />
        <fieldset className="col-span-2 flex flex-wrap gap-x-4 gap-y-1">
          <legend className="text-sm text-soft">Does these steps</legend>
          {steps.map((step) => {
            const all = person.can === "all" || person.can === undefined;
            const does = all || (person.can as string[]).includes(step.key);
            return (
              <label key={step.key} className="flex min-h-11 items-center gap-2">
                <input
                  type="checkbox"
                  className="size-5"
                  checked={does}
                  onChange={() => {
                    const now = all ? steps.map((one) => one.key) : (person.can as string[]);
                    const can = does ? now.filter((key) => key !== step.key) : [...now, step.key];
                    onPerson({ ...person, can: can.length === steps.length ? "all" : can });
                  }}
                />
                {step.name}
              </label>
            );
          })}
        </fieldset>
        <div className="col-span-2 flex flex-wrap gap-2 pt-2">
          <Calendar who={person.name} there={calendar} />
          {onGone && (
            <button type="button" className="press px-3 text-sm" onClick={onGone}>
              Remove {person.name}
            </button>
          )}
        </div>
      </div>
    </details>
  );
}

/** A field that is taken when it is left or Enter is pressed; what it was stands again after Escape. */
function Line({
  label,
  of,
  value,
  hint,
  onCommit,
}: {
  label: string;
  of: string;
  value: string;
  hint: string;
  onCommit: (text: string) => void;
}) {
  const [text, setText] = useState<string | null>(null);
  const take = () => {
    if (text !== null && text !== value) onCommit(text);
    setText(null);
  };
  return (
    <>
      <span>{label}</span>
      <input
        className="entry"
        aria-label={`${label}, ${of}`}
        value={text ?? value}
        placeholder={hint}
        onChange={(event) => setText(event.target.value)}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key === "Enter") take();
          if (event.key === "Escape") setText(null);
        }}
      />
    </>
  );
}

/** A person's calendar, for the telephone: an address that is told once and can be taken back. */
function Calendar({ who, there }: { who: string; there: boolean }) {
  const queries = useQueryClient();
  const [address, setAddress] = useState("");
  const fresh = () => queries.invalidateQueries({ queryKey: WEEK });
  const make = useMutation({
    mutationFn: () => answer(client.POST("/api/week/calendars", { body: { who } })),
    onSuccess: (made) => {
      setAddress(`${window.location.origin}${made.path}`);
      void fresh();
    },
  });
  const back = useMutation({
    mutationFn: () => answer(client.DELETE("/api/week/calendars/{who}", { params: { path: { who } } })),
    onSuccess: () => {
      setAddress("");
      void fresh();
    },
  });
  return (
    <>
      <button type="button" className="press px-3 text-sm" onClick={() => make.mutate()}>
        {there ? "A new calendar address" : "Calendar for the telephone"}
      </button>
      {there && (
        <button type="button" className="press px-3 text-sm" onClick={() => back.mutate()}>
          Withdraw the calendar
        </button>
      )}
      {(make.error ?? back.error) && <p role="alert">{(make.error ?? back.error)?.message}</p>}
      {address && (
        <p className="w-full text-sm leading-snug">
          <span className="block break-all font-semibold" data-testid="calendar-address">
            {address}
          </span>
          Subscribe to it in the telephone’s calendar. It is shown this once; whoever has it sees what {who}{" "}
          does, so hand it to nobody else.
        </p>
      )}
    </>
  );
}

/** What only one step at a time takes. */
function Things({ shop, onShop }: { shop: Shop; onShop: (shop: Shop) => void }) {
  const [zone, setZone] = useState<string | null>(null);
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  return (
    <div className="flex flex-wrap items-end gap-3">
      {(["welder", "lift"] as const).map((thing) => (
        <label key={thing} className="text-sm">
          <span className="block text-soft">{thing === "lift" ? "lifts" : "welders"}</span>
          <select
            className="entry w-20"
            value={shop.things?.[thing] ?? 1}
            onChange={(event) =>
              onShop({ ...shop, things: { ...shop.things, [thing]: Number(event.target.value) } })
            }
          >
            {[1, 2, 3, 4, 5, 6].map((count) => (
              <option key={count}>{count}</option>
            ))}
          </select>
        </label>
      ))}
      <label className="text-sm">
        <span className="block text-soft">the shop’s time zone</span>
        <input
          className="entry w-48"
          value={zone ?? shop.zone ?? "UTC"}
          onChange={(event) => setZone(event.target.value)}
          onBlur={() => {
            if (zone !== null && zone !== shop.zone) onShop({ ...shop, zone });
            setZone(null);
          }}
        />
      </label>
      {here !== (shop.zone ?? "UTC") && (
        <button type="button" className="press px-3 text-sm" onClick={() => onShop({ ...shop, zone: here })}>
          Use {here}
        </button>
      )}
    </div>
  );
}
