"""The machine over HTTP, for an owner: how much room is left, when it was last backed up, and a backup now."""

from datetime import datetime
from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema

from server.accounts.may import must_be_owner
from server.answers import ActionRefused
from server.keeping.backup import BadBackup, all_backups, backups_folder, make_backup, rotate
from server.running.disk import free_mb, warnings

router = Router(tags=["machine"])


class MachineOut(Schema):
    """Room left, MB; the backups: where, how many, the newest; what should be known now."""

    free_mb: float | None
    folder: str
    backups: int
    last_backup: datetime | None
    warnings: list[str]


def _machine() -> dict[str, Any]:
    every = all_backups()
    return {
        "free_mb": free_mb(), "folder": str(backups_folder()), "backups": len(every),
        "last_backup": every[0].made if every else None, "warnings": warnings(),
    }  # fmt: skip


@router.get("", response=MachineOut, operation_id="readMachine")
def read(request: HttpRequest) -> dict[str, Any]:
    """Return how the machine is."""
    must_be_owner(request.user)
    return _machine()


@router.post("/backup", response=MachineOut, operation_id="backUpNow")
def back_up(request: HttpRequest) -> dict[str, Any]:
    """Back everything up now, and look at what was written."""
    must_be_owner(request.user)
    try:
        make_backup()
    except BadBackup as error:
        raise ActionRefused(503, "no_backup", str(error)) from error
    rotate()
    return _machine()
