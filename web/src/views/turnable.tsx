/** The station in the round: turned by mouse, finger or keys, on the same Jack as the plans. Loaded when asked for. */

import { Canvas, useFrame, useThree } from "@react-three/fiber";
import {
  type KeyboardEvent,
  type ReactNode,
  type RefObject,
  useEffect,
  useMemo,
  useRef,
  useState,
} from "react";
import { Quaternion, Vector3 } from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import type { Station } from "../api/client";
import { spoken } from "../quantity/spoken";
import type { Spot } from "./envelopes";
import { KEY } from "./keys";
import { boxOf } from "./shapes";
import { SolidParts } from "./solid-parts";
import { squares } from "./solids";

interface Props {
  station: Station;
  /** Points where the Jack stands, mm. */
  points: Record<string, number[]>;
  picked: string | null;
  onPick: (point: string | null) => void;
  /** More keys, beside its own. */
  controls: ReactNode;
}

type Turn = { around: number; over: number; near: number };

const STEP = Math.PI / 18;

/** Where one stands to look: how much along, across and up, in reaches of the station. */
const STANDS = {
  corner: [1.0, 0.86, 0.62],
  front: [1.5, 0.001, 0.06],
  side: [0.001, 1.5, 0.06],
  above: [0.02, 0.001, 1.55],
} as const;

export default function Turnable({ station, points, picked, onPick, controls }: Props) {
  const [turn, setTurn] = useState<Turn>({ around: 0, over: 0, near: 1 });
  const [stand, setStand] = useState<{ at: keyof typeof STANDS }>({ at: "corner" });
  const [named, setNamed] = useState(false);
  const [tyres, setTyres] = useState(true);
  const tags = useRef<HTMLDivElement>(null);
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
  const from = (at: keyof typeof STANDS) => middle.map((m, k) => m + far * (STANDS[at][k] ?? 0)) as Spot;
  const spindles = station.wheels.map((wheel) => wheel.spindle);
  const names = Object.keys(station.points).filter(
    (name) => !spindles.includes(name) && (named || name === picked),
  );
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
        camera={{ position: from("corner"), up: [0, 0, 1], fov: 30, near: 10, far: 40_000 }}
      >
        <hemisphereLight args={["#ffffff", "#31508f", 1.5]} />
        <directionalLight position={[3000, 2200, 4000]} intensity={2.1} />
        <directionalLight position={[-2500, -1500, 1200]} intensity={0.7} />
        <Turning middle={middle} turn={turn} stand={from(stand.at)} of={stand} />
        <Floor far={far} middle={middle} />
        <SolidParts station={station} points={points} picked={picked} onPick={onPick} tyres={tyres} />
        <Follow names={tags} spots={points} />
        <Refreshed of={[station, points, picked, tyres, named]} />
      </Canvas>
      <div ref={tags} aria-hidden className="pointer-events-none absolute inset-0 overflow-hidden">
        {names.map((name) => (
          <span
            key={name}
            data-point={name}
            className="absolute left-0 top-0 whitespace-nowrap bg-dye/75 px-1 text-sm text-[#f4f1e6]"
          >
            {spoken(name)}
          </span>
        ))}
      </div>
      <p className="pointer-events-none absolute left-2 top-1.5 bg-dye/80 px-1 font-semibold text-[#f4f1e6]">
        In the round
      </p>
      <div className="no-print absolute right-2 top-2 flex flex-wrap justify-end gap-1">
        <button type="button" className={KEY} aria-pressed={named} onClick={() => setNamed(!named)}>
          Names
        </button>
        <button type="button" className={KEY} aria-pressed={tyres} onClick={() => setTyres(!tyres)}>
          Tyres
        </button>
        {controls}
      </div>
      <div className="no-print absolute bottom-2 left-2 flex">
        {(Object.keys(STANDS) as (keyof typeof STANDS)[]).map((at) => (
          <button key={at} type="button" className={KEY} onClick={() => setStand({ at })}>
            from {at === "corner" ? "a corner" : at === "above" ? "above" : `the ${at}`}
          </button>
        ))}
      </div>
    </div>
  );
}

/** Turning by hand; a key turns by ten degrees. */
function Turning({ middle, turn, stand, of }: { middle: Spot; turn: Turn; stand: Spot; of: object }) {
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
  // biome-ignore lint/correctness/useExhaustiveDependencies: each press takes one there, the same one again too
  useEffect(() => {
    camera.position.set(...stand);
    controls.current?.update();
    invalidate();
  }, [of]);
  return null;
}

function Floor({ far, middle }: { far: number; middle: Spot }) {
  const lines = useMemo(() => squares(far, middle), [far, middle]);
  return (
    <lineSegments geometry={lines}>
      <lineBasicMaterial color="#e9edf7" transparent opacity={0.22} />
    </lineSegments>
  );
}

/** A new picture for anything that moves: nothing is drawn while nothing does. */
function Refreshed({ of }: { of: unknown[] }) {
  const { invalidate } = useThree();
  useEffect(() => invalidate(), [...of, invalidate]);
  return null;
}

/** Keeps the names over the drawing at their points. */
function Follow({
  names,
  spots,
}: {
  names: RefObject<HTMLDivElement | null>;
  spots: Record<string, number[]>;
}) {
  const { size } = useThree();
  useFrame(({ camera }) => {
    for (const tag of names.current?.children ?? []) {
      if (!(tag instanceof HTMLElement)) continue;
      const spot = spots[tag.dataset.point ?? ""] as Spot | undefined;
      if (!spot) continue;
      const seen = new Vector3(...spot).project(camera);
      tag.hidden = Math.abs(seen.z) > 1;
      const [u, v] = [((seen.x + 1) / 2) * size.width, ((1 - seen.y) / 2) * size.height];
      tag.style.transform = `translate(${u + 14}px, ${v - 24}px)`;
    }
  });
  return null;
}
