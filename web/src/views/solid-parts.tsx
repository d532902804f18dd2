/** The station's parts as solids, each as what it is: tubes and plates, dampers, coils, bags, straps, tyres. */

import { useEffect, useMemo } from "react";
import { type BufferGeometry, Quaternion, Vector3 } from "three";
import type { Station } from "../api/client";
import { carrierOf, type Spot, skinOf } from "./envelopes";
import { barTip } from "./shapes";
import { bellowsOf, coilOf, frameOf, hullOf, tyreOf } from "./solids";

interface Props {
  station: Station;
  points: Record<string, number[]>;
  picked: string | null;
  onPick: (point: string | null) => void;
  tyres: boolean;
}

type Unit = NonNullable<Station["units"]>[number];

/** Bare steel, what moves, rubber, bright shaft, chassis. */
const STEEL = "#dcd8ca";
const HELD = "#ffe679";
const MOVES = "#ffc400";
const RUBBER = "#2a2d33";
const DARK = "#4a5468";
const BRIGHT = "#f2f4f8";
const FRAME = "#9c8f74";
const FIXED = "#9db0de";

export function SolidParts({ station, points, picked, onPick, tyres }: Props) {
  const at = (name: string) => points[name] as Spot | undefined;
  const spindles = station.wheels.map((wheel) => wheel.spindle);
  return (
    <>
      {Object.entries(station.bodies).map(([body, members]) => {
        const made = frameOf(members, station, points);
        const colour = picked !== null && members.includes(picked) ? HELD : STEEL;
        return (
          <group key={body}>
            {made.tubes.map((tube) => (
              <Rod key={[...tube.from, ...tube.to].join()} {...tube} colour={colour} />
            ))}
            {made.plate && <Hull spots={made.plate} colour={colour} />}
          </group>
        );
      })}
      {(station.units ?? []).map((unit) => {
        const [one, other] = unit.ends.map(at);
        if (one && other && unit.kind === "bar") {
          const drawn = (name: string | undefined) => (station.points[name ?? ""] ?? []) as number[];
          const tip = barTip(
            unit as { tip: number[]; axis: number[] },
            drawn(unit.ends[0]),
            drawn(unit.ends[1]),
            one,
          ) as Spot;
          const inward: Spot = [other[0], other[1] - Math.sign(other[1] || 1) * 200, other[2]];
          return (
            <group key={unit.name}>
              <Rod from={one} to={tip} radius={7} colour={BRIGHT} />
              <Rod from={tip} to={other} radius={11} colour={MOVES} />
              <Rod from={other} to={inward} radius={(unit.diameter ?? 20) / 2} colour={MOVES} />
            </group>
          );
        }
        return one && other ? <UnitSolid key={unit.name} unit={unit} from={one} to={other} /> : null;
      })}
      {tyres &&
        station.wheels.map((wheel) => {
          const centre = at(wheel.centre);
          const spindle = wheel.spindle ? at(wheel.spindle) : undefined;
          if (!centre || !spindle || !wheel.tyre_radius) return null;
          return (
            <Tyre
              key={wheel.name}
              centre={centre}
              spindle={spindle}
              radius={wheel.tyre_radius}
              width={wheel.tyre_width ?? 150}
            />
          );
        })}
      {(station.envelopes ?? []).map((envelope) => {
        const carry = carrierOf(envelope.on, station, points);
        const skin = skinOf(envelope, station).map(carry);
        // What rides on the chassis stands solid; what is tied to a part is drawn through, or it would hide the part.
        return skin.length > 3 ? (
          <Hull
            key={envelope.name}
            spots={skin}
            colour={FRAME}
            clear={envelope.on && envelope.on !== "chassis" ? 0.3 : 1}
          />
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
            <sphereGeometry args={[held ? 24 : 16, 24, 16]} />
            <meshStandardMaterial
              color={held ? MOVES : station.chassis.includes(name) ? FIXED : BRIGHT}
              roughness={0.35}
            />
          </mesh>
        );
      })}
    </>
  );
}

