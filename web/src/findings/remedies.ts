/** The changes that clear findings, asked for one at a time when the bench is quiet. */

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, client, type Finding, type Project, type Shape } from "../api/client";
import { about } from "../bench/asked";

export type Remedy = NonNullable<Shape["RemedyOut"]>;
export type Remedies = Record<string, Remedy>;

const QUIET_MS = 700;
const NONE: Remedies = {};
const KEPT_MS = 30_000;

export const keyOf = (finding: Pick<Finding, "code" | "subjects">) =>
  JSON.stringify([finding.code, finding.subjects]);

/** Remedies by finding for the document as it stands, for those findings that a sheet shows. */
export function useRemedies(
  document: Project,
  station: number,
  findings: Finding[] | undefined,
  shown: (finding: Finding) => boolean = () => true,
): Remedies {
  const queries = useQueryClient();
  const open = (findings ?? []).filter((finding) => finding.mark !== "good" && shown(finding));
  // The same findings of the same document are the same question, however often the sheet is drawn.
  const queryKey = ["remedies", station, open.map(keyOf), document];
  const asked = useQuery({
    queryKey,
    queryFn: async ({ signal }) => {
      let found: Remedies = {};
      await quiet(signal);
      for (const finding of open) {
        if (signal.aborted) break;
        // Asked once of a document, also where its list of findings comes in two parts: what is under way is waited for.
        const remedy = await queries
          .fetchQuery({
            queryKey: ["remedy", station, keyOf(finding), document],
            queryFn: (its) => ask(document, station, finding, its.signal),
            retry: false,
            staleTime: Number.POSITIVE_INFINITY,
            gcTime: KEPT_MS,
          })
          // Without a remedy the finding still says what to do; the sheet itself tells when the server is away.
          .catch(() => null);
        if (!remedy || signal.aborted) continue;
        found = { ...found, [keyOf(finding)]: remedy };
        queries.setQueryData(queryKey, found);
      }
      return found;
    },
    enabled: open.length > 0,
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });
  return asked.data ?? NONE;
}

function quiet(signal: AbortSignal): Promise<void> {
  return new Promise((resolve) => {
    const timer = setTimeout(resolve, QUIET_MS);
    signal.addEventListener("abort", () => {
      clearTimeout(timer);
      resolve();
    });
  });
}

async function ask(
  document: Project,
  station: number,
  finding: Finding,
  signal: AbortSignal,
): Promise<Remedy | null> {
  const body = { ...about(document, station), code: finding.code, subjects: finding.subjects };
  return (await answer(client.POST("/api/remedy", { body, signal }))) ?? null;
}
