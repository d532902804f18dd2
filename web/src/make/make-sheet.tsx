import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, client, type Project } from "../api/client";
import { keep, kept } from "../api/storage";
import { followed, isStopped } from "../api/working";
import type { DraftInHand } from "../bench/draft";
import { type Change, editStation } from "../bench/edits";
import { SideTabs } from "../bench/side-tabs";
import { WorkingOverDrawing } from "../bench/working-line";
import { VerdictLine } from "../findings/verdict";
import { Mark } from "../marks/mark";
import { useSay } from "../quantity/sentence";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { asFile, type SurveyInHand } from "../survey/store";
import { AddPart } from "./add-part";
import { BenchDrawing, useDrawing } from "./bench-drawing";
import { Cardboard } from "./cardboard";
import type { Part } from "./choosing";
import { BuildSheet, Everything, MountPages } from "./everything";
import { PartPanel } from "./part-panel";
import { Round } from "./round";
import { SettingOut } from "./setting-out";
import { StackDrawings } from "./stack";
import { Hardware, StockAndCutting, ToBuy } from "./stock";
import { keyOf, Workbench } from "./workbench";

/** What the document in hand takes, and every mount to set out. */
export function useMake(document: Project, hand: SurveyInHand) {
  const body = { document, survey: asFile(hand.survey) };
  return useQuery({
    queryKey: ["make", body],
    queryFn: ({ signal }) =>
      answer(followed("make", (headers) => client.POST("/api/make", { body, headers, signal }), signal)),
    enabled: hand.loaded,
    placeholderData: (before) => before,
    retry: false,
    gcTime: 0,
  });
}

/** The parts tried among everything else, with room where a proposal had none: a second answer, it takes longest. */
function useFits(document: Project, hand: SurveyInHand, ready: boolean) {
  const body = { document, survey: asFile(hand.survey) };
  return useQuery({
    queryKey: ["make-fits", body],
    queryFn: ({ signal }) =>
      answer(followed("fits", (headers) => client.POST("/api/make/fits", { body, headers, signal }), signal)),
    enabled: hand.loaded && ready,
    placeholderData: (before) => before,
    retry: false,
    gcTime: 0,
  });
}

/** The sentence above the sheet. */
export function MakeVerdict({ document, hand }: { document: Project; hand: SurveyInHand }) {
  const say = useSay();
  const found = useMake(document, hand);
  const fits = useFits(document, hand, found.isSuccess && !found.isFetching);
  // Tried together, parts are marked worse, or made otherwise: then that is the answer.
  const told = fits.data && !fits.isPlaceholderData && !found.isPlaceholderData ? fits.data : found.data;
  return (
    <VerdictLine
      question="What has to be made?"
      mark={told?.mark ?? (found.isError ? "warning" : "")}
      words={told ? say(told.verdict) : (found.error?.message ?? "Working it out …")}
    />
  );
}

interface Props {
  job: string;
  document: Project;
  survey: SurveyInHand;
  hand: DraftInHand;
}

