"""`manage.py practise`: an account of plain values, a worker from a file, and refusals in a sentence."""

import json
import tempfile
from io import StringIO
from pathlib import Path

from django.core.management import call_command
from django.test import SimpleTestCase


class Practise(SimpleTestCase):
    def run_practise(self, *arguments: str) -> tuple[int, str, str]:
        out, err = StringIO(), StringIO()
        try:
            call_command("practise", *arguments, stdout=out, stderr=err)
        except SystemExit as end:
            return int(end.code or 0), out.getvalue(), err.getvalue()
        return 0, out.getvalue(), err.getvalue()

    def test_a_worker_from_a_file_takes_what_it_says_and_care_elsewhere(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "worker.json"
            file.write_text(json.dumps({"name": "Bo", "takes": {"strap": "as long as it is there"}}), "utf-8")
            status, out, err = self.run_practise("strap", "--seed", "3", "--worker", str(file))
            self.assertEqual((status, err), (0, ""))
            account = json.loads(out)
            self.assertEqual((account["format"], account["worker"]), ("jugatrix-practice", "Bo"))
            self.assertEqual([one["decision"] for one in account["mistakes"]], ["strap"])
            self.assertEqual(account["costliest"]["decision"], "strap")
            self.assertTrue(all(one["found"] for one in account["slips"]))

    def test_bad_input_is_a_sentence(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "worker.json"
            for arguments, text, words in (
                (("dance",), "", "give one of: ratio"),
                (("strap", "--seed", "x"), "", "a whole number"),
                (("strap", "--worker", str(Path(folder) / "none")), "", "cannot be read"),
                (("strap", "--worker", str(file)), "[]", "must be"),
                (("strap", "--worker", str(file)), '{"takes": {"bag": "x"}}', "is no decision of strap"),
                (("strap", "--worker", str(file)), '{"takes": {"strap": "x"}}', "is not one of the choices"),
            ):
                file.write_text(text or "{}", "utf-8")
                status, out, err = self.run_practise(*arguments)
                self.assertEqual((status, out), (2, ""), arguments)
                self.assertIn(words, err)
                self.assertNotIn("Traceback", err)
