"""How much room is left, and what to say of it before it is too late."""

import shutil
from pathlib import Path

from django.conf import settings

LITTLE_MB = 500  # a week of photographs; below this it is said
MB = 1_000_000


def free_mb(folder: Path | None = None) -> float | None:
    """Return the room left where the data lies, MB; None where nobody can say."""
    try:
        return shutil.disk_usage(folder or settings.DATA).free / MB
    except OSError:
        return None


def warnings() -> list[str]:
    """Return what the person who looks after the machine should know now, in sentences."""
    free = free_mb()
    if free is None:
        return ["The data folder cannot be looked at: is its disk still there?"]
    if free < LITTLE_MB:
        return [
            f"The disk is nearly full: {free:.0f} MB are left. Make room before something cannot be stored."
        ]
    return []
