import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { answer, client, type Project } from "../api/client";
import { useUnits } from "../quantity/units";
import { placeLabels } from "../views/labels";
import { path } from "../views/projection";
import { drawnAt, type Found, type FoundPicture, seenAt, waysOff } from "./stickers";
import { placeWords } from "./words";

interface Props {
  job: string;
  name: string;
  picture: FoundPicture;
  document: Project;
  found: Found;
  onClose: () => void;
}

/** As many places along a line as keep it on a bent lens's own curve. */
const ALONG = 12;
const ROOM = 1.4;

/** A picture with the job drawn over it, in its own perspective: where everything is to be, beside where it is. */
export function OverPicture({ job, name, picture, document, found, onClose }: Props) {
  const { quantity } = useUnits();
  const [linkage, setLinkage] = useState(true);
  const [labels, setLabels] = useState(true);
  const [closer, setCloser] = useState(false);
  const kept = useQuery({
    queryKey: ["photographs", job],
    queryFn: () =>
      answer(client.GET("/api/jobs/{job_id}/photographs", { params: { path: { job_id: job } } })),
  });
  const size = kept.data?.find((one) => `${one.id}.jpg` === picture.file);
  if (!size) return null;
  const here = Object.entries(found.stickers).filter(([number]) => picture.stickers.includes(Number(number)));
  const spots = here.flatMap(([, one]) => seenAt(picture, one.at) ?? []);
  const [left, top, wide, high] = closer ? boxOf(spots, size) : [0, 0, size.width, size.height];
  // Words and rings are as large as on any other drawing, however large the picture is.
  const scale = Math.max(wide, high) / 1000;
  const onPaper = ([x, y]: [number, number]): [number, number] => [(x - left) / scale, (y - top) / scale];
  const words = here.flatMap(([number, one]) => {
    const at = seenAt(picture, one.at);
    const drawn = drawnAt(document, one.place);
    const ways = drawn
      ? waysOff(one.at, drawn).map(([way, by]) => `${quantity(by, "length", 0)} ${way}`)
      : [];
    const text = `${placeWords(one.place, true)}${ways.length ? `: ${ways.join(", ")}` : ""}`;
    return at ? [{ key: number, text, at: onPaper(at) }] : [];
  });
  const placed = labels
    ? placeLabels(
        words,
        words.map((one) => one.at),
        wide / scale,
        high / scale,
      )
    : [];
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed inset-2 z-50 flex flex-col overflow-hidden border border-edge bg-card text-ink"
        >
          <div className="flex flex-wrap items-center gap-3 border-b border-rule px-3 py-1">
            <Dialog.Title className="text-lg">{name}, the job drawn over it</Dialog.Title>
            {(
              [
                ["Linkage", linkage, setLinkage],
                ["Names", labels, setLabels],
                ["Closer", closer, setCloser],
              ] as const
            ).map(([words, on, set]) => (
              <button
                key={words}
                type="button"
                aria-pressed={on}
                onClick={() => set(!on)}
                className={`min-h-11 border px-3 text-sm font-semibold ${on ? "border-press bg-press text-white" : "border-edge bg-card"}`}
              >
                {words}
              </button>
            ))}
            <span className="text-sm text-soft">yellow: where it is drawn; ring: where it is</span>
            <Dialog.Close className="press ml-auto px-3">Done</Dialog.Close>
          </div>
          <div className="grid min-h-0 flex-1 place-items-center bg-pit">
            <svg
              role="img"
              aria-label={`${name} with the job drawn over it`}
              viewBox={`${left} ${top} ${wide} ${high}`}
              className="size-full"
            >
              <image
                href={`/api/jobs/${job}/photographs/${picture.file}`}
                width={size.width}
                height={size.height}
              />
              {linkage &&
                document.stations.flatMap((station) =>
                  Object.entries(station.bodies).map(([body, members]) => (
                    <path
                      key={`${station.name} ${body}`}
                      d={overPath(
                        picture,
                        members.flatMap((point) =>
                          station.points[point] ? [station.points[point] as number[]] : [],
                        ),
                      )}
                      fill="none"
                      stroke="var(--color-marker)"
                      strokeOpacity={0.85}
                      strokeWidth={1.6 * scale}
                    />
                  )),
                )}
              {here.map(([number, one]) => (
                <Place
                  key={number}
                  picture={picture}
                  at={one.at}
                  drawn={drawnAt(document, one.place)}
                  scale={scale}
                />
              ))}
              {placed.map((label) => (
                <text
                  key={label.key}
                  x={left + label.x * scale}
                  y={top + label.y * scale}
                  fontSize={14 * scale}
                  fontWeight={650}
                  fill="#fff"
                  stroke="#000"
                  strokeWidth={3 * scale}
                  paintOrder="stroke"
                >
                  {label.text}
                </text>
              ))}
            </svg>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** The part of a picture in which its stickers are, with room about them, of the picture's own shape: left, top, wide, high, pixels. */
function boxOf(spots: number[], size: { width: number; height: number }): [number, number, number, number] {
  const across = spots.filter((_, k) => k % 2 === 0);
  const down = spots.filter((_, k) => k % 2 === 1);
  if (!across.length) return [0, 0, size.width, size.height];
  const [x, y] = [Math.min(...across), Math.min(...down)];
  const share = Math.min(
    1,
    ROOM * Math.max((Math.max(...across) - x) / size.width, (Math.max(...down) - y) / size.height, 0.1),
  );
  const [wide, high] = [share * size.width, share * size.height];
  return [(x + Math.max(...across) - wide) / 2, (y + Math.max(...down) - high) / 2, wide, high];
}

/** Where a place is, where it is drawn, and the way from the one to the other. */
function Place({
  picture,
  at,
  drawn,
  scale,
}: {
  picture: FoundPicture;
  at: number[];
  drawn: number[] | undefined;
  scale: number;
}) {
  const is = seenAt(picture, at);
  const wanted = drawn ? seenAt(picture, drawn) : null;
  if (!is) return null;
  return (
    <g fill="none" stroke="var(--color-marker)" strokeWidth={2 * scale}>
      {wanted && (
        <>
          <path
            d={`M${is[0]} ${is[1]}L${wanted[0]} ${wanted[1]}`}
            strokeDasharray={`${4 * scale} ${3 * scale}`}
          />
          <path
            d={`M${wanted[0] - 7 * scale} ${wanted[1]}h${14 * scale}M${wanted[0]} ${wanted[1] - 7 * scale}v${14 * scale}`}
          />
        </>
      )}
      <circle cx={is[0]} cy={is[1]} r={9 * scale} stroke="#fff" />
    </g>
  );
}

/** Lines from place to place as a lens shows them; closed where they are more than two. */
function overPath(picture: FoundPicture, spots: number[][]): string {
  const round = spots.length > 2 ? [...spots, spots[0] as number[]] : spots;
  const found: string[] = [];
  for (let k = 0; k + 1 < round.length; k += 1) {
    const [a, b] = [round[k] as number[], round[k + 1] as number[]];
    const seen = Array.from({ length: ALONG + 1 }, (_, n) =>
      seenAt(
        picture,
        a.map((one, axis) => one + ((b[axis] ?? 0) - one) * (n / ALONG)),
      ),
    );
    found.push(path(seen.filter((one): one is [number, number] => one !== null)));
  }
  return found.filter(Boolean).join("");
}
