import { useQuery } from "@tanstack/react-query";
import { Minus, Plus } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import { answer, client, type Project, type Shape } from "../api/client";
import { newName } from "../api/names";
import { useAsked } from "../bench/asked";
import { SideTabs } from "../bench/side-tabs";
import { VerdictLine } from "../findings/verdict";
import { Mark } from "../marks/mark";
import { useSay } from "../quantity/sentence";
import { useUnits } from "../quantity/units";
import type { Plan } from "../views/projection";
import { SurveyDrawing } from "./drawing";
import { ENTRY, Entry } from "./entry";
import { PaperForm } from "./form";
import { Guards } from "./guards";
import type { InHand } from "./in-hand";
import { Marks } from "./marks";
import { ReadNext } from "./next";
import { Photographs } from "./photographs";
import { Readings } from "./readings";
import { SidesTable, SquareList } from "./square";
import { StickerSheet } from "./stickers-sheet";
import { asFile, type Reading, type SurveyInHand } from "./store";
import { Take } from "./take";
import { KINDS, type KindWords, placesOf, placeWords, readingOf, sameKey, wordsOf } from "./words";

/** The survey worked out beside the document in hand. */
export function useAdjusted(job: string, document: Project, hand: SurveyInHand) {
  const body = { job, document, survey: asFile(hand.survey) };
  return useQuery({
    queryKey: ["survey", body],
    queryFn: () => answer(client.POST("/api/survey", { body })),
    enabled: hand.loaded,
    placeholderData: (before) => before,
    retry: false,
    gcTime: 0,
  });
}

/** The sentence above the sheet. */
export function SurveyVerdict({
  job,
  document,
  hand,
}: {
  job: string;
  document: Project;
  hand: SurveyInHand;
}) {
  const say = useSay();
  const found = useAdjusted(job, document, hand);
  return (
    <VerdictLine
      question="Where is everything, how well is it known, and what does not fit?"
      mark={found.data?.mark ?? (found.isError ? "warning" : "")}
      words={found.data ? say(found.data.verdict) : (found.error?.message ?? "Working it out …")}
    />
  );
}

interface Props {
  job: string;
  user: string;
  document: Project;
  index: number;
  hand: SurveyInHand;
  onTake: (document: Project, reason: string) => Promise<string>;
}

const NONE: Told[] = [];
type Told = Shape["ReadingOut"];

