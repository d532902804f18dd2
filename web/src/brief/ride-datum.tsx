import type { Station } from "../api/client";
import type { Change } from "../bench/edits";
import { QuantityField } from "../quantity/quantity-field";
import { Row } from "../quantity/row";

const ROW = "grid-cols-[1fr_10.5rem] border-b border-rule py-1";

const USUAL_MM = 200;

/** Ride height as the shop measures it: at a place it names, up from the floor. */
export function RideDatum({ station, change }: { station: Station; change: Change }) {
  const datum = station.datum;
  const set = (name: string, height: number) =>
    change((s) => ({ ...s, datum: { name, height } }) as Station, "datum");
  return (
    <>
      <div className="grid grid-cols-[1fr_10.5rem] items-center gap-2 border-b border-rule py-1">
        <label htmlFor="datum" className="leading-tight">
          Ride height is measured at
          <span className="block text-sm text-soft">a place on the body: sill, jacking point, frame</span>
        </label>
        <input
          id="datum"
          className="entry"
          maxLength={120}
          autoComplete="off"
          value={datum?.name ?? ""}
          placeholder="not said yet"
          onChange={(event) => {
            const name = event.target.value;
            if (name.trim()) return set(name, datum?.height ?? USUAL_MM);
            change((s) => {
              const { datum: _, ...rest } = s;
              return rest as Station;
            }, "datum");
          }}
        />
      </div>
      {datum && (
        <>
          <Row className={ROW} name="Above the floor as drawn" hint="with the wheel where it is drawn">
            <QuantityField
              label="Above the floor as drawn"
              value={datum.height}
              dimension="length"
              check={(value) => (value > 0 && value <= 5000 ? null : "It stands above the floor, below 5 m.")}
              onCommit={(height) => set(datum.name, height)}
            />
          </Row>
          <Row className={ROW} name="Wanted above the floor" hint="where it should stand, measured there">
            <QuantityField
              label="Wanted above the floor"
              value={datum.height - (station.travel.at ?? 0)}
              dimension="length"
              check={(value) => {
                const at = datum.height - value;
                return at <= station.travel.bump && at >= -station.travel.droop
                  ? null
                  : "That height lies outside the wanted travel.";
              }}
              onCommit={(value) =>
                change((s) => ({ ...s, travel: { ...s.travel, at: datum.height - value } }))
              }
            />
          </Row>
        </>
      )}
    </>
  );
}
