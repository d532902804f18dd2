import type { Dispatch } from "react";
import { useState } from "react";
import { parseQuantity } from "../quantity/quantity";
import { QuantityField } from "../quantity/quantity-field";
import { Row } from "../quantity/row";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import type { Asking, Vary, Wishes } from "./study";

const WAYS = ["fore–aft", "in–out", "up–down"];
const HOW_MANY = [100_000, 1_000_000, 10_000_000];
const ROW = "grid-cols-[1fr_8.5rem] border-b border-rule py-1";

interface Props {
  asking: Asking;
  onAsking: Dispatch<Asking>;
  /** The first damper of the job: what one all round would begin with. */
  damper: { extended: number; compressed: number };
}

/** What may change, and what the vehicle is to be. */
export function AskingPanel({ asking, onAsking, damper }: Props) {
  const { vary, wishes } = asking;
  const wish = (values: Partial<Wishes>) => onAsking({ ...asking, wishes: { ...wishes, ...values } });
  const put = (at: number, next: Vary) =>
    onAsking({ ...asking, vary: vary.map((one, k) => (k === at ? next : one)) });
  return (
    <>
      <section aria-label="What the vehicle is to be">
        <h2 className="pt-2 text-lg font-semibold">What it is to be</h2>
        {Object.entries(wishes.frequency).map(([station, hertz]) => (
          <Row key={station} className={ROW} name={station} hint="frequency where it stands">
            <QuantityField
              label={`${station}, frequency`}
              value={hertz}
              dimension="frequency"
              check={(value) => (value >= 0.2 && value <= 10 ? null : "A frequency is 0.2 to 10 Hz.")}
              onCommit={(value) => wish({ frequency: { ...wishes.frequency, [station]: value } })}
            />
          </Row>
        ))}
        <Check
          name="Front’s share of the roll stiffness"
          on={wishes.roll_front != null}
          onSet={(on) => wish({ roll_front: on ? 0.5 : null })}
        />
        {wishes.roll_front != null && (
          <Row className={ROW} name="Share at the front" hint="springs and bars as they are">
            <QuantityField
              label="Share at the front"
              value={wishes.roll_front}
              dimension="share"
              digits={0}
              check={(value) => (value > 0.05 && value < 0.95 ? null : "Give 5 to 95 %.")}
              onCommit={(value) => wish({ roll_front: value })}
            />
          </Row>
        )}
        <Check
          name="One damper all round"
          on={wishes.damper != null}
          onSet={(on) => wish({ damper: on ? damper : null })}
        />
        {wishes.damper != null &&
          (["extended", "compressed"] as const).map((end) => (
            <Row key={end} className={ROW} name={`Damper, ${end}`} hint="between its eyes">
              <QuantityField
                label={`Damper, ${end}`}
                value={wishes.damper?.[end] ?? 0}
                dimension="length"
                check={(value) => (value > 0 ? null : "It must be longer than zero.")}
                onCommit={(value) =>
                  wish({ damper: { extended: 0, compressed: 0, ...wishes.damper, [end]: value } })
                }
              />
            </Row>
          ))}
        <Check
          name="As few different springs as may be"
          on={wishes.few_springs}
          onSet={(on) => wish({ few_springs: on })}
        />
        <Check
          name="Bump stops reset"
          on={wishes.stop_at != null}
          onSet={(on) => wish({ stop_at: on ? 0.6 : null })}
        />
        {wishes.stop_at != null && (
          <Row className={ROW} name="Bump stops touch at" hint="of the way from where it stands to full bump">
            <QuantityField
              label="Bump stops touch at"
              value={wishes.stop_at}
              dimension="share"
              digits={0}
              check={(value) => (value > 0.05 && value <= 1 ? null : "Give 6 to 100 %.")}
              onCommit={(value) => wish({ stop_at: value })}
            />
          </Row>
        )}
        <Row className={ROW} name="Damper and coil left" hint="at either end of the wanted travel">
          <QuantityField
            label="Damper and coil left"
            value={wishes.left}
            dimension="length"
            check={(value) => (value >= 0 && value <= 100 ? null : "Give 0 to 100 mm.")}
            onCommit={(value) => wish({ left: value })}
          />
        </Row>
        <Row className={ROW} name="The tape is off by" hint="one standard error of every measure">
          <QuantityField
            label="The tape is off by"
            value={wishes.tape}
            dimension="length"
            check={(value) => (value > 0 && value <= 20 ? null : "Give more than 0, to 20 mm.")}
            onCommit={(value) => wish({ tape: value })}
          />
        </Row>
      </section>
      <section aria-label="What may change">
        <h2 className="pt-5 text-lg font-semibold">What may change</h2>
        {vary.map((one, at) => (
          <div key={one.station} className="border-b border-rule py-2">
            <h3 className="font-semibold">
              {one.station}
              {one.alike && <span className="font-normal text-soft"> and {one.alike} alike</span>}
            </h3>
            {one.places.map((place, n) => (
              <div key={place.points.join()} className="pt-1">
                <span className="text-sm">{place.points.map(spoken).join(" and ")} may move</span>
                <span className="grid grid-cols-3 gap-1">
                  {WAYS.map((way, k) => (
                    <span key={way}>
                      <span className="text-sm text-soft">± {way}</span>
                      <QuantityField
                        label={`${one.station}, ${place.points.map(spoken).join(" and ")}, ${way}`}
                        value={place.box[k] ?? 0}
                        dimension="length"
                        digits={0}
                        compact
                        check={(value) => (value >= 0 && value <= 200 ? null : "Give 0 to 200 mm.")}
                        onCommit={(value) =>
                          put(at, {
                            ...one,
                            places: one.places.map((old, m) =>
                              m === n
                                ? { ...old, box: old.box.map((side, j) => (j === k ? value : side)) }
                                : old,
                            ),
                          })
                        }
                      />
                    </span>
                  ))}
                </span>
              </div>
            ))}
            {one.springs.length > 0 && (
              <Rates
                label={`${one.station}, springs that may be fitted`}
                rates={one.springs}
                onRates={(springs) => put(at, { ...one, springs })}
              />
            )}
          </div>
        ))}
      </section>
      <Row className="grid-cols-[1fr_10rem] py-3" name="How many vehicles" hint="the more, the nearer">
        <select
          className="entry"
          aria-label="How many vehicles"
          value={asking.candidates}
          onChange={(event) => onAsking({ ...asking, candidates: Number(event.target.value) })}
        >
          {[...new Set([...HOW_MANY, asking.candidates])].map((count) => (
            <option key={count} value={count}>
              {count.toLocaleString("en-GB")}
            </option>
          ))}
        </select>
      </Row>
    </>
  );
}

