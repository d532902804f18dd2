import { Plus } from "lucide-react";
import { Dialog } from "radix-ui";
import { useState } from "react";
import type { Project, Station } from "../api/client";
import type { DraftInHand } from "../bench/draft";
import { editStation } from "../bench/edits";
import { spoken } from "../quantity/spoken";
import { choose } from "./choosing";

const KINDS = [
  ["tower", "Tower", "a tube from the frame up to a mount"],
  ["hoop", "Hoop", "a bent tube from side to side over a mount"],
  ["crossbar", "Crossbar", "a straight tube from side to side"],
  ["notch", "Notch", "in a frame rail over an axle, with its bridge"],
  ["sleeve", "Crush sleeve", "a tube through a box rail, round a bolt"],
  ["gusset", "Gusset", "a three-cornered plate in a corner"],
  ["doubler", "Doubler", "a plate on a thin wall"],
] as const;

type Kind = (typeof KINDS)[number][0];

interface Props {
  document: Project;
  hand: DraftInHand;
  onAdded: (key: string) => void;
}

/** Adds what nothing of the linkage calls for by itself: towers, hoops, notches, sleeves, gussets. */
export function AddPart({ document, hand, onAdded }: Props) {
  const stations = document.stations.filter((one) => !one.variant_of);
  const [open, setOpen] = useState(false);
  const [kind, setKind] = useState<Kind>("tower");
  const [where, setWhere] = useState(stations[0]?.name ?? "");
  const station = stations.find((one) => one.name === where) ?? stations[0];
  const points = station ? Object.keys(station.points) : [];
  const [point, setPoint] = useState("");
  const at = points.includes(point) ? point : (station?.chassis.at(-1) ?? points[0] ?? "");
  if (!station) return null;
  const add = () => {
    const choice = { kind, name: freeName(station, kind), ...start(kind, station, at) };
    hand.edit((now) =>
      editStation(
        now,
        now.stations.findIndex((one) => one.name === station.name),
        (its) => choose(its, choice),
      ),
    );
    setOpen(false);
    onAdded(`${station.name}/${kind === "notch" ? `${choice.name} bridge` : choice.name}`);
  };
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger className="press px-3">
        <Plus size={18} aria-hidden /> Add a part
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/50" />
        <Dialog.Content className="fixed left-1/2 top-1/2 z-50 max-h-[90vh] w-[min(92vw,520px)] -translate-x-1/2 -translate-y-1/2 overflow-y-auto bg-paper p-4 text-ink shadow-xl">
          <Dialog.Title className="text-xl font-bold">Add a part</Dialog.Title>
          <Dialog.Description className="pb-2 text-soft">
            Tabs, rods, rockers and cups are proposed by themselves. This is for what a person decides.
          </Dialog.Description>
          <fieldset>
            <legend className="sr-only">What</legend>
            {KINDS.map(([key, name, words]) => (
              <label key={key} className="flex min-h-11 items-center gap-3 border-b border-rule">
                <input
                  type="radio"
                  name="kind"
                  checked={kind === key}
                  onChange={() => setKind(key)}
                  className="size-5"
                />
                <span className="leading-tight">
                  <span className="font-semibold">{name}</span>
                  <span className="block text-sm text-soft">{words}</span>
                </span>
              </label>
            ))}
          </fieldset>
          <label className="mt-3 grid grid-cols-[8rem_1fr] items-center gap-2">
            Station
            <select className="entry" value={station.name} onChange={(event) => setWhere(event.target.value)}>
              {stations.map((one) => (
                <option key={one.name}>{one.name}</option>
              ))}
            </select>
          </label>
          <label className="mt-2 grid grid-cols-[8rem_1fr] items-center gap-2">
            {kind === "notch" ? "Over" : "At"}
            <select className="entry" value={at} onChange={(event) => setPoint(event.target.value)}>
              {points.map((one) => (
                <option key={one} value={one}>
                  {spoken(one)}
                </option>
              ))}
            </select>
          </label>
          <div className="mt-4 flex justify-end gap-2">
            <Dialog.Close className="press px-4">Cancel</Dialog.Close>
            <button type="button" className="press press-main px-4" onClick={add}>
              Add it
            </button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function freeName(station: Station, kind: string): string {
  const taken = ((station.make?.parts ?? []) as { name: string }[]).map((one) => one.name);
  for (let n = 1; ; n += 1) {
    const name = n === 1 ? kind : `${kind} ${n}`;
    if (!taken.includes(name)) return name;
  }
}

/** A part to begin with, at a point; every size of it can be changed. */
function start(kind: Kind, station: Station, point: string): Record<string, unknown> {
  const [x = 0, y = 0, z = 0] = station.points[point] ?? [];
  const tube = { outside: 38, wall: 3, grade: "S235" };
  const held = station.chassis.includes(point) ? { holds: point } : {};
  switch (kind) {
    case "tower":
      return {
        corners: [
          [x, y, z - 200],
          [x, y, z - 40],
        ],
        tube,
        ...held,
      };
    case "hoop":
      return {
        corners: [
          [x, 450, z - 200],
          [x, 330, z + 60],
          [x, -330, z + 60],
          [x, -450, z - 200],
        ],
        tube,
        radius: 114,
        ...held,
      };
    case "crossbar":
      return {
        corners: [
          [x, 400, z],
          [x, -400, z],
        ],
        tube,
        ...held,
      };
    case "notch":
      return {
        over: point,
        rail: { width: 60, height: 120, wall: 3 },
        rail_bottom: Math.round(z + 90),
        axle_tube: 76,
        clearance: 20,
        thickness: 5,
      };
    case "sleeve":
      return { point, rail: 60, bolt: 12, wall: 3 };
    case "gusset":
      return { point, legs: [60, 60], angle: 90, thickness: 4 };
    default:
      return { point, legs: [80, 60], thickness: 4 };
  }
}
