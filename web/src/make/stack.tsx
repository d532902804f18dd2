/** A joint drawn along its bolt, from the head on the left to the nut on the right, to one scale. */

import type { Shape } from "../api/client";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";

type Stack = Shape["StackOut"];
type Layer = Shape["LayerOut"];

const HELD = ["head", "washer", "lock nut", "tab", "plate", "spacer"];
const isWasher = (layer: Layer) => layer.what.endsWith("washer") || layer.what.endsWith("washers");
const isPlate = (layer: Layer) => layer.what === "tab" || layer.what === "plate";
const isHeld = (layer: Layer) => !HELD.includes(layer.what) && !isWasher(layer);

/** How a layer is drawn: plates solid, what is held hatched by its own shade, the rest open. */
function fill(layer: Layer): string {
  if (isPlate(layer)) return "fill-dye";
  if (isHeld(layer)) return "fill-marker/40";
  return "fill-none";
}

/** Every stack of a part: drawn, and named in the order in which it is put together. */
export function Stacks({ stacks }: { stacks: Stack[] }) {
  if (stacks.length === 0) return null;
  return (
    <section aria-label="Put together" className="pt-3">
      <h3 className="font-semibold">Put together along the bolt</h3>
      {stacks.map((stack) => (
        <OneStack key={stack.layers.map((layer) => layer.what).join()} stack={stack} />
      ))}
    </section>
  );
}

function OneStack({ stack }: { stack: Stack }) {
  const { quantity } = useUnits();
  const [first] = stack.layers;
  const last = stack.layers[stack.layers.length - 1];
  if (!first || !last) return null;
  const tall = Math.max(...stack.layers.map((layer) => layer.outside));
  const left = first.at - 3;
  const right = last.at + last.width + 9;
  const bolt = Math.min(...stack.layers.filter((layer) => layer.bore > 0).map((layer) => layer.bore));
  return (
    <figure className="border-b border-rule py-2" data-testid="stack">
      <svg
        viewBox={`${left} ${-tall / 2 - 2} ${right - left} ${tall + 4}`}
        className="max-h-44 w-full text-ink"
        role="img"
        aria-label={`${stack.bolt}: ${stack.layers.map((layer) => spoken(layer.what)).join(", ")}`}
      >
        {stack.layers.map((layer) => (
          <rect
            key={`${layer.at} ${layer.what}`}
            x={layer.at}
            y={-layer.outside / 2}
            width={layer.width}
            height={layer.outside}
            className={`${fill(layer)} stroke-ink`}
            strokeWidth={0.5}
          />
        ))}
        <rect
          x={first.at + first.width}
          y={-bolt / 2}
          width={last.at + last.width - first.at - first.width + 3}
          height={bolt}
          className="fill-card stroke-ink"
          strokeWidth={0.5}
        />
      </svg>
      <figcaption>
        <p className="font-bold">
          {stack.bolt}, {stack.planes === 2 ? "double shear" : "single shear"}
        </p>
        <ol className="text-sm leading-snug">
          {stack.layers.map((layer) => (
            <li key={`${layer.at} ${layer.what}`} className="flex justify-between gap-3">
              <span className={isPlate(layer) || isHeld(layer) ? "font-semibold" : ""}>
                {spoken(layer.what)}
              </span>
              <span>{quantity(layer.width, "length")}</span>
            </li>
          ))}
        </ol>
      </figcaption>
    </figure>
  );
}
