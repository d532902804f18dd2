import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { answer, client, keepPhotograph, type Project, Refused } from "../api/client";
import { followed, isStopped } from "../api/working";
import { WorkingLine } from "../bench/working-line";
import { FoundPlaces } from "./found";
import { StickerList } from "./sticker-list";
import { type Found, withNames } from "./stickers";
import { asFile, type SurveyInHand, type TakenPicture } from "./store";

const NAME = "places from pictures";
const LEAST_PICTURES = 3;

interface Props {
  job: string;
  document: Project;
  hand: SurveyInHand;
  /** Every place that can have a sticker. */
  names: string[];
}

/** Printed stickers on the places, pictures walked round, and the places that they say: in the order in which it is done. */
export function StickerSheet({ job, document, hand, names }: Props) {
  const queries = useQueryClient();
  const file = useRef<HTMLInputElement>(null);
  const [said, setSaid] = useState("");
  const [finding, setFinding] = useState(false);
  const [refused, setRefused] = useState<Error | null>(null);
  const { stickers, pictures } = hand.survey;
  // Asked again when stickers or pictures have changed and are stored: what was found may be of others then.
  const made = JSON.stringify([stickers, pictures, hand.survey.cameras]);
  const key = ["stickers", job, made, hand.pending === 0];
  const found = useQuery({
    queryKey: key,
    queryFn: () => answer(client.GET("/api/jobs/{job_id}/stickers", { params: { path: { job_id: job } } })),
    placeholderData: (before) => before,
  });
  const kept = useQuery({
    queryKey: ["photographs", job],
    queryFn: () =>
      answer(client.GET("/api/jobs/{job_id}/photographs", { params: { path: { job_id: job } } })),
  });
  const nameOf = (its: string) =>
    kept.data?.find((one) => `${one.id}.jpg` === its)?.name ?? "a picture that is gone";
  const take = async (files: File[]) => {
    const done: [string, TakenPicture][] = [];
    let failed = false;
    for (const [number, picture] of files.entries()) {
      setSaid(`Taking in ${number + 1} of ${files.length} …`);
      try {
        const its = await keepPhotograph(job, picture);
        // A telephone held upright is another camera to the sum: its pictures are as wide as the others are high.
        const camera = its.width < its.height ? "upright" : "across";
        done.push([its.id, { file: `${its.id}.jpg`, camera }]);
      } catch (error) {
        setSaid(
          `${picture.name}: ${error instanceof Refused ? error.message : "it could not be sent."} ${files.length - number - 1 ? "The rest was not added." : ""}`,
        );
        failed = true;
        break;
      }
    }
    // All at once: the survey is worked out anew when they are there, not after each.
    for (const [id, body] of done) hand.put("picture", id, body);
    if (!failed) setSaid("");
    await queries.invalidateQueries({ queryKey: ["photographs", job] });
  };
  const drop = async (its: string) => {
    const id = its.replace(/\.jpg$/, "");
    hand.drop(
      "picture",
      hand.items.find((one) => one.kind === "picture" && fileOf(one.body) === its)?.key ?? id,
    );
    await answer(
      client.DELETE("/api/jobs/{job_id}/photographs/{photograph_id}", {
        params: { path: { job_id: job, photograph_id: id } },
      }),
    ).catch(() => {});
    await queries.invalidateQueries({ queryKey: ["photographs", job] });
  };
  const find = async () => {
    setFinding(true);
    setRefused(null);
    try {
      const now = await answer(
        followed(NAME, (headers) =>
          client.POST("/api/jobs/{job_id}/stickers", {
            params: { path: { job_id: job } },
            body: { document, survey: asFile(hand.survey) },
            headers,
          }),
        ),
      );
      queries.setQueryData<Found>(key, now);
      for (const one of ["survey", "take", "aims", "read next"])
        await queries.invalidateQueries({ queryKey: [one] });
    } catch (error) {
      setRefused(error as Error);
    }
    setFinding(false);
  };
  const many = Object.keys(stickers?.places ?? {}).length;
  return (
    <section aria-label="Stickers" className="pt-2">
      <Step number={1} words="Give the places a sticker, print, stick the cross on the place">
        <StickerList document={document} hand={hand} names={names} />
        <div className="flex flex-wrap gap-2 py-2">
          {["A4", "Letter"].map((paper) => (
            <a
              key={paper}
              className="press px-3 text-sm aria-disabled:pointer-events-none aria-disabled:opacity-50"
              aria-disabled={!many || hand.pending > 0}
              href={`/api/jobs/${job}/stickers.pdf?paper=${paper}`}
            >
              {paper === "A4" ? "Print the stickers, A4" : "Letter"}
            </a>
          ))}
        </div>
      </Step>
      <Step
        number={2}
        words="Walk round: ten pictures or more, four stickers in each, some of them in the next"
      >
        <div className="flex flex-wrap items-center gap-2 py-1">
          <button type="button" className="press px-3 text-sm" onClick={() => file.current?.click()}>
            Add pictures
          </button>
          <span className="text-sm text-soft">one telephone, no zoom, the same picture size</span>
          <input
            ref={file}
            type="file"
            multiple
            accept="image/jpeg,image/png"
            aria-label="Pictures of stickers"
            className="sr-only"
            onChange={(event) => {
              const files = [...(event.target.files ?? [])];
              event.target.value = "";
              if (files.length) void take(files);
            }}
          />
        </div>
        <p role="status" className="text-sm">
          {said}
        </p>
      </Step>
      <Step number={3} words="Find the places">
        <div className="py-1">
          <button
            type="button"
            className="press press-main px-3"
            disabled={finding || !many || pictures.length < LEAST_PICTURES || hand.pending > 0}
            onClick={() => void find()}
          >
            Find the places in {pictures.length} {pictures.length === 1 ? "picture" : "pictures"}
          </button>
          <WorkingLine name={NAME} error={refused} again={() => void find()} />
          {refused && !isStopped(refused) && (
            <p role="alert" className="py-1 text-fault">
              {withNames(
                refused.message,
                pictures.map((one) => one.file),
                nameOf,
              )}
            </p>
          )}
        </div>
      </Step>
      <FoundPlaces
        job={job}
        document={document}
        hand={hand}
        found={found.data ?? null}
        nameOf={nameOf}
        onDrop={(its) => void drop(its)}
      />
    </section>
  );
}

const fileOf = (body: unknown) => (body as { file?: string }).file;

function Step({ number, words, children }: { number: number; words: string; children: React.ReactNode }) {
  return (
    <div className="border-b border-rule py-2">
      <h3 className="flex gap-2 text-base font-semibold leading-tight">
        <span className="text-soft">{number}</span> {words}
      </h3>
      {children}
    </div>
  );
}
