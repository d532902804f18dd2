import { useState } from "react";
import { client, type Project, Refused } from "../api/client";
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
      document: document as unknown as Record<string, unknown>,
      survey: asFile(hand.survey),
      station: part.station,
      name: part.name,
      form,
      other_hand,
      paper,
    };
    const got = await client.POST("/api/make/file", { body, parseAs: "blob" });
    if (!got.response.ok) {
      const refused = got.error as { detail?: string } | undefined;
      setSaid(
        refused instanceof Refused ? refused.message : (refused?.detail ?? "The file could not be made."),
      );
      return;
    }
    const named =
      /filename="([^"]+)"/.exec(got.response.headers.get("Content-Disposition") ?? "")?.[1] ?? `part.${form}`;
    const link = window.document.createElement("a");
    link.href = URL.createObjectURL(got.data as unknown as Blob);
    link.download = named;
    link.click();
    window.setTimeout(() => URL.revokeObjectURL(link.href), 1000);
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
