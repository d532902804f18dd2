import type { KindWords } from "./words";

/** The reading in hand. */
export interface InHand {
  kind: KindWords;
  places: string[];
  /** Where to put the tape. */
  hint?: string;
  /** Read again: in place of this one. */
  key?: string;
}