/** What has to be made? */
export function MakeSheet({ job, document, survey, hand }: Props) {
  const found = useMake(document, survey);
  const fits = useFits(document, survey, found.isSuccess && !found.isFetching);
  const [picked, pick] = useState("");
  const [mount, setMount] = useState<{ station: string; point: string } | null>(null);
  const setPicked = (key: string) => {
    setMount(null);
    pick(key);
  };
  const [paper, setPaper] = useState(() => kept("jugatrix-paper") ?? "A4");
  const data = found.data;
  // What was tried of the document before this one says nothing of this one.
  const tried = fits.isPlaceholderData ? [] : (fits.data?.fits ?? []);
  const parts = (data?.parts ?? []).map((one) => tried.find((other) => keyOf(other) === keyOf(one)) ?? one);
  const part = parts.find((one) => keyOf(one) === picked);
  const index = document.stations.findIndex((one) => one.name === part?.station);
  const change: Change = (to, key) => hand.edit((now) => editStation(now, index, to), key);
  const revision = hand.draft.base;
  // The stations, and the frame where it has tubes.
  const chapters = [
    ...document.stations.filter((one) => !one.variant_of).map((one) => one.name),
    ...new Set(parts.filter((one) => one.kind === "frame").map((one) => one.station)),
  ];
  return (
    <div
      aria-busy={found.isFetching || fits.isFetching}
      className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_440px] lg:grid-rows-[minmax(0,1fr)] max-lg:grid-cols-1 print:block"
    >
      <section
        aria-label="Drawings"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a drawing higher than the screen is scrolled by key
        tabIndex={0}
        className="min-h-0 overflow-y-auto bg-dye p-3 max-lg:max-h-[560px]"
      >
        <WorkingOverDrawing
          lines={[
            { name: "make", error: found.error, again: () => void found.refetch() },
            { name: "fits", error: fits.error, again: () => void fits.refetch() },
          ]}
        />
        {found.isError && !isStopped(found.error) && <p className="text-soapstone">{found.error.message}</p>}
        {data && !parts.length && (
          <p className="text-soapstone">
            This job has nothing to make. Its mounts are in the list to set out.
          </p>
        )}
        {mount ? (
          <MountDrawn
            document={document}
            hand={survey}
            station={mount.station}
            point={mount.point}
            onBack={() => setMount(null)}
          />
        ) : part ? (
          <Drawn part={part} document={document} hand={survey} />
        ) : (
          <Workbench parts={parts} picked={picked} onPick={setPicked} />
        )}
      </section>
      <SideTabs
        label="Make"
        className=""
        tabs={[
          {
            value: "parts",
            name: "Parts",
            room: "px-3 pb-4",
            body: part ? (
              <section aria-label="Part">
                <PartPanel
                  key={picked}
                  part={part}
                  station={document.stations[index] ?? null}
                  job={job}
                  document={document}
                  hand={survey}
                  change={change}
                  onBack={() => setPicked("")}
                  paper={paper}
                />
              </section>
            ) : (
              <section aria-label="Parts" className="pt-2">
                <div className="flex flex-wrap items-center gap-2 border-b border-rule pb-2">
                  <Everything job={job} revision={revision} paper={paper} />
                  <AddPart document={document} hand={hand} onAdded={setPicked} />
                  <Cardboard job={job} document={document} hand={hand} parts={parts} onAdded={setPicked} />
                  <label className="flex items-center gap-2 text-sm">
                    Made of
                    <select
                      className="entry w-auto"
                      value={document.sizes ?? "metric"}
                      onChange={(event) =>
                        hand.edit(
                          (doc) => ({ ...doc, sizes: event.target.value }) as Project,
                          "what stock parts are made of",
                        )
                      }
                    >
                      <option value="metric">metric stock</option>
                      <option value="inch">inch stock</option>
                    </select>
                  </label>
                  <label className="flex items-center gap-2 text-sm">
                    Printed on
                    <select
                      className="entry w-auto"
                      value={paper}
                      onChange={(event) => {
                        keep("jugatrix-paper", event.target.value);
                        setPaper(event.target.value);
                      }}
                    >
                      {["A4", "A3", "Letter", "Tabloid"].map((one) => (
                        <option key={one}>{one}</option>
                      ))}
                    </select>
                  </label>
                  <div className="text-sm text-soft">
                    Drawings (DXF, SVG), templates at 1:1, lists and build sheets of revision {revision}
                    {hand.dirty ? "; unsaved changes are not in it" : ""}. Build sheet as PDF:{" "}
                    {chapters.map((name, k) => (
                      <span key={name}>
                        {k > 0 && ", "}
                        <BuildSheet job={job} revision={revision} paper={paper} station={name} />
                      </span>
                    ))}
                    , <BuildSheet job={job} revision={revision} paper={paper} />.
                  </div>
                </div>
                <PartList parts={parts} onPick={setPicked} />
                <p className="mt-4 border-l-4 border-warning bg-card p-2 text-sm leading-snug">
                  A first check, no certificate: a competent engineer signs off. Never weld a casting; fire
                  watch, fuel and battery off. Tack only, cycle through full travel with the springs out, then
                  weld out. Cut rods long until the cycle has passed.
                </p>
              </section>
            ),
          },
          {
            value: "set-out",
            name: "Setting out",
            room: "px-3",
            body: (
              <SettingOut
                job={job}
                pages={<MountPages job={job} revision={revision} paper={paper} />}
                document={document}
                mounts={data?.mounts ?? []}
                parts={parts}
                onSee={setMount}
              />
            ),
          },
          {
            value: "stock",
            name: "Stock & cutting",
            room: "px-3 pb-4",
            read: true,
            body: <StockAndCutting document={document} hand={survey} />,
          },
          {
            value: "hardware",
            name: "Hardware",
            room: "px-3 pb-4",
            read: true,
            body: <Hardware document={document} hand={survey} />,
          },
          {
            value: "buy",
            name: "To buy",
            room: "px-3 pb-4",
            read: true,
            body: <ToBuy document={document} hand={survey} />,
          },
        ]}
      />
    </div>
  );
}

