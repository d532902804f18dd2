/**
 * Parts of the application that did not come over the line: a tablet walks through a shop.
 *
 * A browser remembers that a module failed and never asks for it again on the same page, so that a new start is the only remedy.
 */

import { useEffect, useState } from "react";

const LOOKS_MS = 1500;
/** A page that fails again is not begun anew at once. */
const APART_MS = 20_000;
const LAST = "jugatrix-begun-anew";

export class NotFetched extends Error {}

/** Load a part of the application; throws NotFetched. */
export async function fetched<Part>(load: () => Promise<Part>): Promise<Part> {
  try {
    return await load();
  } catch (error) {
    throw new NotFetched(error instanceof Error ? error.message : String(error), { cause: error });
  }
}

/** Load the page again by itself as soon as the shop's computer answers; says whether it is reached. */
export function useBeginningAnew(wanted: boolean): boolean {
  const [reached, setReached] = useState(true);
  useEffect(() => {
    if (!wanted) return;
    let here = true;
    let timer: ReturnType<typeof setTimeout>;
    const look = async () => {
      const answers = await fetch("/health", { cache: "no-store" }).then(
        () => true,
        () => false,
      );
      if (!here) return; // another page is open by now
      setReached(answers);
      if (answers && isTimeAgain()) location.reload();
      else timer = setTimeout(() => void look(), LOOKS_MS);
    };
    void look();
    return () => {
      here = false;
      clearTimeout(timer);
    };
  }, [wanted]);
  return reached;
}

function isTimeAgain(): boolean {
  try {
    if (Date.now() - Number(sessionStorage.getItem(LAST) ?? 0) < APART_MS) return false;
    sessionStorage.setItem(LAST, String(Date.now()));
    return true;
  } catch {
    return false; // a browser that remembers nothing would begin anew for ever
  }
}
