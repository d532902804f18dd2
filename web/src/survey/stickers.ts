/** Stickers on places: their numbers, and where a place is seen in a picture. */

import type { Project, Shape } from "../api/client";
import type { Sticker, Stickers } from "./store";

export type Found = Shape["PlacesFoundOut"];
export type FoundPicture = Shape["StickerPictureOut"];

export const SIZES = [20, 40, 80];
export const USUAL_SIZE = 40;
/** How many there are to print. */
const MOST = 587;

export const placeOf = (its: Sticker) => (typeof its === "string" ? its : its.place);
export const standsOff = (its: Sticker) => (typeof its === "string" ? 0 : (its.stands_off ?? 0));

/** Stickers with one more on each of these places that has none, by the lowest numbers that are free. */
export function withPlaces(stickers: Stickers | null, places: string[]): Stickers {
  const taken = { ...(stickers?.places ?? {}) };
  const has = new Set(Object.values(taken).map(placeOf));
  let number = 1;
  for (const place of places) {
    if (has.has(place)) continue;
    while (String(number) in taken) number += 1;
    if (number >= MOST) break;
    taken[String(number)] = place;
  }
  return { size: stickers?.size ?? USUAL_SIZE, places: taken };
}

/** Stickers with one of them standing off its place by mm. */
export function withStandOff(stickers: Stickers, number: string, off: number): Stickers {
  const its = stickers.places[number];
  if (its === undefined) return stickers;
  const base = typeof its === "string" ? { place: its } : its;
  const { stands_off: _, ...rest } = base as { place: string; size?: number; stands_off?: number };
  const next =
    off === 0 && Object.keys(rest).length === 1
      ? rest.place
      : { ...rest, ...(off ? { stands_off: off } : {}) };
  return { ...stickers, places: { ...stickers.places, [number]: next } };
}

/** Stickers with one of them taken off. */
export function without(stickers: Stickers, number: string): Stickers {
  const { [number]: _, ...places } = stickers.places;
  return { ...stickers, places };
}

/** Where a place, mm, is seen in a picture, pixels; null where it lies behind the camera. */
export function seenAt(picture: FoundPicture, spot: readonly number[]): [number, number] | null {
  const { turn, shift, camera } = picture;
  if (!turn || !shift || !camera) return null;
  const [x = 0, y = 0, z = 0] = turn.map(
    (row, k) => row.reduce((sum, one, axis) => sum + one * (spot[axis] ?? 0), 0) + (shift[k] ?? 0),
  );
  if (z < 50) return null;
  const [focal = 1, across = 0, down = 0, k1 = 0, k2 = 0] = camera;
  const [a, b] = [x / z, y / z];
  const r2 = a * a + b * b;
  // Beyond what a lens shows, its curve of distortion turns back and would draw things where they are not.
  if (r2 > 1.5) return null;
  const bent = 1 + k1 * r2 + k2 * r2 * r2;
  return [across + focal * bent * a, down + focal * bent * b];
}

/** A hole that is nearer than this is where it is drawn, as far as a bench goes. */
const NEAR_MM = 2;

/** Which ways a place stands from where it is drawn, and by how many mm, the furthest first; nothing where it is near. */
export function waysOff(at: readonly number[], drawn: readonly number[]): [string, number][] {
  const [x = 0, y = 0, z = 0] = at.map((one, axis) => one - (drawn[axis] ?? 0));
  const out = (drawn[1] ?? 0) < 0 ? -y : y;
  const ways: [string, number][] = [
    [x > 0 ? "ahead" : "back", Math.abs(x)],
    [out > 0 ? "out" : "in", Math.abs(out)],
    [z > 0 ? "up" : "down", Math.abs(z)],
  ];
  return ways.filter(([, by]) => by >= NEAR_MM).sort((one, other) => other[1] - one[1]);
}

/** Where a place of a station is drawn, mm; undefined for a mark. */
export function drawnAt(document: Project, place: string): number[] | undefined {
  const cut = place.lastIndexOf("/");
  return document.stations.find((one) => one.name === place.slice(0, cut))?.points[place.slice(cut + 1)];
}

/** A sentence with pictures' names: they are kept under numbers, and a person is told their names. */
export function withNames(words: string, files: Iterable<string>, nameOf: (file: string) => string): string {
  let its = words;
  for (const file of files) its = its.replaceAll(file, `“${nameOf(file)}”`);
  return its;
}
