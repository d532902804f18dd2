import { Plus, Trash2 } from "lucide-react";
import { QuantityField } from "../quantity/quantity-field";
import { Row } from "../quantity/row";
import { spoken } from "../quantity/spoken";
import { type Field, fieldsOf, measured, type Part, refused } from "./schema";

type Values = Record<string, unknown>;

interface Props {
  part: Part;
  values: Values;
  /** What it belongs to, for those who cannot see where the field stands. */
  label: string;
  /** Where its two ends are, for what is at one of them. */
  ends?: string[];
  /** Fields that stand elsewhere. */
  skip?: string[];
  onChange: (values: Values) => void;
}

const AXES = ["fore–aft", "to the left", "up"];
/** What a part that was not said yet begins with. */
const FIRST: Record<string, Values> = {
  Perch: { up: 10, down: 10 },
  Adapter: { top: 0, bottom: 0 },
  Plates: { first: [0, 0, 1], second: [0, 0, -1] },
};

/** Every field of a part, made from what the engine publishes of it. */
export function Fields({ part, values, label, ends = [], skip = [], onChange }: Props) {
  const set = (key: string, value: unknown) => onChange({ ...values, [key]: value });
  return (
    <>
      {fieldsOf(part)
        .filter((field) => !skip.includes(field.key))
        .map((field) => (
          <OneField
            key={field.key}
            field={field}
            value={values[field.key] ?? undefined}
            label={`${label} ${field.name}`}
            ends={ends}
            onSet={(value) => set(field.key, value)}
          />
        ))}
    </>
  );
}

interface One {
  field: Field;
  value: unknown;
  label: string;
  ends: string[];
  onSet: (value: unknown) => void;
}

