"""Take a table of parts onto a user's shelf: parts of the same kind and name are renewed, others added."""

from typing import Any

from django.db import transaction

from server.answers import ActionRefused
from server.parts.models import Part
from server.parts.shelf_csv import read_shelf


def take_shelf(user: Any, data: bytes) -> int:
    """Return how many parts were taken in; raise with every fault, and take nothing, if there is one."""
    reading = read_shelf(data)
    if reading.faults:
        raise ActionRefused(422, "shelf_refused", "\n".join(reading.faults), faults=reading.faults)
    if not reading.rows:
        raise ActionRefused(
            422, "shelf_empty", "The table has headings and no parts. Add a line for each part."
        )
    with transaction.atomic():
        for row in reading.rows:
            Part.objects.update_or_create(
                owner=user,
                kind=row.kind,
                name=row.name,
                defaults={"values": row.values, "stock": row.stock, "price": row.price, "source": row.source},
            )
    return len(reading.rows)
