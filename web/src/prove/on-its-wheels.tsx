import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, client, type Project } from "../api/client";
import { useUnits } from "../quantity/units";
import type { Kept } from "../survey/store";
import type { Proof, Stance } from "./proving";
import { VehicleSides } from "./vehicle-sides";
import { VehicleView } from "./vehicle-view";

interface Props {
  document: Project;
  proof: Proof;
  /** The last weigh-in with every figure typed at it. */
  weighed: Kept | undefined;
}

/** What is done to it: thrown over by braking and cornering, in shares of the g chosen; or stood on a block. */
interface Done {
  brake: number;
  corner: number;
}

const STILL: Done = { brake: 0, corner: 0 };
const BLOCK_MM = [25, 50, 100, 150, 200, 250];
const THROWS: [string, Done][] = [
  ["standing", STILL],
  ["braking", { brake: 1, corner: 0 }],
  ["turning left", { brake: 0, corner: 1 }],
  ["turning right", { brake: 0, corner: -1 }],
  ["braking, turning left", { brake: 0.7, corner: 0.7 }],
  ["braking, turning right", { brake: 0.7, corner: -0.7 }],
];
const ON_BLOCK = THROWS.length;

/** The vehicle on the floor from both sides and above: as weighed, as planned, with a load in it, braking and cornering, a wheel on a block or a jack. */
export function OnItsWheels({ document, proof, weighed }: Props) {
  const { quantity, number } = useUnits();
  const [look, setLook] = useState("");
  const [way, setWay] = useState(0);
  const [g, setG] = useState(0.8);
  const [under, setUnder] = useState("");
  const [block, setBlock] = useState(100);
  const as = look || (weighed ? "weighed" : "planned");
  const load = proof.cases.find((one) => `load ${one.name}` === as);
  const throws = THROWS[way]?.[1] ?? STILL;
  const moving = as !== "weighed" && as !== "finished" && way > 0;
  const places = blocked(proof);
  const raised = places.find(([words]) => words === under) ?? places[0];
  const blocks: Record<string, number> =
    way === ON_BLOCK ? Object.fromEntries((raised?.[1] ?? []).map((key) => [key, block])) : {};
  const thrown = useStance(document, moving, {
    brake_g: throws.brake * g,
    corner_g: throws.corner * g,
    load: load?.name ?? "",
    blocks,
  });
  const still = as === "finished" ? proof.finished : (load?.stands ?? proof.now);
  const stands: Stance | null = moving ? (thrown.data ?? null) : still;
  const body = as === "weighed" ? weighed?.body : undefined;
  const leaning = (what: string, degrees: number, level: string) =>
    Math.abs(degrees) < NO_ANGLE_DEG
      ? level
      : `${what} ${degrees > 0 ? "down" : "up"} ${quantity(Math.abs(degrees), "angle", 2)}`;
  return (
    <section aria-label="On its wheels" aria-busy={thrown.isFetching}>
      <div className="flex flex-wrap items-center gap-2 pb-1">
        <h2 className="text-lg">On its wheels</h2>
        <select
          aria-label="What is looked at"
          className="entry w-auto"
          value={as}
          onChange={(event) => setLook(event.target.value)}
        >
          {weighed && <option value="weighed">as weighed {weighed.body.when.slice(0, 10)}</option>}
          <option value="planned">as planned</option>
          {proof.cases.map((one) => (
            <option key={one.name} value={`load ${one.name}`}>
              {one.name}
            </option>
          ))}
          {proof.finished && <option value="finished">with everything fitted</option>}
        </select>
        {as !== "weighed" && as !== "finished" && (
          <>
            <select
              aria-label="What it does"
              className="entry w-auto"
              value={way}
              onChange={(event) => setWay(Number(event.target.value))}
            >
              {THROWS.map(([words], k) => (
                <option key={words} value={k}>
                  {words}
                </option>
              ))}
              <option value={ON_BLOCK}>on a block or a jack</option>
            </select>
            {way === ON_BLOCK && (
              <>
                <select
                  aria-label="Under which wheel"
                  className="entry w-auto"
                  value={raised?.[0] ?? ""}
                  onChange={(event) => setUnder(event.target.value)}
                >
                  {places.map(([words]) => (
                    <option key={words}>{words}</option>
                  ))}
                </select>
                <select
                  aria-label="How high a block"
                  className="entry w-auto"
                  value={block}
                  onChange={(event) => setBlock(Number(event.target.value))}
                >
                  {BLOCK_MM.map((mm) => (
                    <option key={mm} value={mm}>
                      {quantity(mm, "length", 0)}
                    </option>
                  ))}
                </select>
              </>
            )}
            {way > 0 && way < ON_BLOCK && (
              <label className="flex items-center gap-1">
                <span className="sr-only">How hard, in g</span>
                <select
                  aria-label="How hard, in g"
                  className="entry w-auto"
                  value={g}
                  onChange={(event) => setG(Number(event.target.value))}
                >
                  {[0.3, 0.5, 0.8, 1, 1.2, 1.5].map((one) => (
                    <option key={one} value={one}>
                      {number(one, "ratio", 1)} g
                    </option>
                  ))}
                </select>
              </label>
            )}
          </>
        )}
      </div>
      {moving && thrown.isError && <p className="text-marker">{thrown.error.message}</p>}
      {stands && (
        <>
          <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1.35fr)] items-center gap-2 max-sm:grid-cols-1">
            <VehicleView
              proof={proof}
              stands={stands}
              scales={(body?.wheels as Record<string, number> | undefined) ?? stands.scales}
              heights={(body?.heights as Record<string, number> | undefined) ?? stands.heights}
            />
            <VehicleSides
              proof={proof}
              stands={stands}
              blocks={blocks}
              scales={(body?.wheels as Record<string, number> | undefined) ?? stands.scales}
              heights={(body?.heights as Record<string, number> | undefined) ?? stands.heights}
            />
          </div>
          <p className="text-sm text-chalk">
            {as === "weighed" ? "As planned it stands" : "It stands"}{" "}
            {Math.abs(stands.heave) < NO_HEIGHT_MM
              ? "as high as drawn"
              : `${quantity(Math.abs(stands.heave), "length")} ${stands.heave > 0 ? "higher" : "lower"} than drawn`}{" "}
            at the datum line, {leaning("nose", stands.pitch, "level fore and aft")},{" "}
            {leaning("right side", stands.roll, "level across")}
            {stands.cross === null ? "" : `, crosses ${number(stands.cross * 100, "ratio", 1)} %`}
            {stands.lifted.length ? `; off the floor: ${stands.lifted.join(", ")}` : ""}.
            {moving && way < ON_BLOCK
              ? " Held still at that: the links’ own anti-dive and the dampers are left out."
              : ""}
          </p>
        </>
      )}
    </section>
  );
}

