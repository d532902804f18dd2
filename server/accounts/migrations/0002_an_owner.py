"""Data from before there were roles keeps somebody who runs it: whoever has the most jobs."""

from typing import Any

from django.conf import settings
from django.db import migrations
from django.db.models import Count, Q


def give_an_owner(apps: Any, _: Any) -> None:
    """Make the active person with most jobs, the first of several, an owner where nobody is one."""
    app, model = settings.AUTH_USER_MODEL.split(".")
    users = apps.get_model(app, model).objects.filter(is_active=True)
    person = apps.get_model("accounts", "Person")
    owners = person.objects.filter(role="owner", user__is_active=True)
    if owners.exists() or users.filter(is_superuser=True).exists():
        return
    able = users.exclude(password="").exclude(password__startswith="!")
    first = able.annotate(many=Count("jobs", filter=Q(jobs__removed=None))).order_by("-many", "pk").first()
    if first is not None:
        person.objects.update_or_create(user=first, defaults={"role": "owner"})


class Migration(migrations.Migration):
    """Gives an owner to a shop without one."""

    dependencies = [("accounts", "0001_initial"), ("jobs", "0003_look")]
    operations = [migrations.RunPython(give_an_owner, migrations.RunPython.noop)]
