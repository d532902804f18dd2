import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useRef, useState } from "react";
import { answer, client, keepPhotograph, Refused, type Shape } from "../api/client";
import { QuantityField } from "../quantity/quantity-field";
import { useUnits } from "../quantity/units";
import { ByTheBoard } from "./board-width";
import { Plate, type Spot } from "./plate";
import type { SurveyInHand } from "./store";
import { placeWords } from "./words";

type Picture = Shape["PhotographOut"];

interface Photo {
  name: string;
  plane: "side" | "front" | "top";
  file?: string;
  reference?: { ends: number[][]; length: number };
  picked: Record<string, number[]>;
}

interface Props {
  job: string;
  hand: SurveyInHand;
  told: Shape["PhotoOut"][];
  /** Every place that can be picked. */
  names: string[];
}

const PLANES = [
  ["side", "Side, from the left"],
  ["front", "Front, looking aft"],
  ["top", "Top, from above"],
] as const;

/** Pictures of one plane: straightened and scaled, then places are picked in them with a loupe. */
export function Photographs({ job, hand, told, names }: Props) {
  const queries = useQueryClient();
  const { quantity } = useUnits();
  const file = useRef<HTMLInputElement>(null);
  const [said, setSaid] = useState("");
  const [open, setOpen] = useState<string | null>(null);
  const key = ["photographs", job];
  const found = useQuery({
    queryKey: key,
    queryFn: () =>
      answer(client.GET("/api/jobs/{job_id}/photographs", { params: { path: { job_id: job } } })),
  });
  const pictures = found.data ?? [];
  const take = async (picture: File) => {
    setSaid("Loading it …");
    try {
      const kept = await keepPhotograph(job, picture);
      await queries.invalidateQueries({ queryKey: key });
      setSaid("");
      setOpen(kept.id);
    } catch (refused) {
      setSaid(refused instanceof Refused ? refused.message : "The picture could not be sent.");
    }
  };
  const photoOf = (picture: Picture) =>
    hand.survey.photos.find((one) => (one as Photo).file === picture.id) as Photo | undefined;
  const shown = pictures.find((one) => one.id === open);
  return (
    <section aria-label="Photographs" className="pt-2">
      <p className="text-sm leading-snug text-soft">
        Stand well back, zoom in, and look squarely at the part. What is measured must lie in one plane: put
        the board or the rule into it. At three metres and more a place is good to one or two millimetres;
        near the lens it is not.
      </p>
      <div className="flex flex-wrap gap-2 py-2">
        <button type="button" className="press press-main px-3 text-sm" onClick={() => file.current?.click()}>
          Add a picture
        </button>
        <a className="press px-3 text-sm" href="/api/survey/board.pdf?paper=a4">
          Board to print, A4
        </a>
        <a className="press px-3 text-sm" href="/api/survey/board.pdf?paper=letter">
          Letter
        </a>
        <input
          ref={file}
          type="file"
          accept="image/jpeg,image/png"
          aria-label="Picture"
          className="sr-only"
          onChange={(event) => {
            const picture = event.target.files?.[0];
            event.target.value = "";
            if (picture) void take(picture);
          }}
        />
      </div>
      <p role="status" className="text-sm">
        {said}
      </p>
      <ul className="grid grid-cols-2 gap-2">
        {pictures.map((picture) => {
          const photo = photoOf(picture);
          const its = told.find((one) => one.name === photo?.name);
          const many = Object.keys(photo?.picked ?? {}).length;
          return (
            <li key={picture.id}>
              <button
                type="button"
                className="block w-full border border-edge text-left"
                onClick={() => setOpen(picture.id)}
              >
                <img
                  src={`/api/jobs/${job}/photographs/${picture.id}.jpg`}
                  alt=""
                  className="h-28 w-full object-cover"
                  loading="lazy"
                />
                <span className="block p-1.5 text-sm leading-tight">
                  <span className="font-semibold">{picture.name}</span>
                  <span className="block text-soft">
                    {many ? `${many} ${many === 1 ? "place" : "places"} picked` : "nothing picked"}
                    {its
                      ? `, ${quantity(its.mm_per_pixel, "length", 2)} a pixel${its.suspects.length ? `; ${its.suspects.map((name) => placeWords(name, true)).join(", ")} does not fit` : its.fits ? "" : "; its line does not fit"}`
                      : ""}
                  </span>
                </span>
              </button>
            </li>
          );
        })}
      </ul>
      {shown && (
        <Viewer
          key={shown.id}
          job={job}
          picture={shown}
          photo={photoOf(shown)}
          names={names}
          taken={hand.survey.photos.map((one) => (one as Photo).name)}
          onPut={(photo) => hand.put("photo", shown.id, photo)}
          onStraight={async (kept) => {
            await queries.invalidateQueries({ queryKey: key });
            setOpen(kept.id);
          }}
          onDrop={async () => {
            hand.drop("photo", shown.id);
            await answer(
              client.DELETE("/api/jobs/{job_id}/photographs/{photograph_id}", {
                params: { path: { job_id: job, photograph_id: shown.id } },
              }),
            ).catch(() => {});
            await queries.invalidateQueries({ queryKey: key });
            setOpen(null);
          }}
          onClose={() => setOpen(null)}
        />
      )}
    </section>
  );
}

