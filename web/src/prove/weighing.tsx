import { useState } from "react";
import { Link } from "react-router";
import type { Project } from "../api/client";
import { Mark } from "../marks/mark";
import { QuantityField } from "../quantity/quantity-field";
import { useSay } from "../quantity/sentence";
import { useUnits } from "../quantity/units";
import type { SurveyInHand } from "../survey/store";
import { Entry } from "./cycling";
import { LiveScales } from "./live-scales";
import { newKey, now, type Proof, quarterTurns } from "./proving";
import { SeenTo, seenTo } from "./seen-to";

const RAISED =
  "Springs locked with solid links first, tanks full or empty. Straps on both sides and chocks at the wheels that stay down; nobody under it, nobody in it. Raise it on ramps made for its weight.";

interface Props {
  job: string;
  document: Project;
  hand: SurveyInHand;
  proof: Proof | undefined;
}

/** Scales and heights in, one list of what to turn out; done, and weighed again. */
export function Weighing({ job, document, hand, proof }: Props) {
  const say = useSay();
  const { quantity, number } = useUnits();
  const [scales, setScales] = useState<Record<string, number>>({});
  const [heights, setHeights] = useState<Record<string, number>>({});
  const [loaded, setLoaded] = useState("");
  const [fresh, setFresh] = useState(0);
  const [done, setDone] = useState("");
  const [raised, setRaised] = useState<"" | "front" | "rear">("");
  const [by, setBy] = useState(300);
  if (!proof) return <p className="py-3 text-soft">Working it out …</p>;
  const last = proof.weighs.at(-1);
  const cases = document.loads ?? [];
  const putIn = (cases.find((one) => one.name === loaded.trim())?.masses ?? []).map(({ name, mass, at }) => ({
    name,
    mass,
    x: at[0] ?? 0,
    y: at[1] ?? 0,
  }));
  const wheels = proof.wheels.map((wheel) => wheel.key);
  const share = (value: number | null) => (value === null ? "–" : `${number(value * 100, "ratio", 1)} %`);
  // Less than an eighth of a turn is not turned.
  const turning = (last?.turns ?? []).filter((turn) =>
    turn.turns === null ? Math.abs(turn.by) > 0.02 : Math.abs(turn.turns) >= 0.125,
  );
  const keep = () => {
    hand.put("record", newKey(), {
      kind: "weigh",
      when: now(),
      ...(loaded.trim() ? { with: loaded.trim() } : {}),
      wheels: scales,
      heights,
      ...(raised ? { raised: { end: raised, by } } : {}),
    });
    setRaised("");
    setScales({});
    setHeights({});
    setFresh(fresh + 1);
    setDone("");
  };
  const write = () => {
    if (!last) return;
    for (const turn of turning) {
      const by = turn.turns === null ? turn.by : (Math.round(turn.turns * 4) / 4) * (turn.by / turn.turns);
      hand.put("record", newKey(), {
        kind: "setting",
        when: now(),
        station: turn.station,
        what: turn.what,
        unit: turn.subjects[0] ?? "",
        from: Math.round(turn.now * 1000) / 1000,
        to: Math.round((turn.now + by) * 1000) / 1000,
        ...(turn.turns === null ? {} : { turns: Math.round(turn.turns * 4) / 4 }),
      });
    }
    setDone(
      "Written down. Roll it, settle it, and weigh it again: the next list knows what these turns did.",
    );
  };
  const newest = hand.records.filter((one) => one.body.kind !== "caution").at(-1)?.body.kind === "setting";
  return (
    <section aria-label="Weigh and set" className="pt-2">
      {last && (
        <>
          <dl className="grid grid-cols-4 gap-1 text-center">
            {(
              [
                ["Total", quantity(last.total, "mass")],
                ["Front", share(last.front_share)],
                ["Left", share(last.left_share)],
                ["Cross", share(last.cross_share)],
              ] as const
            ).map(([name, value]) => (
              <div key={name} className="bg-card py-1">
                <dt className="text-sm text-soft">{name}</dt>
                <dd className="text-lg font-bold">{value}</dd>
              </div>
            ))}
          </dl>
          <ul>
            {last.said.map((words) => (
              <li key={words.words + words.names.join()} className="flex gap-2 py-1">
                <Mark mark="warning" size={20} />
                <p className="text-sm leading-snug">{say(words)}</p>
              </li>
            ))}
          </ul>
          {last.turns.length > 0 && !turning.length && (
            <p className="pt-2 text-lg font-semibold">Nothing is left to turn.</p>
          )}
          {turning.length > 0 && !newest && (
            <>
              <h3 className="pt-2 font-semibold">Turn, in this order</h3>
              <ol aria-label="What to turn">
                {turning.map((turn) => (
                  <li key={turn.station} className="flex items-baseline gap-3 border-b border-rule py-1.5">
                    <span className="flex-1 leading-tight">
                      <span className="font-semibold">{turn.station}</span>, {turn.what}
                      <span className="block text-sm text-soft">
                        <span className="block font-semibold text-ink">{say(turn.way)}</span>
                        {turn.left_after === null
                          ? ""
                          : `${quantity(turn.left_after, turn.what === "pressure" ? "pressure" : "length")} of adjustment left that way`}
                        {Math.abs(turn.learnt - 1) > 0.02
                          ? `, each turn moves it ${number(Math.abs(turn.learnt - 1) * 100, "ratio", 0)} % ${turn.learnt > 1 ? "more" : "less"} than calculated`
                          : ""}
                      </span>
                    </span>
                    <span className="text-right text-lg font-bold">
                      {turn.turns === null ? quantity(turn.by, "pressure") : quarterTurns(turn.turns)}
                      {turn.turns !== null && (
                        <span className="block text-sm font-normal">{quantity(turn.by, "travel")}</span>
                      )}
                    </span>
                  </li>
                ))}
              </ol>
              {last.after && (
                <p className="pt-2 leading-snug">
                  {Object.keys(last.after.heights).length > 0
                    ? `Then it stands ${Object.entries(last.after.heights)
                        .map(([key, height]) => `${key} ${quantity(height, "length")}`)
                        .join(", ")}`
                    : `Then each wheel stands, from as drawn, ${Object.entries(last.after.travels)
                        .map(([key, travel]) => `${key} ${quantity(travel, "travel")}`)
                        .join(", ")}`}
                  {last.after.cross === null ? "." : `, and crosses ${share(last.after.cross)}.`}
                </p>
              )}
              <button type="button" className="press press-main mt-2 w-full" onClick={write}>
                Done
              </button>
            </>
          )}
        </>
      )}
      {(done || newest) && (
        <p role="status" className="mt-2 border-l-4 border-good pl-3">
          {done || "Turned. Roll it, settle it, and weigh it again."}
        </p>
      )}
      <h3 className="pt-3 font-semibold">{last ? "Weigh it again" : "Weigh it"}</h3>
      <p className="text-sm text-soft">
        Level pad, tyres at pressure, rolled and settled, the driver’s weight in it as it will be driven.
      </p>
      <LiveScales
        document={document}
        records={hand.records}
        wheels={wheels}
        datums={Object.keys(proof.datums)}
        read={heights}
        putIn={putIn}
        onScales={setScales}
        onHeight={(name, height) => setHeights({ ...heights, [name]: height })}
      />
      <div key={fresh}>
        {wheels.map((wheel) => (
          <Entry
            key={wheel}
            label={`${wheel}, scale`}
            dimension="mass"
            value={scales[wheel] ?? null}
            onCommit={(value) => setScales({ ...scales, [wheel]: value })}
          />
        ))}
        {Object.keys(proof.datums).map((name) => (
          <Entry
            key={name}
            label={`${name}, height`}
            value={heights[name] ?? null}
            onCommit={(value) => setHeights({ ...heights, [name]: value })}
          />
        ))}
        {Object.keys(proof.datums).length === 0 && (
          <p className="py-1 text-sm leading-snug">
            No height is asked for, because no station says where it is measured.{" "}
            <Link className="underline" to={`/jobs/${job}/brief`}>
              Name a datum on the Brief
            </Link>
            , a sill or a guard’s lip, and its height stands here.
          </p>
        )}
        <input
          className="entry mt-1 w-full"
          placeholder="What was in it: driver, half a tank"
          aria-label="What was in it"
          maxLength={200}
          value={loaded}
          list="load-cases"
          onChange={(event) => setLoaded(event.target.value)}
        />
        <datalist id="load-cases">
          {cases.map((one) => (
            <option key={one.name} value={one.name} />
          ))}
        </datalist>
        <div className="mt-1 grid grid-cols-[1fr_10rem] items-center gap-2">
          <select
            aria-label="Level, or one end raised"
            className="entry"
            value={raised}
            onChange={(event) => setRaised(event.target.value as typeof raised)}
          >
            <option value="">Level, to set it</option>
            <option value="rear">Rear wheels raised, for its centre of gravity</option>
            <option value="front">Front wheels raised, for its centre of gravity</option>
          </select>
          {raised && (
            <QuantityField
              label="Raised by"
              value={by}
              dimension="length"
              check={(mm) => (mm > 0 && mm < 3000 ? null : "Raise it by more than zero and less than 3 m.")}
              onCommit={setBy}
            />
          )}
        </div>
        {raised && (
          <div className="mt-1">
            <SeenTo hand={hand} what={RAISED} />
          </div>
        )}
      </div>
      <button
        type="button"
        className="press press-main mt-2 w-full"
        disabled={!Object.keys(scales).length || (raised !== "" && !seenTo(hand, RAISED))}
        onClick={keep}
      >
        Keep the weigh-in
      </button>
    </section>
  );
}