/** Where is everything, how well is it known, and what does not fit? */
export function SurveySheet({ job, user, document, index, hand, onTake }: Props) {
  const station = document.stations[index];
  const { survey } = hand;
  const adjusted = useAdjusted(job, document, hand);
  const data = adjusted.data;
  // While a new reading is worked out, the answer before it is short by one at the end.
  const told = data?.readings ?? NONE;
  const plan = useAsked(
    "plan",
    document,
    index,
    (body) => client.POST("/api/survey/plan", { body }),
    station !== undefined,
  );

  const [picked, setPicked] = useState<string[]>([]);
  const [kind, setKind] = useState<KindWords | null>(null);
  const [skipped, setSkipped] = useState<string[]>([]);
  const [again, setAgain] = useState<string | null>(null);
  const [looked, setLooked] = useState<string | null>(null);
  const [last, setLast] = useState<string | null>(null);
  const [whole, setWhole] = useState(false);
  const [front, setFront] = useState(false);
  const [closer, setCloser] = useState(1);

  const spots = useMemo(() => {
    const found: Record<string, number[]> = {};
    for (const one of document.stations)
      for (const [point, spot] of Object.entries(one.points))
        if (whole || one === station) found[`${one.name}/${point}`] = spot;
    for (const one of plan.data ?? []) Object.assign(found, one.marks);
    Object.assign(found, survey.marks);
    for (const place of data?.places ?? []) if (place.name in found) found[place.name] = place.at;
    return found;
  }, [document.stations, station, survey.marks, data, plan.data, whole]);
  const read = useMemo(
    () => new Set(survey.readings.map((one) => sameKey(one.kind, one.seen, placesOf(one)))),
    [survey.readings],
  );
  const list = plan.data ?? [];
  const open = list.filter((one) => !read.has(sameKey(one.kind, undefined, one.places)));
  const wanted = open.find((one) => !skipped.includes(sameKey(one.kind, undefined, one.places))) ?? open[0];

  const inHand = useMemo((): InHand | null => {
    const old = again === null ? -1 : survey.keys.indexOf(again);
    const reading = survey.readings[old];
    if (reading && again !== null)
      return { kind: wordsOf(reading), places: placesOf(reading), key: again, hint: "read it again" };
    if (picked.length) {
      const fitting = KINDS.filter((one) => one.places === picked.length);
      const free = fitting.find((one) => !read.has(sameKey(one.kind, one.seen, picked)));
      return {
        kind: kind && fitting.includes(kind) ? kind : (free ?? (fitting[0] as KindWords)),
        places: picked,
      };
    }
    return wanted
      ? {
          kind: wordsOf(wanted),
          places: wanted.places,
          hint: wanted.extra ? `${wanted.hint}; ${wanted.why}` : wanted.hint,
        }
      : null;
  }, [again, survey, picked, kind, read, wanted]);

  const pick = (place: string | null) => {
    setAgain(null);
    setKind(null);
    if (place === null) return setPicked([]);
    setPicked((before) =>
      before.includes(place)
        ? before.filter((one) => one !== place)
        : before.length > 2
          ? [place]
          : [...before, place],
    );
  };
  const enter = (its: InHand, values: number[]) => {
    const key = its.key ?? newName();
    // A mark that the list asks for stands in the job from the first reading of it.
    for (const place of its.places) {
      const spot = list.find((one) => one.marks[place])?.marks[place];
      if (spot && !(place in survey.marks)) hand.put("mark", place, spot);
    }
    hand.put("reading", key, readingOf(its.kind, its.places, values));
    setLast(key);
    setAgain(null);
    setPicked([]);
    setKind(null);
  };
  const look = (key: string | null) => {
    setLooked(key);
    const reading = key === null ? undefined : survey.readings[survey.keys.indexOf(key)];
    // What lies between two stations is seen on the whole vehicle.
    if (reading && !placesOf(reading).every((name) => name in spots)) setWhole(true);
  };
  const suspects = told.filter((one) => one.suspect).length;
  const number = looked === null ? null : survey.keys.indexOf(looked);
  const plans: Plan[] = [front ? "front" : "side", "top"];
  const drawing = useRef<HTMLDivElement>(null);
  const take = (reading: Reading) => {
    setAgain(null);
    setPicked(placesOf(reading));
    setKind(wordsOf(reading));
    drawing.current?.scrollIntoView({ block: "nearest" });
    toField();
  };
  // Sent here to read a mount back: it is in hand.
  const asked = useSearchParams()[0].get("read");
  // biome-ignore lint/correctness/useExhaustiveDependencies: another station starts anew
  useEffect(() => {
    setPicked(asked ? [asked] : []);
    setSkipped([]);
  }, [asked, index]);
  const inHandPlaces = inHand?.places ?? [];
  return (
    <div
      aria-busy={adjusted.isFetching || plan.isFetching || hand.pending > 0}
      className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_452px] lg:grid-rows-[minmax(0,1fr)] max-lg:grid-cols-1 print:block"
    >
      <div ref={drawing} className="flex min-h-0 min-w-0 flex-col max-lg:h-[480px]">
        <div className="no-print flex flex-wrap items-center gap-2 border-b border-rule px-2 py-1">
          <Toggle on={whole} onPress={() => setWhole(!whole)} words="Whole vehicle" />
          <Toggle on={front} onPress={() => setFront(!front)} words="From the front" />
          <button
            type="button"
            className="press px-3"
            aria-label="Closer, about the picked place"
            disabled={closer >= 32}
            onClick={() => setCloser(closer * 2)}
          >
            <Plus size={18} aria-hidden />
          </button>
          <button
            type="button"
            className="press px-3"
            aria-label="Further away"
            disabled={closer === 1}
            onClick={() => setCloser(closer / 2)}
          >
            <Minus size={18} aria-hidden />
          </button>
          <p className="ml-auto text-sm text-soft" role="status" data-testid="kept">
            {hand.pending
              ? `${hand.pending} ${hand.pending === 1 ? "entry waits" : "entries wait"} for the server; kept in this browser. ${hand.why}`
              : `${list.length - open.length} of ${list.length} on the list read`}
          </p>
        </div>
        {/* biome-ignore lint/a11y/noStaticElementInteractions: a figure typed on the drawing goes to the field */}
        <div
          className="min-h-0 flex-1"
          onKeyDown={(event) => {
            if (/^[\d.−-]$/.test(event.key) && !event.ctrlKey) window.document.getElementById(ENTRY)?.focus();
          }}
        >
          <SurveyDrawing
            document={document}
            spots={spots}
            places={data?.places ?? []}
            readings={survey.readings}
            told={told}
            picked={inHandPlaces}
            onPick={pick}
            looked={number}
            plans={plans}
            closer={closer}
            station={whole ? null : (station?.name ?? null)}
          />
        </div>
      </div>
      <div className="flex min-h-0 min-w-0 flex-col overflow-y-auto border-l border-rule max-lg:overflow-visible max-lg:border-l-0">
        <div className="no-print">
          <Entry
            hand={inHand}
            listed={!plan.isPending}
            spots={spots}
            picked={picked.length > 0 || again !== null}
            onKind={(to) => {
              if (!picked.length) setPicked(inHandPlaces);
              setKind(to);
            }}
            onEnter={enter}
            onSkip={() =>
              setSkipped((before) => [
                ...before,
                sameKey(inHand?.kind.kind ?? "", undefined, inHand?.places ?? []),
              ])
            }
            onClear={() => {
              setPicked([]);
              setAgain(null);
            }}
          />
          <Last hand={hand} told={told} last={last} onLook={look} />
        </div>
        <SideTabs
          label="Survey"
          className="flex-1 border-l-0 lg:min-h-72"
          tabs={[
            {
              value: "readings",
              name: suspects ? `Readings ✕${suspects}` : "Readings",
              room: "px-3",
              body: (
                <Readings
                  job={job}
                  hand={hand}
                  told={told}
                  looked={number}
                  onLook={(k) => look(k === null ? null : (survey.keys[k] ?? null))}
                  onAgain={(k) => {
                    setPicked([]);
                    setAgain(survey.keys[k] ?? null);
                    toField();
                  }}
                />
              ),
            },
            {
              value: "next",
              name: "Next",
              room: "px-3",
              body: (
                <>
                  <LooseList
                    places={data?.places ?? []}
                    onPick={(place) => {
                      setPicked([place]);
                      toField();
                    }}
                  />
                  <ReadNext job={job} document={document} survey={survey} onTake={take} />
                </>
              ),
            },
            {
              value: "square",
              name: "Square",
              room: "px-3",
              read: true,
              body: (
                <>
                  <SquareList squares={data?.squares ?? []} />
                  <SidesTable sides={data?.sides ?? []} places={data?.places ?? []} />
                </>
              ),
            },
            {
              value: "guards",
              name: "Check dimensions",
              room: "px-3",
              body: (
                <Guards
                  hand={hand}
                  told={data?.guards ?? []}
                  picked={picked}
                  proposed={diagonals(data?.places ?? [], data?.sides ?? [])}
                  user={user}
                />
              ),
            },
            {
              value: "photos",
              name: "Photos",
              room: "px-3",
              body: (
                <Photographs job={job} hand={hand} told={data?.photos ?? []} names={Object.keys(spots)} />
              ),
            },
            {
              value: "stickers",
              name: "Stickers",
              room: "px-3",
              body: <StickerSheet job={job} document={document} hand={hand} names={Object.keys(spots)} />,
            },
            {
              value: "marks",
              name: "Marks",
              room: "px-3",
              body: <Marks hand={hand} names={Object.keys(spots)} />,
            },
            {
              value: "take",
              name: "Apply to job",
              room: "px-3",
              body: (
                <Take job={job} document={document} survey={survey} suspects={suspects} onTake={onTake} />
              ),
            },
          ]}
        />
      </div>
      <PaperForm document={document} plan={list} readings={survey.readings} />
    </div>
  );
}

