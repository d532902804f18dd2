"""Who comes in and how: the first owner, invitations, roles, passwords, guessers, and a proxy in front."""

import json
import tempfile
import threading
from datetime import timedelta
from importlib import import_module
from pathlib import Path
from typing import Any
from unittest.mock import patch

from django.apps import apps
from django.conf import settings
from django.contrib.auth import get_user_model
from django.db import connection
from django.test import Client, TestCase, TransactionTestCase, override_settings
from django.utils import timezone

from engine.layouts.catalogue import layout_named, starting_project
from server.accounts import first_owner, passwords, tries
from server.accounts.models import BENCH, OWNER, READER, Invite, Person
from server.answers import ActionRefused
from server.jobs.actions.import_project import import_project
from server.jobs.models import Job
from server.place import Place

GOOD = "plumb-bob-and-twine"


def somebody(name: str, role: str = BENCH) -> Any:
    user = get_user_model().objects.create_user(name, password=GOOD)
    Person.objects.create(user=user, role=role)
    return user


class Shop(TestCase):
    def ask(self, method: str, path: str, client: Client | None = None, **body: Any) -> Any:
        return (client or self.client).generic(
            method, f"/api{path}", json.dumps(body) if body else "", content_type="application/json"
        )

    def signed_in(self, user: Any) -> Client:
        client = Client()
        client.force_login(user)
        return client


class FirstStart(Shop):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        changed = override_settings(DATA=Path(folder.name), SERVING=True)
        changed.enable()
        self.addCleanup(changed.disable)

    def test_the_code_makes_one_owner_once(self) -> None:
        code = first_owner.first_code()
        assert code is not None
        self.assertEqual(first_owner.first_code(), code)
        kept = Path(settings.DATA) / "first_owner"
        self.assertEqual(kept.stat().st_mode & 0o777, 0o600)
        self.assertTrue(self.ask("GET", "/session").json()["first"])
        who = {"username": "Ada Kern", "password": GOOD}
        self.assertEqual(
            self.ask("POST", "/people/first", code="AAAA-BBBB-CCCC", **who).json()["code"], "wrong_code"
        )
        self.assertEqual(
            self.ask("POST", "/people/first", code=code, username="Ada", password="short").json()["code"],
            "poor_password",
        )
        made = self.ask("POST", "/people/first", code=f" {code.lower()} ", **who)
        self.assertEqual(
            (made.status_code, made.json()["user"], made.json()["role"]), (200, "Ada Kern", OWNER)
        )
        self.assertFalse(kept.exists())
        self.assertIsNone(first_owner.first_code())
        again = self.ask("POST", "/people/first", Client(), code=code, username="Bo", password=GOOD)
        self.assertEqual(again.json()["code"], "not_first")
        self.assertFalse(self.ask("GET", "/session", Client()).json()["first"])


