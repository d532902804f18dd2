"""Two documents beside one another: what differs, over HTTP."""

from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema

from engine.document.changes import changes_between
from engine.document.read import check_project
from server.answers import Document

router = Router(tags=["solving"])


class Change(Schema):
    """One difference between two documents; numbers with what they measure."""

    station: str
    what: str
    subject: str
    before: Any
    after: Any
    measures: str | None


class TwoDocuments(Schema):
    """Two documents to compare; either may be unsaved."""

    before: Document
    after: Document


@router.post("/changes", response=list[Change], operation_id="listChanges")
def changes(request: HttpRequest, body: TwoDocuments) -> list[dict[str, Any]]:
    """Return what differs between two documents."""
    check_project(body.before)
    check_project(body.after)
    return changes_between(body.before, body.after)
