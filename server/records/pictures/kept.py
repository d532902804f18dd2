"""Where pictures lie, and what lies there that no row tells of: what a pulled plug or a removed job left."""

import time
from pathlib import Path
from uuid import UUID

from django.conf import settings

from server.records.models import Photograph

ON_ITS_WAY_S = 3600.0


def sweep(older_than_s: float = ON_ITS_WAY_S) -> int:
    """Take away files that belong to no picture; return how many. What was put there just now may be on its way."""
    known = set(Photograph.objects.values_list("pk", flat=True))
    folder, gone = Path(settings.DATA) / "photographs", 0
    for file in folder.glob("*") if folder.is_dir() else ():
        try:
            old = time.time() - file.stat().st_mtime > older_than_s
            if old and _number(file) not in known:
                file.unlink()
                gone += 1
        except OSError:
            continue
    return gone


def _number(file: Path) -> UUID | None:
    try:
        return UUID(file.stem) if file.suffix == ".jpg" else None
    except ValueError:
        return None
