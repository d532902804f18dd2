"""bin/demo itself: it starts, serves, keeps its data, and says plainly what is in the way."""

import os
import signal
import socket
import subprocess
import tempfile
import time
import urllib.request
from contextlib import closing

from django.conf import settings
from django.test import SimpleTestCase

DEMO = settings.ROOT / "bin" / "demo"


def free_port() -> int:
    with closing(socket.socket()) as found:
        found.bind(("127.0.0.1", 0))
        port: int = found.getsockname()[1]
        return port


class Demo(SimpleTestCase):
    def run_demo(self, *arguments: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            [str(DEMO), *arguments], capture_output=True, text=True, timeout=400, check=False
        )

    def test_what_is_in_the_way_is_one_plain_sentence(self) -> None:
        for arguments, words in (
            (["--port", "many"], "--port takes a number"),
            (["--port", "99999"], "--port takes 1 to 65535"),
            (["--colour"], "unknown option --colour"),
        ):
            done = self.run_demo(*arguments)
            self.assertEqual(done.returncode, 1)
            self.assertIn(words, done.stderr)
            self.assertEqual(len(done.stderr.strip().split("\n")), 1)
        with closing(socket.socket()) as taken:
            taken.bind(("127.0.0.1", 0))
            taken.listen()
            done = self.run_demo("--port", str(taken.getsockname()[1]))
            self.assertIn("is taken", done.stderr)

    def test_reset_leaves_a_folder_alone_that_no_demo_made(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            letter = os.path.join(folder, "letter.txt")
            with open(letter, "w") as file:
                file.write("not a demo's")
            env = {**os.environ, "JUGATRIX_DATA": folder}
            command = [str(DEMO), "--reset", "--port", str(free_port())]
            done = subprocess.run(command, capture_output=True, text=True, timeout=400, check=False, env=env)
            self.assertEqual(done.returncode, 1)
            self.assertIn("was not made by bin/demo", done.stderr)
            self.assertTrue(os.path.exists(letter))

    def started(self, folder: str, port: int) -> subprocess.Popen[str]:
        env = {**os.environ, "JUGATRIX_DATA": folder}
        demo = subprocess.Popen(
            [str(DEMO), "--port", str(port)],
            stdout=subprocess.PIPE,
            text=True,
            env=env,
            start_new_session=True,
        )
        # As long as it lives, and on the slowest machine: what is tested is that it serves, not how soon.
        until = time.monotonic() + 400
        while demo.poll() is None and time.monotonic() < until:
            try:
                urllib.request.urlopen(f"http://127.0.0.1:{port}/api/session", timeout=20).read()
                return demo
            except OSError:
                time.sleep(0.25)
        if demo.poll() is None:
            os.killpg(demo.pid, signal.SIGKILL)
        self.fail(f"bin/demo did not serve; it said: {demo.communicate()[0]}")

    def stopped(self, demo: subprocess.Popen[str]) -> str:
        os.killpg(demo.pid, signal.SIGINT)
        out, _ = demo.communicate(timeout=120)
        return out

    def test_it_serves_the_demo_and_keeps_its_data(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            port = free_port()
            out = self.stopped(self.started(folder, port))
            self.assertIn(f"http://127.0.0.1:{port}", out)
            self.assertIn("sign in as bench", out)
            self.assertIn("Heron three-wheeler", out)
            again = self.started(folder, port)
            page = urllib.request.urlopen(f"http://127.0.0.1:{port}/jobs/anything", timeout=5)
            self.assertIn("<title>Jugatrix</title>", page.read().decode())
            self.assertNotIn("Heron three-wheeler", self.stopped(again))