function UnitSolid({ unit, from, to }: { unit: Unit; from: Spot; to: Spot }) {
  const length = new Vector3(...from).distanceTo(new Vector3(...to));
  const share = (part: number): Spot => new Vector3(...from).lerp(new Vector3(...to), part).toArray() as Spot;
  const damper = (wide: number) => (
    <>
      <Rod from={from} to={share(0.58)} radius={wide / 2} colour={DARK} />
      <Rod from={share(0.58)} to={to} radius={8} colour={BRIGHT} />
    </>
  );
  if (unit.kind === "coilover" || unit.kind === "damper") {
    const wide = unit.body_diameter ?? 46;
    if (unit.kind === "damper") return damper(wide);
    return (
      <>
        {damper(wide)}
        <Coil from={share(0.16)} to={share(0.92)} radius={(unit.coil_diameter ?? wide + 30) / 2} />
      </>
    );
  }
  if (unit.kind === "spring") return <Coil from={from} to={to} radius={(unit.coil_diameter ?? 110) / 2} />;
  if (unit.kind === "air_spring") {
    const radius = (unit.max_diameter ?? 140) / 2;
    return (
      <>
        <Bellows from={from} to={to} radius={radius} />
        <Rod
          from={from}
          to={share(6 / Math.max(length, 7))}
          radius={radius * 0.8}
          colour={STEEL}
          sides={40}
        />
        <Rod
          from={share(1 - 6 / Math.max(length, 7))}
          to={to}
          radius={radius * 0.8}
          colour={STEEL}
          sides={40}
        />
      </>
    );
  }
  if (unit.kind === "bump_stop") {
    // The rubber is as long as it is thick when it touches; what is left of the way is air.
    const rubber = Math.min(1, unit.contact / Math.max(length, 1));
    return <Rod from={from} to={share(rubber)} radius={24} tip={15} colour={RUBBER} sides={28} />;
  }
  if (unit.kind === "strap") return <Rod from={from} to={to} radius={5} colour={MOVES} />;
  return <Rod from={from} to={to} radius={9} colour={STEEL} />;
}

interface RodProps {
  from: Spot;
  to: Spot;
  radius: number;
  /** Radius at the far end, where it is another. */
  tip?: number;
  colour: string;
  sides?: number;
}

function placed(from: Spot, to: Spot) {
  const along = new Vector3(...to).sub(new Vector3(...from));
  const length = along.length();
  return {
    length,
    // Round bodies are made along their y.
    quaternion: new Quaternion().setFromUnitVectors(new Vector3(0, 1, 0), along.normalize()),
    position: [0, 1, 2].map((k) => ((from[k] ?? 0) + (to[k] ?? 0)) / 2) as Spot,
  };
}

function Rod({ from, to, radius, tip = radius, colour, sides = 20 }: RodProps) {
  const { length, quaternion, position } = placed(from, to);
  return (
    <mesh position={position} quaternion={quaternion} scale={[1, length, 1]}>
      <cylinderGeometry args={[tip, radius, 1, sides]} />
      <meshStandardMaterial color={colour} roughness={0.5} metalness={0.15} />
    </mesh>
  );
}

/** A geometry of our own, given back when it is not wanted any more. */
function useMade<Made extends BufferGeometry | null>(make: () => Made, of: unknown[]): Made {
  // biome-ignore lint/correctness/useExhaustiveDependencies: made of what the caller names
  const made = useMemo(make, of);
  useEffect(() => () => made?.dispose(), [made]);
  return made;
}

function Coil({ from, to, radius }: { from: Spot; to: Spot; radius: number }) {
  const { length, quaternion, position } = placed(from, to);
  const wire = Math.max(11, radius * 0.26);
  const turns = 7;
  const long = Math.max(Math.round(length), turns * wire);
  const coil = useMade(() => coilOf(long, radius, wire, turns), [long, radius, wire]);
  return (
    <mesh geometry={coil} position={position} quaternion={quaternion}>
      <meshStandardMaterial color={MOVES} roughness={0.4} metalness={0.1} />
    </mesh>
  );
}

function Bellows({ from, to, radius }: { from: Spot; to: Spot; radius: number }) {
  const { length, quaternion, position } = placed(from, to);
  const long = Math.max(Math.round(length), 1);
  const skin = useMade(() => bellowsOf(long, radius), [long, radius]);
  return (
    <mesh geometry={skin} position={position} quaternion={quaternion}>
      <meshStandardMaterial color={RUBBER} roughness={0.7} />
    </mesh>
  );
}

interface TyreProps {
  centre: Spot;
  spindle: Spot;
  radius: number;
  width: number;
}

function Tyre({ centre, spindle, radius, width }: TyreProps) {
  const { quaternion } = placed(centre, spindle);
  const shape = useMade(() => tyreOf(radius, width), [radius, width]);
  return (
    <mesh geometry={shape} position={centre} quaternion={quaternion}>
      <meshStandardMaterial color={RUBBER} roughness={0.85} />
    </mesh>
  );
}

function Hull({ spots, colour, clear = 1 }: { spots: Spot[]; colour: string; clear?: number }) {
  const shape = useMade(() => hullOf(spots), [spots.join()]);
  if (!shape) return null;
  return (
    <mesh geometry={shape}>
      <meshStandardMaterial
        color={colour}
        roughness={0.6}
        flatShading
        transparent={clear < 1}
        opacity={clear}
        depthWrite={clear === 1}
      />
    </mesh>
  );
}
