"""The line in which studies wait, two at a time: `python -m server.study.waiting LINE FOLDER COMMAND…`.

Seats    files of the line's folder; whoever holds one's lock works. It is held through the command, and let go of with its end.
Tickets  files by the time at which they were drawn; whoever waits holds the lock of his. One that nobody holds is none.

Only the standard library: whoever waits should cost next to nothing.
"""

import fcntl
import json
import os
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO

SEATS = 2
LOOKS_S = 0.5
STOPPED = "Stopped; it can be taken up again."


def before(line: Path, name: str) -> int | None:
    """Return how many stand in the line before somebody; None where he does not stand in it."""
    return next((k for k, ticket in enumerate(_waiting(line)) if _name(ticket) == name), None)


def at_work_or_waiting(line: Path) -> int:
    """Return how many studies work or stand in the line."""
    return sum(_is_taken(line / f"seat-{number}") for number in range(SEATS)) + len(_waiting(line))


def wait(line: Path, folder: Path) -> int | None:
    """Wait for a seat, first come first served; return its file, open and locked, to be held by who works.

    None where it is asked to stop, or put away, before its turn comes.
    """
    line.mkdir(parents=True, exist_ok=True)
    ticket = line / f"{time.time_ns():020d}.{folder.name}.ticket"
    with _drawn(line, ticket):
        try:
            while folder.is_dir() and not (folder / "stop").exists():
                first = _waiting(line)[:1]
                if not first or first[0] == ticket:
                    seat = _seat(line)
                    if seat is not None:
                        return seat
                time.sleep(LOOKS_S)
            return None
        finally:
            ticket.unlink(missing_ok=True)


def gave_up(folder: Path) -> None:
    """Say that a study was stopped before its turn came; the rest of how it stands stays."""
    state = folder / "state.json"
    try:
        found = json.loads(state.read_text("utf-8"))
    except (OSError, ValueError):
        found = {}
    beside = folder / f"state.json.{os.getpid()}"
    beside.write_text(
        json.dumps({**(found if isinstance(found, dict) else {}), "said": STOPPED, "started": 0.0}), "utf-8"
    )
    beside.replace(state)
    (folder / "stop").unlink(missing_ok=True)


def _drawn(line: Path, ticket: Path) -> IO[str]:
    """Return a ticket, held: nobody looks through the line before it is."""
    with _door(line):
        held = ticket.open("w")
        fcntl.flock(held, fcntl.LOCK_EX)
    return held


@contextmanager
def _door(line: Path) -> Iterator[None]:
    """Let one at a time draw a ticket or look through them."""
    with (line / "door").open("w") as door:
        fcntl.flock(door, fcntl.LOCK_EX)
        yield


def _name(ticket: Path) -> str:
    return ticket.name.split(".")[1]


def _waiting(line: Path) -> list[Path]:
    """Return the tickets that somebody holds, the first drawn first; what nobody holds is taken away."""
    found: list[Path] = []
    if not line.is_dir():
        return found
    with _door(line):
        for ticket in sorted(line.glob("*.ticket")):
            try:
                with ticket.open() as file:
                    fcntl.flock(file, fcntl.LOCK_SH | fcntl.LOCK_NB)
                    ticket.unlink(missing_ok=True)
            except BlockingIOError:
                found.append(ticket)
            except OSError:
                continue
    return found


def _is_taken(seat: Path) -> bool:
    try:
        with seat.open() as file:
            fcntl.flock(file, fcntl.LOCK_SH | fcntl.LOCK_NB)
    except BlockingIOError:
        return True
    except OSError:
        pass
    return False


def _seat(line: Path) -> int | None:
    for number in range(SEATS):
        seat = os.open(line / f"seat-{number}", os.O_RDWR | os.O_CREAT, 0o600)
        try:
            fcntl.flock(seat, fcntl.LOCK_EX | fcntl.LOCK_NB)
            return seat
        except OSError:
            os.close(seat)
    return None


if __name__ == "__main__":
    seat = wait(Path(sys.argv[1]), Path(sys.argv[2]))
    if seat is not None:
        os.set_inheritable(seat, True)
        os.execvp(sys.argv[3], sys.argv[3:])
    elif Path(sys.argv[2]).is_dir():
        gave_up(Path(sys.argv[2]))
