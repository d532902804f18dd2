"""Who is at the other end of the line: through a proxy that is known, or straight; what others say of themselves is dropped."""

from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponseBase

FORWARDED = "jugatrix.forwarded"
SAID = (
    "HTTP_X_FORWARDED_FOR",
    "HTTP_X_FORWARDED_PROTO",
    "HTTP_X_FORWARDED_HOST",
    "HTTP_FORWARDED",
    "HTTP_X_REAL_IP",
)


class KnownProxy:
    """Take the asker's address from a known proxy; forget what anybody else says was forwarded."""

    def __init__(self, then: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.then = then

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        meta = request.META
        meta[FORWARDED] = any(key in meta for key in SAID)
        if meta.get("REMOTE_ADDR", "") in settings.PLACE.proxy:
            # The last is what the proxy itself saw; those before it anybody may have written.
            seen = meta.get("HTTP_X_FORWARDED_FOR", "").rpartition(",")[2].strip()
            if seen:
                meta["REMOTE_ADDR"] = seen
        else:
            for key in SAID:
                meta.pop(key, None)
        return self.then(request)


def client_address(request: HttpRequest) -> str:
    """Return the asker's address."""
    return str(request.META.get("REMOTE_ADDR", ""))