class NobodyRunsIt(FirstStart):
    """People are here, as after an upgrade from before there were roles, or an import; none who can sign in is an owner."""

    def test_the_code_makes_one_of_them_its_owner(self) -> None:
        bo, gone = somebody("bo"), somebody("ada", OWNER)
        gone.set_unusable_password()
        gone.save()
        there = self.signed_in(bo)
        code = first_owner.first_code()
        assert code is not None
        self.assertEqual(
            [self.ask("GET", "/session", Client()).json()[key] for key in ("first", "ownerless")],
            [False, True],
        )
        fresh = "a-new-pair-of-stands"
        wrong = self.ask(
            "POST", "/people/first", Client(), code="AAAA-BBBB-CCCC", username="bo", password=fresh
        )
        self.assertEqual(wrong.json()["code"], "wrong_code")
        made = self.ask("POST", "/people/first", code=code, username="bo", password=fresh)
        self.assertEqual((made.json()["user"], made.json()["role"]), ("bo", OWNER))
        self.assertEqual(self.ask("GET", "/jobs", there).status_code, 401)  # who had the old password is out
        self.assertIsNone(first_owner.first_code())
        self.assertEqual(self.ask("POST", "/people/invites", role=BENCH).status_code, 201)

    def test_the_upgrade_makes_whoever_has_most_jobs_an_owner(self) -> None:
        users = {
            name: get_user_model().objects.create_user(name, password=GOOD) for name in ("ada", "bo", "cy")
        }
        users["cy"].is_active = False
        users["cy"].save()
        data = json.dumps(starting_project(layout_named("wishbones-lower"))).encode()
        for name in ("ada", "bo", "bo", "cy", "cy", "cy"):
            import_project(users[name], data)
        give = import_module("server.accounts.migrations.0002_an_owner").give_an_owner
        give(apps, None)
        self.assertEqual([(one.user.username, one.role) for one in Person.objects.all()], [("bo", OWNER)])
        self.assertFalse(first_owner.nobody_runs_it())
        Person.objects.update(role=BENCH, user=users["ada"])
        Person.objects.create(user=users["bo"], role=OWNER)
        give(apps, None)
        self.assertEqual(Person.objects.filter(role=OWNER).count(), 1)


class Invited(Shop):
    def setUp(self) -> None:
        self.owner = self.signed_in(somebody("ada", OWNER))

    def invitation(self, role: str = BENCH) -> str:
        made = self.ask("POST", "/people/invites", self.owner, role=role, note="the new one")
        self.assertEqual(made.status_code, 201)
        return str(made.json()["link"]).rpartition("/invite/")[2]

    def test_a_link_lets_one_person_in_once(self) -> None:
        token = self.invitation(READER)
        shown = self.ask("GET", f"/people/invited/{token}").json()
        self.assertEqual((shown["role"], shown["by"]), (READER, "ada"))
        poor = self.ask("POST", "/people/invited", token=token, username="Cy", password="1234567890")
        self.assertEqual(poor.json()["code"], "poor_password")
        taken = self.ask("POST", "/people/invited", token=token, username="ADA", password=GOOD)
        self.assertEqual(taken.json()["code"], "name_taken")
        made = self.ask("POST", "/people/invited", token=token, username="Cy", password=GOOD)
        self.assertEqual((made.json()["user"], made.json()["role"]), ("Cy", READER))
        again = self.ask("POST", "/people/invited", Client(), token=token, username="Dee", password=GOOD)
        self.assertEqual(again.json()["code"], "link_over")

    def test_one_too_old_forged_or_taken_back_lets_nobody_in(self) -> None:
        old, back = self.invitation(), self.invitation()
        first, second = Invite.objects.order_by("made")
        Invite.objects.filter(pk=first.pk).update(made=timezone.now() - timedelta(days=8))
        self.ask("DELETE", f"/people/invites/{second.pk}", self.owner)
        for token in (old, back, old[:-2] + "xx", "nothing"):
            self.assertEqual(self.ask("GET", f"/people/invited/{token}").json()["code"], "link_over", token)

    def test_only_an_owner_invites_and_changes_people(self) -> None:
        bench = self.signed_in(somebody("bo"))
        for method, path, body in (
            ("POST", "/people/invites", {"role": BENCH}),
            ("POST", "/people/one/ada", {"role": READER}),
            ("POST", "/people/reset-link/ada", {"x": 1}),
        ):
            self.assertEqual(self.ask(method, path, bench, **body).json()["code"], "not_owner", path)
        listed = self.ask("GET", "/people", bench).json()
        self.assertEqual(([one["name"] for one in listed["people"]], listed["invites"]), (["ada", "bo"], []))

    def test_the_last_owner_stays_and_who_is_let_in_no_more_is_out_at_once(self) -> None:
        refused = self.ask("POST", "/people/one/ada", self.owner, role=BENCH)
        self.assertEqual(refused.json()["code"], "last_owner")
        self.assertEqual(Person.objects.get(user__username="ada").role, OWNER)
        bo = self.signed_in(somebody("bo"))
        self.assertEqual(self.ask("GET", "/jobs", bo).status_code, 200)
        self.assertFalse(self.ask("POST", "/people/one/bo", self.owner, active=False).json()["active"])
        self.assertEqual(self.ask("GET", "/jobs", bo).status_code, 401)
        self.assertEqual(
            self.ask("POST", "/session", Client(), username="bo", password=GOOD).status_code, 401
        )


