"""The built front end's files; the page itself is served with its security headers and a fresh nonce, never as a file."""

from typing import Any

from django.conf import settings
from whitenoise.middleware import WhiteNoiseMiddleware

NOT_FILES = ("/index.html", "/.stamp")


class BuiltFiles(WhiteNoiseMiddleware):
    """WhiteNoise, less what is no file to the outside; a build that took the place of this one is followed at once."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.built = _built()
        self._hide()

    def __call__(self, request: Any) -> Any:
        if not request.path_info.startswith("/api/") and _built() != self.built:
            # The new page names new scripts; whoever has the old one open keeps it in his browser.
            self.built = _built()
            self.files.clear()
            self.add_files(settings.WEB_BUILD)
            self._hide()
        return super().__call__(request)

    def _hide(self) -> None:
        for url in NOT_FILES:
            self.files.pop(url, None)


def _built() -> int:
    """Return when the front end was built: its stamp is the last that a build writes."""
    try:
        return (settings.WEB_BUILD / ".stamp").stat().st_mtime_ns
    except OSError:
        return 0
