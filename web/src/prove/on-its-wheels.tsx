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

interface Thrown {
  brake: number;
  corner: number;
}

const STILL: Thrown = { brake: 0, corner: 0 };
const THROWS: [string, Thrown][] = [
  ["standing", STILL],
  ["braking", { brake: 1, corner: 0 }],
  ["turning left", { brake: 0, corner: 1 }],
  ["turning right", { brake: 0, corner: -1 }],
  ["braking, turning left", { brake: 0.7, corner: 0.7 }],
  ["braking, turning right", { brake: 0.7, corner: -0.7 }],
];

/** The vehicle on the floor from both sides and above: as weighed, as planned, with a load in it, braking and cornering. */
export function OnItsWheels({ document, proof, weighed }: Props) {
  const { quantity, number } = useUnits();
  const [look, setLook] = useState("");
  const [way, setWay] = useState(0);
  const [g, setG] = useState(0.8);
  const as = look || (weighed ? "weighed" : "planned");
  const load = proof.cases.find((one) => `load ${one.name}` === as);
  const throws = THROWS[way]?.[1] ?? STILL;
  const moving = as !== "weighed" && as !== "finished" && way > 0;
  const thrown = useThrown(document, moving, throws.brake * g, throws.corner * g, load?.name ?? "");
  const still = as === "finished" ? proof.finished : (load?.stands ?? proof.now);
  const stands: Stance | null = moving ? (thrown.data ?? null) : still;
  const body = as === "weighed" ? weighed?.body : undefined;
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
            </select>
            {way > 0 && (
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
      {moving && thrown.isError && <p className="text-[#ffd400]">{thrown.error.message}</p>}
      {stands && (
        <>
          <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1.35fr)] items-center gap-2">
            <VehicleView
              proof={proof}
              stands={stands}
              scales={(body?.wheels as Record<string, number> | undefined) ?? stands.scales}
              heights={(body?.heights as Record<string, number> | undefined) ?? stands.heights}
            />
            <VehicleSides
              proof={proof}
              stands={stands}
              scales={(body?.wheels as Record<string, number> | undefined) ?? stands.scales}
              heights={(body?.heights as Record<string, number> | undefined) ?? stands.heights}
            />
          </div>
          <p className="text-sm text-[#c9ccd1]">
            {as === "weighed" ? "As planned it stands" : "It stands"} {quantity(stands.heave, "travel")} at
            the datum, nose {stands.pitch >= 0 ? "down" : "up"} {quantity(Math.abs(stands.pitch), "angle", 2)}
            , right side {stands.roll >= 0 ? "down" : "up"} {quantity(Math.abs(stands.roll), "angle", 2)}
            {stands.cross === null ? "" : `, crosses ${number(stands.cross * 100, "ratio", 1)} %`}
            {stands.lifted.length ? `; off the floor: ${stands.lifted.join(", ")}` : ""}.
            {moving ? " Held still at that: the links’ own anti-dive and the dampers are left out." : ""}
          </p>
        </>
      )}
    </section>
  );
}

function useThrown(document: Project, on: boolean, brake: number, corner: number, load: string) {
  const { records: _, ...bare } = document as unknown as Record<string, unknown>;
  const body = { document: bare, brake_g: brake, corner_g: corner, load };
  return useQuery({
    queryKey: ["thrown", body],
    queryFn: ({ signal }) => answer(client.POST("/api/prove/thrown", { body, signal })),
    enabled: on,
    placeholderData: (before) => before,
    retry: false,
    gcTime: 0,
  });
}