class Passwords(Shop):
    def test_a_new_one_by_a_link_once_ends_every_session(self) -> None:
        owner, bo = self.signed_in(somebody("ada", OWNER)), somebody("bo")
        before = self.signed_in(bo)
        link = self.ask("POST", "/people/reset-link/bo", owner, x=1).json()["link"]
        token = link.rpartition("/reset/")[2]
        fresh = "a-new-pair-of-stands"
        made = self.ask("POST", "/people/reset", token=token, username="", password=fresh)
        self.assertEqual(made.json()["user"], "bo")
        self.assertEqual(self.ask("GET", "/jobs", before).status_code, 401)
        again = self.ask("POST", "/people/reset", Client(), token=token, username="", password=fresh)
        self.assertEqual(again.json()["code"], "link_over")
        self.assertEqual(
            self.ask("POST", "/session", Client(), username="bo", password=fresh).status_code, 200
        )
        self.assertEqual(
            self.ask("POST", "/people/reset", Client(), token="x/y", password=fresh).status_code, 403
        )

    def test_ones_own_is_changed_and_signs_the_others_out(self) -> None:
        bo = somebody("bo")
        here, there = self.signed_in(bo), self.signed_in(bo)
        wrong = self.ask("POST", "/people/password", here, old="wrong", new="a-new-pair-of-stands")
        self.assertEqual(wrong.json()["code"], "wrong_password")
        self.assertEqual(
            self.ask("POST", "/people/password", here, old=GOOD, new="a-new-pair-of-stands").status_code, 200
        )
        self.assertEqual(self.ask("GET", "/jobs", here).status_code, 200)
        self.assertEqual(self.ask("GET", "/jobs", there).status_code, 401)

    def test_signing_out_everywhere_ends_all_of_ones_own_and_nobody_elses(self) -> None:
        bo = somebody("bo")
        here, there, other = self.signed_in(bo), self.signed_in(bo), self.signed_in(somebody("cy"))
        self.assertIsNone(self.ask("POST", "/people/everywhere", here).json()["user"])
        self.assertEqual(
            [self.ask("GET", "/jobs", one).status_code for one in (here, there, other)], [401, 401, 200]
        )

    def test_a_guesser_is_stopped_and_others_are_not(self) -> None:
        somebody("bo")
        somebody("cy")
        guesses = [self.ask("POST", "/session", username="bo", password=f"guess {n}") for n in range(10)]
        self.assertEqual([one.status_code for one in guesses], [401] * 7 + [429] * 3)
        for one in guesses[7:]:
            self.assertIn("quarter of an hour", one.json()["detail"])
        with patch.object(tries, "WAITS_S", 0.0):  # refused before anything is hashed: no turn is taken
            self.assertEqual(self.ask("POST", "/session", username="bo", password=GOOD).status_code, 429)
        self.assertEqual(self.ask("POST", "/session", username="cy", password=GOOD).status_code, 200)
        elsewhere = Client(REMOTE_ADDR="10.0.0.7")
        self.assertEqual(
            self.ask("POST", "/session", elsewhere, username="bo", password=GOOD).status_code, 200
        )

    def test_one_at_a_time_is_hashed_and_guessers_beside(self) -> None:
        somebody("bo")
        with patch.object(tries, "WAITS_S", 0.01), tries.a_turn():
            busy = self.ask("POST", "/session", username="bo", password=GOOD)
        self.assertEqual((busy.status_code, busy.json()["code"]), (429, "busy"))
        self.assertEqual(self.ask("POST", "/session", username="bo", password=GOOD).status_code, 200)
        guesser = Client(REMOTE_ADDR="10.0.0.9")
        for n in range(tries.DOUBTED):
            self.ask("POST", "/session", guesser, username=f"somebody {n}", password="guess")
        with patch.object(tries, "WAITS_S", 0.01), tries.a_turn(slow=True):
            # The guesser's lane is taken; the other is not, and whoever is known from there goes into it.
            waits = self.ask("POST", "/session", guesser, username="bo", password="guess")
            self.assertEqual(waits.json()["code"], "busy")
            self.assertEqual(
                self.ask("POST", "/session", Client(), username="bo", password=GOOD).status_code, 200
            )
            self.client.defaults["REMOTE_ADDR"] = "10.0.0.9"
            self.assertEqual(self.ask("POST", "/session", username="bo", password=GOOD).status_code, 200)

    def test_one_password_on_many_names_from_one_address_is_stopped(self) -> None:
        somebody("bo")
        self.assertEqual(self.ask("POST", "/session", username="bo", password=GOOD).status_code, 200)
        guesser = Client()
        said = [
            self.ask("POST", "/session", guesser, username=f"name {n}", password=GOOD).status_code
            for n in range(45)
        ]
        self.assertEqual(said, [401] * (tries.MOST_OF_AN_ADDRESS - 1) + [429] * 6)
        held = self.ask("POST", "/session", guesser, username="bo", password=GOOD)
        self.assertIn("this device or network", held.json()["detail"])
        # Where bo signed in before, he still can.
        self.assertEqual(self.ask("POST", "/session", username="bo", password=GOOD).status_code, 200)

    def test_an_open_tablet_is_no_way_to_guess_its_owners_password(self) -> None:
        here = self.signed_in(somebody("bo"))
        said = [
            self.ask(
                "POST", "/people/password", here, old=f"guess {n}", new="a-new-pair-of-stands"
            ).status_code
            for n in range(10)
        ]
        self.assertEqual(said, [403] * 7 + [429] * 3)

    def test_a_name_that_looks_like_anothers_or_is_an_address_is_none(self) -> None:
        somebody("Ada Kern")
        for name, code in (
            ("аda", "poor_name"), ("АDА", "poor_name"), ("ＡＤＡ　Ｋｅｒｎ", "name_taken"), ("ada  kern", "name_taken"),
            ("a/b", "poor_name"), ("..", "poor_name"), (".", "poor_name"), ("a\\b", "poor_name"), ("\x1b[2J", "poor_name"),
            ("Bo\u202eb", "poor_name"), ("7", "poor_name"), ("", "poor_name"),
        ):  # fmt: skip
            with self.subTest(name), self.assertRaises(ActionRefused) as refused:
                passwords.new_user(name, GOOD)
            self.assertEqual(refused.exception.code, code)
        for name in ("Ольга", "Inês 2", "O’Neil", "bo-at-the-lathe", "J. R."):
            self.assertEqual(passwords.new_user(name, GOOD).get_username(), name)
        with self.assertRaises(ActionRefused) as refused:
            passwords.new_user("Oльга", GOOD)  # the first letter is Latin
        self.assertEqual(refused.exception.code, "poor_name")

    def test_who_has_a_name_with_a_slash_from_before_can_be_let_go(self) -> None:
        owner = self.signed_in(somebody("ada", OWNER))
        somebody("a/b")
        changed = self.ask("POST", "/people/one/a%2Fb", owner, active=False)
        self.assertEqual((changed.status_code, changed.json()["active"]), (200, False))
        self.assertEqual(self.ask("POST", "/people/reset-link/a%2Fb", owner, x=1).status_code, 200)


