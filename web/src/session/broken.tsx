import { useRouteError } from "react-router";
import { Trouble } from "./states";

/** The application itself failed: say so plainly, and that the work is safe. */
export function Broken() {
  const error = useRouteError();
  const detail = error instanceof Error ? error.message : "";
  return (
    <Trouble
      title="This page failed"
      detail={`What you entered is kept in this browser and comes back when the page is loaded again.\nWhat failed: ${detail}`}
    >
      <button type="button" className="press press-main" onClick={() => location.reload()}>
        Load it again
      </button>
      <a href="/" className="press">
        All jobs
      </a>
    </Trouble>
  );
}
