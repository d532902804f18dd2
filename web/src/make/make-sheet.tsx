import { useQuery } from "@tanstack/react-query";
import { Download } from "lucide-react";
import { useState } from "react";
import { answer, client, type Project, type Shape } from "../api/client";
import { SideTabs } from "../bench/side-tabs";
import { Mark } from "../findings/mark";
import { VerdictLine } from "../findings/verdict";
import { useSay } from "../quantity/sentence";
import { spoken } from "../quantity/spoken";
import { useUnits } from "../quantity/units";
import { asFile, type SurveyInHand } from "../survey/store";
import { SettingOut } from "./setting-out";

type Rod = Shape["RodOut"];
type Plate = Shape["PlateMadeOut"];

/** What the document in hand takes: rods, rocker plates, mounts to set out. */
export function useMake(document: Project, hand: SurveyInHand) {
  const body = { document: document as unknown as Record<string, unknown>, survey: asFile(hand.survey) };
  return useQuery({
    queryKey: ["make", body],
    queryFn: () => answer(client.POST("/api/make", { body })),
    enabled: hand.loaded,
    placeholderData: (before) => before,
    retry: false,
    gcTime: 0,
  });
}

/** The sentence above the sheet. */
export function MakeVerdict({ document, hand }: { document: Project; hand: SurveyInHand }) {
  const say = useSay();
  const found = useMake(document, hand);
  return (
    <VerdictLine
      question="What has to be made?"
      mark={found.data?.mark ?? (found.isError ? "warning" : "")}
      words={found.data ? say(found.data.verdict) : (found.error?.message ?? "Working it out …")}
    />
  );
}

interface Props {
  job: string;
  document: Project;
  hand: SurveyInHand;
  /** The saved revision whose files are given out; unsaved changes are not in them. */
  revision: number;
  dirty: boolean;
}

/** What has to be made? */
export function MakeSheet({ job, document, hand, revision, dirty }: Props) {
  const found = useMake(document, hand);
  const [picked, setPicked] = useState("");
  const data = found.data;
  const key = (one: { station: string; name: string }) => `${one.station}/${one.name}`;
  const rod = data?.rods.find((one) => key(one) === picked);
  const plate = data?.plates.find((one) => key(one) === picked);
  return (
    <div
      aria-busy={found.isFetching}
      className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_440px] lg:grid-rows-[minmax(0,1fr)] max-lg:grid-cols-1 print:block"
    >
      <div className="min-h-0 overflow-y-auto bg-dye p-3 max-lg:max-h-[560px]">
        {found.isError && <p className="text-[#f4f1e6]">{found.error.message}</p>}
        {data && !data.rods.length && !data.plates.length && (
          <p className="text-[#f4f1e6]">
            This job has no rods and no rockers. Its mounts are in the list to set out.
          </p>
        )}
        <Benchful
          rods={data?.rods ?? []}
          plates={data?.plates ?? []}
          picked={picked}
          onPick={(one) => setPicked(key(one))}
        />
      </div>
      <SideTabs
        label="Make"
        className=""
        tabs={[
          {
            value: "parts",
            name: "Parts",
            room: "px-3",
            body: (
              <section aria-label="Part" className="pt-2">
                <div className="flex flex-wrap items-center gap-2 border-b border-rule pb-2">
                  <a
                    className="press press-main px-3"
                    href={`/api/jobs/${job}/revisions/${revision}/parts.zip`}
                  >
                    <Download size={18} aria-hidden /> Everything, as a ZIP
                  </a>
                  <p className="text-sm text-soft">
                    Drawings (DXF, SVG), templates at 1:1, lists and build sheets of revision {revision}
                    {dirty ? "; unsaved changes are not in it" : ""}.
                  </p>
                </div>
                {rod ? (
                  <RodFigures rod={rod} />
                ) : plate ? (
                  <PlateFigures plate={plate} />
                ) : (
                  <PartList data={data} onPick={(one) => setPicked(key(one))} />
                )}
                {(rod || plate) && (
                  <button type="button" className="press mt-3" onClick={() => setPicked("")}>
                    All parts
                  </button>
                )}
                <p className="mt-4 border-l-4 border-warning bg-card p-2 text-sm leading-snug">
                  A first check, no certificate: a competent engineer signs off. Tack only, cycle through full
                  travel with the springs out, then weld. Cut rods long until the cycle has passed.
                </p>
              </section>
            ),
          },
          {
            value: "set-out",
            name: "Setting out",
            room: "px-3",
            body: <SettingOut job={job} document={document} mounts={data?.mounts ?? []} />,
          },
        ]}
      />
    </div>
  );
}

const WIDE = 760;
const GAP = 26;

