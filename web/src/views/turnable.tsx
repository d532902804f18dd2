/** The station in the round: turned by mouse, finger or keys, on the same Jack as the plans. Loaded when asked for. */

import { Canvas, useThree } from "@react-three/fiber";
import { type KeyboardEvent, useEffect, useMemo, useRef, useState } from "react";
import { BufferGeometry, DoubleSide, Float32BufferAttribute, Quaternion, Vector3 } from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import { ConvexGeometry } from "three/examples/jsm/geometries/ConvexGeometry.js";
import type { Station } from "../api/client";
import { carrierOf, type Spot, skinOf } from "./envelopes";
import { boxOf } from "./shapes";

interface Props {
  station: Station;
  /** Points where the Jack stands, mm. */
  points: Record<string, number[]>;
  picked: string | null;
  onPick: (point: string | null) => void;
}

type Turn = { around: number; over: number; near: number };

const SCRIBE = "#f4f1e6";
const MARKER = "#ffd400";
const STEP = Math.PI / 18;

export default function Turnable({ station, points, picked, onPick }: Props) {
  const [turn, setTurn] = useState<Turn>({ around: 0, over: 0, near: 1 });
  const press = (event: KeyboardEvent) => {
    const by: Record<string, Partial<Turn>> = {
      ArrowLeft: { around: -STEP },
      ArrowRight: { around: STEP },
      ArrowUp: { over: -STEP },
      ArrowDown: { over: STEP },
      "+": { near: 1 / 1.2 },
      "-": { near: 1.2 },
    };
    const its = by[event.key];
    if (!its) return;
    event.preventDefault();
    setTurn({ around: its.around ?? 0, over: its.over ?? 0, near: its.near ?? 1 });
  };
  const { middle, far } = useMemo(() => {
    const { low, high } = boxOf(station);
    const centre = [0, 1, 2].map((k) => ((low[k] ?? 0) + (high[k] ?? 0)) / 2) as Spot;
    return { middle: centre, far: Math.hypot(...[0, 1, 2].map((k) => (high[k] ?? 0) - (low[k] ?? 0))) };
  }, [station]);
  return (
    <div
      role="group"
      aria-roledescription="drawing"
      aria-label="In the round. Arrow keys turn it, plus and minus come nearer and go further away."
      // biome-ignore lint/a11y/noNoninteractiveTabindex: it is turned by keyboard
      tabIndex={0}
      onKeyDown={press}
      className="relative h-full w-full bg-dye"
      data-testid="view-round"
    >
      <Canvas
        frameloop="demand"
        camera={{
          position: [middle[0] + far * 1.15, middle[1] + far * 1.0, middle[2] + far * 0.7],
          up: [0, 0, 1],
          fov: 32,
          near: 10,
          far: 40_000,
        }}
      >
        <ambientLight intensity={1.6} />
        <directionalLight position={[2000, 3000, 4000]} intensity={1.8} />
        <Turning middle={middle} turn={turn} />
        <Floor far={far} middle={middle} />
        <Parts station={station} points={points} picked={picked} onPick={onPick} />
      </Canvas>
      <p className="pointer-events-none absolute left-2 top-1.5 bg-dye/80 px-1 font-semibold text-[#f4f1e6]">
        In the round
      </p>
    </div>
  );
}

/** Turning by hand; a key turns by ten degrees. */
function Turning({ middle, turn }: { middle: Spot; turn: Turn }) {
  const { camera, gl, invalidate } = useThree();
  const controls = useRef<OrbitControls | null>(null);
  useEffect(() => {
    const made = new OrbitControls(camera, gl.domElement);
    made.target.set(...middle);
    made.enableDamping = false;
    const drawn = () => invalidate();
    made.addEventListener("change", drawn);
    made.update();
    controls.current = made;
    invalidate();
    return () => {
      made.removeEventListener("change", drawn);
      made.dispose();
    };
  }, [camera, gl, invalidate, middle]);
  useEffect(() => {
    const held = controls.current;
    if (!held) return;
    const away = camera.position.clone().sub(held.target).multiplyScalar(turn.near);
    away.applyQuaternion(new Quaternion().setFromAxisAngle(new Vector3(0, 0, 1), turn.around));
    const side = new Vector3(-away.y, away.x, 0).normalize();
    const raised = away.clone().applyQuaternion(new Quaternion().setFromAxisAngle(side, turn.over));
    // Never over the pole, where the vehicle would flip.
    if (Math.abs(raised.z) < raised.length() * 0.98) away.copy(raised);
    camera.position.copy(held.target).add(away);
    held.update();
    invalidate();
  }, [turn, camera, invalidate]);
  return null;
}

function Floor({ far, middle }: { far: number; middle: Spot }) {
  const lines = useMemo(() => {
    const places: number[] = [];
    const step = 100;
    const half = Math.ceil(far / 2 / step) * step;
    const [x0, y0] = [Math.round(middle[0] / step) * step, Math.round(middle[1] / step) * step];
    for (let k = -half; k <= half; k += step) {
      places.push(x0 + k, y0 - half, 0, x0 + k, y0 + half, 0);
      places.push(x0 - half, y0 + k, 0, x0 + half, y0 + k, 0);
    }
    return new BufferGeometry().setAttribute("position", new Float32BufferAttribute(places, 3));
  }, [far, middle]);
  return (
    <lineSegments geometry={lines}>
      <lineBasicMaterial color="#e9edf7" transparent opacity={0.16} />
    </lineSegments>
  );
}