type Doing = "place" | "line" | "corners";

function Viewer({
  job,
  picture,
  photo,
  names,
  taken,
  onPut,
  onStraight,
  onDrop,
  onClose,
}: {
  job: string;
  picture: Picture;
  photo: Photo | undefined;
  names: string[];
  taken: string[];
  onPut: (photo: Photo) => void;
  onStraight: (kept: Picture) => Promise<void>;
  onDrop: () => Promise<void>;
  onClose: () => void;
}) {
  const { quantity } = useUnits();
  const start: Photo = photo ?? {
    name: free(picture.name, taken),
    plane: "side",
    file: picture.id,
    ...(picture.ends && picture.length ? { reference: { ends: picture.ends, length: picture.length } } : {}),
    picked: {},
  };
  const [doing, setDoing] = useState<Doing>("place");
  const [place, setPlace] = useState(() => names.find((name) => !(name in start.picked)) ?? names[0] ?? "");
  const [spot, setSpot] = useState<Spot | null>(null);
  const [spots, setSpots] = useState<Spot[]>([]);
  const [size, setSize] = useState<Spot>([180, 240]);
  const [long, setLong] = useState(start.reference?.length ?? 500);
  const [said, setSaid] = useState(picture.said);
  const src = `/api/jobs/${job}/photographs/${picture.id}.jpg`;

  const set = () => {
    if (!spot) return;
    if (doing === "place") {
      if (!place) return;
      const picked = { ...start.picked, [place]: spot.map((one) => Math.round(one * 100) / 100) };
      onPut({ ...start, picked });
      setSpot(null);
      setPlace(names.find((name) => !(name in picked)) ?? place);
      return;
    }
    const next = [...spots, spot].slice(doing === "line" ? -2 : -4);
    setSpots(next);
    setSpot(null);
    if (doing === "line" && next.length === 2) onPut({ ...start, reference: { ends: next, length: long } });
  };
  const straighten = async (body: Shape["StraightenIn"]) => {
    setSaid("Laying it flat …");
    try {
      const kept = await answer(
        client.POST("/api/jobs/{job_id}/photographs/{photograph_id}/straighten", {
          params: { path: { job_id: job, photograph_id: picture.id } },
          body,
        }),
      );
      await onStraight(kept);
    } catch (refused) {
      setSaid(refused instanceof Refused ? refused.message : "It could not be straightened.");
    }
  };
  const begin = (what: Doing) => {
    setDoing(what);
    setSpots([]);
    setSpot(null);
  };
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed inset-2 z-50 grid grid-cols-[minmax(0,1fr)_320px] overflow-hidden border border-edge bg-card text-ink max-lg:grid-cols-1 max-lg:grid-rows-[minmax(0,1fr)_auto]"
        >
          <Plate
            key={picture.id}
            src={src}
            picture={picture}
            spot={spot}
            onSpot={setSpot}
            onSet={set}
            marked={[
              ...Object.entries(start.picked).map(([name, at]) => ({
                at: at as Spot,
                word: placeWords(name, true),
              })),
              ...spots.map((at, k) => ({ at, word: String(k + 1) })),
              ...(doing === "line" && !spots.length
                ? (start.reference?.ends ?? []).map((at, k) => ({
                    at: at as Spot,
                    word: k ? "" : quantity(start.reference?.length ?? 0, "length"),
                  }))
                : []),
            ]}
          />
          <div className="min-h-0 overflow-y-auto border-l border-rule p-3 max-lg:max-h-[45vh]">
            <Dialog.Title className="text-lg leading-tight">{picture.name}</Dialog.Title>
            <p role="status" className="text-sm leading-snug text-soft">
              {said}
            </p>
            <label htmlFor="plane" className="mt-2 block text-sm text-soft">
              Seen from
            </label>
            <select
              id="plane"
              className="entry"
              value={start.plane}
              onChange={(event) => onPut({ ...start, plane: event.target.value as Photo["plane"] })}
            >
              {PLANES.map(([plane, words]) => (
                <option key={plane} value={plane}>
                  {words}
                </option>
              ))}
            </select>
            <fieldset className="mt-2 grid grid-cols-3 gap-1">
              <legend className="text-sm text-soft">What is picked</legend>
              {(
                [
                  ["place", "A place"],
                  ["line", "A known line"],
                  ["corners", "Four corners"],
                ] as const
              ).map(([what, words]) => (
                <button
                  key={what}
                  type="button"
                  aria-pressed={doing === what}
                  onClick={() => begin(what)}
                  className={`min-h-11 border px-1 text-sm font-semibold ${doing === what ? "border-press bg-press text-white" : "border-edge bg-card"}`}
                >
                  {words}
                </button>
              ))}
            </fieldset>
            {doing === "place" && (
              <select
                aria-label="Place"
                className="entry mt-2 font-semibold"
                value={place}
                onChange={(event) => setPlace(event.target.value)}
              >
                {names.map((name) => (
                  <option key={name} value={name}>
                    {placeWords(name)}
                    {name in start.picked ? " ✓" : ""}
                  </option>
                ))}
              </select>
            )}
            {doing === "line" && (
              <div className="mt-2">
                <span className="text-sm text-soft">How long the line is; then set both its ends</span>
                <QuantityField
                  label="Length of the known line"
                  value={long}
                  dimension="length"
                  check={(value) => (value > 0 ? null : "A line must be longer than zero.")}
                  onCommit={(value) => {
                    setLong(value);
                    if (start.reference)
                      onPut({ ...start, reference: { ...start.reference, length: value } });
                  }}
                />
              </div>
            )}
            {doing === "corners" && (
              <div className="mt-2 grid grid-cols-2 gap-2">
                <p className="col-span-2 text-sm leading-snug text-soft">
                  A rectangle in the plane: its size, then its corners in turn, clockwise from the upper left.
                </p>
                {(["Width", "Height"] as const).map((word, k) => (
                  <div key={word}>
                    <span className="text-sm text-soft">{word}</span>
                    <QuantityField
                      label={`${word} of the rectangle`}
                      value={size[k] ?? 0}
                      dimension="length"
                      check={(value) => (value > 5 ? null : "A rectangle is larger than that.")}
                      onCommit={(value) => setSize(k ? [size[0], value] : [value, size[1]])}
                    />
                  </div>
                ))}
                <button
                  type="button"
                  className="press press-main col-span-2"
                  disabled={spots.length !== 4}
                  onClick={() => void straighten({ corners: spots, width: size[0], height: size[1] })}
                >
                  Lay it flat
                </button>
              </div>
            )}
            <div className="mt-3 grid gap-2">
              <button type="button" className="press press-main" disabled={!spot} onClick={set}>
                {doing === "place" ? `Set ${place ? placeWords(place, true) : "it"} there` : "Set it there"}
              </button>
              <ByTheBoard onGo={(wide) => void straighten({ board_wide: wide })} />
              {Object.keys(start.picked).map((name) => (
                <button
                  key={name}
                  type="button"
                  className="press min-h-11 justify-between px-3 text-sm"
                  onClick={() => {
                    const { [name]: _, ...picked } = start.picked;
                    onPut({ ...start, picked });
                  }}
                >
                  {placeWords(name)} <span aria-hidden>✕</span>
                  <span className="sr-only">remove it</span>
                </button>
              ))}
              <button type="button" className="press" onClick={() => void onDrop()}>
                Remove this picture
              </button>
              <Dialog.Close className="press">Done</Dialog.Close>
            </div>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function free(name: string, taken: string[]): string {
  let its = name;
  for (let k = 2; taken.includes(its); k += 1) its = `${name} ${k}`;
  return its;
}
