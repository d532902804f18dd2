import type { KeyboardEvent } from "react";

interface Picking<Name extends string> {
  /** What can be picked, in the order of Page up and Page down. */
  order: Name[];
  picked: Name | null;
  onPick: (name: Name | null) => void;
  /** Steps of the drawing's two ways, mm: right and up. */
  onNudge: (name: Name, right: number, up: number) => void;
}

const WAYS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

/** A drawing by keyboard: Page up and Page down pick, arrows move by 1 mm, with Shift by 10 and with Alt by a tenth. */
export function nudged<Name extends string>(event: KeyboardEvent, its: Picking<Name>) {
  const way = WAYS[event.key];
  if (event.key === "PageDown" || event.key === "PageUp") {
    const step = event.key === "PageDown" ? 1 : -1;
    const now = its.picked ? its.order.indexOf(its.picked) : step > 0 ? -1 : 0;
    its.onPick(its.order[(now + step + its.order.length) % its.order.length] ?? null);
  } else if (event.key === "Escape") its.onPick(null);
  else if (way && its.picked) {
    const size = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
    its.onNudge(its.picked, way[0] * size, way[1] * size);
  } else return;
  event.preventDefault();
}
