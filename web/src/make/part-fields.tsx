import type { Station } from "../api/client";
import { QuantityField } from "../quantity/quantity-field";
import { spoken } from "../quantity/spoken";
import type { Choice } from "./choosing";

const AXES = ["ahead", "out, left +", "up"];
const WAYS: [string, string, number[] | null][] = [
  ["square", "square", null],
  ["fore", "on a tube that runs fore–aft", [1, 0, 0]],
  ["across", "on a tube that runs across", [0, 1, 0]],
  ["up", "on an upright tube", [0, 0, 1]],
];

interface EndCut {
  on: string;
  outside?: number;
  along?: number[];
}

/** A tube's corners, and what its ends are cut to. */
export function RunFields({
  choice,
  station,
  set,
}: {
  choice: Choice;
  station: Station;
  set: (values: Record<string, unknown>) => void;
}) {
  const corners = choice.corners as (string | number[])[];
  const ends = (choice.ends ?? [{ on: "square" }, { on: "square" }]) as EndCut[];
  const wayOf = (end: EndCut) => {
    if (end.on === "square") return "square";
    const known = WAYS.find(
      ([, , way]) => way && JSON.stringify(way) === JSON.stringify(end.along?.map((v) => Math.abs(v))),
    );
    return known?.[0] ?? "as is";
  };
  return (
    <>
      {corners.map((corner, k) => {
        const spot = typeof corner === "string" ? (station.points[corner] ?? [0, 0, 0]) : corner;
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: corners stand in their order
          <fieldset key={k} className="border-b border-rule py-1">
            <legend className="text-sm text-soft">
              Corner {k + 1}
              {typeof corner === "string" ? `, ${spoken(corner)}` : ""}
            </legend>
            <div className="grid grid-cols-3 gap-1">
              {AXES.map((axis, n) => (
                <QuantityField
                  key={axis}
                  label={`Corner ${k + 1}, ${axis}`}
                  value={spot[n] ?? 0}
                  dimension="length"
                  step={1}
                  compact
                  onCommit={(value) =>
                    set({
                      corners: corners.map((old, c) =>
                        c === k ? spot.map((v, i) => (i === n ? value : v)) : old,
                      ),
                    })
                  }
                />
              ))}
            </div>
          </fieldset>
        );
      })}
      {ends.map((end, k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a tube has two ends
        <div key={k}>
          <Pick
            name={`End ${k + 1} is cut`}
            value={wayOf(end)}
            options={[
              ...WAYS.map(([key, words]) => [key, words] as [string, string]),
              ...(wayOf(end) === "as is" ? [["as is", "on a tube, as it lies"] as [string, string]] : []),
            ]}
            onPick={(value) => {
              const way = WAYS.find(([key]) => key === value)?.[2] ?? null;
              const next = way ? { on: "tube", outside: end.outside ?? 48.3, along: way } : { on: "square" };
              set({ ends: ends.map((old, c) => (c === k ? next : old)) });
            }}
          />
          {end.on === "tube" && (
            <Line name="Over that tube">
              <QuantityField
                label={`Over the tube at end ${k + 1}`}
                value={end.outside ?? 48.3}
                dimension="length"
                check={(value) => (value > 0 ? null : "Give more than zero.")}
                onCommit={(value) =>
                  set({ ends: ends.map((old, c) => (c === k ? { ...old, outside: value } : old)) })
                }
              />
            </Line>
          )}
        </div>
      ))}
    </>
  );
}

export function FootFields({
  choice,
  set,
}: {
  choice: Choice;
  set: (values: Record<string, unknown>) => void;
}) {
  const foot = (choice.foot ?? { on: "flat" }) as {
    on: string;
    outside?: number;
    angle?: number;
    slope?: number;
  };
  return (
    <>
      <Pick
        name="Welded to"
        value={foot.on}
        options={[
          ["flat", "a flat"],
          ["tube", "a round tube"],
        ]}
        onPick={(value) =>
          set({
            foot:
              value === "flat"
                ? { on: "flat", slope: 0 }
                : { on: "tube", outside: foot.outside ?? 48.3, angle: 90 },
          })
        }
      />
      {foot.on === "tube" && (
        <>
          <Line name="Over that tube">
            <QuantityField
              label="Over that tube"
              value={foot.outside ?? 48.3}
              dimension="length"
              check={(value) => (value > 0 ? null : "Give more than zero.")}
              onCommit={(value) => set({ foot: { ...foot, outside: value } })}
            />
          </Line>
          <Line name="Tube to the tab's plane, 90° across">
            <QuantityField
              label="Tube to the tab's plane"
              value={foot.angle ?? 90}
              dimension="angle"
              check={(value) => (value >= 0 && value <= 90 ? null : "Give 0° (along) to 90° (across).")}
              onCommit={(value) => set({ foot: { ...foot, angle: value } })}
            />
          </Line>
        </>
      )}
      {foot.on === "flat" && (
        <Line name="Face out of square to the tab">
          <QuantityField
            label="Face out of square to the tab"
            value={foot.slope ?? 0}
            dimension="angle"
            check={(value) => (Math.abs(value) <= 60 ? null : "Give up to 60° either way.")}
            onCommit={(value) => set({ foot: { ...foot, slope: value } })}
          />
        </Line>
      )}
    </>
  );
}

export function Line({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div className="grid grid-cols-[1fr_9.5rem] items-center gap-2 border-b border-rule py-1">
      <span className="leading-tight">{name}</span>
      {children}
    </div>
  );
}

export function Pick({
  name,
  value,
  options,
  onPick,
}: {
  name: string;
  value: string;
  options: [string, string][];
  onPick: (value: string) => void;
}) {
  return (
    <label className="grid grid-cols-[1fr_11rem] items-center gap-2 border-b border-rule py-1">
      <span>{name}</span>
      <select className="entry w-full" value={value} onChange={(event) => onPick(event.target.value)}>
        {options.map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}