function Check({ name, on, onSet }: { name: string; on: boolean; onSet: (on: boolean) => void }) {
  return (
    <label className="flex min-h-11 items-center gap-3 border-b border-rule">
      <input
        type="checkbox"
        className="size-6"
        checked={on}
        onChange={(event) => onSet(event.target.checked)}
      />
      {name}
    </label>
  );
}

/** Spring rates in a row, as they are written on a list. */
function Rates({
  label,
  rates,
  onRates,
}: {
  label: string;
  rates: number[];
  onRates: (rates: number[]) => void;
}) {
  const { units, number, unit } = useUnits();
  const [typing, setTyping] = useState<string | null>(null);
  const read = (typing ?? "")
    .split(/[\s;]+/)
    .filter(Boolean)
    .map((word) => parseQuantity(word, "rate", units));
  const bad = typing !== null && (!read.length || read.some((one) => "fault" in one || one.value <= 0));
  const commit = () => {
    if (typing === null || bad) return;
    const found = read.map((one) => ("value" in one ? one.value : 0));
    onRates([...new Set(found)].sort((a, b) => a - b));
    setTyping(null);
  };
  return (
    <label className="block pt-1">
      <span className="text-sm">springs that may be fitted, {unit("rate")}</span>
      <input
        className="entry w-full"
        aria-label={label}
        aria-invalid={bad}
        value={typing ?? rates.map((rate) => number(rate, "rate")).join("  ")}
        onChange={(event) => setTyping(event.target.value)}
        onBlur={commit}
        onKeyDown={(event) => event.key === "Enter" && commit()}
      />
      {bad && (
        <span role="alert" className="block text-sm text-fault">
          Rates with spaces between them, each more than zero.
        </span>
      )}
    </label>
  );
}
