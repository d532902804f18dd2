"""Where a copy runs: the environment over the file, and every setting that cannot be in one sentence."""

import tempfile
from pathlib import Path
from unittest import TestCase

from server.place import BadPlace, Place, place


class Settings(TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.file = Path(folder.name) / "settings.toml"

    def of(self, text: str, **environment: str) -> Place:
        self.file.write_text(text, "utf-8")
        given = {f"JUGATRIX_{key.upper()}": value for key, value in environment.items()}
        return place({"JUGATRIX_SETTINGS": str(self.file), **given})

    def test_the_environment_comes_before_the_file(self) -> None:
        its = self.of('host = "0.0.0.0"\nport = 8100\nnames = ["office", "10.0.0.4"]\n', port="8200")
        self.assertEqual((its.host, its.port, its.names), ("0.0.0.0", 8200, ("office", "10.0.0.4")))
        self.assertEqual(its.reached_by, ("office", "10.0.0.4"))
        self.assertFalse(its.secure)
        self.assertTrue(self.of("", proxy="127.0.0.1 10.0.0.9").secure)
        self.assertEqual(self.of("stand_ins = false").stand_ins, False)

    def test_without_any_it_stays_on_this_machine(self) -> None:
        its = place({})
        self.assertEqual((its.host, its.reached_by, its.secure), ("127.0.0.1", (), False))

    def test_listening_to_the_network_it_answers_to_its_own_address(self) -> None:
        self.assertTrue(self.of("", host="0.0.0.0").reached_by)

    def test_what_cannot_be_is_said_with_its_name(self) -> None:
        for text, environment, words in (
            ("prot = 8000", {}, "“prot”"),
            ("port = [", {}, "no TOML"),
            ("", {"port": "many"}, "port wants a whole number"),
            ("", {"port": "70000"}, "1 to 65535"),
            ("", {"certificate": "/nowhere.pem"}, "Give both certificate and key"),
            ("", {"certificate": "/nowhere.pem", "key": "/nowhere.key"}, "is not there"),
            ("", {"proxy": "the office"}, "takes addresses"),
            ("", {"backup_hour": "25"}, "0 to 23"),
            ("", {"workers": "99"}, "1 to 32"),
            ("stand_ins = 3", {}, "yes or no"),
        ):
            with self.assertRaisesRegex(BadPlace, words):
                self.of(text, **environment)
        with self.assertRaisesRegex(BadPlace, "cannot be read"):
            place({"JUGATRIX_SETTINGS": "/nowhere/settings.toml"})
