import { X } from "lucide-react";
import type { Project } from "../api/client";
import type { DraftInHand } from "../bench/draft";
import { Heads } from "../quantity/heads";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { bandOf, type Carried, dropMember, dropNode, type Member, onceEach } from "./frame";
import { HeldPick } from "./node-panel";

/** How a member's section is said. */
export function useSection(): (member: Member | undefined) => string {
  const { number, unit } = useUnits();
  return (member) => {
    const size = member?.tube ?? member?.box ?? member?.flat;
    if (!member || !size) return "";
    const sides = Object.values(size).map((value) => number(value as number, "length"));
    return `${sides.join(" × ")} ${unit("length")} ${member.metal ?? "S235"}`;
  };
}

interface Props {
  document: Project;
  found: Carried;
  hand: DraftInHand;
  picked: string | null;
  onPick: (name: string) => void;
}

/** Every tube with its worst, the worst first. */
export function MemberTable({ document, found, hand, picked, onPick }: Props) {
  const size = useSection();
  const own = document.frame?.members ?? [];
  const sorted = onceEach(found.members, (one) => one.share).sort((one, other) => other.share - one.share);
  return (
    <div className="overflow-x-auto">
      <table className="w-full border-collapse text-right">
        <Heads
          names={["Tube", "Size", "Of its limit", "Stress", "Buckles at"]}
          words={["Size"]}
          action="Remove it"
        />
        <tbody>
          {sorted.map((one) => {
            const mine = own.find((member) => member.name === one.name.replace(/, other side$/, ""));
            return (
              <tr
                key={one.name}
                className={`border-b border-rule ${picked === one.name ? "bg-marker/25" : ""}`}
              >
                <th scope="row" className="py-1.5 text-left font-normal">
                  <button
                    type="button"
                    className="min-h-11 text-left underline"
                    onClick={() => onPick(one.name)}
                  >
                    {spoken(one.name)}
                  </button>
                  <span className="block text-sm text-soft">{one.case}</span>
                </th>
                <td className="px-2 text-left">{size(mine)}</td>
                <td className="px-2 font-semibold">
                  {Math.round(100 * one.share)} %<span className="sr-only">, {bandOf(one.share).name}</span>
                </td>
                <td className="whitespace-nowrap px-2">{one.stress.toFixed(0)} N/mm²</td>
                <td className="px-2">{one.buckling === null ? "–" : `${one.buckling.toFixed(1)} ×`}</td>
                <td>
                  {own.some((member) => member.name === one.name) && (
                    <button
                      type="button"
                      className="press px-3"
                      aria-label={`Remove ${spoken(one.name)}`}
                      onClick={() => hand.edit((now) => dropMember(now, one.name))}
                    >
                      <X size={18} aria-hidden />
                    </button>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

/** The frame's places: where they are and how they are held. */
export function NodeTable({
  document,
  hand,
  onPick,
}: {
  document: Project;
  hand: DraftInHand;
  onPick: (node: string) => void;
}) {
  const { number, unit } = useUnits();
  const frame = document.frame;
  return (
    <ul>
      {Object.entries(frame?.nodes ?? {}).map(([name, at]) => (
        <li key={name} className="flex flex-wrap items-center gap-2 border-b border-rule py-1">
          <span className="min-w-0 flex-1">
            <button type="button" className="min-h-11 text-left underline" onClick={() => onPick(name)}>
              {spoken(name)}
            </button>
            <span className="block text-sm text-soft">
              {typeof at === "string"
                ? spoken(at.replace("/", ", "))
                : `${(at as number[]).map((c) => number(c, "length")).join(", ")} ${unit("length")}`}
            </span>
          </span>
          <HeldPick document={document} node={name} hand={hand} />
          <button
            type="button"
            className="press px-3"
            aria-label={`Remove ${spoken(name)} and its tubes`}
            onClick={() => hand.edit((now) => dropNode(now, name))}
          >
            <X size={18} aria-hidden />
          </button>
        </li>
      ))}
    </ul>
  );
}
