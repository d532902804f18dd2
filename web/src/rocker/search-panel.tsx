import type { Project, Station } from "../api/client";
import { Fold } from "../bench/fold";
import type { Look, Rocker } from "./plane";
import type { Searching, Solution, Targets } from "./search";
import { ShortList, Sketches } from "./short-list";
import { type Kind, TargetsPanel } from "./targets-panel";

interface SearchProps {
  document: Project;
  station: Station;
  rocker: Rocker;
  look: Look;
  coil: boolean;
  targets: Targets;
  usual: Record<Kind, number>;
  onTargets: (targets: Targets) => void;
  onKind: (targets: Targets) => void;
  searching: Searching;
  tried: Solution | null;
  onTry: (solution: Solution | null) => void;
  onTake: (solution: Solution, rod: string) => void;
}

/** What is asked of the rocker, the search as it runs, and the short list; what was asked makes room for it. */
export function SearchPanel({
  document,
  station,
  rocker,
  look,
  coil,
  targets,
  usual,
  onTargets,
  onKind,
  searching,
  tried,
  onTry,
  onTake,
}: SearchProps) {
  const { search, run, stop, trouble } = searching;
  const stale = search.of !== null && (search.of.document !== document || search.of.targets !== targets);
  const asked = (
    <TargetsPanel
      station={station}
      shared={rocker.shared}
      coil={coil}
      targets={targets}
      usual={usual}
      onTargets={onTargets}
      onKind={onKind}
    />
  );
  return (
    <>
      {search.short ? (
        <Fold title="What is asked of it" hint="ratio, room, stroke, angles">
          {asked}
        </Fold>
      ) : (
        asked
      )}
      <div className="flex items-center gap-2 pt-3">
        {search.running ? (
          <button type="button" className="press" onClick={stop}>
            Stop, keep the best
          </button>
        ) : (
          <button type="button" className="press press-main" onClick={() => void run(targets)}>
            Search
          </button>
        )}
        <p role="status" className="text-sm leading-tight" data-testid="search-status">
          {search.tried > 0 &&
            `${search.tried.toLocaleString("en-GB")} rockers tried, ${search.fit.toLocaleString("en-GB")} fit the room and take the whole travel.`}
        </p>
      </div>
      {search.running && (
        <div className="mt-2 h-2 bg-rule" aria-hidden>
          <div
            className="h-2 bg-press dark:bg-marker"
            style={{ width: `${(100 * search.part) / search.parts}%` }}
          />
        </div>
      )}
      {trouble && <p className="mt-2 border-l-4 border-fault pl-2 text-sm">{trouble}</p>}
      {stale && search.short && (
        <p className="mt-2 text-sm text-soft">
          Found for the drawing and the targets as they were. Search again for those of now.
        </p>
      )}
      {!search.short && search.glance && (
        <Sketches sketches={search.glance.sketches} rocker={rocker} look={look} />
      )}
      {search.short && (
        <ShortList
          short={search.short}
          rocker={rocker}
          look={look}
          tried={tried}
          onTry={onTry}
          onTake={(solution) => onTake(solution, rocker.rod)}
        />
      )}
    </>
  );
}
