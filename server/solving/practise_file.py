"""`manage.py practise EXERCISE`: a made-up car played by a scripted worker, and the account at the end; needs no database."""

import json
from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from engine.document.read import read_json
from engine.errors import DocumentRefused
from engine.practice.exercise import Exercise
from engine.practice.exercises import BY_KEY, EXERCISES
from engine.practice.play import Worker, careful, careless, play, ways_of
from engine.practice.result_file import account_values
from server.headless import Headless


class PractiseFile(Headless):
    """Play an exercise."""

    help = (
        "Play an exercise on a made-up car with a hidden truth: careful, careless, or as a file says "
        '({ "takes": { DECISION: WAY } }). The same seed is the same car. Exercises: '
        + ", ".join(one.key for one in EXERCISES)
        + "."
    )

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("exercise", metavar="EXERCISE")
        parser.add_argument("--seed", default="1", metavar="N", help="which car (1)")
        parser.add_argument("--worker", default="careful", metavar="careful|careless|FILE")
        super().add_arguments(parser)

    def handle(self, *args: Any, **options: Any) -> None:
        """Play and write."""
        exercise = BY_KEY.get(options["exercise"])
        if exercise is None:
            keys = ", ".join(BY_KEY)
            self.refuse([f'EXERCISE: "{options["exercise"]}" is none of them; give one of: {keys}.'])
        try:
            seed = int(options["seed"])
        except ValueError:
            seed = -1
        if seed < 0:
            self.refuse([f'--seed: give a whole number of 0 or more, got "{options["seed"]}".'])
        account = play(exercise, seed, self._worker(exercise, options["worker"]))
        try:
            self.write(account_values(account), options)
        except OSError as error:
            self.refuse([f"{options['out']}: cannot be written: {error.strerror}."])

    def _worker(self, exercise: Exercise, said: str) -> Worker:
        if said in ("careful", "careless"):
            return careful(exercise) if said == "careful" else careless(exercise)
        try:
            values = read_json(self.bytes_of(Path(said)))
        except DocumentRefused as refused:
            self.refuse([f"--worker {said}: {fault}" for fault in refused.faults])
        takes = values.get("takes") if isinstance(values, dict) else None
        if not isinstance(takes, dict):
            self.refuse(
                [
                    f'--worker {said}: must be {{ "takes": {{ DECISION: WAY }} }}, got {json.dumps(values)[:60]}.'
                ]
            )
        ways = ways_of(exercise)
        faults = [
            f"takes.{key}: is no decision of {exercise.key}; it has: {', '.join(ways)}."
            for key in takes
            if key not in ways
        ] + [
            f'takes.{key}: "{way}" is not one of the choices; give one of: {", ".join(ways[key])}.'
            for key, way in takes.items()
            if key in ways and way not in ways[key]
        ]
        if faults:
            self.refuse([f"--worker {said}: {fault}" for fault in faults])
        return Worker(name=str(values.get("name", "own")), takes={**careful(exercise).takes, **takes})
