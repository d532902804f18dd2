"""Many at once, against bin/serve itself: hands that nudge five times a second, with and without searches beside them.

.venv/bin/python -m bench.many [HANDS …]
"""

import json
import os
import random
import subprocess
import sys
import tempfile
import threading
import time
from http.client import HTTPConnection
from pathlib import Path
from typing import Any

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")

from e2e.test_demo import free_port
from e2e.test_serve import PASSWORD, SERVE, Caller

ROOT = Path(__file__).parents[1]
HERON = json.loads((ROOT / "server" / "demo" / "files" / "heron-three-wheeler.json").read_text("utf-8"))
SECONDS, EACH_S = 15.0, 0.2


def asked_of(heron: dict[str, Any]) -> tuple[str, float]:
    """Return a question about the Heron's front with MOVED for one height, and that height, mm."""
    station = heron["stations"][0]
    point = station["points"][station["chassis"][0]]
    height, point[2] = point[2], MOVED
    document = {key: value for key, value in heron.items() if key not in ("survey", "records")}
    return json.dumps({"document": document, "station": 0, "rooms": True}), height


# Written once: those who ask sit on the same two cores, and a shop's tablets do not.
MOVED = "where it was moved to"
ASKED, HEIGHT = asked_of(HERON)


def body(hand: int, count: int) -> bytes:
    """Return a nudge of the Heron's front, everything asked at once as the sheet does."""
    return ASKED.replace(json.dumps(MOVED), str(HEIGHT + 0.001 * (hand * 1000 + count))).encode()


class Hand:
    """A browser that is signed in: it keeps its line as long as the server does."""

    def __init__(self, address: str, jar: list[Any]) -> None:
        self.line = HTTPConnection(address.removeprefix("http://"), timeout=20)
        token = next(one.value for one in jar if one.name == "csrftoken")
        self.headers = {
            "Content-Type": "application/json",
            "X-CSRFToken": token,
            "Referer": address + "/",
            "Cookie": "; ".join(f"{one.name}={one.value}" for one in jar),
        }

    def ask(self, path: str, asked: bytes) -> bytes:
        self.line.request("POST", path, asked, self.headers)
        got = self.line.getresponse()
        said = got.read()
        assert got.status == 200, (got.status, said[:300])
        return said


def measured(
    address: str, jar: list[Any], hands: int, searchers: int
) -> tuple[int, list[float], list[float]]:
    """Return how many nudges were answered, how long each took, and how long the parts of searches took, s."""
    until = time.monotonic() + SECONDS
    took: list[float] = []
    parts: list[float] = []

    def nudge(hand: int) -> None:
        one, count = Hand(address, jar), 0
        time.sleep(EACH_S * random.Random(hand).random())  # hands that know nothing of one another
        while time.monotonic() < until:
            asked = body(hand, count)
            began = time.monotonic()
            one.ask("/api/solve", asked)
            took.append(time.monotonic() - began)
            count += 1
            time.sleep(max(0.0, EACH_S - (time.monotonic() - began)))

    def search(hand: int) -> None:
        one, part = Hand(address, jar), hand
        while time.monotonic() < until:
            began = time.monotonic()
            asked = {**json.loads(body(hand, 0)), "targets": {"ratio": 0.7}, "part": part % 8}
            one.ask("/api/rockers/search", json.dumps(asked).encode())
            parts.append(time.monotonic() - began)
            part += 1

    threads = [threading.Thread(target=nudge, args=(hand,)) for hand in range(hands)]
    threads += [threading.Thread(target=search, args=(hand,)) for hand in range(searchers)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return len(took), sorted(took), sorted(parts)


def main(hands: list[int]) -> None:
    with tempfile.TemporaryDirectory() as folder:
        port = free_port()
        env = {**os.environ, "JUGATRIX_DATA": f"{folder}/shop", "JUGATRIX_PORT": str(port)}
        served = subprocess.Popen([str(SERVE)], env=env, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        address = f"http://127.0.0.1:{port}"
        ada = Caller(address)
        for _ in range(200):
            try:
                ada.call("GET", "/health")
                break
            except OSError:
                time.sleep(0.25)
        ada.come_in((Path(folder) / "shop" / "first_owner").read_text())
        assert PASSWORD
        jar = list(ada.jar)
        measured(address, jar, 2, 1)  # warm
        print(f"{'hands':>6}{'searches':>10}{'nudges/s':>10}{'p50':>9}{'p95':>9}{'a part':>9}")
        for many in hands:
            for searchers in (0, 1):
                count, took, parts = measured(address, jar, many, searchers)
                p50, p95 = took[len(took) // 2], took[int(0.95 * len(took))]
                part = f"{parts[len(parts) // 2]:.2f} s" if parts else ""
                print(
                    f"{many:6}{searchers:10}{count / SECONDS:10.1f}{1e3 * p50:6.0f} ms{1e3 * p95:6.0f} ms{part:>9}"
                )
        served.terminate()
        served.wait()


if __name__ == "__main__":
    main([int(text) for text in sys.argv[1:]] or [1, 2, 4, 10])