/** The field of a choice that stands beside the drawing, in hand. */
function intoHand(field: string) {
  const input = window.document.querySelector<HTMLInputElement>(`[data-choice="${field}"] input`);
  input?.scrollIntoView({ block: "center" });
  input?.focus();
  input?.select();
}

/** Where a mount comes, as it is printed for the frame. */
function MountDrawn({
  document,
  hand,
  station,
  point,
  onBack,
}: {
  document: Project;
  hand: SurveyInHand;
  station: string;
  point: string;
  onBack: () => void;
}) {
  const drawn = useDrawing(document, hand, { station, point });
  return (
    <section aria-label={`Setting out of ${spoken(point)}`} className="text-soapstone">
      <button type="button" className="press press-dark mb-2" onClick={onBack}>
        All parts
      </button>
      {drawn.isError && <p className="py-2">{drawn.error.message}</p>}
      {drawn.data && <BenchDrawing drawing={drawn.data} label={`${spoken(point)}, set out`} />}
    </section>
  );
}

/** One part drawn large; a bent tube in the round, a cope unrolled. */
function Drawn({ part, document, hand }: { part: Part; document: Project; hand: SurveyInHand }) {
  const drawn = useDrawing(document, hand, { station: part.station, part: part.name });
  const weak = part.weakest;
  return (
    <section aria-label={`Drawing of ${spoken(part.name)}`} className="text-soapstone">
      {drawn.isError && <p className="py-2">{drawn.error.message}</p>}
      {drawn.data && (
        <BenchDrawing
          drawing={drawn.data}
          label={`${spoken(part.name)}, dimensioned`}
          ring={part.flat && weak && weak.x !== null && weak.y !== null ? [weak.x, weak.y] : null}
          onField={intoHand}
        />
      )}
      {part.weakest && (
        <p className="py-1">
          Weakest: {part.weakest.what}, {part.weakest.factor.toFixed(1)} times its load
          {part.weakest.case && `, ${part.weakest.case}`}.
        </p>
      )}
      <StackDrawings stacks={part.stacks} />
      {part.tube && part.tube.spots.length > 1 && (
        <Round spots={part.tube.spots} outside={part.tube.outside} name={spoken(part.name)} />
      )}
      {part.tube?.wraps.map((wrap) => (
        <figure key={wrap.words} className="py-2">
          <svg
            role="img"
            aria-label="End of the tube, unrolled"
            viewBox={`-4 -4 ${(wrap.box[2] ?? 0) + 8} ${(wrap.box[3] ?? 0) + 8}`}
            className="max-h-44 w-full"
          >
            <path d={wrap.path} fill="var(--color-dye)" stroke="var(--color-soapstone)" strokeWidth={1} />
          </svg>
          <figcaption className="text-sm text-chalk">
            Wrapped round the tube, {wrap.words}. Print it at 1:1.
          </figcaption>
        </figure>
      ))}
      {!part.flat && !part.tube && (
        <p>{part.mark === "fault" ? "It cannot be drawn; see beside." : "It is bought, not cut."}</p>
      )}
    </section>
  );
}

function PartList({ parts, onPick }: { parts: Part[]; onPick: (key: string) => void }) {
  const { quantity } = useUnits();
  const worth = { fault: 0, warning: 1 } as Record<string, number>;
  const ordered = [...parts].sort((a, b) => (worth[a.mark] ?? 2) - (worth[b.mark] ?? 2));
  return (
    <ul>
      {ordered.map((one) => (
        <li key={keyOf(one)} className="border-b border-rule">
          <button
            type="button"
            className="flex min-h-12 w-full items-center gap-2 text-left"
            onClick={() => onPick(keyOf(one))}
          >
            {one.mark !== "good" && <Mark mark={one.mark} size={22} />}
            <span className="flex-1 leading-tight">
              <span className="font-semibold">
                {one.count * one.hands} × {spoken(one.name)}
              </span>
              <span className="block text-sm text-soft">
                {one.station}
                {one.proposed || one.kind === "frame" ? "" : ", customised"}
                {one.weakest
                  ? `, safety factor ${one.weakest.factor < 100 ? one.weakest.factor.toFixed(1) : "over 100"}`
                  : ""}
              </span>
            </span>
            <span className="text-right">
              {one.flat
                ? `${quantity(one.flat.thickness, "length")} plate`
                : one.tube
                  ? quantity(one.tube.length, "length")
                  : ""}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}