function Parts({ station, points, picked, onPick }: Props) {
  const { invalidate } = useThree();
  // biome-ignore lint/correctness/useExhaustiveDependencies: anything that moves wants a new picture
  useEffect(() => invalidate(), [points, picked, station, invalidate]);
  const at = (name: string) => points[name] as Spot | undefined;
  const spindles = station.wheels.map((wheel) => wheel.spindle);
  return (
    <>
      {Object.entries(station.bodies).map(([body, members]) => {
        const spots = members
          .filter((name) => !spindles.includes(name))
          .map(at)
          .filter((spot): spot is Spot => spot !== undefined);
        if (spots.length < 2) return null;
        const held = picked !== null && members.includes(picked);
        return spots.length === 2 ? (
          <Bar
            key={body}
            from={spots[0] as Spot}
            to={spots[1] as Spot}
            radius={8}
            colour={held ? "#ffe679" : SCRIBE}
          />
        ) : (
          <Plate key={body} spots={spots} colour={held ? "#ffe679" : SCRIBE} />
        );
      })}
      {(station.units ?? []).map((unit) => {
        const [one, other] = unit.ends.map(at);
        if (!one || !other) return null;
        const thick =
          unit.kind === "air_spring"
            ? (unit.max_diameter ?? 140) / 2.4
            : unit.kind === "strap"
              ? 4
              : unit.kind === "bump_stop"
                ? 9
                : 20;
        return (
          <Bar
            key={unit.name}
            from={one}
            to={other}
            radius={thick}
            colour={unit.kind === "strap" || unit.kind === "bump_stop" ? "#9db0de" : MARKER}
            clear={
              unit.kind === "air_spring"
                ? 0.55
                : unit.kind === "coilover" || unit.kind === "damper" || unit.kind === "spring"
                  ? 0.85
                  : 0.6
            }
          />
        );
      })}
      {station.wheels.map((wheel) => {
        const centre = at(wheel.centre);
        const spindle = wheel.spindle ? at(wheel.spindle) : undefined;
        if (!centre || !spindle || !wheel.tyre_radius) return null;
        const axis = new Vector3(...spindle).sub(new Vector3(...centre)).normalize();
        const half = (wheel.tyre_width ?? 150) / 2;
        const end = (sign: number) =>
          new Vector3(...centre).addScaledVector(axis, sign * half).toArray() as Spot;
        return (
          <Bar
            key={wheel.name}
            from={end(-1)}
            to={end(1)}
            radius={wheel.tyre_radius}
            colour="#e9edf7"
            clear={0.16}
            sides={48}
          />
        );
      })}
      {(station.envelopes ?? []).map((envelope) => {
        const carry = carrierOf(envelope.on, station, points);
        const skin = skinOf(envelope, station).map(carry);
        return skin.length > 3 ? (
          <Plate key={envelope.name} spots={skin} colour="#c9b98f" clear={0.3} />
        ) : null;
      })}
      {Object.keys(station.points).map((name) => {
        const spot = at(name);
        if (!spot || spindles.includes(name)) return null;
        const held = name === picked;
        return (
          // biome-ignore lint/a11y/noStaticElementInteractions: a point of the scene; the plans pick by keyboard
          <mesh
            key={name}
            position={spot}
            onClick={(event) => {
              event.stopPropagation();
              onPick(name);
            }}
          >
            <sphereGeometry args={[held ? 20 : 12, 20, 14]} />
            <meshStandardMaterial
              color={held ? MARKER : station.chassis.includes(name) ? "#9db0de" : SCRIBE}
            />
          </mesh>
        );
      })}
    </>
  );
}

function Bar({
  from,
  to,
  radius,
  colour,
  clear = 1,
  sides = 18,
}: {
  from: Spot;
  to: Spot;
  radius: number;
  colour: string;
  clear?: number;
  sides?: number;
}) {
  const along = new Vector3(...to).sub(new Vector3(...from));
  const length = along.length();
  // A cylinder is made along its y.
  const turn = new Quaternion().setFromUnitVectors(new Vector3(0, 1, 0), along.normalize());
  return (
    <mesh
      position={[0, 1, 2].map((k) => ((from[k] ?? 0) + (to[k] ?? 0)) / 2) as Spot}
      quaternion={turn}
      scale={[radius, length, radius]}
    >
      <cylinderGeometry args={[1, 1, 1, sides]} />
      <meshStandardMaterial color={colour} transparent={clear < 1} opacity={clear} depthWrite={clear > 0.5} />
    </mesh>
  );
}

/** A rigid part as the hull of its points; flat ones as a sheet. */
function Plate({ spots, colour, clear = 0.55 }: { spots: Spot[]; colour: string; clear?: number }) {
  const shape = useMemo(() => hullOf(spots), [spots]);
  if (!shape) return null;
  return (
    <mesh geometry={shape}>
      <meshStandardMaterial
        color={colour}
        transparent
        opacity={clear}
        side={DoubleSide}
        flatShading
        depthWrite={false}
      />
    </mesh>
  );
}

function hullOf(spots: Spot[]): BufferGeometry | null {
  const vectors = spots.map((spot) => new Vector3(...spot));
  if (vectors.length === 3) return new BufferGeometry().setFromPoints(vectors).setIndex([0, 1, 2]);
  // Points of one plane have no hull with a volume: a hair off it, they have.
  const nudged = vectors.map((v, k) =>
    v.clone().add(new Vector3(0.11 * (k % 3), 0.13 * (k % 2), 0.17 * (k % 5))),
  );
  try {
    return new ConvexGeometry(nudged);
  } catch {
    return null;
  }
}
