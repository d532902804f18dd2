"""A file put where it belongs whole or not at all: beside it first, on the disk, then in its place."""

import errno
import os
from pathlib import Path

NO_ROOM = (errno.ENOSPC, errno.EDQUOT)
NO_WRITING = (errno.EROFS, errno.EACCES, errno.EPERM)
PART = ".part"


def put_whole(file: Path, data: bytes) -> None:
    """Put a file there, for its owner alone; raise OSError, and leave nothing of it, where there is no room."""
    beside = file.with_name(f"{file.name}.{os.getpid()}{PART}")
    try:
        with open(beside, "wb", opener=lambda path, flags: os.open(path, flags, 0o600)) as opened:
            opened.write(data)
            opened.flush()
            os.fsync(opened.fileno())
        beside.replace(file)
        _on_disk(file.parent)
    except OSError:
        beside.unlink(missing_ok=True)
        raise


def _on_disk(folder: Path) -> None:
    """Have a folder's list of names on the disk too: a file whose name is lost is lost."""
    held = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(held)
    finally:
        os.close(held)
