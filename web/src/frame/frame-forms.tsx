import { useState } from "react";
import type { Project } from "../api/client";
import type { DraftInHand } from "../bench/draft";
import { QuantityField } from "../quantity/quantity-field";
import { spoken } from "../quantity/spoken";
import { addNode, freeName, METALS, type Member, namedPlaces, setMember, withFrame } from "./frame";

interface Props {
  document: Project;
  hand: DraftInHand;
}

/** A place of the frame: three figures, or the name of a point or a mark. */
export function NodeForm({ document, hand }: Props) {
  const nodes = Object.keys(document.frame?.nodes ?? {});
  const [name, setName] = useState("");
  const [after, setAfter] = useState("");
  const [at, setAt] = useState([0, 0, 0]);
  const given = name.trim() || freeName(nodes, after ? after.replace("/", " ") : "place");
  const twice = nodes.includes(given);
  return (
    <section aria-label="Add a place" className="grid gap-2 pt-3">
      <label className="grid gap-1">
        Name
        <input
          className="entry"
          value={name}
          onChange={(event) => setName(event.target.value)}
          placeholder={given}
        />
      </label>
      <label className="grid gap-1">
        Where
        <select className="entry" value={after} onChange={(event) => setAfter(event.target.value)}>
          <option value="">measured: forward, left, up</option>
          {namedPlaces(document).map((one) => (
            <option key={one} value={one}>
              {spoken(one.replace("/", ", "))}
            </option>
          ))}
        </select>
      </label>
      {!after && (
        <div className="grid grid-cols-3 gap-2">
          {(["forward", "left", "up"] as const).map((axis, k) => (
            <QuantityField
              key={axis}
              label={`Place ${axis}`}
              value={at[k] ?? 0}
              dimension="length"
              onCommit={(value) => setAt(at.map((c, n) => (n === k ? value : c)))}
            />
          ))}
        </div>
      )}
      {twice && <p className="text-fault">There is a place of this name already.</p>}
      <button
        type="button"
        className="press"
        disabled={twice}
        onClick={() => {
          hand.edit((now) => addNode(now, given, after || at));
          setName("");
        }}
      >
        Add the place
      </button>
      <label className="flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          className="size-6"
          checked={document.frame?.mirrored ?? true}
          onChange={(event) =>
            hand.edit((now) => withFrame(now, (frame) => ({ ...frame, mirrored: event.target.checked })))
          }
        />
        What stands off the centreline stands on the other side too
      </label>
    </section>
  );
}

/** A tube between two places. */
export function MemberForm({ document, hand }: Props) {
  const nodes = Object.keys(document.frame?.nodes ?? {});
  const names = (document.frame?.members ?? []).map((one) => one.name);
  const [name, setName] = useState("");
  const [ends, setEnds] = useState(["", ""]);
  const [outside, setOutside] = useState(42.4);
  const [wall, setWall] = useState(3);
  const [metal, setMetal] = useState<(typeof METALS)[number]>("S355");
  const given = name.trim() || freeName(names, "tube");
  const chosen = ends.map((end, k) => (nodes.includes(end) ? end : (nodes[k] ?? "")));
  const why =
    nodes.length < 2
      ? "Two places first: add them below."
      : chosen[0] === chosen[1]
        ? "Its ends are two different places."
        : names.includes(given)
          ? "There is a tube of this name already."
          : 2 * wall > outside
            ? "The wall is at most half of what is over the tube."
            : null;
  const end = (k: 0 | 1) => (
    <label className="grid gap-1">
      {k ? "to" : "from"}
      <select
        className="entry"
        value={chosen[k]}
        onChange={(event) => setEnds(ends.map((one, n) => (n === k ? event.target.value : one)))}
      >
        {nodes.map((one) => (
          <option key={one} value={one}>
            {spoken(one)}
          </option>
        ))}
      </select>
    </label>
  );
  return (
    <section aria-label="Draw a tube" className="grid gap-2 py-2">
      <label className="grid gap-1">
        Name
        <input
          className="entry"
          value={name}
          onChange={(event) => setName(event.target.value)}
          placeholder={given}
        />
      </label>
      <div className="grid grid-cols-2 gap-2">
        {end(0)}
        {end(1)}
      </div>
      <div className="grid grid-cols-3 gap-2">
        <QuantityField label="Over the tube" value={outside} dimension="length" onCommit={setOutside} />
        <QuantityField label="Wall" value={wall} dimension="length" onCommit={setWall} />
        <select
          aria-label="Metal"
          className="entry"
          value={metal}
          onChange={(event) => setMetal(event.target.value as (typeof METALS)[number])}
        >
          {METALS.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
      </div>
      {why && <p className="text-soft">{why}</p>}
      <button
        type="button"
        className="press"
        disabled={why !== null}
        onClick={() => {
          const member = { name: given, ends: chosen, tube: { outside, wall }, metal } as Member;
          hand.edit((now) => setMember(now, member, null));
          setName("");
        }}
      >
        Draw the tube
      </button>
    </section>
  );
}