class FourAtOnce(TransactionTestCase):
    def test_a_link_taken_by_four_at_the_same_moment_lets_one_in(self) -> None:
        link = passwords.reset_path(somebody("bo")).removeprefix("/reset/")
        together = threading.Barrier(4)
        said: list[int] = []

        def take(number: int) -> None:
            body = {"token": link, "username": "", "password": f"a-new-pair-of-stands-{number}"}
            together.wait()
            answer = Client().post("/api/people/reset", json.dumps(body), content_type="application/json")
            said.append(answer.status_code)
            connection.close()

        hands = [threading.Thread(target=take, args=(number,)) for number in range(4)]
        for hand in hands:
            hand.start()
        for hand in hands:
            hand.join()
        self.assertEqual(sorted(said), [200, 403, 403, 403])


class Jobs(Shop):
    def setUp(self) -> None:
        self.users = {name: somebody(name, role) for name, role in
                      (("ada", OWNER), ("bo", BENCH), ("cy", BENCH), ("dee", READER))}  # fmt: skip
        self.clients = {name: self.signed_in(user) for name, user in self.users.items()}
        data = json.dumps(starting_project(layout_named("wishbones-lower"))).encode()
        self.job = import_project(self.users["bo"], data)

    def of(self, who: str, method: str, path: str, **body: Any) -> Any:
        return self.ask(method, f"/jobs/{self.job.pk}{path}", self.clients[who], **body)

    def test_it_is_shared_handed_over_and_closed_again(self) -> None:
        self.assertEqual(self.of("cy", "GET", "").status_code, 404)
        self.assertEqual(self.of("bo", "PUT", "/people/cy").json()["members"], ["cy"])
        self.assertEqual(self.of("cy", "GET", "").status_code, 200)
        self.assertEqual(self.of("cy", "PUT", "/people/dee").json()["code"], "not_owner")
        self.assertEqual(self.of("bo", "PUT", "/people/nobody").status_code, 404)
        handed = self.of("bo", "POST", "/owner", name="cy").json()
        self.assertEqual((handed["owner"], handed["members"], handed["mine"]), ("cy", ["bo"], False))
        self.assertEqual(self.of("bo", "DELETE", "").status_code, 403)
        self.assertEqual(self.of("cy", "POST", "/owner", name="dee").json()["code"], "reader")
        self.assertEqual(self.of("bo", "DELETE", "/people/bo").json()["members"], [])
        self.assertEqual(self.of("bo", "GET", "").status_code, 404)

    def test_a_shops_owner_hands_over_what_somebody_left_behind(self) -> None:
        self.assertEqual(self.of("ada", "GET", "").status_code, 200)
        self.assertEqual(self.of("ada", "POST", "/owner", name="cy").json()["owner"], "cy")

    def test_who_has_it_in_hand_is_told_to_the_others(self) -> None:
        self.of("bo", "PUT", "/people/cy")
        self.of("cy", "GET", "")
        self.assertEqual([one["name"] for one in self.of("bo", "GET", "/people").json()["here"]], ["cy"])
        self.job.looks.update(at=timezone.now() - timedelta(minutes=20))
        self.assertEqual(self.of("bo", "GET", "/people").json()["here"], [])

    def test_a_reader_works_things_out_and_stores_nothing(self) -> None:
        self.of("bo", "PUT", "/people/dee")
        document = self.of("dee", "GET", "").json()["document"]
        solved = self.ask("POST", "/solve", self.clients["dee"], document=document, station=0)
        self.assertEqual(solved.status_code, 200)
        draft = self.of("dee", "PUT", "/drafts/tab1", base=1, document=document)
        self.assertEqual(draft.status_code, 204)
        for method, path, body in (
            ("POST", "/revisions", {"parent": 1, "reason": "x", "document": document}),
            ("PUT", "/survey/mark/a", {"body": [1, 2, 3]}),
            ("DELETE", "", {}),
            ("POST", "/owner", {"name": "dee"}),
        ):
            self.assertEqual(self.of("dee", method, path, **body).json()["code"], "reader", path)
        self.assertEqual(self.ask("POST", "/jobs/import", self.clients["dee"], x=1).json()["code"], "reader")
        self.assertEqual(
            self.ask("POST", "/parts/shelf.csv", self.clients["dee"], x=1).json()["code"], "reader"
        )
        self.assertEqual(self.job.revisions.count(), 1)

    def test_the_list_is_in_the_order_of_storing_whatever_the_clock_says(self) -> None:
        data = json.dumps(starting_project(layout_named("five-link"))).encode()
        second = import_project(self.users["bo"], data)
        second.revisions.update(created=timezone.now() - timedelta(days=30))  # the clock was set back a month
        names = [one["id"] for one in self.ask("GET", "/jobs", self.clients["bo"]).json()]
        self.assertEqual(names, [str(second.pk), str(self.job.pk)])
        self.assertEqual(Job.objects.count(), 2)


