/** The changes that clear findings, asked for one at a time when the bench is quiet. */

import { useEffect, useState } from "react";
import { answer, client, type Finding, type Project, type Shape } from "../api/client";

export type Remedy = NonNullable<Shape["RemedyOut"]>;

const QUIET_MS = 700;

export const keyOf = (finding: Pick<Finding, "code" | "subject">) => `${finding.code} ${finding.subject}`;

/** Remedies by finding for the document as it stands; empty again as soon as it changes. */
export function useRemedies(
  document: Project,
  station: number,
  findings: Finding[] | undefined,
): Record<string, Remedy> {
  const [found, setFound] = useState<{ of: Project; station: number; remedies: Record<string, Remedy> }>({
    of: document,
    station,
    remedies: {},
  });
  useEffect(() => {
    const open = (findings ?? []).filter((finding) => finding.mark !== "good");
    if (!open.length) return;
    let here = true;
    const start = setTimeout(async () => {
      for (const finding of open) {
        if (!here) return;
        const remedy = await ask(document, station, finding);
        if (here && remedy)
          setFound((before) => ({
            of: document,
            station,
            remedies: {
              ...(before.of === document && before.station === station ? before.remedies : {}),
              [keyOf(finding)]: remedy,
            },
          }));
      }
    }, QUIET_MS);
    return () => {
      here = false;
      clearTimeout(start);
    };
  }, [document, station, findings]);
  return found.of === document && found.station === station ? found.remedies : {};
}

async function ask(document: Project, station: number, finding: Finding): Promise<Remedy | null> {
  try {
    const body = {
      document: document as unknown as Record<string, unknown>,
      station,
      code: finding.code,
      subject: finding.subject,
    };
    return (await answer(client.POST("/api/remedy", { body }))) ?? null;
  } catch {
    // Without a remedy the finding still says what to do; the sheet itself tells when the server is away.
    return null;
  }
}
