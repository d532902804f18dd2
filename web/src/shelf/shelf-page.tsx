import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { ChevronLeft, Download, FileUp, Trash2 } from "lucide-react";
import { type ChangeEvent, useRef } from "react";
import { Link } from "react-router";
import { answer, client, type Shape, takeShelf } from "../api/client";
import { Heads } from "../quantity/heads";
import type { Dimension } from "../quantity/quantity";
import { UnitsOfJob, useUnits } from "../quantity/units";
import { UnitsMenu } from "../quantity/units-menu";
import { Trouble, Waiting } from "../session/states";
import { ThemeButton } from "../session/theme";

type Part = Shape["PartOut"];

const KINDS: [string, string][] = [
  ["coil", "Coils"],
  ["damper", "Dampers"],
  ["bag", "Bags"],
  ["bump_stop", "Bump stops"],
  ["strap", "Straps"],
  ["rod_end", "Rod ends"],
  ["insert", "Weld-in inserts"],
  ["nut", "Jam nuts"],
  ["bolt", "Bolts"],
  ["tube", "Tubes"],
  ["plate", "Plate"],
  ["cup", "Cups"],
];

const DIMENSIONS: [RegExp, Dimension][] = [
  [/_n_per_mm$/, "rate"],
  [/_mm$/, "length"],
  [/_n$/, "force"],
  [/_bar$/, "pressure"],
  [/_degrees$/, "angle"],
];

const WORDS: Record<string, string> = {
  left_hand: "hand",
  yield_n_per_mm2: "steel yields at",
  lead_days: "lead time",
};
const PLAIN_UNITS: Record<string, string> = { yield_n_per_mm2: "N/mm²", lead_days: "days" };

/** What is there to be fitted: the shop's own list, as CSV in and out. */
export function ShelfPage() {
  return (
    <UnitsOfJob job="shelf">
      <Shelf />
    </UnitsOfJob>
  );
}

function Shelf() {
  const parts = useQuery({ queryKey: ["parts"], queryFn: () => answer(client.GET("/api/parts")) });
  const queries = useQueryClient();
  const picker = useRef<HTMLInputElement>(null);
  const take = useMutation({
    mutationFn: (file: File) => takeShelf(file),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["parts"] }),
  });
  const picked = (event: ChangeEvent<HTMLInputElement>) => {
    const file = event.target.files?.[0];
    event.target.value = "";
    if (file) take.mutate(file);
  };
  return (
    <div className="flex min-h-full flex-col">
      <header className="flex min-h-14 flex-wrap items-center gap-3 bg-steel px-3 py-1.5 text-soapstone">
        <Link to="/" className="press press-dark px-2" aria-label="All jobs">
          <ChevronLeft size={20} aria-hidden />
        </Link>
        <span className="text-xl font-bold">The shelf</span>
        <span className="ml-auto" />
        <ThemeButton className="press press-dark" />
      </header>
      <main className="mx-auto w-full max-w-6xl p-4 sm:p-6">
        <div className="flex flex-wrap items-end justify-between gap-3">
          <div>
            <h1 className="text-3xl">What is there to be fitted?</h1>
            <p className="mt-1 text-soft">
              Coils from here stand among the springs of every job. Export the table, fill it in, import it
              again.
            </p>
          </div>
          <div className="flex flex-wrap items-center gap-2">
            <UnitsMenu />
            <a className="press" href="/api/parts/shelf.csv" download>
              <Download size={18} aria-hidden />
              Export CSV
            </a>
            <button
              type="button"
              className="press press-main"
              disabled={take.isPending}
              onClick={() => picker.current?.click()}
            >
              <FileUp size={18} aria-hidden />
              {take.isPending ? "Reading …" : "Import CSV"}
            </button>
            <input
              ref={picker}
              type="file"
              accept=".csv,text/csv"
              className="sr-only"
              tabIndex={-1}
              aria-label="CSV of parts"
              onChange={picked}
            />
          </div>
        </div>
        {take.isError && (
          <div role="alert" className="mt-4 border-2 border-fault bg-card p-4">
            <p className="font-semibold">This table was not imported. Nothing has changed.</p>
            <p className="mt-1 whitespace-pre-line break-words text-sm">{take.error.message}</p>
          </div>
        )}
        {take.isSuccess && (
          <p role="status" className="mt-4 border-l-4 border-good pl-3">
            {take.data.taken} parts imported.
          </p>
        )}
        {parts.isPending && <Waiting what="Loading the shelf" />}
        {parts.isError && (
          <Trouble title="The shelf cannot be shown" detail={parts.error.message}>
            <button type="button" className="press press-main" onClick={() => parts.refetch()}>
              Try again
            </button>
          </Trouble>
        )}
        {parts.data?.length === 0 && (
          <p className="mt-8 border border-dashed border-edge p-8 text-soft">
            Nothing on the shelf yet. Export the empty table: its headings say what each kind of part needs.
          </p>
        )}
        {KINDS.map(([kind, title]) => (
          <Kind key={kind} title={title} parts={(parts.data ?? []).filter((part) => part.kind === kind)} />
        ))}
      </main>
    </div>
  );
}

function Kind({ title, parts }: { title: string; parts: Part[] }) {
  const queries = useQueryClient();
  const { quantity } = useUnits();
  const remove = useMutation({
    mutationFn: (id: number) =>
      answer(client.DELETE("/api/parts/{part_id}", { params: { path: { part_id: id } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: ["parts"] }),
  });
  if (!parts.length) return null;
  const columns = [...new Set(parts.flatMap((part) => Object.keys(part.values)))];
  const said = (column: string) =>
    WORDS[column] ?? column.replace(/_(n_per_mm|mm|n|bar|degrees|percent)$/, "").replaceAll("_", " ");
  const shown = (column: string, value: number | undefined) => {
    if (value === undefined) return "–";
    const dimension = DIMENSIONS.find(([ending]) => ending.test(column))?.[1];
    if (dimension) return quantity(value, dimension);
    if (column === "left_hand") return value ? "left" : "right";
    return `${value} ${PLAIN_UNITS[column] ?? "%"}`;
  };
  return (
    <section aria-label={title} className="mt-6">
      <h2 className="text-xl">{title}</h2>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a table wider than the screen is scrolled by key */}
      <div className="overflow-x-auto" role="region" aria-label={`${title}, table`} tabIndex={0}>
        <table className="w-full min-w-[640px] border-collapse text-right">
          <Heads
            names={["Name", ...columns.map(said), "In stock", "Price", "Where"]}
            words={["Price", "Where"]}
            action="Take off"
          />
          <tbody>
            {parts.map((part) => (
              <tr key={part.id} className="border-b border-rule">
                <th scope="row" className="py-1 text-left font-semibold">
                  {part.name}
                </th>
                {columns.map((column) => (
                  <td key={column} className="px-2">
                    {shown(column, part.values[column])}
                  </td>
                ))}
                <td className={`px-2 ${part.stock === 0 ? "text-fault" : ""}`}>
                  {part.stock === 0 ? "none" : part.stock}
                </td>
                <td className="px-2 text-left">{part.price}</td>
                <td className="px-2 text-left">{part.source}</td>
                <td className="py-0.5 pl-2">
                  <button
                    type="button"
                    className="press border-transparent px-3"
                    aria-label={`Remove ${part.name} from the shelf`}
                    onClick={() => remove.mutate(part.id)}
                  >
                    <Trash2 size={18} aria-hidden />
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
