import { useRouteError } from "react-router";
import { NotFetched, useBeginningAnew } from "./fetched";
import { Trouble } from "./states";

/** The application itself failed: say so plainly, and that the work is safe. */
export function Broken() {
  const error = useRouteError();
  const lost = error instanceof NotFetched;
  const reached = useBeginningAnew(lost);
  const detail = error instanceof Error ? error.message : "";
  return (
    <Trouble
      title={lost ? "A part of this page did not come over the line" : "This page failed"}
      detail={
        lost
          ? `${reached ? "The page is loaded again" : "The server does not answer. The page loads again as soon as it does"}, with what was kept of your unsaved changes.\nWhat did not come: ${detail}`
          : `Loading it again brings back what was kept of your unsaved changes. If it fails again, open it without them: they stay, and are offered there.\nWhat failed: ${detail}`
      }
    >
      <button type="button" className="press press-main" onClick={() => location.reload()}>
        Load it again
      </button>
      {!lost && (
        <a href={`${location.pathname}?plain=1`} className="press">
          Open it without the unsaved changes
        </a>
      )}
      <a href="/" className="press">
        All jobs
      </a>
    </Trouble>
  );
}