/** Every part drawn to one scale, as it would lie on the bench. */
function Benchful({
  rods,
  plates,
  picked,
  onPick,
}: {
  rods: Rod[];
  plates: Plate[];
  picked: string;
  onPick: (one: { station: string; name: string }) => void;
}) {
  const { quantity } = useUnits();
  const longest = Math.max(
    1,
    ...rods.map((rod) => rod.centre_to_centre + 40),
    ...plates.map((plate) => (plate.box[2] ?? 0) + 20),
  );
  const scale = Math.min(1.4, WIDE / longest);
  const stations = [...new Set([...rods, ...plates].map((one) => one.station))];
  return (
    <>
      {stations.map((station) => (
        <section key={station} aria-label={`Parts of ${station}`} className="pb-3">
          <h2 className="pb-1 text-lg text-[#f4f1e6]">{station}</h2>
          <div className="flex flex-wrap items-end gap-x-6 gap-y-3">
            {rods
              .filter((rod) => rod.station === station)
              .map((rod) => (
                <PartButton
                  key={rod.name}
                  one={rod}
                  picked={picked}
                  onPick={onPick}
                  said={`tube ${quantity(rod.tube_length, "length")}`}
                >
                  <svg
                    aria-hidden
                    width={(rod.centre_to_centre + GAP) * scale}
                    height={Math.max(30, rod.outside * scale + 14)}
                  >
                    <RodShape rod={rod} scale={scale} />
                  </svg>
                </PartButton>
              ))}
            {plates
              .filter((plate) => plate.station === station)
              .map((plate) => {
                const [x = 0, y = 0, wide = 0, high = 0] = plate.box;
                return (
                  <PartButton
                    key={plate.name}
                    one={plate}
                    picked={picked}
                    onPick={onPick}
                    said={`plate ${quantity(plate.thickness, "length")}`}
                  >
                    <svg
                      aria-hidden
                      width={(wide + 4) * scale}
                      height={(high + 4) * scale}
                      viewBox={`${x - 2} ${y - 2} ${wide + 4} ${high + 4}`}
                    >
                      <PlateShape plate={plate} />
                    </svg>
                  </PartButton>
                );
              })}
          </div>
        </section>
      ))}
    </>
  );
}

function PartButton({
  one,
  picked,
  onPick,
  said,
  children,
}: {
  one: Rod | Plate;
  picked: string;
  onPick: (one: { station: string; name: string }) => void;
  said: string;
  children: React.ReactNode;
}) {
  const here = picked === `${one.station}/${one.name}`;
  const worst = one.said.some((its) => its.mark === "fault") ? "fault" : one.said.length ? "warning" : null;
  return (
    <button
      type="button"
      aria-pressed={here}
      onClick={() => onPick(one)}
      className={`max-w-full overflow-hidden border-2 p-2 text-left text-[#f4f1e6] ${here ? "border-[#ffd400]" : "border-transparent"}`}
    >
      {children}
      <span className="mt-1 flex items-center gap-1.5 text-sm">
        {worst && <Mark mark={worst} size={18} />}
        <span className="font-semibold">
          {one.count} × {spoken(one.name)},
        </span>
        {said}
      </span>
    </button>
  );
}

function RodShape({ rod, scale }: { rod: Rod; scale: number }) {
  const half = (rod.outside / 2) * scale;
  const middle = Math.max(15, half + 7);
  const left = (GAP / 2) * scale;
  const right = left + rod.centre_to_centre * scale;
  const tube = Math.max(0, rod.tube_length) * scale;
  const start = left + ((rod.centre_to_centre - Math.max(0, rod.tube_length)) / 2) * scale;
  return (
    <g stroke="var(--color-soapstone)" fill="none" strokeWidth={1.5}>
      <path
        d={`M${left} ${middle}H${right}`}
        strokeWidth={Math.max(2, (rod.ends[0]?.thread ?? 8) * scale * 0.8)}
        strokeOpacity={0.55}
      />
      <rect x={start} y={middle - half} width={tube} height={2 * half} fill="var(--color-dye)" />
      <path d={`M${start} ${middle}H${start + tube}`} strokeDasharray="10 4 2 4" strokeOpacity={0.6} />
      {[left, right].map((x) => (
        <g key={x}>
          <circle cx={x} cy={middle} r={8 * Math.min(1, scale * 1.4)} fill="var(--color-dye)" />
          <circle cx={x} cy={middle} r={3} />
        </g>
      ))}
    </g>
  );
}

function PlateShape({ plate }: { plate: Plate }) {
  return (
    <g stroke="var(--color-soapstone)" fill="var(--color-dye)" strokeWidth={1}>
      <path d={plate.path} />
      {plate.holes.map((hole) => (
        <g key={hole.what}>
          <circle cx={hole.x} cy={-hole.y} r={hole.diameter / 2} />
          <path
            d={`M${hole.x - hole.diameter / 4} ${-hole.y}h${hole.diameter / 2}M${hole.x} ${-hole.y - hole.diameter / 4}v${hole.diameter / 2}`}
            strokeWidth={0.5}
          />
        </g>
      ))}
    </g>
  );
}

