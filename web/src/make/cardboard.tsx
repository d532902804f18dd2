import { useQuery, useQueryClient } from "@tanstack/react-query";
import { ScanLine } from "lucide-react";
import { Dialog } from "radix-ui";
import { useRef, useState } from "react";
import { answer, client, keepPhotograph, type Project, Refused, type Shape } from "../api/client";
import type { DraftInHand } from "../bench/draft";
import { editStation } from "../bench/edits";
import { Mark } from "../marks/mark";
import { QuantityField } from "../quantity/quantity-field";
import { useSay } from "../quantity/sentence";
import { spoken } from "../quantity/spoken";
import { ByTheBoard } from "../survey/board-width";
import { Mending } from "./card-mending";
import { CardPhoto } from "./card-photo";
import { choose, type Part } from "./choosing";
import { keyOf } from "./workbench";

type Picture = Shape["PhotographOut"];
type Corner = Shape["CornerOut"];
type Hole = { at: number[]; to?: number[]; diameter: number };

interface Props {
  job: string;
  document: Project;
  hand: DraftInHand;
  parts: Part[];
  onAdded: (key: string) => void;
}

/** A card template photographed on the board of markers becomes a plate; a cut plate is compared with its drawing. */
export function Cardboard(props: Props) {
  const [open, setOpen] = useState(false);
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger className="press px-3">
        <ScanLine size={18} aria-hidden /> From cardboard
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed inset-2 z-50 grid grid-cols-[minmax(0,1fr)_340px] overflow-hidden border border-edge bg-card text-ink max-lg:grid-cols-1 max-lg:grid-rows-[minmax(0,1fr)_auto]"
        >
          {open && <Bench {...props} onClose={() => setOpen(false)} />}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Bench({ job, document, hand, parts, onAdded, onClose }: Props & { onClose: () => void }) {
  const queries = useQueryClient();
  const say = useSay();
  const key = ["photographs", job];
  const found = useQuery({
    queryKey: key,
    queryFn: () =>
      answer(client.GET("/api/jobs/{job_id}/photographs", { params: { path: { job_id: job } } })),
  });
  const pictures = found.data ?? [];
  const [shown, setShown] = useState<string | null>(null);
  const picture =
    pictures.find((one) => one.id === shown) ??
    pictures.filter((one) => one.mm_per_pixel).at(-1) ??
    pictures.at(-1);
  const [said, setSaid] = useState("");
  const [corners, setCorners] = useState<Corner[]>([]);
  const [holes, setHoles] = useState<Hole[]>([]);
  const [remarks, setRemarks] = useState<Shape["SentenceOut"][]>([]);
  const [seed, setSeed] = useState<[number, number] | null>(null);
  const [same, setSame] = useState(false);
  const [picked, setPicked] = useState<number | null>(null);
  const [name, setName] = useState("card plate");
  const [thickness, setThickness] = useState(5);
  const stations = document.stations.filter((one) => !one.variant_of);
  const [where, setWhere] = useState(stations[0]?.name ?? "");
  const plates = parts.filter((part) => part.flat);
  const [against, setAgainst] = useState("");
  const [compared, setCompared] = useState<Shape["ComparedOut"] | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const scale = picture?.mm_per_pixel ?? null;

  const trying = async <T,>(what: string, work: () => Promise<T>): Promise<T | null> => {
    setSaid(what);
    try {
      const done = await work();
      setSaid("");
      return done;
    } catch (refused) {
      setSaid(refused instanceof Refused ? refused.message : "That could not be done.");
      return null;
    }
  };
  const clear = () => {
    setCorners([]);
    setHoles([]);
    setRemarks([]);
    setSeed(null);
    setPicked(null);
    setCompared(null);
  };
  const take = (its: File) =>
    trying("Loading it …", async () => {
      const kept = await keepPhotograph(job, its);
      await queries.invalidateQueries({ queryKey: key });
      clear();
      setShown(kept.id);
    });
  const straighten = (of: Picture, wide: number) =>
    trying("Laying it flat by the board …", async () => {
      const kept = await answer(
        client.POST("/api/jobs/{job_id}/photographs/{photograph_id}/straighten", {
          params: { path: { job_id: job, photograph_id: of.id } },
          body: { board_wide: wide },
        }),
      );
      await queries.invalidateQueries({ queryKey: key });
      clear();
      setShown(kept.id);
    });
  const find = (of: Picture, at: [number, number], symmetric: boolean) =>
    trying("Finding its edge …", async () => {
      setSeed(at);
      setCompared(null);
      const card = await answer(
        client.POST("/api/jobs/{job_id}/photographs/{photograph_id}/card", {
          params: { path: { job_id: job, photograph_id: of.id } },
          body: { at, symmetric },
        }),
      );
      setCorners(card.outline);
      setHoles(
        card.holes.map(({ at: middle, to, diameter }) => ({
          at: middle,
          ...(to ? { to } : {}),
          diameter: Math.round(diameter * 10) / 10,
        })),
      );
      setPicked(null);
      setRemarks(card.said);
    });
  const compare = (of: Picture) => {
    const part = plates.find((one) => keyOf(one) === against) ?? plates[0];
    if (!seed || !part) return;
    void trying("Laying it on its drawing …", async () => {
      setCompared(
        await answer(
          client.POST("/api/jobs/{job_id}/photographs/{photograph_id}/compare", {
            params: { path: { job_id: job, photograph_id: of.id } },
            body: {
              at: seed,
              symmetric: false,
              document,
              station: part.station,
              name: part.name,
            },
          }),
        ),
      );
    });
  };
  const save = () => {
    const station = stations.find((one) => one.name === where) ?? stations[0];
    if (!station) return;
    const middle = middleOf(corners);
    const own = freeName(station, name.trim() || "card plate");
    const moved = (at: number[]) =>
      at.map((value, axis) => Math.round((value - (middle[axis] ?? 0)) * 100) / 100);
    const choice = {
      kind: "template",
      name: own,
      outline: corners.map((corner) => ({
        at: moved(corner.at),
        bulge: Math.round(corner.bulge * 1e5) / 1e5,
      })),
      holes: holes.map((hole) => ({
        at: moved(hole.at),
        ...(hole.to ? { to: moved(hole.to) } : {}),
        diameter: hole.diameter,
        what: hole.to ? "slot" : "hole",
      })),
      thickness,
    };
    hand.edit((now) =>
      editStation(
        now,
        now.stations.findIndex((one) => one.name === station.name),
        (its) => choose(its, choice),
      ),
    );
    onClose();
    onAdded(`${station.name}/${own}`);
  };
  return (
    <>
      <div className="grid min-h-0 min-w-0 place-items-center bg-pit p-2">
        {picture ? (
          <CardPhoto
            job={job}
            picture={picture}
            corners={corners}
            holes={holes}
            picked={picked}
            onPicked={setPicked}
            onCorners={setCorners}
            onPoint={(at) => scale && void find(picture, at, same)}
          />
        ) : (
          <p className="text-soapstone">No pictures yet. Add one: the card beside the printed board.</p>
        )}
      </div>
      <div className="min-h-0 overflow-y-auto border-l border-rule p-3 max-lg:max-h-[45vh]">
        <Dialog.Title className="text-lg leading-tight">From cardboard</Dialog.Title>
        <p className="text-sm leading-snug text-soft">
          Lay the card flat beside the printed board, on a ground of another colour; stand back and zoom in.
        </p>
        <p role="status" className="min-h-5 text-sm font-semibold">
          {said}
        </p>
        <div className="flex flex-wrap gap-1">
          <button type="button" className="press px-3 text-sm" onClick={() => file.current?.click()}>
            Add a picture
          </button>
          <a className="press px-3 text-sm" href="/api/survey/board.pdf?paper=a4">
            Board, A4
          </a>
          <input
            ref={file}
            type="file"
            accept="image/jpeg,image/png"
            aria-label="Picture of the card"
            className="sr-only"
            onChange={(event) => {
              const its = event.target.files?.[0];
              event.target.value = "";
              if (its) void take(its);
            }}
          />
        </div>
        {pictures.length > 0 && (
          <label className="mt-2 block text-sm text-soft">
            Picture
            <select
              className="entry w-full"
              value={picture?.id ?? ""}
              onChange={(event) => {
                clear();
                setShown(event.target.value);
              }}
            >
              {pictures.map((one) => (
                <option key={one.id} value={one.id}>
                  {one.name}
                  {one.mm_per_pixel ? " ✓" : ""}
                </option>
              ))}
            </select>
          </label>
        )}
        {picture && !scale && (
          <div className="mt-2">
            <ByTheBoard main onGo={(wide) => void straighten(picture, wide)} />
          </div>
        )}
        {picture && scale && !corners.length && (
          <p className="mt-3 text-lg font-semibold">Point at the card.</p>
        )}
        {picture && scale && corners.length > 0 && (
          <>
            <label className="mt-2 flex min-h-11 items-center gap-2">
              <input
                type="checkbox"
                className="size-5"
                checked={same}
                onChange={(event) => {
                  setSame(event.target.checked);
                  if (seed) void find(picture, seed, event.target.checked);
                }}
              />
              It should be the same on both sides
            </label>
            {remarks.map((one) => (
              <p key={one.words} className="py-1 leading-snug">
                {say(one)}
              </p>
            ))}
            <Mending
              corners={corners}
              holes={holes}
              picked={picked}
              onPicked={setPicked}
              onCorners={setCorners}
              onHoles={setHoles}
            />
            <section aria-label="Save it" className="mt-3 border-t border-rule pt-2">
              <label className="block text-sm text-soft">
                Its name
                <input
                  className="entry w-full"
                  value={name}
                  maxLength={100}
                  onChange={(event) => setName(event.target.value)}
                />
              </label>
              <label className="block text-sm text-soft">
                For
                <select
                  className="entry w-full"
                  value={where}
                  onChange={(event) => setWhere(event.target.value)}
                >
                  {stations.map((one) => (
                    <option key={one.name}>{one.name}</option>
                  ))}
                </select>
              </label>
              <span className="text-sm text-soft">Plate</span>
              <QuantityField
                label="Plate"
                value={thickness}
                dimension="length"
                check={(value) => (value > 0 && value <= 60 ? null : "Give up to 60 mm.")}
                onCommit={setThickness}
              />
              <button type="button" className="press press-main mt-2 w-full" onClick={save}>
                Save as a part
              </button>
            </section>
            {plates.length > 0 && (
              <section aria-label="Compare" className="mt-3 border-t border-rule pt-2">
                <label className="block text-sm text-soft">
                  Or is it a cut part? Lay it on the drawing of
                  <select
                    className="entry w-full"
                    value={against || keyOf(plates[0] as Part)}
                    onChange={(event) => setAgainst(event.target.value)}
                  >
                    {plates.map((one) => (
                      <option key={keyOf(one)} value={keyOf(one)}>
                        {spoken(one.name)}, {one.station}
                      </option>
                    ))}
                  </select>
                </label>
                <button type="button" className="press mt-1 w-full" onClick={() => compare(picture)}>
                  Compare
                </button>
                {compared && (
                  <div className="flex gap-2 pt-2">
                    <Mark mark={compared.mark} size={22} />
                    <div className="leading-snug">
                      <p>{say(compared.say)}</p>
                      {[...compared.holes, ...compared.said].map((one) => (
                        <p key={one.words + one.names.join()} className="text-sm">
                          {say(one)}
                        </p>
                      ))}
                    </div>
                  </div>
                )}
              </section>
            )}
          </>
        )}
        <Dialog.Close className="press mt-3 w-full">Back to the parts</Dialog.Close>
      </div>
    </>
  );
}

function middleOf(corners: Corner[]): number[] {
  return [0, 1].map(
    (axis) => corners.reduce((sum, one) => sum + (one.at[axis] ?? 0), 0) / Math.max(1, corners.length),
  );
}

function freeName(station: Project["stations"][number], name: string): string {
  const taken = ((station.make?.parts ?? []) as { name: string }[]).map((one) => one.name);
  for (let n = 1; ; n += 1) {
    const its = n === 1 ? name : `${name} ${n}`;
    if (!taken.includes(its)) return its;
  }
}
