"""The shop's shelf: what is there to be fitted, in generic sizes and with what they cost."""

from django.conf import settings
from django.db import models


class Part(models.Model):
    """One kind of part on one user's shelf; `values` holds the columns of its kind, in the file's fixed units."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="parts")
    kind = models.CharField(max_length=20)
    name = models.CharField(max_length=120)
    values = models.JSONField()
    stock = models.PositiveIntegerField(default=0)
    price = models.CharField(max_length=60, blank=True)
    source = models.CharField(max_length=120, blank=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["owner", "kind", "name"], name="one_part_per_kind_and_name")
        ]
        ordering = ["kind", "name"]
