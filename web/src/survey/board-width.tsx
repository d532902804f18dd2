import { useState } from "react";
import { QuantityField } from "../quantity/quantity-field";
import { useUnits } from "../quantity/units";

const KEPT = "jugatrix-board-wide";
const DRAWN_MM = 180;

function kept(): number | null {
  const wide = Number(localStorage.getItem(KEPT));
  return wide >= 60 && wide <= 800 ? wide : null;
}

/** How wide the board's print came out, asked once a print and kept on this device; then the picture is laid flat by it. */
export function ByTheBoard({ main, onGo }: { main?: boolean; onGo: (wide: number) => void }) {
  const { quantity } = useUnits();
  const [wide, setWide] = useState(kept);
  return (
    <section aria-label="By the board" className="grid gap-1">
      <span className="text-sm text-soft">Board’s print, measured across</span>
      <QuantityField
        label="Board’s print, measured across"
        value={wide ?? DRAWN_MM}
        blank={wide === null}
        dimension="length"
        check={(value) => (value >= 60 && value <= 800 ? null : "Give 60 to 800 mm.")}
        onCommit={(value) => {
          localStorage.setItem(KEPT, String(value));
          setWide(value);
        }}
      />
      <p className="text-sm leading-snug text-soft">
        {wide === null
          ? `Measure the print you used, edge to edge of the squares: ${quantity(DRAWN_MM, "length")} as drawn, less if the printer shrank it.`
          : "Measure again after every new print."}
      </p>
      <button
        type="button"
        className={`press w-full ${main ? "press-main" : ""}`}
        disabled={wide === null}
        onClick={() => wide !== null && onGo(wide)}
      >
        Straighten by the board
      </button>
    </section>
  );
}
