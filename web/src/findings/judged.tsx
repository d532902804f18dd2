import type { ReactNode } from "react";
import type { Finding, Station } from "../api/client";
import type { Change } from "../bench/edits";
import { Findings } from "./findings";
import type { Remedy } from "./remedies";

interface Props {
  findings: Finding[];
  remedies: Record<string, Remedy>;
  change: Change;
  /** Where the sheet jacks to; `onLook` where a finding to look at brings its drawing into sight as well. */
  onTravel: (travel: number) => void;
  onLook?: (travel: number) => void;
  /** What stands between what wants a look and what is well. */
  children?: ReactNode;
}

/** A sheet's findings: those to look at with what clears them, then those that are well. */
export function Judged({ findings, remedies, change, onTravel, onLook = onTravel, children }: Props) {
  return (
    <>
      <Findings
        title="Look at these"
        findings={findings.filter((finding) => finding.mark !== "good")}
        onTravel={onLook}
        remedies={remedies}
        onApply={(station: Station) => change(() => station)}
      />
      {children}
      <Findings
        title="Checks passed"
        findings={findings.filter((finding) => finding.mark === "good")}
        onTravel={onTravel}
      />
    </>
  );
}