class Behind(Shop):
    """A proxy in front that ends TLS."""

    def test_a_known_proxy_is_believed_and_nobody_else(self) -> None:
        somebody("bo")
        said = {"HTTP_X_FORWARDED_PROTO": "https", "HTTP_X_FORWARDED_FOR": "6.6.6.6, 10.0.0.7"}
        place = Place(proxy=("10.0.0.1",), names=("shop.example",))
        with override_settings(
            PLACE=place, SECURE_SSL_REDIRECT=True, SECURE_PROXY_SSL_HEADER=("HTTP_X_FORWARDED_PROTO", "https"),
            SESSION_COOKIE_SECURE=True, CSRF_COOKIE_SECURE=True, SECURE_HSTS_SECONDS=100, ALLOWED_HOSTS=["shop.example"],
        ):  # fmt: skip
            known = Client(REMOTE_ADDR="10.0.0.1", HTTP_HOST="shop.example", enforce_csrf_checks=True, **said)
            page = known.get("/api/session")
            self.assertEqual(page.status_code, 200)
            self.assertIn("Strict-Transport-Security", page)
            self.assertTrue(known.cookies["csrftoken"]["secure"])
            done = known.post(
                "/api/session", json.dumps({"username": "bo", "password": GOOD}), content_type="application/json",
                HTTP_ORIGIN="https://shop.example", HTTP_REFERER="https://shop.example/",
                HTTP_X_CSRFTOKEN=known.cookies["csrftoken"].value,
            )  # fmt: skip
            self.assertEqual(done.status_code, 200, done.content)
            self.assertTrue(known.cookies["sessionid"]["secure"])
            address = known.get("/api/people/address?path=/jobs").json()["link"]
            self.assertEqual(address, "https://shop.example/jobs")
            stranger = Client(REMOTE_ADDR="10.0.0.9", HTTP_HOST="shop.example", **said)
            self.assertEqual(stranger.get("/api/session").status_code, 301)  # its word for TLS is nothing
            self.assertEqual(stranger.get("/health").status_code, 200)

    @override_settings(DEMO=True)
    def test_the_demos_door_is_shut_to_what_comes_through_a_proxy(self) -> None:
        self.assertTrue(self.client.get("/api/session").json()["demo"])
        through = Client(HTTP_X_FORWARDED_FOR="10.0.0.7")
        self.assertFalse(through.get("/api/session").json()["demo"])

    @override_settings(PLACE=Place(names=("10.0.0.4",)))
    def test_a_tablet_is_given_an_address_that_it_can_open(self) -> None:
        somebody("bo")
        client = Client(HTTP_HOST="127.0.0.1:8100")
        client.force_login(get_user_model().objects.get())
        link = client.get("/api/people/address?path=/jobs/1/prove%3Fstation=2").json()["link"]
        self.assertEqual(link, "http://10.0.0.4:8100/jobs/1/prove?station=2")
        drawn = client.get("/api/people/code.svg", {"text": link})
        self.assertEqual((drawn.status_code, drawn["Content-Type"]), (200, "image/svg+xml"))
        self.assertIn(b'<svg xmlns="http://www.w3.org/2000/svg"', drawn.content)
