import { Check } from "lucide-react";
import type { Finding, Station } from "../api/client";
import { Mark } from "../marks/mark";
import { useSay } from "../quantity/sentence";
import { keyOf, type Remedy } from "./remedies";

interface Props {
  title: string;
  findings: Finding[];
  onTravel: (travel: number) => void;
  /** Changes that were tried and clear a finding, by finding. */
  remedies?: Record<string, Remedy>;
  onApply?: (station: Station) => void;
}

/** What the tool thinks: worst first, with the reason, the way out, and a press that jacks it there. */
export function Findings({ title, findings, onTravel, remedies = {}, onApply }: Props) {
  const say = useSay();
  if (!findings.length) return null;
  return (
    <section aria-label={title}>
      <h2 className="pb-1 pt-4 text-lg">{title}</h2>
      <ul>
        {findings.map((finding) => {
          const what = say(finding.what);
          const remedy = remedies[keyOf(finding)];
          return (
            <li
              key={`${keyOf(finding)} ${finding.what.words}`}
              className="flex gap-3 border-b border-rule py-2.5"
              data-testid={`finding-${finding.code}`}
            >
              <Mark mark={finding.mark} />
              <div className="min-w-0">
                <p className="font-semibold leading-snug">{what}</p>
                {finding.mark !== "good" && (
                  <>
                    {finding.why && <p className="mt-0.5 text-sm leading-snug text-soft">{finding.why}</p>}
                    {finding.remedy && !remedy && (
                      <p className="mt-1 text-sm leading-snug">{say(finding.remedy)}</p>
                    )}
                    <div className="mt-2 flex flex-wrap gap-2">
                      {remedy && onApply && (
                        <button
                          type="button"
                          className="press press-main h-auto whitespace-normal px-3 py-2 text-left text-sm leading-snug"
                          onClick={() => onApply(remedy.station)}
                          aria-label={`Apply: ${say(remedy.what)}`}
                        >
                          <Check size={18} aria-hidden className="shrink-0" />
                          {say(remedy.what).replace(/\.$/, "")}
                        </button>
                      )}
                      {finding.travel !== null && (
                        <button
                          type="button"
                          className="press px-3 text-sm"
                          onClick={() => onTravel(finding.travel ?? 0)}
                          aria-label={`Jack to it: ${what}`}
                        >
                          Jack to it
                        </button>
                      )}
                    </div>
                  </>
                )}
              </div>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
