"""The demo shop: two people, three jobs in vehicles that nobody has built."""

import copy
import json
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from django.contrib.auth import get_user_model

from server.accounts.api import DEMO_USER
from server.accounts.models import BENCH, OWNER, Person
from server.accounts.shop import say_shop, shop
from server.jobs.actions.import_project import import_project
from server.jobs.actions.save_revision import save_revision
from server.jobs.models import Job
from server.parts.actions.take_shelf import take_shelf
from server.parts.models import Part

FILES = Path(__file__).parent / "files"
DEMO_PASSWORD = "scribe-and-punch"  # for a demo on this machine's own loopback only
SHOP = {DEMO_USER: "the bench", "wilma": "who shares the tender"}


def load_demo(pictures: bool = False) -> list[str]:
    """Add the demo's users and jobs where they are missing; return the names of jobs added.

    pictures : a photograph of a card template with them, which takes a second or two to be made up
    """
    users = {name: _user(name) for name in SHOP}
    added = []
    for path in sorted(FILES.glob("*.json")):
        data = path.read_bytes()
        name = json.loads(data)["name"]
        if not Job.objects.filter(owner=users[DEMO_USER], name=name).exists():
            job = import_project(users[DEMO_USER], data, "Measured on the stands")
            added.append(name)
            _history(job, users)
            if pictures and "Heron" in name:
                _card(job, users[DEMO_USER])
            if job.survey_items.filter(kind="record").exists():
                _dated(job)
    if not Part.objects.filter(owner=users[DEMO_USER]).exists():
        take_shelf(users[DEMO_USER], (FILES / "shelf.csv").read_bytes())
    if not shop().pk:
        say_shop("Plumb and Square", "1 Bench Lane\nAnvil End", "€")
    return added


def _card(job: Job, user: Any) -> None:
    """Give a job the picture of a card template, straightened by the board in it."""
    from server.demo.card_photo import COLOURS, rendered
    from server.records.actions.photographs import keep_photograph, straighten

    taken = keep_photograph(
        user, job, "card for the reservoir bracket", rendered(*COLOURS["brown card on a grey bench"], 0)
    )
    straighten(user, taken, None, None)


def _user(name: str) -> Any:
    user, made = get_user_model().objects.get_or_create(username=name)
    if made:
        user.set_password(DEMO_PASSWORD)
        user.save()
        Person.objects.create(user=user, role=OWNER if name == DEMO_USER else BENCH)
    return user


def _history(job: Job, users: dict[str, Any]) -> None:
    """Give a job a second revision, as a day at the bench would."""
    document = copy.deepcopy(job.newest().document)
    station = document["stations"][0]
    if "pivot_front" in station["points"]:
        for name in ("pivot_front", "pivot_rear"):
            station["points"][name][2] += 2
        save_revision(users[DEMO_USER], job, 1, document, "Rocker pivot up 2 mm, to clear the tube clamp")
    if "tender" in job.name:
        job.members.add(users["wilma"])
        station["units"][0]["preload"] = station["units"][1]["preload"] = 23
        save_revision(users["wilma"], job, 1, document, "A little more preload until the tank is in")


def _dated(job: Job) -> None:
    """Date a job's drawing and measuring before what its records say of the floor: its book reads as it was done."""
    measured = datetime(2026, 9, 28, 8, 40, tzinfo=UTC)
    job.revisions.filter(number=1).update(created=measured)
    job.revisions.filter(number=2).update(created=measured + timedelta(days=7, hours=8))
    first = job.survey_items.exclude(kind="record").order_by("place")
    half = first.count() // 2
    for number, item in enumerate(first):
        at = measured + timedelta(days=int(number >= half), minutes=20 + 2 * (number % max(half, 1)))
        job.survey_items.filter(pk=item.pk).update(at=at)
    job.photographs.update(at=measured + timedelta(days=3, hours=2))
