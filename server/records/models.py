"""What was read off a vehicle, kept as it is entered: a reading is on the disk before the next one is typed."""

from django.conf import settings
from django.db import models

from server.jobs.models import Job


class SurveyItem(models.Model):
    """One reading, mark, tool, guard or picture of a job's survey.

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
