"""Papers and folders that take long, kept while nothing changed that they were made of.

What one is made of is the function, its plain values, and the program itself: the same again is read from the disk.
"""

import hashlib
import os
import pickle
import shutil
from collections.abc import Callable
from contextlib import suppress
from functools import cache
from pathlib import Path
from typing import Any

from django.conf import settings

from server.running.whole import PART, put_whole
from server.running.workers import away

MOST_BYTES = 200_000_000
MOST_FILES = 60


def cached_away(work: Callable[..., bytes], *values: Any, key: str = "", of: Any = None) -> bytes:
    """Return what a module's function makes of plain values, worked out away where it is not kept.

    key : what it is followed and stopped by; `of` : what else it is made of, that the function looks up for itself
    """
    file = (
        _folder()
        / hashlib.sha256(
            pickle.dumps((work.__module__, work.__qualname__, values, of, _program()))
        ).hexdigest()
    )
    try:
        data = file.read_bytes()
        os.utime(file)
        return data
    except OSError:
        pass
    data = away(work, *values, key=key)
    with suppress(OSError):  # where there is no room it is made again
        file.parent.mkdir(mode=0o700, exist_ok=True)
        put_whole(file, data)
        _let_go()
    return data


@cache
def _program() -> str:
    """Return what tells one state of the program from another: when its sources were last changed."""
    found = hashlib.sha256()
    for folder in ("engine", "server"):
        for file in sorted((settings.ROOT / folder).rglob("*.py")):
            found.update(f"{file} {file.stat().st_mtime_ns}".encode())
    return found.hexdigest()


def forget_all() -> None:
    """Let go of all that is kept."""
    shutil.rmtree(_folder(), ignore_errors=True)


def _let_go() -> None:
    """Let go of what was asked for longest ago, where there is too much."""
    files = sorted(
        (file for file in _folder().iterdir() if not file.name.endswith(PART)),
        key=lambda file: file.stat().st_mtime,
        reverse=True,
    )
    total = 0
    for number, file in enumerate(files):
        total += file.stat().st_size
        if number >= MOST_FILES or total > MOST_BYTES:
            file.unlink(missing_ok=True)


def _folder() -> Path:
    return Path(settings.DATA) / "made"
