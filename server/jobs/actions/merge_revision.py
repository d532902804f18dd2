"""Put somebody's unsaved changes together with what was saved meanwhile."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Any

from engine.document.changes import changes_between
from engine.document.merging import Path, merged
from engine.document.read import check_project
from engine.errors import EngineError
from server.jobs.models import Revision

Values = dict[str, Any]


@dataclass(frozen=True, kw_only=True)
class Together:
    """Both people's changes, and what they make together.

    mine, theirs : what each changed, as changes between documents
    document : with all of it; None where that is no job that holds together, and then why
    clashes  : what both changed, by its path, as changes from mine to theirs
    """

    mine: list[Values]
    theirs: list[Values]
    document: Values | None
    clashes: list[Values]
    why: str


def together(
    base: Revision, mine: Values, newest: Revision, from_theirs: Collection[Sequence[str]] = ()
) -> Together:
    """Return what was changed since a revision by two people, put together.

    from_theirs : paths of clashes of which theirs is taken; mine is taken of the others
    """
    start, theirs = base.document, newest.document
    chosen: list[Path] = [tuple(path) for path in from_theirs]
    whole = merged(start, mine, theirs, chosen)
    plain = merged(start, mine, theirs)
    clashes = [
        {
            "path": list(clash.path),
            "changes": changes_between(plain.document, merged(start, mine, theirs, [clash.path]).document),
        }
        for clash in plain.clashes
    ]
    why = ""
    try:
        check_project(whole.document)
    except EngineError as error:
        why = str(error)
    return Together(
        mine=changes_between(start, mine),
        theirs=changes_between(start, theirs),
        document=None if why else whole.document,
        clashes=clashes,
        why=why,
    )
