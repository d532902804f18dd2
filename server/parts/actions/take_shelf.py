"""Take a table of parts onto a user's shelf: parts of the same kind and name are renewed, others added."""

from typing import Any

from django.db import transaction

from server.answers import ActionRefused
from server.parts.models import Part
from server.parts.shelf_csv import MOST_ROWS, read_shelf


def take_shelf(user: Any, data: bytes) -> int:
    """Return how many parts were taken in; raise with every fault, and take nothing, if there is one."""
    reading = read_shelf(data)
    if reading.faults:
        raise ActionRefused(422, "shelf_refused", "\n".join(reading.faults), faults=reading.faults)
    if not reading.rows:
        raise ActionRefused(
            422, "shelf_empty", "The table has headings and no parts. Add a line for each part."
        )
    parts = [
        Part(
            owner=user,
            kind=row.kind,
            name=row.name,
            values=row.values,
            stock=row.stock,
            price=row.price,
            source=row.source,
        )
        for row in reading.rows
    ]
    with transaction.atomic():
        there = Part.objects.filter(owner=user).count()
        known = set(Part.objects.filter(owner=user).values_list("kind", "name"))
        more = there + sum((part.kind, part.name) not in known for part in parts)
        if more >= MOST_ROWS:
            raise ActionRefused(
                422,
                "shelf_full",
                f"The shelf would have {more} parts; it holds {MOST_ROWS - 1}. Take some out first.",
            )
        # In a few statements, so that somebody else's save does not wait for thousands of rows.
        Part.objects.bulk_create(
            parts,
            batch_size=400,
            update_conflicts=True,
            unique_fields=["owner", "kind", "name"],
            update_fields=["values", "stock", "price", "source"],
        )
    return len(parts)
