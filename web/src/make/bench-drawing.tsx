import { useQuery } from "@tanstack/react-query";
import { answer, client, type Project, type Shape } from "../api/client";
import { useUnits } from "../quantity/units";
import { asFile, type SurveyInHand } from "../survey/store";

type Drawing = Shape["DrawingOut"];

interface Wanted {
  station: string;
  part?: string;
  point?: string;
}

/** A part's dimensioned drawing, or a mount's setting out, of the document in hand: the same that is printed. */
export function useDrawing(document: Project, hand: SurveyInHand, wanted: Wanted | null) {
  const { units } = useUnits();
  const body = {
    document,
    survey: asFile(hand.survey),
    station: wanted?.station ?? "",
    part: wanted?.part ?? "",
    point: wanted?.point ?? "",
    inches: units.length !== "mm",
    fractions: units.length === "in16",
  };
  return useQuery({
    queryKey: ["drawn", body],
    queryFn: ({ signal }) => answer(client.POST("/api/make/drawn", { body, signal })),
    enabled: hand.loaded && wanted !== null,
    placeholderData: (before, query) =>
      (query?.queryKey[1] as typeof body | undefined)?.part === body.part ? before : undefined,
    retry: false,
    gcTime: 0,
  });
}

const WIDTH: Record<string, number> = {
  outline: 0.5,
  ground: 0.6,
  bend: 0.35,
  tape: 0.35,
  frame: 0.3,
  hidden: 0.3,
};
const DASH: Record<string, string> = { hidden: "3 2", centre: "6 1.5 1 1.5", bend: "5 2", tape: "4 1.5" };
const BRIGHT = ["outline", "ground", "frame", "bend"];

interface Props {
  drawing: Drawing;
  label: string;
  /** A place of the part, in its own mm, that is ringed: where it is weakest. */
  ring?: [number, number] | null;
  /** What is done where a dimension that shows a choice is pressed. */
  onField?: (field: string) => void;
}

/** A drawing as it is printed, on marking-out blue; a dimension that is a choice of the part is pressed to be changed. */
export function BenchDrawing({ drawing, label, ring, onField }: Props) {
  const [x = 0, y = 0] = drawing.origin;
  return (
    <svg
      role="group"
      aria-label={label}
      viewBox={`0 0 ${drawing.wide} ${drawing.tall}`}
      className="max-h-[620px] w-full"
      style={{ maxWidth: `${drawing.wide * 6}px` }}
    >
      {drawing.edges.map((path) => (
        <path key={path} d={path} className="fill-none stroke-soapstone" strokeWidth={0.5} />
      ))}
      {drawing.lines.map((line) => (
        <Stroke key={`${line.meaning} ${line.points.join(" ")}`} line={line} />
      ))}
      {ring && (
        <circle
          cx={x + ring[0] * drawing.scale}
          cy={y - ring[1] * drawing.scale}
          r={5}
          className="fill-none stroke-marker"
          strokeWidth={0.8}
        />
      )}
      {drawing.texts.map((text) => (
        <Words key={`${text.words} ${text.x} ${text.y}`} text={text} />
      ))}
      {drawing.dimensions.map((one) => (
        <g key={`${one.kind} ${one.text.words} ${one.text.x} ${one.text.y}`}>
          {one.lines.map((line) => (
            <Stroke key={line.points.join(" ")} line={line} />
          ))}
          {one.field && onField ? (
            <Pressed text={one.text} onPress={() => onField(one.field)} />
          ) : (
            <Words text={one.text} />
          )}
        </g>
      ))}
    </svg>
  );
}

function Stroke({ line }: { line: Drawing["lines"][number] }) {
  return (
    <polyline
      points={line.points.join(" ")}
      className={`fill-none ${BRIGHT.includes(line.meaning) ? "stroke-soapstone" : "stroke-scribe"}`}
      strokeWidth={WIDTH[line.meaning] ?? 0.2}
      strokeDasharray={DASH[line.meaning]}
    />
  );
}

const turned = (text: Drawing["texts"][number]) =>
  text.angle ? `rotate(${-text.angle} ${text.x} ${text.y})` : undefined;

function Words({ text }: { text: Drawing["texts"][number] }) {
  return (
    <text
      x={text.x}
      y={text.y}
      fontSize={text.height * 1.2}
      textAnchor={text.anchor as "start" | "middle" | "end"}
      fontWeight={text.bold ? 700 : 400}
      className="fill-soapstone"
      transform={turned(text)}
    >
      {text.words}
    </text>
  );
}

/** A dimension that is chosen: pressed, its field beside the drawing is in hand. */
function Pressed({ text, onPress }: { text: Drawing["texts"][number]; onPress: () => void }) {
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={`Change ${text.words}`}
      className="cursor-pointer"
      onClick={onPress}
      onKeyDown={(event) => {
        if (event.key !== "Enter" && event.key !== " ") return;
        event.preventDefault();
        onPress();
      }}
    >
      <text
        x={text.x}
        y={text.y}
        fontSize={text.height * 1.2}
        textAnchor={text.anchor as "start" | "middle" | "end"}
        textDecoration="underline"
        className="fill-marker"
        transform={turned(text)}
      >
        {text.words}
      </text>
    </g>
  );
}
