import { useQuery } from "@tanstack/react-query";
import { answer, client, type Project, type Shape } from "../api/client";
import { followed, isStopped } from "../api/working";
import { WorkingLine } from "../bench/working-line";
import { useSay } from "../quantity/sentence";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { asFile, type SurveyInHand } from "../survey/store";

const WIDE = 400;

/** Bars, sheets and what is to buy, asked for when a tab needs them. */
export function useStock(document: Project, hand: SurveyInHand) {
  const body = { document, survey: asFile(hand.survey) };
  return useQuery({
    queryKey: ["make-stock", body],
    queryFn: ({ signal }) =>
      answer(
        followed("stock", (headers) => client.POST("/api/make/stock", { body, headers, signal }), signal),
      ),
    enabled: hand.loaded,
    placeholderData: (before) => before,
    retry: false,
    gcTime: 0,
  });
}

/** What stands there until it is laid out: how far it is, or why it is not. */
function Unanswered({ found }: { found: ReturnType<typeof useStock> }) {
  return (
    <div aria-busy={found.isFetching} className="py-3">
      <WorkingLine name="stock" error={found.error} again={() => void found.refetch()} />
      {found.isFetching ? (
        <p className="text-soft">Laying it out …</p>
      ) : (
        found.error && !isStopped(found.error) && <p>{found.error.message}</p>
      )}
    </div>
  );
}

interface Props {
  document: Project;
  hand: SurveyInHand;
}

/** Which piece comes from which bar or sheet, drawn as it is cut. */
export function StockAndCutting(props: Props) {
  const { quantity } = useUnits();
  const found = useStock(props.document, props.hand);
  if (found.isError || !found.data) return <Unanswered found={found} />;
  const { bars, sheets, kerf } = found.data;
  if (!bars.length && !sheets.length) return <p className="py-3 text-soft">Nothing is cut from stock.</p>;
  return (
    <section aria-label="Stock and cutting" className="pt-2">
      <p className="text-sm text-soft">
        The longest first, {quantity(kerf, "length")} of saw between pieces; from the rack before a new bar is
        begun. Plates lie on their sheets by their shapes; the ZIP has a DXF of every sheet.
      </p>
      {bars.map((bar) => (
        <Bar key={bar.number} bar={bar} />
      ))}
      {sheets.map((sheet) => (
        <Sheet key={sheet.number} sheet={sheet} />
      ))}
    </section>
  );
}

function Bar({ bar }: { bar: Shape["StockBar"] }) {
  const { quantity } = useUnits();
  const scale = WIDE / bar.long;
  let at = 0;
  return (
    <div className="border-b border-rule py-2">
      <p className="flex justify-between gap-3">
        <span className="font-semibold">
          Tube {bar.stock}
          {bar.rack ? ", on the rack" : ""}
        </span>
        <span>
          {quantity(bar.long, "length")}, {quantity(bar.left, "length")} left
        </span>
      </p>
      <svg role="img" aria-label={`Bar of ${bar.stock}`} viewBox={`0 0 ${WIDE} 18`} className="h-5 w-full">
        <rect
          x={0.5}
          y={2}
          width={WIDE - 1}
          height={14}
          fill="none"
          stroke="currentColor"
          strokeDasharray="3 3"
        />
        {bar.pieces.map((piece) => {
          const x = at * scale;
          at += piece.long;
          return (
            <rect
              key={x}
              x={x}
              y={2}
              width={piece.long * scale}
              height={14}
              fill="var(--color-dye)"
              stroke="var(--color-paper)"
            />
          );
        })}
      </svg>
      <p className="text-sm text-soft">
        {bar.pieces
          .map((piece) => `${spoken(piece.part)}, ${piece.station}: ${quantity(piece.long, "length")}`)
          .join("; ")}
      </p>
    </div>
  );
}

function Sheet({ sheet }: { sheet: Shape["StockSheet"] }) {
  const { quantity } = useUnits();
  const plates = new Map<string, number>();
  for (const piece of sheet.pieces) plates.set(piece.part, (plates.get(piece.part) ?? 0) + 1);
  return (
    <div className="border-b border-rule py-2">
      <p className="flex justify-between gap-3">
        <span className="font-semibold">{sheet.stock.charAt(0).toUpperCase() + sheet.stock.slice(1)}</span>
        <span>
          {quantity(sheet.wide, "length")} × {quantity(sheet.high, "length")}, used to{" "}
          {quantity(sheet.used, "length")}
        </span>
      </p>
      <svg
        role="img"
        aria-label={`Sheet of ${sheet.stock}`}
        viewBox={`0 0 ${sheet.wide} ${sheet.high}`}
        preserveAspectRatio="xMinYMid"
        className="max-h-48 w-full"
      >
        <rect width={sheet.wide} height={sheet.high} fill="var(--color-card)" stroke="currentColor" />
        {sheet.pieces.map((piece) => (
          <path
            key={`${piece.x} ${piece.y}`}
            d={piece.path}
            fillRule="evenodd"
            fill="var(--color-dye)"
            stroke="var(--color-ink)"
            strokeWidth={1}
          />
        ))}
      </svg>
      <p className="text-sm text-soft">
        {[...plates].map(([part, many]) => `${many} × ${spoken(part)}`).join("; ")}
      </p>
    </div>
  );
}

/** Bolts, ends, inserts, nuts: counted over the whole job. */
export function Hardware(props: Props) {
  const found = useStock(props.document, props.hand);
  if (found.isError || !found.data) return <Unanswered found={found} />;
  const lines = found.data.lines.filter((line) => !BOUGHT.includes(line.what));
  return (
    <section aria-label="Hardware" className="pt-2">
      {!lines.length && <p className="py-2 text-soft">No bolts, ends or inserts.</p>}
      <ul>
        {lines.map((line) => (
          <li
            key={`${line.what} ${line.size}`}
            className="flex items-baseline gap-3 border-b border-rule py-1.5"
          >
            <span className="w-12 text-right text-lg font-bold">{line.needed} ×</span>
            <span className="flex-1 leading-tight">
              {line.what}
              <span className="block text-sm text-soft">{line.size}</span>
            </span>
            {line.there > 0 && <span className="text-sm">{line.there} on the shelf</span>}
          </li>
        ))}
      </ul>
    </section>
  );
}

const BOUGHT = ["tube", "plate", "spring", "damper", "bag"];

/** What has to be ordered, less what is on the shelf. */
export function ToBuy(props: Props) {
  const say = useSay();
  const found = useStock(props.document, props.hand);
  if (found.isError || !found.data) return <Unanswered found={found} />;
  const lines = found.data.lines.filter((line) => line.buy > 0);
  return (
    <section aria-label="To buy" className="pt-2">
      <p className="text-sm text-soft">Less what is on the shelf; price and lead time as the shelf says.</p>
      {!lines.length && <p className="py-2">Everything is on the shelf.</p>}
      <ul>
        {lines.map((line) => (
          <li key={`${line.what} ${line.size}`} className="border-b border-rule py-1.5">
            <div className="flex items-baseline gap-3">
              <span className="w-12 text-right text-lg font-bold">{line.buy} ×</span>
              <span className="flex-1 leading-tight">
                {line.what}
                <span className="block text-sm text-soft">{line.size}</span>
              </span>
              <span className="text-right text-sm leading-tight">
                {line.price}
                {line.lead_days !== null && <span className="block text-soft">{line.lead_days} days</span>}
                {line.there > 0 && <span className="block text-soft">{line.there} there</span>}
              </span>
            </div>
            {line.note && (
              <p className="border-l-4 border-warning bg-card p-2 text-sm leading-snug">{say(line.note)}</p>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
