"""What each may do: told of every operation that is no mere reading; who only reads changes nothing that others see.

An operation is the published contract's, by its id; a piece of an address says nothing of it. One that is not told here
stops a reader.
"""

from collections.abc import Callable
from typing import Any

from django.http import HttpRequest
from ninja.security import SessionAuth

from server.accounts.models import OWNER, READER, role_of
from server.answers import ActionRefused

WORKS_OUT = frozenset(
    [
        "solveStation",
        "solveArticulated",
        "findRemedy",
        "putItRight",
        "carryMounts",
        "listSteps",
        "drawPart",
        "listSensitivities",
        "spreadOfTape",
        "solveVehicle",
        "readBrief",
        "listChanges",
        "listSprings",
        "listPressures",
        "listBags",
        "listStandings",
        "listBars",
        "listDampers",
        "listPlaces",
        "listBestPlaces",
        "placeUnit",
        "slideMount",
        "listHolePairs",
        "listRockers",
        "searchRockers",
        "glanceAtRockers",
        "refineRockers",
        "startLayout",
        "listSuited",
        "firstUnit",
        "setSidesApart",
        "mirrorOtherSide",
        "readReadings",
        "adjustSurvey",
        "readNext",
        "listAims",
        "takeSurvey",
        "planSurvey",
        "listMade",
        "tryParts",
        "listStock",
        "exportPart",
        "exportFrame",
        "findCard",
        "comparePart",
        "proveJob",
        "standVehicle",
        "takeAsBuilt",
        "playExercise",
        "usualStudy",
        "putTogether",
    ]
)
"""What is asked with a body and stores nothing."""

OWN = frozenset(
    [
        "signOut",
        "changePassword",
        "signOutEverywhere",
        "keepDraft",
        "dropDraft",
        "stopWorking",
        "holdInstrument",
        "aimInstrument",
    ]
)
"""What is stored is the asker's own: a session, a draft, work that he waits for, what his stand-in is held to."""

BENCH_ONLY = frozenset(
    [
        "importProject",
        "removeJob",
        "takeJobBack",
        "saveRevision",
        "shareJob",
        "unshareJob",
        "handJobOver",
        "takeShelf",
        "removePart",
        "putSurveyItem",
        "dropSurveyItem",
        "keepPhotograph",
        "findPlaces",
        "sayWeek",
        "makeCalendar",
        "takeCalendarBack",
        "straightenPhotograph",
        "dropPhotograph",
        "importRecords",
        "beginStudy",
        "stopStudy",
        "goOnWithStudy",
        "zeroInstrument",
    ]
)
"""What others see: not for those who only read."""

OWNER_ONLY = frozenset(
    [
        "invitePerson",
        "takeInviteBack",
        "changePerson",
        "makeResetLink",
        "backUpNow",
        "sayShop",
        "keepMark",
        "dropMark",
    ]
)
"""What runs the shop's copy."""


class AtTheBench(SessionAuth):
    """Django's own session, and what its user's role lets him do.

    operation_of : an asked call's operation id
    """

    def __init__(self, operation_of: Callable[[HttpRequest], str]) -> None:
        super().__init__()
        self.operation_of = operation_of

    def authenticate(self, request: HttpRequest, key: str | None) -> Any:
        """Return the user; raise ActionRefused where his role does not let him."""
        user = request.user
        if not user.is_authenticated or not user.is_active:
            return None
        if request.method in ("GET", "HEAD", "OPTIONS"):
            return user
        operation = self.operation_of(request)
        if operation in OWNER_ONLY:
            must_be_owner(user)
        elif operation not in WORKS_OUT and operation not in OWN and role_of(user) == READER:
            raise ActionRefused(
                403,
                "reader",
                "You may look at this job and try things out, and not store anything. Ask the shop's owner.",
            )
        return user


def must_be_owner(user: Any) -> None:
    """Raise ActionRefused for anybody but an owner."""
    if role_of(user) != OWNER:
        raise ActionRefused(403, "not_owner", "Only an owner of this shop's copy may do that.")
