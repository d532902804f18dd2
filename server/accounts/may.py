"""What each may do: who only reads changes nothing that others see; who runs the shop's copy may do what that takes."""

from typing import Any

from django.http import HttpRequest
from ninja.security import SessionAuth

from server.accounts.models import OWNER, READER, role_of
from server.answers import ActionRefused

KEPT_CALLS = ("/api/jobs", "/api/parts")  # where something is stored; everything else only works things out
OWN = ("/drafts/",)


class AtTheBench(SessionAuth):
    """Django's own session; a reader's hand stops where something would be stored."""

    def authenticate(self, request: HttpRequest, key: str | None) -> Any:
        """Return the user; raise ActionRefused where he only reads."""
        user = request.user
        if not user.is_authenticated or not user.is_active:
            return None
        stores = request.method not in ("GET", "HEAD", "OPTIONS") and request.path.startswith(KEPT_CALLS)
        if stores and not any(part in request.path for part in OWN) and role_of(user) == READER:
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
