import { X } from "lucide-react";
import { Link } from "react-router";
import type { DraftInHand } from "../bench/draft";
import { tubeKey, tubeOptions } from "../fields/tubes";
import { QuantityField } from "../quantity/quantity-field";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { dropMember, METALS, type Member, setMember } from "./frame";

/** What a tube that is drawn is made of. */
export type Size = Pick<Member, "tube" | "metal">;

export const USUAL = { tube: { outside: 42, wall: 3.2 }, metal: "S355" } as Size;

/** A tube off the rack, and its steel. */
export function SizePick({ size, onSize }: { size: Size; onSize: (size: Size) => void }) {
  const { quantity } = useUnits();
  const tube = size.tube ?? { outside: 42, wall: 3.2 };
  return (
    <>
      <label className="flex items-center gap-2">
        of
        <select
          className="entry w-auto"
          aria-label="Tube off the rack"
          value={tubeKey(tube)}
          onChange={(event) => {
            const [outside = 0, wall = 0] = event.target.value.split("x").map(Number);
            onSize({ ...size, tube: { outside, wall } } as Size);
          }}
        >
          {tubeOptions(tube, quantity).map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
      </label>
      <MetalPick metal={size.metal ?? "S235"} onMetal={(metal) => onSize({ ...size, metal } as Size)} />
    </>
  );
}

function MetalPick({ metal, onMetal }: { metal: string; onMetal: (metal: string) => void }) {
  return (
    <select
      aria-label="Metal"
      className="entry w-auto"
      value={metal}
      onChange={(event) => onMetal(event.target.value)}
    >
      {METALS.map((one) => (
        <option key={one}>{one}</option>
      ))}
    </select>
  );
}

/** The shapes that a member has, with what each begins as, mm, and how its sides are called. */
const SHAPES = {
  tube: {
    name: "round tube",
    usual: { outside: 42, wall: 3.2 },
    sides: { outside: "Over the tube", wall: "Wall" },
  },
  box: {
    name: "box section",
    usual: { height: 60, width: 40, wall: 3 },
    sides: { height: "Height", width: "Width", wall: "Wall" },
  },
  flat: {
    name: "flat bar",
    usual: { width: 40, thickness: 6 },
    sides: { width: "Width", thickness: "Thickness" },
  },
} as const;
type Shape = keyof typeof SHAPES;

interface Props {
  job: string;
  member: Member;
  hand: DraftInHand;
  onDone: () => void;
}

/** One tube: what it is made of, and how its ends are held. */
export function MemberPanel({ job, member, hand, onDone }: Props) {
  const shape = (Object.keys(SHAPES) as Shape[]).find((one) => member[one]) ?? "tube";
  const size = (member[shape] ?? {}) as Record<string, number>;
  const ends = member.ends_held ?? ["welded", "welded"];
  const set = (changes: Record<string, unknown>, key = "") =>
    hand.edit((now) => {
      const its = now.frame?.members?.find((one) => one.name === member.name) ?? member;
      return setMember(now, { ...its, ...changes } as Member, member.name);
    }, key);
  const check = (key: string, value: number) => {
    if (value <= 0) return "Give more than zero.";
    const now = { ...size, [key]: value };
    const least = Math.min(
      now.outside ?? Number.POSITIVE_INFINITY,
      now.height ?? Number.POSITIVE_INFINITY,
      shape === "box" ? (now.width ?? 0) : Number.POSITIVE_INFINITY,
    );
    return now.wall && 2 * now.wall > least ? "The wall is at most half of what is over it." : null;
  };
  return (
    <section aria-label={`Tube ${spoken(member.name)}`} className="grid gap-2 border-b border-rule py-3">
      <div className="flex items-center justify-between gap-2">
        <h2 className="text-lg font-bold">{spoken(member.name)}</h2>
        <button type="button" className="press px-3" aria-label="Close" onClick={onDone}>
          <X size={18} aria-hidden />
        </button>
      </div>
      <div className="flex flex-wrap gap-2">
        <select
          aria-label="Its section"
          className="entry w-auto"
          value={shape}
          onChange={(event) => {
            const to = event.target.value as Shape;
            set({ tube: undefined, box: undefined, flat: undefined, [to]: SHAPES[to].usual });
          }}
        >
          {(Object.keys(SHAPES) as Shape[]).map((one) => (
            <option key={one} value={one}>
              {SHAPES[one].name}
            </option>
          ))}
        </select>
        <MetalPick metal={member.metal ?? "S235"} onMetal={(metal) => set({ metal })} />
      </div>
      <div className="grid grid-cols-3 gap-2">
        {Object.entries(SHAPES[shape].sides).map(([key, label]) => (
          <div key={`${shape} ${key}`}>
            <span className="text-sm text-soft" aria-hidden>
              {label}
            </span>
            <QuantityField
              label={label}
              value={size[key] ?? 0}
              dimension="length"
              step={1}
              check={(value) => check(key, value)}
              onCommit={(value) => set({ [shape]: { ...size, [key]: value } }, `tube ${member.name} ${key}`)}
            />
          </div>
        ))}
      </div>
      {member.ends.map((end, k) => (
        <label key={end} className="flex items-center gap-2">
          <span className="min-w-0 flex-1">At {spoken(end)}</span>
          <select
            className="entry w-auto"
            aria-label={`How it is joined at ${spoken(end)}`}
            value={ends[k]}
            onChange={(event) => {
              const held = ends.map((one, n) => (n === k ? event.target.value : one));
              set({ ends_held: held, ...(held.includes("pinned") ? {} : { pin: undefined }) });
            }}
          >
            <option value="welded">welded</option>
            <option value="pinned">pinned</option>
          </select>
        </label>
      ))}
      <div className="flex flex-wrap gap-2">
        <Link className="press px-3" to={`/jobs/${job}/make`}>
          Cut list and copes on Make
        </Link>
        <button
          type="button"
          className="press px-3"
          onClick={() => {
            hand.edit((now) => dropMember(now, member.name));
            onDone();
          }}
        >
          Remove the tube
        </button>
      </div>
    </section>
  );
}
