"""Calls with bad forms, many: python -m bench.fuzz [TIMES EACH [SEED]]; every operation of the contract, a body with one thing wrong.

The suite asks each three times (server/tests/test_bad_forms.py); this one as often as is said, and tells how long they took.
"""

import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path

ROOT = Path(__file__).parents[1]
TEST = "server.tests.test_bad_forms.Mutated.test_no_call_fails_at_what_is_not_of_its_form"


def main(times: int, seed: int) -> int:
    """Ask every operation so many times; return the test's own answer."""
    with tempfile.TemporaryDirectory() as folder:
        env = {
            **os.environ,
            "JUGATRIX_DATA": folder,
            "JUGATRIX_FUZZ": str(times),
            "JUGATRIX_FUZZ_SEED": str(seed),
            "OPENBLAS_NUM_THREADS": "1",
        }
        began = time.perf_counter()
        done = subprocess.run(
            [sys.executable, "-W", "ignore", str(ROOT / "manage.py"), "test", "--noinput", TEST],
            env=env, cwd=ROOT, capture_output=True, text=True, check=False,
        )  # fmt: skip
    print(done.stderr[-4000:], done.stdout[-4000:])
    print(f"{times} of each in {time.perf_counter() - began:.0f} s")
    return done.returncode


if __name__ == "__main__":
    TIMES, SEED = (int(said) for said in [*sys.argv[1:], *("100", "20261201")[len(sys.argv) - 1 :]])
    sys.exit(main(TIMES, SEED))
