"""How much memory a shop's server takes while six studies are begun at once: .venv/bin/python -m bench.studies [STUDIES].

What the processes share is counted once (their proportional share, PSS, as Linux tells it).
"""

import contextlib
import json
import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")

from django.conf import settings

from e2e.test_demo import free_port
from e2e.test_serve import SERVE, Caller

FILES = settings.ROOT / "server" / "demo" / "files"
SECONDS = 30.0
SETTLES_S = 2.0


def shares_of(shop: str) -> list[tuple[str, float]]:
    """Return what every process of a shop is and its share of memory, MB."""
    found = []
    for folder in Path("/proc").glob("[0-9]*"):
        with contextlib.suppress(OSError, ProcessLookupError):
            if f"JUGATRIX_DATA={shop}\0".encode() not in (folder / "environ").read_bytes():
                continue
            rollup = (folder / "smaps_rollup").read_text()
            share = next(int(line.split()[1]) for line in rollup.splitlines() if line.startswith("Pss:"))
            said = (folder / "cmdline").read_text().replace("\0", " ")
            found.append((said.strip()[:90], share / 1024))
    return found


def main(studies: int) -> None:
    """Print the most that was taken, and by how many processes."""
    with tempfile.TemporaryDirectory() as folder:
        shop = f"{folder}/shop"
        env = {**os.environ, "JUGATRIX_DATA": shop, "JUGATRIX_PORT": str(free_port())}
        served = subprocess.Popen(
            [str(SERVE)],
            env=env,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            start_new_session=True,
        )
        ada = Caller(f"http://127.0.0.1:{env['JUGATRIX_PORT']}")
        for _ in range(240):
            with contextlib.suppress(OSError):
                ada.call("GET", "/health")
                break
            time.sleep(0.25)
        ada.come_in((Path(shop) / "first_owner").read_text())
        time.sleep(SETTLES_S)
        quiet = shares_of(shop)
        print(f"nothing asked: {len(quiet)} processes, {sum(share for _, share in quiet):.0f} MB")
        heron = json.loads((FILES / "heron-three-wheeler.json").read_text("utf-8"))
        usual = ada.call("POST", "/api/study/usual", {"document": heron})[1]
        for _ in range(studies):
            job = ada.call("POST", "/api/jobs/import", heron)[1]["id"]
            asked = {"document": heron, **usual, "candidates": 1_000_000}
            status, said = ada.call("POST", f"/api/jobs/{job}/study", asked)
            print("begun" if status < 300 else f"{status} {said}")
        most: list[tuple[str, float]] = []
        until = time.monotonic() + SECONDS
        while time.monotonic() < until:
            now = shares_of(shop)
            if sum(share for _, share in now) > sum(share for _, share in most):
                most = now
            time.sleep(0.5)
        print(f"{studies} studies: {len(most)} processes, {sum(share for _, share in most):.0f} MB at most")
        for said, share in sorted(most, key=lambda one: -one[1]):
            print(f"{share:8.0f} MB  {said}")
        served.terminate()
        served.wait()


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 6)
