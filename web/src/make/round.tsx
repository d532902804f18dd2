import { type PointerEvent, useRef, useState } from "react";

const STEP = Math.PI / 12;

/** A bent tube's run in the round: turned by dragging, or by keys. */
export function Round({ spots, outside, name }: { spots: number[][]; outside: number; name: string }) {
  const [turn, setTurn] = useState({ around: 0.6, over: 0.35 });
  const from = useRef<{ x: number; y: number } | null>(null);
  const middle = [0, 1, 2].map(
    (axis) => spots.reduce((sum, spot) => sum + (spot[axis] ?? 0), 0) / spots.length,
  );
  const flat = spots.map((spot) => {
    const [x = 0, y = 0, z = 0] = spot.map((value, axis) => value - (middle[axis] ?? 0));
    const across = x * Math.sin(turn.around) - y * Math.cos(turn.around);
    const deep = x * Math.cos(turn.around) + y * Math.sin(turn.around);
    return [across, -(z * Math.cos(turn.over) - deep * Math.sin(turn.over))] as const;
  });
  const reach =
    Math.max(
      60,
      ...spots.map((spot) => Math.max(...spot.map((v, axis) => Math.abs(v - (middle[axis] ?? 0))))),
    ) * 1.2;
  const drag = (event: PointerEvent) => {
    if (!from.current) return;
    const by = { x: event.clientX - from.current.x, y: event.clientY - from.current.y };
    from.current = { x: event.clientX, y: event.clientY };
    setTurn((now) => ({
      around: now.around + by.x / 120,
      over: Math.max(-1.5, Math.min(1.5, now.over + by.y / 120)),
    }));
  };
  const line = flat.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join("L");
  return (
    <div>
      <svg
        role="img"
        aria-label={`${name} in the round`}
        viewBox={`${-reach} ${-reach * 0.7} ${2 * reach} ${1.4 * reach}`}
        className="h-64 w-full touch-none cursor-grab"
        onPointerDown={(event) => {
          from.current = { x: event.clientX, y: event.clientY };
          event.currentTarget.setPointerCapture(event.pointerId);
        }}
        onPointerMove={drag}
        onPointerUp={() => {
          from.current = null;
        }}
      >
        <path
          d={`M${line}`}
          fill="none"
          stroke="var(--color-soapstone)"
          strokeWidth={outside}
          strokeLinejoin="round"
        />
        <path
          d={`M${line}`}
          fill="none"
          stroke="var(--color-dye)"
          strokeWidth={outside - 3}
          strokeLinejoin="round"
        />
        <path
          d={`M${line}`}
          fill="none"
          stroke="var(--color-soapstone)"
          strokeWidth={0.8}
          strokeDasharray="10 4 2 4"
        />
      </svg>
      <fieldset className="flex gap-1">
        <legend className="sr-only">Turn it</legend>
        {(
          [
            ["Left", -STEP, 0],
            ["Right", STEP, 0],
            ["Up", 0, -STEP],
            ["Down", 0, STEP],
          ] as const
        ).map(([words, around, over]) => (
          <button
            key={words}
            type="button"
            className="press press-dark px-3 text-sm"
            aria-label={`Turn ${words.toLowerCase()}`}
            onClick={() => setTurn((now) => ({ around: now.around + around, over: now.over + over }))}
          >
            {words}
          </button>
        ))}
      </fieldset>
    </div>
  );
}