function OneField(props: One) {
  const { field, value, label, onSet } = props;
  switch (field.kind) {
    case "number":
      return (
        <Row name={field.name} hint={field.hint}>
          <QuantityField
            label={label}
            value={Number(value ?? field.default ?? 0)}
            blank={value === undefined && field.optional}
            dimension={measured(field)}
            {...(measured(field) === "ratio" ? { digits: 2 } : {})}
            check={(next) => refused(field, next)}
            onCommit={onSet}
            {...(field.optional ? { onClear: () => onSet(null) } : {})}
          />
        </Row>
      );
    case "choice":
      return (
        <Row name={field.name} hint={field.hint}>
          <select
            className="entry"
            aria-label={label}
            value={String(value ?? field.default)}
            onChange={(event) => onSet(event.target.value)}
          >
            {field.enum?.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
        </Row>
      );
    case "yes or no":
      return (
        <label className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            className="h-5 w-5"
            checked={Boolean(value ?? field.default)}
            onChange={(event) => onSet(event.target.checked)}
          />
          <span className="leading-tight">
            {field.name}
            <span className="block text-sm text-soft">{field.hint}</span>
          </span>
        </label>
      );
    case "direction":
      return (
        <Row name={field.name} hint={field.hint} className="grid-cols-1 py-0.5">
          <Triple label={label} value={(value ?? field.default ?? [0, 0, 1]) as number[]} onSet={onSet} />
        </Row>
      );
    case "table":
      return <Table {...props} />;
    case "part":
      return <Inner {...props} />;
    case "parts":
      return <List {...props} />;
    default:
      return null;
  }
}

function Triple({ label, value, onSet }: { label: string; value: number[]; onSet: (v: number[]) => void }) {
  return (
    <span className="grid grid-cols-3 gap-1">
      {AXES.map((axis, k) => (
        <QuantityField
          key={axis}
          label={`${label}, ${axis}`}
          value={value[k] ?? 0}
          dimension="ratio"
          digits={2}
          compact
          check={(next) =>
            value.some((its, n) => (n === k ? next : its) !== 0)
              ? null
              : "It needs a direction: all three are zero."
          }
          onCommit={(next) => onSet(value.map((its, n) => (n === k ? next : its)))}
        />
      ))}
    </span>
  );
}

/** Rows of a curve, each column in everybody's own unit. */
function Table({ field, value, label, onSet }: One) {
  const rows = (value ?? []) as number[][];
  const columns = field["x-columns"] ?? [];
  const wide = Math.max(2, ...rows.map((row) => row.length));
  const put = (next: number[][]) => onSet(next.length ? next : null);
  if (!rows.length)
    return (
      <button
        type="button"
        className="press my-1 px-3"
        onClick={() =>
          put([columns.slice(0, 2).map(() => 0), columns.slice(0, 2).map((_, k) => (k ? 500 : 10))])
        }
      >
        <Plus size={18} aria-hidden /> {field.name}
      </button>
    );
  const last = rows.at(-1) as number[];
  const before = rows.at(-2) ?? last;
  return (
    <fieldset className="py-1">
      <legend className="leading-tight">{field.name}</legend>
      {rows.map((row, k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rows of a curve have no name; they stand in their order
        <div key={k} className="flex items-center gap-1 py-0.5">
          {row.slice(0, wide).map((cell, n) => (
            <span key={columns[n]} className="min-w-0 flex-1">
              <QuantityField
                label={`${label}, row ${k + 1}, ${columns[n]}`}
                value={cell}
                dimension={measured({ "x-measures": columns[n] ?? "ratio" })}
                onCommit={(next) =>
                  put(rows.map((its, r) => (r === k ? its.map((v, c) => (c === n ? next : v)) : its)))
                }
              />
            </span>
          ))}
          <button
            type="button"
            className="press border-transparent px-2"
            aria-label={`Remove row ${k + 1} of ${label}`}
            disabled={rows.length <= (field.minItems ?? 0)}
            onClick={() => put(rows.filter((_, r) => r !== k))}
          >
            <Trash2 size={18} aria-hidden />
          </button>
        </div>
      ))}
      {rows.length < (field.maxItems ?? Number.POSITIVE_INFINITY) && (
        <button
          type="button"
          className="press my-1 px-3"
          aria-label={`Add a row, ${label}`}
          onClick={() => put([...rows, last.map((cell, k) => 2 * cell - (before[k] ?? 0))])}
        >
          <Plus size={18} aria-hidden /> Add a row
        </button>
      )}
      {field.optional && (
        <button
          type="button"
          className="press my-1 ml-2 px-3"
          aria-label={`Remove ${label}`}
          onClick={() => put([])}
        >
          <Trash2 size={18} aria-hidden />
        </button>
      )}
    </fieldset>
  );
}

/** A part of the part, as a perch or an adapter: said, or not. */
function Inner({ field, value, label, ends, onSet }: One) {
  const part = field.$ref as Part;
  if (value === undefined)
    return (
      <button type="button" className="press my-1 px-3" onClick={() => onSet(FIRST[part] ?? {})}>
        <Plus size={18} aria-hidden /> {field.name}
      </button>
    );
  return (
    <fieldset className="border-l-2 border-rule py-1 pl-3">
      <legend className="flex w-full items-center justify-between font-semibold">
        {field.name}
        <button
          type="button"
          className="press border-transparent px-2"
          aria-label={`Remove ${label}`}
          onClick={() => onSet(null)}
        >
          <Trash2 size={18} aria-hidden />
        </button>
      </legend>
      <Fields part={part} values={value as Values} label={label} ends={ends} onChange={onSet} />
    </fieldset>
  );
}

/** What it has one or more of: the bolts through its eyes. */
function List({ field, value, label, ends, onSet }: One) {
  const rows = (value ?? []) as Values[];
  const part = field.items?.$ref as Part;
  const free = ends.filter((end) => !rows.some((row) => row.end === end));
  if (part !== "Eye") return null; // springs stand by themselves
  return (
    <>
      {rows.map((row, k) => (
        <fieldset key={String(row.end)} className="border-l-2 border-rule py-1 pl-3">
          <legend className="flex w-full items-center justify-between font-semibold">
            Eye at {spoken(String(row.end))}
            <button
              type="button"
              className="press border-transparent px-2"
              aria-label={`Remove ${label} at ${spoken(String(row.end))}`}
              onClick={() => onSet(rows.filter((_, n) => n !== k))}
            >
              <Trash2 size={18} aria-hidden />
            </button>
          </legend>
          <Fields
            part={part}
            values={row}
            label={`${label} ${spoken(String(row.end))}`}
            skip={["end"]}
            onChange={(next) => onSet(rows.map((its, n) => (n === k ? next : its)))}
          />
        </fieldset>
      ))}
      {free.map((end) => (
        <button
          key={end}
          type="button"
          className="press my-1 mr-2 px-3"
          onClick={() => onSet([...rows, { end, bolt: [1, 0, 0] }])}
        >
          <Plus size={18} aria-hidden /> Eye at {spoken(end)}
        </button>
      ))}
    </>
  );
}
