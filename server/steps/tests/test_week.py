"""The shop's week over HTTP: kept and refused whole, planned over what one may see, held, and handed out as calendars."""

import json
from datetime import date, timedelta
from typing import Any
from urllib.parse import quote

from django.contrib.auth import get_user_model
from django.test import TestCase
from icalendar import Calendar

from engine.document.people import Shop
from engine.layouts.catalogue import layout_named, starting_project
from server.accounts.models import READER, Person
from server.steps.models import CalendarLink, ShopWeek

Values = dict[str, Any]
FIRST = "2026-12-02"


class Week(TestCase):
    def setUp(self) -> None:
        self.ada = get_user_model().objects.create_user("ada", password="x")
        self.client.force_login(self.ada)
        self.jobs = [self.taken("Cart"), self.taken("Cart")]  # of one name: told apart all the same

    def taken(self, name: str) -> str:
        project = {**starting_project(layout_named("wishbones-lower")), "name": name}
        answer = self.client.post("/api/jobs/import", json.dumps(project), content_type="application/json")
        self.assertEqual(answer.status_code, 201, answer.content[:300])
        return str(answer.json()["id"])

    def say(self, shop: Values, status: int = 200, stamp: str | None = None) -> Values:
        on = self.client.get("/api/week").json()["stamp"] if stamp is None else stamp
        answer = self.client.put(
            f"/api/week?stamp={quote(on)}", json.dumps(shop), content_type="application/json"
        )
        self.assertEqual(answer.status_code, status, answer.content[:400])
        return answer.json()

    def plan(self) -> Values:
        answer = self.client.get(f"/api/week/plan?first={FIRST}")
        self.assertEqual(answer.status_code, 200, answer.content[:400])
        return answer.json()

    def shop(self, **more: Any) -> Values:
        usual = self.client.get("/api/week").json()["usual"]
        people = [{"name": name, "hours": usual} for name in ("Ines", "Bo")]
        return {"people": people, "zone": "Europe/Lisbon", **more}

    def test_what_the_shop_says_is_kept_planned_by_and_refused_whole(self) -> None:
        self.assertEqual(
            [one["name"] for one in self.client.get("/api/week").json()["shop"]["people"]], ["You"]
        )
        first, other = self.jobs
        self.say(
            self.shop(
                wanted={first: "2026-12-24"},
                arrivals=[{"job": other, "part": "springs", "date": "2027-01-11"}],
            )
        )
        plan = self.plan()
        self.assertEqual({one["who"] for one in plan["plan"]}, {"Ines", "Bo"})
        self.assertEqual({one["id"] for one in plan["jobs"]}, set(self.jobs))
        self.assertEqual({one["name"] for one in plan["jobs"]}, {"Cart"})
        ends = {one["id"]: one["finish"][1] for one in plan["jobs"]}
        self.assertGreater(ends[other], "2027-01-11")
        self.assertLess(ends[first], ends[other])
        told = {one["id"]: one["hangs_on"] for one in plan["jobs"]}
        self.assertTrue(any("springs" in what for what in told[other]))
        self.assertFalse(
            any(job in json.dumps([one["hangs_on"] for one in plan["jobs"]]) for job in self.jobs)
        )

        before = self.client.get("/api/week").json()["shop"]
        for wrong, words in (
            ({"people": [{"name": "Ines", "hours": {"mon": ["8-12"]}}]}, "write a stretch of hours as"),
            ({"wanted": {first: "Friday"}}, "write a day as"),
            ({"held": [{"job": first, "step": "weld", "who": "Zoe"}]}, "nobody here is called"),
            ({"zone": "Mars/North"}, "is no time zone"),
            (
                {"held": [{"job": "00000000-0000-0000-0000-000000000000", "step": "weld", "who": "Bo"}]},
                "no job here",
            ),
        ):
            self.assertIn(
                words, self.say(self.shop(**{"people": self.shop()["people"], **wrong}), 422)["detail"]
            )
        self.assertEqual(self.client.get("/api/week").json()["shop"], before)

    def test_a_step_that_is_held_stays_and_the_rest_goes_round_it(self) -> None:
        job = self.jobs[0]
        step = next(one for one in self.plan()["plan"] if one["job"] == job and one["step"] == "make")
        day = (date.fromisoformat(FIRST) + timedelta(days=40)).isoformat()
        held = {"job": job, "station": step["station"], "step": "make", "who": "Bo", "day": day}
        self.say(self.shop(held=[held]))
        mine = [one for one in self.plan()["plan"] if (one["job"], one["station"], one["step"]) == (job, step["station"], "make")]  # fmt: skip
        self.assertTrue(mine)
        for one in mine:
            self.assertEqual((one["who"], one["held"]), ("Bo", True))
            self.assertGreaterEqual(one["start"][:10], day)
        self.assertEqual(sum(one["held"] for one in self.plan()["plan"]), len(mine))

    def test_each_sees_the_plan_of_the_jobs_he_may_open_and_a_reader_changes_nothing(self) -> None:
        self.say(self.shop(wanted={self.jobs[0]: "2026-12-24"}))
        eve = get_user_model().objects.create_user("eve", password="x")
        self.client.force_login(eve)
        plan = self.plan()
        self.assertEqual((plan["jobs"], plan["plan"]), ([], []))
        Person.objects.update_or_create(user=eve, defaults={"role": READER})
        self.assertEqual(self.client.get("/api/week").status_code, 200)
        self.say(self.shop(), 403)
        answer = self.client.post(
            "/api/week/calendars", json.dumps({"who": "Bo"}), content_type="application/json"
        )
        self.assertEqual(answer.status_code, 403)
        self.assertEqual(ShopWeek.objects.count(), 1)

    def test_a_calendar_is_read_by_its_address_alone_until_it_is_taken_back(self) -> None:
        self.say(self.shop())
        ask = lambda who, status=201: self.client.post(  # noqa: E731
            "/api/week/calendars", json.dumps({"who": who}), content_type="application/json"
        )
        self.assertEqual(ask("Zoe").status_code, 422)
        path = ask("Bo").json()["path"]
        secret = path.rsplit("/", 1)[1].removesuffix(".ics")
        self.assertNotIn(secret, str(list(CalendarLink.objects.values())))
        self.client.logout()
        answer = self.client.get(path)
        self.assertEqual(answer.headers["Content-Type"], "text/calendar; charset=utf-8")
        events = [one for one in Calendar.from_ical(answer.content).walk("VEVENT")]
        self.assertGreater(len(events), 3)
        self.assertTrue(all(str(one["summary"]).startswith("Bo: ") for one in events))
        self.assertEqual({str(one["dtstart"].dt.tzinfo) for one in events}, {"Europe/Lisbon"})
        self.assertEqual(self.client.get("/api/calendar/guessed.ics").status_code, 404)
        self.assertEqual(self.client.get("/api/week").status_code, 401)
        self.client.force_login(self.ada)
        anew = ask("Bo").json()["path"]
        self.assertEqual(self.client.get(path).status_code, 404)
        self.assertEqual(self.client.get("/api/week").json()["calendars"], ["Bo"])
        self.assertEqual(self.client.delete("/api/week/calendars/Bo").status_code, 204)
        self.assertEqual(self.client.get(anew).status_code, 404)
        ask("Ines")
        self.ada.is_active = False
        self.ada.save()
        self.assertEqual(self.client.get(path).status_code, 404)

    def test_nobody_changes_what_somebody_else_has_changed_meanwhile(self) -> None:
        self.say(self.shop())
        seen = self.client.get("/api/week").json()["stamp"]
        self.say(self.shop(wanted={self.jobs[0]: "2026-12-24"}))
        for old in (seen, ""):
            refused = self.say(self.shop(), 409, old)
            self.assertIn("Somebody has changed the week since you looked", refused["detail"])
        self.assertEqual(self.client.get("/api/week").json()["shop"]["wanted"], {self.jobs[0]: "2026-12-24"})

    def test_the_file_of_people_is_the_same_thing(self) -> None:
        self.say(self.shop(things={"welder": 2}))
        row = ShopWeek.objects.get()
        self.assertEqual(Shop.model_validate(row.said).things, {"welder": 2})
