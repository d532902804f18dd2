import { useRouteError } from "react-router";
import { Trouble } from "./states";

/** The application itself failed: say so plainly, and that the work is safe. */
export function Broken() {
  const error = useRouteError();
  const detail = error instanceof Error ? error.message : "";
  return (
    <Trouble
      title="This page failed"
      detail={`Loading it again brings back what was kept of your unsaved changes. If it fails again, open it without them: they stay, and are offered there.\nWhat failed: ${detail}`}
    >
      <button type="button" className="press press-main" onClick={() => location.reload()}>
        Load it again
      </button>
      <a href={`${location.pathname}?plain=1`} className="press">
        Open it without the unsaved changes
      </a>
      <a href="/" className="press">
        All jobs
      </a>
    </Trouble>
  );
}