function PartList({
  data,
  onPick,
}: {
  data: Shape["MakeOut"] | undefined;
  onPick: (one: { station: string; name: string }) => void;
}) {
  const { quantity } = useUnits();
  return (
    <ul>
      {[...(data?.rods ?? []), ...(data?.plates ?? [])].map((one) => (
        <li key={`${one.station} ${one.name}`} className="border-b border-rule">
          <button
            type="button"
            className="flex min-h-12 w-full items-center gap-2 text-left"
            onClick={() => onPick(one)}
          >
            <span className="flex-1 leading-tight">
              <span className="font-semibold">
                {one.count} × {spoken(one.name)}
              </span>
              <span className="block text-sm text-soft">{one.station}</span>
            </span>
            <span className="text-right">
              {"tube_length" in one
                ? `${quantity(one.outside, "length")} × ${quantity(one.wall, "length")}, ${quantity(one.tube_length, "length")}`
                : `${quantity(one.thickness, "length")} plate`}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}

function Said({ said }: { said: Shape["SaidOut"][] }) {
  const say = useSay();
  return (
    <ul>
      {said.map((one) => (
        <li key={one.say.words} className="flex gap-2 py-1.5">
          <Mark mark={one.mark} size={22} />
          <p className="leading-snug">{say(one.say)}</p>
        </li>
      ))}
    </ul>
  );
}

function Figure({ name, value }: { name: string; value: string }) {
  return (
    <div className="flex items-baseline justify-between gap-3 border-b border-rule py-1.5">
      <dt>{name}</dt>
      <dd className="text-right text-lg font-bold">{value}</dd>
    </div>
  );
}

function RodFigures({ rod }: { rod: Rod }) {
  const { quantity, number } = useUnits();
  return (
    <div data-testid="part">
      <h2 className="pt-2 text-xl">
        {rod.count} × {spoken(rod.name)}, {rod.station}
      </h2>
      <p className="text-sm text-soft">
        {rod.proposed
          ? "Proposed from stock: say thread and engagement on Layout, Rods & parts."
          : "Ends as the job says."}
      </p>
      <dl>
        <Figure name="Cut the tube to" value={quantity(rod.tube_length, "length")} />
        <Figure
          name="Tube"
          value={`${quantity(rod.outside, "length")} × ${quantity(rod.wall, "length")} ${rod.grade}`}
        />
        <Figure name="Between joint centres" value={quantity(rod.centre_to_centre, "length")} />
        <Figure name="A turn of the tube" value={quantity(rod.change_per_turn, "length", 2)} />
        <Figure
          name="Still longer, shorter"
          value={`${quantity(rod.longer, "length")}, ${quantity(rod.shorter, "length")}`}
        />
        {rod.ends.map((end) => (
          <Figure
            key={`${end.hand} ${end.engagement}`}
            name={`End, ${end.hand}-hand`}
            value={`M${number(end.thread, "ratio", 0)} × ${number(end.pitch, "ratio", 2)}, ${quantity(end.engagement, "length")} in`}
          />
        ))}
        <Figure
          name="Greatest push, pull"
          value={`${quantity(rod.push, "force")}, ${quantity(rod.pull, "force")}`}
        />
        <Figure
          name="Buckles at"
          value={
            rod.buckling_factor === null
              ? "never pushed"
              : `${number(rod.buckling_factor, "ratio", 1)} times its push`
          }
        />
        <Figure name="Mass of each" value={quantity(rod.mass, "mass")} />
      </dl>
      <Said said={rod.said} />
    </div>
  );
}

function PlateFigures({ plate }: { plate: Plate }) {
  const { quantity } = useUnits();
  return (
    <div data-testid="part">
      <h2 className="pt-2 text-xl">
        {plate.count} × {spoken(plate.name)}, {plate.station}
      </h2>
      <p className="text-sm text-soft">
        {plate.proposed
          ? "Proposed: say thickness and bores on the Rocker sheet."
          : "Sizes as the Rocker sheet says."}
      </p>
      <dl>
        <Figure name="Plate" value={quantity(plate.thickness, "length")} />
        {plate.gap > 0 && <Figure name="Gap of the pair" value={quantity(plate.gap, "length")} />}
        {plate.holes.map((hole) => (
          <Figure
            key={hole.what}
            name={`Hole for the ${hole.what}`}
            value={`Ø ${quantity(hole.diameter, "length")} at ${quantity(hole.x, "length")}, ${quantity(hole.y, "length")}`}
          />
        ))}
        <Figure name="Mass of each" value={quantity(plate.mass, "mass")} />
      </dl>
      <Said said={plate.said} />
    </div>
  );
}
