"""What the shop says of itself once for all its jobs: who works when, what is wanted by when, what is held; and calendars handed out."""

from django.conf import settings
from django.db import models


class ShopWeek(models.Model):
    """One row: the shop's people, things, zone, arrivals, wanted days and held steps, as the file of people has them, by jobs' ids."""

    said = models.JSONField(default=dict)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    at = models.DateTimeField(auto_now=True)


class CalendarLink(models.Model):
    """A calendar that a person's telephone asks for by a secret address; only what the secret comes to is kept.

    who : one of the shop's people; by : who made it, whose jobs it shows
    """

    who = models.CharField(max_length=200)
    secret = models.CharField(max_length=64, unique=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    made = models.DateTimeField(auto_now_add=True)
    asked = models.DateTimeField(null=True)
