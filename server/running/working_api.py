"""Long work over HTTP: how far it is, and an end of it. The key is the asker's own, which nobody else knows."""

from uuid import UUID

from django.http import HttpRequest
from ninja import Router, Schema

from server.running.following import heard, stop

router = Router(tags=["working"])


class WorkingOut(Schema):
    """The share that is done, 0 to 1, and what comes next; `share` null where nothing is told of this work (any more)."""

    share: float | None
    what: str


@router.get("/{working_key}", response=WorkingOut, operation_id="readWorking")
def read(request: HttpRequest, working_key: UUID) -> dict[str, object]:
    """Return how far long work is."""
    return heard(str(working_key)) or {"share": None, "what": ""}


@router.delete("/{working_key}", response={204: None}, operation_id="stopWorking")
def end(request: HttpRequest, working_key: UUID) -> tuple[int, None]:
    """Ask for an end of long work; what waits for it is told so."""
    stop(str(working_key))
    return 204, None
