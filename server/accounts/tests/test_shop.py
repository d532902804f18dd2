"""What papers bear of the shop: said by an owner, read by all, a mark written anew, what is none refused."""

import io
import json
from typing import Any

from django.contrib.auth import get_user_model
from django.test import TestCase
from PIL import Image

from server.accounts.models import BENCH, OWNER, Person
from server.accounts.shop import KEPT_SIDE

AT = "/api/people/shop"


def picture(size: tuple[int, int], kind: str = "PNG") -> bytes:
    out = io.BytesIO()
    Image.new("RGBA" if kind == "PNG" else "RGB", size, (200, 30, 30)).save(out, kind)
    return out.getvalue()


class OnPapers(TestCase):
    def setUp(self) -> None:
        for name, role in (("ada", OWNER), ("bo", BENCH)):
            user = get_user_model().objects.create_user(name, password="x")
            Person.objects.create(user=user, role=role)
        self.sign_in("ada")

    def sign_in(self, name: str) -> None:
        self.client.force_login(get_user_model().objects.get(username=name))

    def say(self, **said: Any) -> Any:
        return self.client.put(AT, json.dumps(said), content_type="application/json")

    def mark(self, data: bytes) -> Any:
        return self.client.post(f"{AT}/mark", data, content_type="image/png")

    def test_an_owner_says_it_and_everybody_reads_it(self) -> None:
        self.assertEqual(
            self.client.get(AT).json(), {"name": "", "address": "", "currency": "", "marked": False}
        )
        said = self.say(
            name=" Plumb and Square ", address="1 Bench Lane \n Anvil End", currency=" kr "
        ).json()
        self.assertEqual(
            said,
            {
                "name": "Plumb and Square",
                "address": "1 Bench Lane\nAnvil End",
                "currency": "kr",
                "marked": False,
            },
        )
        self.sign_in("bo")
        self.assertEqual(self.client.get(AT).json(), said)
        self.assertEqual(self.say(name="Mine").status_code, 403)
        self.assertEqual(self.mark(picture((9, 9))).status_code, 403)
        self.assertEqual(self.client.delete(f"{AT}/mark").status_code, 403)
        self.client.logout()
        self.assertEqual(self.client.get(AT).status_code, 401)

    def test_a_mark_is_written_anew_and_let_go(self) -> None:
        self.assertEqual(self.client.get(f"{AT}/mark.png").status_code, 404)
        for data in (picture((3000, 1000)), picture((3000, 1000), "JPEG")):
            self.assertTrue(self.mark(data).json()["marked"])
            kept = self.client.get(f"{AT}/mark.png")
            self.assertEqual(kept["Content-Type"], "image/png")
            with Image.open(io.BytesIO(kept.content)) as its:
                self.assertEqual(max(its.size), KEPT_SIDE)
                self.assertEqual(its.format, "PNG")
        self.assertFalse(self.client.delete(f"{AT}/mark").json()["marked"])

    def test_what_is_no_mark_is_refused_and_the_old_one_stays(self) -> None:
        self.mark(picture((20, 10)))
        for data, status, words in (
            (b"", 422, "no picture"),
            (b"<svg xmlns='http://www.w3.org/2000/svg'/>", 422, "PNG or a JPEG"),
            (picture((20, 10))[:40], 422, "no picture"),
            (picture((7000, 2)), 422, "6000 pixels"),
            (b"x" * 2_000_001, 413, "2 MB"),
        ):
            refused = self.mark(data)
            self.assertEqual(refused.status_code, status, words)
            self.assertIn(words, refused.json()["detail"])
        self.assertTrue(self.client.get(AT).json()["marked"])
        self.assertEqual(self.say(name="x" * 121).status_code, 422)