function Toggle({ on, onPress, words }: { on: boolean; onPress: () => void; words: string }) {
  return (
    <button
      type="button"
      aria-pressed={on}
      onClick={onPress}
      className={`min-h-11 border px-3 text-sm font-semibold ${on ? "border-press bg-press text-white" : "border-edge bg-card"}`}
    >
      {words}
    </button>
  );
}

/** What the rest says of the reading just entered. */
function Last({
  hand,
  told,
  last,
  onLook,
}: {
  hand: SurveyInHand;
  told: Told[];
  last: string | null;
  onLook: (key: string) => void;
}) {
  const say = useSay();
  const { quantity } = useUnits();
  const number = last === null ? -1 : hand.survey.keys.indexOf(last);
  const its = told[number];
  const reading = hand.survey.readings[number];
  if (last === null || !its || !reading) return null;
  const { dimension } = wordsOf(reading);
  const unchecked = (its.redundancy ?? 0) < 0.01;
  const mark = its.suspect ? "fault" : its.asked ? "warning" : "good";
  const words = its.suspect
    ? `The last one does not fit${its.would_be === null ? "" : `: the others say ${quantity(its.would_be, dimension)}`}. ${its.slip ? say(its.slip) : ""}`
    : its.asked
      ? say(its.asked)
      : unchecked
        ? "Saved. Not cross-checked yet."
        : `Saved. It fits to ${quantity(Math.abs(its.residual ?? 0), dimension)}.`;
  return (
    <button
      type="button"
      data-testid="last"
      className="flex min-h-11 w-full items-center gap-2 border-b border-rule px-3 py-1 text-left leading-tight"
      onClick={() => onLook(last)}
    >
      <Mark mark={mark} size={22} />
      <span role="status">{words}</span>
    </button>
  );
}

