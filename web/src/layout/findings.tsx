import type { Finding } from "../api/client";
import { useSay } from "../quantity/sentence";
import { Mark } from "./mark";

interface Props {
  title: string;
  findings: Finding[];
  onTravel: (travel: number) => void;
}

/** What the tool thinks: worst first, with the reason, the way out, and a press that jacks it there. */
export function Findings({ title, findings, onTravel }: Props) {
  const say = useSay();
  if (!findings.length) return null;
  return (
    <section aria-label={title}>
      <h2 className="pb-1 pt-4 text-lg">{title}</h2>
      <ul>
        {findings.map((finding) => {
          const what = say(finding.what);
          return (
            <li
              key={`${finding.code} ${finding.subject} ${finding.what.words}`}
              className="flex gap-3 border-b border-rule py-2.5"
            >
              <Mark mark={finding.mark} />
              <div className="min-w-0">
                <p className="font-semibold leading-snug">{what}</p>
                {finding.mark !== "good" && (
                  <>
                    {finding.why && <p className="mt-0.5 text-sm leading-snug text-soft">{finding.why}</p>}
                    {finding.remedy && <p className="mt-1 text-sm leading-snug">{say(finding.remedy)}</p>}
                    {finding.travel !== null && (
                      <button
                        type="button"
                        className="press mt-2 px-3 text-sm"
                        onClick={() => onTravel(finding.travel ?? 0)}
                        aria-label={`Jack to it: ${what}`}
                      >
                        Jack to it
                      </button>
                    )}
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
