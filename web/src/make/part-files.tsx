import { useState } from "react";
import { client, type Project } from "../api/client";
import { saveFile } from "../api/save-file";
import { asFile, type SurveyInHand } from "../survey/store";
import type { Part } from "./choosing";

/** A part's drawings of the document in hand, saved or not. */
export function Files({
  part,
  document,
  hand,
  paper,
}: {
  part: Part;
  document: Project;
  hand: SurveyInHand;
  paper: string;
}) {
  const [said, setSaid] = useState("");
  const fetchFile = async (form: "dxf" | "dxf-inch" | "svg" | "pdf", other_hand = false) => {
    setSaid("");
    const body = {
      document,
      survey: asFile(hand.survey),
      station: part.station,
      name: part.name,
      form,
      other_hand,
      paper,
    };
    try {
      await saveFile(client.POST("/api/make/file", { body, parseAs: "blob" }), `part.${form}`);
    } catch (error) {
      setSaid((error as Error).message);
    }
  };
  const wraps = part.tube?.wraps.length ?? 0;
  return (
    <>
      {(part.flat || wraps > 0) && (
        <button type="button" className="press press-main px-3 text-sm" onClick={() => void fetchFile("pdf")}>
          Print 1:1
        </button>
      )}
      {part.flat && (
        <>
          <button type="button" className="press px-3 text-sm" onClick={() => void fetchFile("dxf")}>
            DXF
          </button>
          <button type="button" className="press px-3 text-sm" onClick={() => void fetchFile("dxf-inch")}>
            DXF, inches
          </button>
          <button type="button" className="press px-3 text-sm" onClick={() => void fetchFile("svg")}>
            SVG
          </button>
          {part.hands === 2 && (
            <button type="button" className="press px-3 text-sm" onClick={() => void fetchFile("dxf", true)}>
              DXF, other hand
            </button>
          )}
        </>
      )}
      {said && (
        <p role="alert" className="w-full text-sm">
          {said}
        </p>
      )}
    </>
  );
}
