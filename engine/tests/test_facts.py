"""Facts are given by name, shown by name, and equal to nothing but themselves; changed ones are new ones."""

import subprocess
import sys
import unittest
from dataclasses import replace
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np

from engine.facts import facts


@facts
class Found:
    """What was found of a wheel: where it stands, mm, and its rate at some positions, N/mm."""

    at: float
    rates: np.ndarray


@facts(kw_only=False)
class Step:
    """A step that is so plain that its one number needs no name."""

    by: float


SLIP = """
from engine.facts import facts

@facts
class Found:
    at: float

found = Found(at=1.0)
found.at = 2.0
Found(1.0)
"""


class Facts(unittest.TestCase):
    def test_they_are_given_by_name(self) -> None:
        self.assertEqual(Found(at=1.0, rates=np.zeros(2)).at, 1.0)
        with self.assertRaises(TypeError):
            Found(1.0, np.zeros(2))  # type: ignore[misc]
        self.assertEqual(Step(2.0).by, 2.0)

    def test_they_show_what_they_hold(self) -> None:
        self.assertEqual(repr(Step(2.5)), "Step(by=2.5)")
        self.assertIn("at=1.0, rates=array", repr(Found(at=1.0, rates=np.zeros(2))))

    def test_each_is_itself_and_a_changed_one_is_a_new_one(self) -> None:
        first = Found(at=1.0, rates=np.zeros(2))
        second = replace(first, at=2.0)
        self.assertEqual((first.at, second.at), (1.0, 2.0))
        self.assertIs(second.rates, first.rates)
        self.assertNotEqual(first, Found(at=1.0, rates=first.rates))
        self.assertEqual(len({first, second, first}), 2)

    def test_the_type_checker_lets_nobody_change_them(self) -> None:
        with TemporaryDirectory() as aside:
            file = Path(aside) / "slip.py"
            file.write_text(SLIP, encoding="utf-8")
            said = subprocess.run(
                [sys.executable, "-m", "mypy", "--strict", "--cache-dir", aside, str(file)],
                capture_output=True,
                text=True,
                check=False,
            ).stdout
        self.assertIn("Property", said)
        self.assertIn("read-only", said)
        self.assertIn("positional", said)


if __name__ == "__main__":
    unittest.main()
