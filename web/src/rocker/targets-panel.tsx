import type { Station } from "../api/client";
import type { Dimension } from "../quantity/quantity";
import { QuantityField } from "../quantity/quantity-field";
import { Row } from "../quantity/row";
import type { Targets } from "./search";

const ROW = "grid-cols-[1fr_9.6rem] border-b border-rule py-1";

interface Props {
  station: Station;
  shared: boolean;
  coil: boolean;
  targets: Targets;
  /** What it gives now, or what the Brief asks of it: where each kind of target begins. */
  usual: Record<Kind, number>;
  onTargets: (targets: Targets) => void;
  /** Another kind of target, of which nothing is asked yet. */
  onKind: (targets: Targets) => void;
}

export type Kind = "ratio" | "wheel_rate" | "stroke";

const KINDS: [Kind, string][] = [
  ["ratio", "a motion ratio"],
  ["wheel_rate", "a wheel rate"],
  ["stroke", "a stroke to be used up"],
];

/** What the rocker is to do, and the room it may take. */
export function TargetsPanel({ station, shared, coil, targets, usual, onTargets, onKind }: Props) {
  const kind: Kind = targets.wheel_rate != null ? "wheel_rate" : targets.stroke != null ? "stroke" : "ratio";
  const set = (values: Partial<Targets>) => onTargets({ ...targets, ...values });
  const tubes = (station.envelopes ?? []).filter((one) => one.along && (one.on ?? "chassis") === "chassis");
  const field = (
    label: string,
    hint: string,
    value: number,
    dimension: Dimension,
    commit: (value: number) => void,
    check: (value: number) => string | null,
    digits?: number,
  ) => (
    <Row className={ROW} name={label} hint={hint}>
      <QuantityField
        label={label}
        value={value}
        dimension={dimension}
        digits={digits}
        check={check}
        onCommit={commit}
      />
    </Row>
  );
  const ratio = targets.ratio ?? 0;
  const arm = (name: "rod_arm" | "damper_arm", words: string) => {
    const [least = 45, most = 140] = targets[name] ?? [];
    return (
      <Row className={ROW} name={words} hint="least and most">
        <span className="flex gap-1">
          {[0, 1].map((k) => (
            <span key={k} className="w-[4.6rem]">
              <QuantityField
                label={`${words}, ${k === 0 ? "least" : "most"}`}
                value={k === 0 ? least : most}
                dimension="length"
                digits={0}
                compact
                check={(value) =>
                  value < 5 || value > 1000
                    ? "An arm is 5 mm to a metre."
                    : k === 0 && value > most
                      ? "No more than the most."
                      : k === 1 && value < least
                        ? "No less than the least."
                        : null
                }
                onCommit={(value) => set({ [name]: k === 0 ? [value, most] : [least, value] })}
              />
            </span>
          ))}
        </span>
      </Row>
    );
  };
  const room = (name: "pivot_room" | "far_room", words: string, hint: string) => (
    <div className="border-b border-rule py-1">
      <span className="leading-tight">
        {words}
        <span className="block text-sm text-soft">{hint}</span>
      </span>
      <span className="grid grid-cols-3 gap-1 pt-1">
        {["fore–aft", "in–out", "up–down"].map((way, k) => (
          <span key={way}>
            <span className="text-sm text-soft">± {way}</span>
            <QuantityField
              label={`${words}, ${way}`}
              value={targets[name]?.[k] ?? 0}
              dimension="length"
              digits={0}
              compact
              check={(value) => (value >= 0 && value <= 1000 ? null : "Give 0 to a metre.")}
              onCommit={(value) =>
                set({ [name]: (targets[name] ?? [0, 0, 0]).map((old, n) => (n === k ? value : old)) })
              }
            />
          </span>
        ))}
      </span>
    </div>
  );
  return (
    <section aria-label="What it is to do">
      <Row className={ROW} name="Design for" hint="at ride height">
        <select
          className="entry w-full"
          aria-label="Design for"
          value={kind}
          onChange={(event) => {
            const next = event.target.value as Kind;
            onKind({ ...targets, ratio: null, wheel_rate: null, stroke: null, [next]: usual[next] });
          }}
        >
          {KINDS.filter(([key]) => key !== "wheel_rate" || coil).map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
      </Row>
      {kind === "ratio" && (
        <>
          {field("Damper ÷ wheel", "", ratio, "ratio", (value) => set({ ratio: value }), ratioFault)}
          {field(
            "Wheel ÷ damper",
            "the same, the other way up",
            ratio ? 1 / ratio : 0,
            "ratio",
            (value) => set({ ratio: 1 / value }),
            (value) => (value > 0 ? ratioFault(1 / value) : "It must be more than zero."),
          )}
        </>
      )}
      {kind === "wheel_rate" &&
        field(
          "Wheel rate",
          "with the coil that is fitted",
          targets.wheel_rate ?? 0,
          "rate",
          (value) => set({ wheel_rate: value }),
          positive,
        )}
      {kind === "stroke" &&
        field(
          "Stroke used",
          "over the whole wanted travel",
          targets.stroke ?? 0,
          "length",
          (value) => set({ stroke: value }),
          positive,
        )}
      {field(
        "Rise from droop to bump",
        "a minus falls",
        targets.change ?? 0,
        "share",
        (value) => set({ change: value }),
        (value) => (value >= -0.6 && value <= 1.5 ? null : "Give −60 to 150 %."),
        1,
      )}
      <label className="flex min-h-11 items-center gap-3 border-b border-rule">
        <input
          type="checkbox"
          className="size-6"
          checked={targets.straight ?? true}
          onChange={(event) => set({ straight: event.target.checked })}
        />
        Ratio runs straight between droop and bump
      </label>
      <Row className={ROW} name="Rod to its arm">
        <select
          className="entry w-full"
          aria-label="Rod to its arm"
          value={targets.school}
          onChange={(event) => set({ school: event.target.value as "square" | "even" })}
        >
          <option value="square">square at ride</option>
          <option value="even">even about mid-travel</option>
        </select>
      </Row>
      <label className="flex min-h-11 items-center gap-3 border-b border-rule">
        <input
          type="checkbox"
          className="size-6"
          checked={targets.damper_angle != null}
          onChange={(event) => set({ damper_angle: event.target.checked ? 90 : null })}
        />
        Damper square to its arm at ride
      </label>
      <label className="flex min-h-11 items-center gap-3 border-b border-rule">
        <input
          type="checkbox"
          className="size-6"
          checked={targets.in_line ?? false}
          onChange={(event) => set({ in_line: event.target.checked })}
        />
        Tilt the bolt so that the rod lies in the rocker's plane
      </label>
      {arm("rod_arm", "Rod arm")}
      {arm("damper_arm", "Damper arm")}
      {shared ? (
        <p className="border-b border-rule py-2 text-sm text-soft">
          The pivot's bolt carries another part too, so it stays where it is.
        </p>
      ) : (
        <>
          {tubes.length > 0 && (
            <Row className={ROW} name="The pivot may lie" hint="in a box, or on a tube">
              <select
                className="entry w-full"
                aria-label="The pivot may lie"
                value={targets.along ?? ""}
                onChange={(event) => set({ along: event.target.value || null })}
              >
                <option value="">in a box about where it is</option>
                {tubes.map((tube) => (
                  <option key={tube.name} value={tube.name}>
                    on {tube.name}
                  </option>
                ))}
              </select>
            </Row>
          )}
          {!targets.along && room("pivot_room", "Room for the pivot", "each way from where it is")}
        </>
      )}
      {room("far_room", "Room for the damper's far end", "each way from where it is")}
    </section>
  );
}

const positive = (value: number) => (value > 0 ? null : "It must be more than zero.");
const ratioFault = (value: number) =>
  value > 0.02 && value <= 5 ? null : "Ratios are 0.02 to 5, damper ÷ wheel.";
