"""Long work followed and stopped by who waits for it, whichever process does it.

The browser names its question by a key of its own, in a header. Who does the work writes how far it is into a small
file of that name, and looks there for a mark to stop; whichever process is asked meanwhile reads the one and makes the
other. Nothing is kept when the answer is out.
"""

import json
import os
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from contextvars import ContextVar
from pathlib import Path
from typing import Any
from uuid import UUID

from django.conf import settings
from django.http import HttpRequest

from server.answers import ActionRefused

HEADER = "X-Working"
FORGOTTEN_S = 3600.0
MOST_MARKS = 100
_key: ContextVar[str] = ContextVar("followed", default="")


class Stopped(ActionRefused):
    """Long work that was stopped by who waited for it."""

    def __init__(self) -> None:
        super().__init__(409, "stopped", "Stopped, as you asked. Nothing was changed.")


def key_of(request: HttpRequest) -> str:
    """Return what a question is followed by; nothing where nobody follows it."""
    try:
        return str(UUID(request.headers.get(HEADER, "")))
    except ValueError:
        return ""


@contextmanager
def followed(key: str) -> Iterator[None]:
    """Do work that is followed by a key; nothing of it is left afterwards."""
    before = _key.set(key)
    try:
        tell(0.0, "")
        yield
    finally:
        _key.reset(before)
        forget(key)


def tell(share: float, what: str) -> None:
    """Say how far the work is that is done here; raise Stopped where that is wanted."""
    key = _key.get()
    if not key:
        return
    if _files(key)[1].exists():
        raise Stopped
    told(key, share, what)


def told(key: str, share: float, what: str) -> None:
    """Say how far work of a key is, or that it is still to begin: it can be stopped from then on."""
    said, _ = _files(key)
    aside = said.with_suffix(f".{os.getpid()}")
    try:
        aside.parent.mkdir(parents=True, exist_ok=True)
        aside.write_text(json.dumps({"share": share, "what": what}), "utf-8")
        aside.replace(said)
    except OSError:
        _remove(aside)  # a full disk keeps nobody's answer back


def heard(key: str) -> dict[str, Any] | None:
    """Return the share that is done and what comes next; None where nothing is told."""
    try:
        found: dict[str, Any] = json.loads(_files(key)[0].read_text("utf-8"))
    except (OSError, ValueError):
        return None
    return found


def stop(key: str) -> None:
    """Ask for an end of work, begun or still to begin.

    A mark for work that never comes is let go of after a while, and only so many are kept.
    """
    if not key:
        return
    said, mark = _files(key)
    with suppress(OSError):  # a full disk stops nothing: the work ends by itself
        _folder().mkdir(parents=True, exist_ok=True)
        if not said.exists():
            _few_marks()
        mark.touch()


def _few_marks() -> None:
    """Let go of the oldest marks to stop, where there are many."""
    marks = sorted((file.stat().st_mtime, file) for file in _folder().glob("*.stop"))
    for _, file in marks[: max(len(marks) - MOST_MARKS + 1, 0)]:
        _remove(file)


def forget(key: str) -> None:
    """Let go of what was told; and of what somebody left who was lost long ago."""
    if not key:
        return
    for file in _files(key):
        _remove(file)
    long_ago = time.time() - FORGOTTEN_S
    for file in _folder().glob("*"):
        with suppress(OSError):
            if file.stat().st_mtime < long_ago:
                file.unlink()


def _remove(file: Path) -> None:
    with suppress(OSError):
        file.unlink()


def _folder() -> Path:
    return Path(settings.DATA) / "working"


def _files(key: str) -> tuple[Path, Path]:
    return _folder() / f"{key}.json", _folder() / f"{key}.stop"
