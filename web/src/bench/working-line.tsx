import { isStopped, stopWorking, useWorking } from "../api/working";

interface Props {
  /** What it is worked out under. */
  name: string;
  /** Why it was not answered, and a way to ask once more. */
  error?: Error | null;
  again?: () => void;
}

/** How far long work is, with a way to stop it; and once it is stopped, a way to begin anew. */
export function WorkingLine({ name, error, again }: Props) {
  const now = useWorking(name);
  if (!now?.what)
    return isStopped(error) && again ? (
      <p className="flex flex-wrap items-center gap-3 py-1">
        Stopped, as you asked.
        <button type="button" className="press px-3" onClick={again}>
          Work it out
        </button>
      </p>
    ) : null;
  const share = Math.round(100 * (now.share ?? 0));
  return (
    <div className="flex items-center gap-3 py-1">
      <div className="min-w-0 flex-1">
        <p role="status" className="leading-tight">
          {now.stopping ? "Stopping …" : `Working on ${now.what}: ${share} %`}
        </p>
        <div className="mt-1 h-2 bg-rule" aria-hidden>
          <div className="h-2 bg-press dark:bg-marker" style={{ width: `${share}%` }} />
        </div>
      </div>
      <button type="button" className="press px-3" disabled={now.stopping} onClick={() => stopWorking(name)}>
        Stop
      </button>
    </div>
  );
}

/** The same over a drawing, which stays where it is. */
export function WorkingOverDrawing({ lines }: { lines: Props[] }) {
  return (
    <div className="sticky top-0 z-10 h-0 print:hidden">
      <div className="ml-auto w-96 max-w-full bg-card px-3 text-ink shadow-lg">
        {lines.map((line) => (
          <WorkingLine key={line.name} {...line} />
        ))}
      </div>
    </div>
  );
}
