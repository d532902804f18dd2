"""The built front end's files; the page itself is served with its security headers and a fresh nonce, never as a file."""

from typing import Any

from whitenoise.middleware import WhiteNoiseMiddleware

NOT_FILES = ("/index.html", "/.stamp")


class BuiltFiles(WhiteNoiseMiddleware):
    """WhiteNoise, less what is no file to the outside."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for url in NOT_FILES:
            self.files.pop(url, None)
