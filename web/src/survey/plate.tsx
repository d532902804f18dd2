import { type KeyboardEvent, type PointerEvent, useRef } from "react";
import type { Shape } from "../api/client";

type Picture = Shape["PhotographOut"];
export type Spot = [number, number];

const LOUPE = 150;
const TIMES = 4;

/** The picture, and under the pick a loupe; arrow keys move the pick by a pixel, with Shift by ten, with Alt by a quarter. */
export function Plate({
  src,
  picture,
  spot,
  onSpot,
  onSet,
  marked,
}: {
  src: string;
  picture: Picture;
  spot: Spot | null;
  onSpot: (spot: Spot) => void;
  onSet: () => void;
  marked: { at: Spot; word: string }[];
}) {
  const box = useRef<HTMLDivElement>(null);
  const held = useRef(false);
  const at = (event: PointerEvent): Spot => {
    const area = box.current?.getBoundingClientRect() ?? { left: 0, top: 0, width: 1, height: 1 };
    return [
      ((event.clientX - area.left) / area.width) * picture.width,
      ((event.clientY - area.top) / area.height) * picture.height,
    ];
  };
  const press = (event: KeyboardEvent) => {
    const size = event.shiftKey ? 10 : event.altKey ? 0.25 : 1;
    const [u, v] = spot ?? [picture.width / 2, picture.height / 2];
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    if (way) onSpot([u + (way[0] ?? 0) * size, v + (way[1] ?? 0) * size]);
    else if (event.key === "Enter") onSet();
    else return;
    event.preventDefault();
  };
  const share = (one: number, all: number) => `${(one / all) * 100}%`;
  return (
    <div className="grid min-h-0 min-w-0 place-items-center bg-pit p-2">
      <div
        ref={box}
        role="application"
        aria-label="The picture: arrow keys move the pick, Enter sets it"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: picking is done by key too
        tabIndex={0}
        data-testid="plate"
        onKeyDown={press}
        onPointerDown={(event) => {
          held.current = true;
          event.currentTarget.setPointerCapture(event.pointerId);
          onSpot(at(event));
        }}
        onPointerMove={(event) => held.current && onSpot(at(event))}
        onPointerUp={() => {
          held.current = false;
        }}
        className="relative max-h-full max-w-full touch-none select-none"
        style={{ aspectRatio: `${picture.width} / ${picture.height}`, width: "min(100%, 100vh)" }}
      >
        <img src={src} alt={picture.name} draggable={false} className="block size-full" />
        {marked.map(({ at: [u, v], word }) => (
          <span
            key={`${u} ${v} ${word}`}
            className="pointer-events-none absolute text-sm font-bold text-marker [text-shadow:0_0_3px_#000,0_0_3px_#000]"
            style={{ left: share(u, picture.width), top: share(v, picture.height) }}
          >
            <span className="absolute -left-2 -top-2 size-4 rounded-full border-2 border-marker shadow-[0_0_0_1px_#000]" />
            <span className="absolute left-3 top-1 whitespace-nowrap">{word}</span>
          </span>
        ))}
        {spot && (
          <>
            <span
              className="pointer-events-none absolute -ml-3 -mt-3 size-6 border-2 border-marker"
              style={{ left: share(spot[0], picture.width), top: share(spot[1], picture.height) }}
            />
            <span
              aria-hidden
              data-testid="loupe"
              className="pointer-events-none absolute overflow-hidden rounded-full border-4 border-marker bg-black"
              style={{
                width: LOUPE,
                height: LOUPE,
                left: spot[0] > picture.width / 2 ? 8 : undefined,
                right: spot[0] > picture.width / 2 ? undefined : 8,
                top: 8,
                backgroundImage: `url(${src})`,
                backgroundSize: `${picture.width * TIMES * 0.5}px`,
                backgroundPosition: `${LOUPE / 2 - 4 - spot[0] * TIMES * 0.5}px ${LOUPE / 2 - 4 - spot[1] * TIMES * 0.5}px`,
                imageRendering: "pixelated",
              }}
            >
              <span className="absolute left-1/2 top-0 h-full w-px bg-marker" />
              <span className="absolute left-0 top-1/2 h-px w-full bg-marker" />
            </span>
          </>
        )}
      </div>
    </div>
  );
}
