/** A joint drawn along its bolt, from the head on the left to the nut on the right, to one scale; its list beside. */

import type { Shape } from "../api/client";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";

type Stack = Shape["StackOut"];
type Layer = Shape["LayerOut"];

const OPEN = ["head", "lock nut", "spacer"];
const isPlate = (layer: Layer) => layer.what === "tab" || layer.what === "plate";
const isHeld = (layer: Layer) =>
  !isPlate(layer) && !OPEN.includes(layer.what) && !/washers?$/.test(layer.what);
const keyOf = (stack: Stack) => stack.layers.map((layer) => layer.what).join();

/** What is shaded: plates light, what is held in the marker's yellow, all else open. */
function fill(layer: Layer): string {
  if (isPlate(layer)) return "fill-soapstone/70";
  return isHeld(layer) ? "fill-marker/50" : "fill-none";
}

/** Every stack of a part as it stands on the drawing, each layer with its number in the list. */
export function StackDrawings({ stacks }: { stacks: Stack[] }) {
  return stacks.map((stack) => <StackDrawing key={keyOf(stack)} stack={stack} />);
}

function StackDrawing({ stack }: { stack: Stack }) {
  const [first] = stack.layers;
  const last = stack.layers[stack.layers.length - 1];
  if (!first || !last) return null;
  const tall = Math.max(...stack.layers.map((layer) => layer.outside));
  const wide = last.at + last.width - first.at;
  const size = Math.max(tall, wide) / 16;
  const bolt = Math.min(...stack.layers.filter((layer) => layer.bore > 0).map((layer) => layer.bore));
  const top = -tall / 2 - 3.4 * size;
  return (
    <figure className="py-3" data-testid="stack">
      <figcaption className="text-soapstone">
        {stack.bolt}, {stack.planes === 2 ? "double shear" : "single shear"}
      </figcaption>
      <svg
        viewBox={`${first.at - size} ${top} ${wide + 3 * size} ${tall / 2 - top + size}`}
        className="max-h-64 w-full"
        role="img"
        aria-label={`${stack.bolt}, from its head: ${stack.layers.map((layer) => spoken(layer.what)).join(", ")}`}
      >
        <rect
          x={first.at + first.width}
          y={-bolt / 2}
          width={wide - first.width + size * 0.8}
          height={bolt}
          className="fill-none stroke-scribe"
          strokeWidth={size / 14}
        />
        {stack.layers.map((layer, k) => {
          const middle = layer.at + layer.width / 2;
          const high = -tall / 2 - size * (k % 2 ? 2.2 : 0.8);
          return (
            <g key={`${layer.at} ${layer.what}`}>
              <rect
                x={layer.at}
                y={-layer.outside / 2}
                width={layer.width}
                height={layer.outside}
                className={`${fill(layer)} stroke-soapstone`}
                strokeWidth={size / 12}
              />
              <path
                d={`M${middle} ${-layer.outside / 2}L${middle} ${high + size * 0.15}`}
                className="stroke-scribe"
                strokeWidth={size / 20}
              />
              <text
                x={middle}
                y={high}
                fontSize={size}
                textAnchor="middle"
                className="fill-soapstone"
                fontWeight={isHeld(layer) || isPlate(layer) ? 700 : 400}
              >
                {k + 1}
              </text>
            </g>
          );
        })}
      </svg>
    </figure>
  );
}

/** Every stack of a part as a list, in the order in which it is put together. */
export function Stacks({ stacks }: { stacks: Stack[] }) {
  const { quantity } = useUnits();
  if (stacks.length === 0) return null;
  return (
    <section aria-label="Put together" className="pt-3">
      <h3 className="font-semibold">Put together along the bolt</h3>
      {stacks.map((stack) => (
        <div key={keyOf(stack)} className="border-b border-rule py-2">
          <p className="font-bold">{stack.bolt}</p>
          <ol className="list-inside list-decimal leading-snug">
            {stack.layers.map((layer) => (
              <li key={`${layer.at} ${layer.what}`} className={isHeld(layer) ? "font-semibold" : ""}>
                {spoken(layer.what)}
                <span className="float-right">{quantity(layer.width, "length")}</span>
              </li>
            ))}
          </ol>
        </div>
      ))}
    </section>
  );
}
