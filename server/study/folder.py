"""What a study keeps, in a folder of its own: what was asked, each part as one Parquet file, the front so far, how it stands.

Every file is put there whole or not at all. Parts may be read by anything that reads Parquet.
"""

import fcntl
import json
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq

from engine.linkage.vectors import Array
from engine.study.chunk import MISSES
from engine.study.front import merged
from server.running.whole import NO_ROOM, put_whole

SHOWN = 300
SPARE = 1 << 16  # bytes kept free for the last word
SPOILED = "What this study kept of itself cannot be read. Start it again, or go on with it: its parts are looked through again."
MISS_COLUMNS = tuple(f"miss/{name}" for name in MISSES)


class Busy(RuntimeError):
    """Somebody works on this study already."""


class OtherStudy(ValueError):
    """The folder holds another study, in a sentence."""


class StudyFolder:
    """One study on disk."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self.parts = path / "parts"
        self.spare = path / "room-for-the-last-word"

    @property
    def asked(self) -> str | None:
        """Return the study's JSON, or None where there is none yet."""
        file = self.path / "study.json"
        return file.read_text("utf-8") if file.is_file() else None

    def begin(self, study: str) -> None:
        """Keep what is asked; raise OtherStudy where the folder was begun for something else."""
        before = self.asked
        if before is not None and json.loads(before) != json.loads(study):
            raise OtherStudy(
                f"The folder {self.path} holds another study. Name another folder, or remove it."
            )
        self.parts.mkdir(parents=True, exist_ok=True)
        if not self.spare.exists():
            put_whole(self.spare, bytes(SPARE))
        if before is None:
            put_whole(self.path / "study.json", study.encode())

    @contextmanager
    def held(self) -> Iterator[None]:
        """Hold the study while parts are done; raise Busy where somebody else does."""
        with (self.path / "held").open("w") as file:
            try:
                fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except OSError as error:
                raise Busy("This study is being worked on already.") from error
            yield

    @contextmanager
    def changed(self) -> Iterator[None]:
        """Hold the study while it is begun, put away or taken up: one who does so at a time, whichever process answers him."""
        self.path.parent.mkdir(parents=True, exist_ok=True)
        with (self.path.parent / f"{self.path.name}.lock").open("w") as file:
            fcntl.flock(file, fcntl.LOCK_EX)
            yield

    @property
    def is_held(self) -> bool:
        """Return whether somebody works on it."""
        if not self.path.is_dir():
            return False
        try:
            with self.held():
                return False
        except Busy:
            return True

    def done(self) -> set[int]:
        """Return the numbers of the parts that are kept; a file that is no whole part is taken away and done again."""
        found = set()
        for file in self.parts.glob("part-*.parquet"):
            try:
                pq.read_metadata(file)
            except (pa.ArrowInvalid, OSError):
                file.unlink(missing_ok=True)
                continue
            found.add(int(file.stem.split("-")[1]))
        return found

    def keep(self, number: int, columns: dict[str, list[float]]) -> None:
        """Keep one part; raise OSError where there is no room."""
        sink = pa.BufferOutputStream()
        pq.write_table(pa.table(columns), sink)
        put_whole(self.parts / f"part-{number:06d}.parquet", sink.getvalue().to_pybytes())

    def part(self, number: int) -> dict[str, Array]:
        """Return one part by column."""
        return _table(self.parts / f"part-{number:06d}.parquet")

    def front(self) -> dict[str, Array]:
        """Return the front as it was last kept; empty before."""
        file = self.path / "front.parquet"
        try:
            return _table(file) if file.is_file() else {}
        except (pa.ArrowInvalid, OSError):
            return {}  # it is made again from the parts, when the study goes on

    def grown(self, front: dict[str, Array], numbers: list[int]) -> dict[str, Array]:
        """Return a front with more parts in it."""
        return merged([front, *(self.part(number) for number in numbers)], MISS_COLUMNS, SHOWN)

    def keep_front(self, front: dict[str, Array]) -> None:
        """Keep the front so far."""
        sink = pa.BufferOutputStream()
        pq.write_table(pa.table({name: pa.array(values) for name, values in front.items()}), sink)
        put_whole(self.path / "front.parquet", sink.getvalue().to_pybytes())

    def say(self, state: dict[str, Any]) -> None:
        """Keep how it stands."""
        put_whole(self.path / "state.json", json.dumps(state).encode())

    def say_at_last(self, state: dict[str, Any]) -> None:
        """Keep how it ended, on a full disk too: there it takes the room that was kept for that."""
        try:
            self.say(state)
        except OSError as full:
            if full.errno not in NO_ROOM:
                raise
            self.spare.unlink(missing_ok=True)
            self.say(state)

    def state(self) -> dict[str, Any]:
        """Return how it stood last."""
        try:
            found = json.loads((self.path / "state.json").read_text("utf-8"))
        except FileNotFoundError:
            return {}
        except (OSError, ValueError):
            return {"said": SPOILED}
        return found if isinstance(found, dict) else {"said": SPOILED}

    def ask_to_stop(self) -> None:
        """Have whoever works on it stop after the parts in hand."""
        (self.path / "stop").touch()

    def asked_to_stop(self) -> bool:
        """Return whether it is to stop."""
        return (self.path / "stop").exists()

    def may_go_on(self) -> None:
        """Take the wish to stop back."""
        (self.path / "stop").unlink(missing_ok=True)


def rows_of(front: dict[str, Array]) -> list[dict[str, float]]:
    """Return a front's vehicles, the best first."""
    count = len(front.get("score", ()))
    return [{name: float(values[k]) for name, values in front.items()} for k in range(count)]


def _table(file: Path) -> dict[str, Array]:
    table = pq.read_table(file)
    return {name: np.asarray(table.column(name).to_numpy()) for name in table.column_names}