function LooseList({ places, onPick }: { places: Shape["PlaceOut"][]; onPick: (place: string) => void }) {
  const say = useSay();
  const loose = places.filter((place) => place.loose);
  return (
    <section aria-label="What is not located yet">
      {loose.length > 0 && <h2 className="pt-2 text-lg">Not located yet</h2>}
      <ul>
        {loose.map((place) => (
          <li
            key={place.name}
            className="flex items-center gap-3 border-b border-rule py-2"
            data-testid="loose"
          >
            <Mark mark="warning" size={22} />
            <p className="flex-1 leading-snug">{place.loose && say(place.loose)}</p>
            <button
              type="button"
              className="press px-3 text-sm"
              aria-label={`Read it: ${placeWords(place.name)}`}
              onClick={() => onPick(place.name)}
            >
              Read it
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Diagonals between pairs of mirrored places, the longest first: what a frame does when it is cut shows there. */
function diagonals(places: Shape["PlaceOut"][], sides: Shape["SideOut"][]) {
  const x = (name: string) => places.find((place) => place.name === name)?.at[0] ?? 0;
  const pairs = [...sides].sort((a, b) => x(b.left) - x(a.left));
  const [one, other] = [pairs[0], pairs.at(-1)];
  if (!one || !other || one === other) return [];
  return [
    { between: [one.left, other.right] as [string, string], name: "diagonal, left front" },
    { between: [one.right, other.left] as [string, string], name: "diagonal, right front" },
    { between: [one.left, one.right] as [string, string], name: "across, front" },
    { between: [other.left, other.right] as [string, string], name: "across, rear" },
  ];
}

/** What was just taken in hand is read into its field: the next thing typed goes there. */
function toField() {
  requestAnimationFrame(() => window.document.getElementById(ENTRY)?.focus());
}
