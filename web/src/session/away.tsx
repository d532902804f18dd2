import { CloudOff } from "lucide-react";
import { useAway } from "../api/line";

/** The line is away: what goes on all the same, and what waits. */
export function Away() {
  if (!useAway()) return null;
  return (
    <p
      role="status"
      className="no-print flex items-center gap-3 border-b border-rule bg-marker/25 px-4 py-2 leading-snug"
    >
      <CloudOff size={20} aria-hidden className="shrink-0" />
      <span>
        <strong>No line to the shop’s computer.</strong> What was solved can be jacked and read; readings,
        cycle rows and weigh-ins are kept here and sent in order later. Working out changes, saving revisions,
        papers and pictures wait.
      </span>
    </p>
  );
}
