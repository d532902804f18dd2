"""The headless commands for arrangements, and solving what they write."""

import io
import json
import tempfile
from pathlib import Path
from unittest import TestCase

from django.core.management import call_command


def run(*arguments: str) -> tuple[int, str, str]:
    """Return exit code, standard output and standard error of `manage.py layouts`."""
    out, err = io.StringIO(), io.StringIO()
    try:
        call_command("layouts", *arguments, stdout=out, stderr=err)
    except SystemExit as ended:
        return int(ended.code or 0), out.getvalue(), err.getvalue()
    return 0, out.getvalue(), err.getvalue()


class Layouts(TestCase):
    def test_the_list_says_what_each_one_does(self) -> None:
        code, out, _ = run()
        self.assertEqual(code, 0)
        self.assertIn("pushrod", out)
        self.assertIn("Room:", out)

    def test_a_file_that_is_written_can_be_solved(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            started, solved = Path(folder) / "started.json", Path(folder) / "solved.json"
            arguments = (
                "pushrod",
                "--track",
                "1300",
                "--wheel-radius",
                "270",
                "--bump",
                "45",
                "--droop",
                "40",
            )
            self.assertEqual(run(*arguments, "--out", str(started))[0], 0)
            call_command("solve", str(started), "--out", str(solved))
            station = json.loads(solved.read_text())["stations"][0]
        self.assertAlmostEqual(station["ride"]["travel"], 0, delta=0.5)
        self.assertEqual(station["sweep"][-1]["travel"], 45)

    def test_refusals_are_one_sentence_and_end_with_2(self) -> None:
        for arguments, word in (
            (("pushrods",), "No layout"),
            (("pushrod", "--track", "12"), "--track"),
            (("pushrod", "--corner-mass", "20"), "--unsprung-mass"),
            (("wishbones-lower", "--bump", "450", "--wheel-radius", "150"), "does not go together"),
            (("pushrod", "--out", "/nowhere/at/all.json"), "cannot be written"),
        ):
            code, out, err = run(*arguments)
            self.assertEqual((code, out), (2, ""), arguments)
            self.assertIn(word, err)
            self.assertEqual(len(err.strip().splitlines()), 1)
