/** What a question is known by: a document in it by which it is, not by its text, which takes milliseconds to write. */

import { hashKey, type QueryKey } from "@tanstack/react-query";

const numbers = new WeakMap<object, number>();
let last = 0;

const isDocument = (part: unknown): part is object =>
  typeof part === "object" && part !== null && "format" in part && "stations" in part;

function numberOf(document: object): number {
  const number = numbers.get(document) ?? ++last;
  numbers.set(document, number);
  return number;
}

export const hashOf = (key: QueryKey): string =>
  hashKey(key.map((part) => (isDocument(part) ? `document ${numberOf(part)}` : part)));