const NO_HEIGHT_MM = 0.05;
const NO_ANGLE_DEG = 0.005;

/** What a block can stand under: each wheel, and with four of them each diagonal. */
function blocked(proof: Proof): [string, string[]][] {
  const { wheels } = proof;
  const one = wheels.map((wheel): [string, string[]] => [wheel.key, [wheel.key]]);
  if (wheels.length !== 4) return one;
  const middle = wheels.reduce((sum, wheel) => sum + wheel.x, 0) / 4;
  const diagonal = (first: boolean) =>
    wheels.filter((wheel) => (wheel.x > middle === wheel.y > 0) === first).map((wheel) => wheel.key);
  const two = [diagonal(true), diagonal(false)]
    .filter((keys) => keys.length === 2)
    .map((keys): [string, string[]] => [keys.join(" and "), keys]);
  return [...one, ...two];
}

interface Asked {
  brake_g: number;
  corner_g: number;
  load: string;
  blocks: Record<string, number>;
}

function useStance(document: Project, on: boolean, asked: Asked) {
  const { records: _, ...bare } = document;
  const body = { document: bare, ...asked };
  return useQuery({
    queryKey: ["stance", body],
    queryFn: ({ signal }) => answer(client.POST("/api/prove/stands", { body, signal })),
    enabled: on,
    placeholderData: (before) => before,
    retry: false,
    gcTime: 0,
  });
}
