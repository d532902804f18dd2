import { Dialog } from "radix-ui";
import { useState } from "react";
import { spoken } from "../quantity/spoken";
import { dayOf, type Held, hour, type Stretch, written } from "./week";

interface Props {
  step: Stretch;
  name: string;
  job: string;
  held: Held | undefined;
  people: string[];
  onHold: (to: Pick<Held, "who" | "day"> | null) => void;
  onClose: () => void;
}

/** One step of the plan, and where a person who knows better wants it. */
export function HeldCard({ step, name, job, held, people, onHold, onClose }: Props) {
  const [who, setWho] = useState(held?.who ?? "");
  const [day, setDay] = useState(held?.day ?? "");
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed left-1/2 top-1/2 z-50 w-[min(30rem,94vw)] -translate-x-1/2 -translate-y-1/2 border border-edge bg-card p-5 text-ink"
        >
          <Dialog.Title className="text-xl">
            {name}
            {step.station !== null && `, ${spoken(step.station)}`}
          </Dialog.Title>
          <p className="text-soft">
            {job} · {step.who}, {written(dayOf(step.start))}, {hour(step.start)} to {hour(step.end)}
          </p>
          <label htmlFor="held-who" className="mt-3 block text-sm text-soft">
            Who does it
          </label>
          <select
            id="held-who"
            className="entry"
            value={who}
            onChange={(event) => setWho(event.target.value)}
          >
            <option value="">whoever is free first</option>
            {people.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
          <label htmlFor="held-day" className="mt-3 block text-sm text-soft">
            Not before
          </label>
          <input
            id="held-day"
            type="date"
            className="entry"
            value={day}
            onChange={(event) => setDay(event.target.value)}
          />
          <div className="mt-5 flex flex-wrap justify-end gap-3">
            <Dialog.Close className="press">Cancel</Dialog.Close>
            {held && (
              <button type="button" className="press" onClick={() => onHold(null)}>
                Let go of it
              </button>
            )}
            <button
              type="button"
              className="press press-main"
              disabled={!who && !day}
              onClick={() => onHold({ ...(who ? { who } : {}), ...(day ? { day } : {}) })}
            >
              Hold it there
            </button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
