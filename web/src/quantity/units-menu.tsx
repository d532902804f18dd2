import { Check, Ruler } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { INCH, METRIC, type Units } from "./quantity";
import { useUnits } from "./units";

const CHOICES: { key: keyof Units; title: string; options: [string, string][] }[] = [
  {
    key: "length",
    title: "Lengths",
    options: [
      ["mm", "mm"],
      ["in16", "inch, nearest 1/16"],
      ["in", "inch, decimal"],
    ],
  },
  {
    key: "rate",
    title: "Spring rates",
    options: [
      ["N/mm", "N/mm"],
      ["lb/in", "lb/in"],
      ["kgf/mm", "kgf/mm"],
    ],
  },
  {
    key: "mass",
    title: "Mass and force",
    options: [
      ["kg", "kg and N"],
      ["lb", "lb and lbf"],
    ],
  },
];

const ITEM =
  "flex min-h-[44px] items-center gap-2 px-3 outline-none data-[highlighted]:bg-dye data-[highlighted]:text-white";

/** The quick switch between metric and inch, and the finer choice behind it. */
export function UnitsMenu() {
  const { units, choose } = useUnits();
  const metric = units.length === "mm";
  return (
    <span className="inline-flex">
      <button
        type="button"
        className="press"
        onClick={() => choose(metric ? INCH : METRIC)}
        aria-label={`${metric ? "mm" : "inch"}: switch units to ${metric ? "inches" : "millimetres"}`}
      >
        <Ruler size={18} aria-hidden />
        {metric ? "mm" : "inch"}
      </button>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger className="press -ml-px px-3" aria-label="… choose each unit">
          <span aria-hidden>…</span>
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            className="z-50 max-h-[80vh] overflow-auto border border-edge bg-card text-ink shadow-lg"
            align="end"
          >
            {CHOICES.map(({ key, title, options }) => (
              <DropdownMenu.Group key={key}>
                <DropdownMenu.Label className="px-3 pt-3 text-sm font-semibold text-soft">
                  {title}
                </DropdownMenu.Label>
                <DropdownMenu.RadioGroup
                  value={units[key]}
                  onValueChange={(value) => choose({ ...units, [key]: value } as Units)}
                >
                  {options.map(([value, name]) => (
                    <DropdownMenu.RadioItem key={value} value={value} className={ITEM}>
                      <span className="w-5">
                        <DropdownMenu.ItemIndicator>
                          <Check size={18} aria-hidden />
                        </DropdownMenu.ItemIndicator>
                      </span>
                      {name}
                    </DropdownMenu.RadioItem>
                  ))}
                </DropdownMenu.RadioGroup>
              </DropdownMenu.Group>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </span>
  );
}
