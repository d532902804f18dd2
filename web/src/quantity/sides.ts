/** Left and right that do the same are said once. */

const SIDE = /\b(left|right)\b/gi;

const otherSide = (name: string) =>
  name.replace(SIDE, (word) => (word.toLowerCase() === "left" ? "right" : "left"));

/** Something said of a part by its spoken name; "" of the whole. */
export interface Said {
  what: string;
  who: string;
}

/** Rows of which one says of the left what another says of the right are one row, where `alike` finds them so. */
export function saidOnce<Row extends Said>(
  rows: Row[],
  alike: (one: Row, other: Row) => boolean,
  both: (one: Row, other: Row) => Partial<Row>,
): Row[] {
  const found: Row[] = [];
  for (const row of rows) {
    const at = found.findIndex(
      (one) =>
        one.what === row.what &&
        one.who !== row.who &&
        otherSide(one.who.toLowerCase()) === row.who.toLowerCase() &&
        alike(one, row),
    );
    const twin = found[at];
    if (twin) found[at] = { ...twin, ...both(twin, row), who: bothOf(row.who) };
    else found.push(row);
  }
  return found;
}

/** "coilover left" and "coilover right" are the "coilover (both sides)". */
export function bothOf(who: string): string {
  const stem = who.replace(SIDE, "").replace(/\s+/g, " ").trim();
  return stem ? `${stem} (both sides)` : "both sides";
}
