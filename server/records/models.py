"""What was read off a vehicle, kept as it is entered: a reading is on the disk before the next one is typed."""

import uuid
from pathlib import Path

from django.conf import settings
from django.db import models

from server.jobs.models import Job


class SurveyItem(models.Model):
    """One reading, mark, tool, guard or picture of a job's survey, or one record of what was found on the floor.

    key   the client's own name for it, so that one sent twice is one; a mark's, tool's or picture's is its name
    body  as the project file has it
    place where it stands among its kind, so that the file keeps the order in which they were read
    gone  taken out: kept, so that it can be brought back
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="survey_items")
    kind = models.CharField(max_length=10)
    key = models.CharField(max_length=220)
    body = models.JSONField()
    place = models.FloatField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    at = models.DateTimeField(auto_now=True)
    gone = models.BooleanField(default=False)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "kind", "key"], name="one_survey_item_per_key")]
        ordering = ["place", "id"]


class Photograph(models.Model):
    """A picture that belongs to a job; its pixels lie beside the database, under its own id.

    straightened : the picture it was made from, if it was; mm_per_pixel then is known, a line of known length,
    the edge of what it shows (px), and rows of what its places are good to (mm, evenly over it; not of older ones)
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="photographs")
    name = models.CharField(max_length=120)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    straightened = models.ForeignKey("self", null=True, on_delete=models.SET_NULL, related_name="+")
    mm_per_pixel = models.FloatField(null=True)
    ends = models.JSONField(null=True)
    length = models.FloatField(null=True)
    shown = models.JSONField(null=True)
    errors = models.JSONField(null=True)
    said = models.CharField(max_length=800, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    gone = models.BooleanField(default=False)

    class Meta:
        ordering = ["at"]

    @property
    def path(self) -> Path:
        """Return where its pixels lie."""
        return Path(settings.DATA) / "photographs" / f"{self.id}.jpg"


class PlacesFound(models.Model):
    """What the stickers in a job's pictures said of its places, the last time it was asked.

    of   : what it was found from, in short: stickers, pictures and cameras as they were
    seen : places, where they were (mm) and the rows that hold them among themselves; told : what there is to say of it
    """

    job = models.OneToOneField(Job, on_delete=models.CASCADE, related_name="places_found")
    of = models.CharField(max_length=64)
    seen = models.JSONField()
    told = models.JSONField()
    at = models.DateTimeField(auto_now=True)
