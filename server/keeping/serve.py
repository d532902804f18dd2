"""Serve: `python -m server.keeping.serve` for a shop's own network, as its settings say; `--demo PORT` on loopback."""

import fcntl
import gc
import os
import socket
import subprocess
import sys
import time
from importlib import import_module
from pathlib import Path
from typing import IO, Any

import django
from gunicorn.app.base import BaseApplication
from gunicorn.workers.gthread import ThreadWorker

from server.place import LOOPBACK
from server.running import turns
from server.running.held_open import HandedOver

THREADS = 64  # a silent line holds one for some seconds
MOST_WORKERS = 4
GARBAGE = 20_000  # objects that an answer may make before the collector looks
ASIDE_S = 0.003  # an idle process takes a caller in much sooner
GOING_S = 3.0  # what was killed a moment ago may still be going


class Shared(ThreadWorker):
    """A process that leaves new callers to others while it works out an answer, and lets go of those who waited."""

    def accept(self, listener: socket.socket) -> None:
        """Take a caller in; if an answer is being worked out here, when nobody idle has taken him."""
        if turns.busy() and self.cfg.workers > 1:
            time.sleep(ASIDE_S)
        super().accept(listener)

    def handle_request(self, req: Any, conn: Any) -> Any:
        """Answer a question, and close the line after it if it stood in a queue."""
        question, wanted = turns.begin(), req.should_close
        if self.cfg.workers > 1:
            req.should_close = lambda: question.crowded or wanted()
        try:
            return super().handle_request(req, conn)
        except HandedOver as held:
            close, conn.close = conn.close, lambda graceful=False: None
            held.take(conn.sock, close)
            return False


class Served(BaseApplication):
    """The WSGI application under gunicorn, with options that are given and none from anywhere else."""

    def __init__(self, options: dict[str, Any]) -> None:
        self.options = options
        super().__init__()

    def load_config(self) -> None:
        """Set the options."""
        for key, value in self.options.items():
            self.cfg.set(key, value)

    def load(self) -> Any:
        """Return the application; it is loaded once, and each process that answers begins as a copy of that one."""
        application = import_module("server.config.wsgi").application
        # Django itself would load what answers only when it is first asked.
        import_module("server.config.urls")
        return application


def run(host: str, port: int, workers: int, **more: Any) -> None:
    """Serve until told to stop; a worker that is lost is replaced."""
    address = f"[{host}]:{port}" if ":" in host else f"{host}:{port}"
    options = {
        "bind": address, "workers": workers, "threads": THREADS, "worker_class": Shared, "loglevel": "warning",
        "timeout": 120, "graceful_timeout": 5, "keepalive": 15, "worker_connections": 2000, "backlog": 512,
        "proc_name": "jugatrix", "preload_app": True, "when_ready": _loaded, "post_worker_init": _began, "worker_exit": _ended, "worker_tmp_dir": "/dev/shm" if os.access("/dev/shm", os.W_OK) else None,
    }  # fmt: skip
    os.environ["JUGATRIX_SERVED"] = "1"
    Served({**options, **more}).run()


def _loaded(_: Any) -> None:
    """Make what is loaded once fit to be shared by all processes that answer, and by whoever replaces one that is lost."""
    from django.db import connections

    connections.close_all()  # each opens its own
    # What is loaded stays: the collector need not walk it for every answer's thousand lists.
    gc.collect()
    gc.freeze()
    gc.set_threshold(GARBAGE)


def _began(_: Any) -> None:
    from server.keeping.warm import warm
    from server.running.workers import begin

    begin(warm)


def _ended(_server: Any, _worker: Any) -> None:
    from server.running.workers import end

    end()


def _held(folder: Path) -> IO[str]:
    """Return the lock on a data folder: two servers on one would each think the other's work its own."""
    from server.keeping.start import CannotStart

    lock = (folder / "serving.lock").open("a")
    until = time.monotonic() + GOING_S
    while True:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
            return lock
        except BlockingIOError:
            if time.monotonic() > until:
                raise CannotStart(
                    f"Jugatrix already runs on {folder}. Stop that one, or give another JUGATRIX_DATA."
                ) from None
        time.sleep(0.2)


def _workers(wanted: int) -> int:
    """Return how many processes answer: one where an instrument hangs on a serial port, which only one can hold."""
    if wanted:
        return wanted
    serial = any(
        value.startswith(("/dev/", "COM"))
        for key, value in os.environ.items()
        if key.startswith("JUGATRIX_") and key not in ("JUGATRIX_DATA", "JUGATRIX_SETTINGS")
    )
    return 1 if serial else min(MOST_WORKERS, max(2, os.cpu_count() or 1))


def main(arguments: list[str]) -> None:
    """Start as the settings say."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")
    # Matrices here are small, and there is a process for each core: threads of their own would only be in the way.
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    if arguments[:1] == ["--demo"]:
        run("127.0.0.1", int(arguments[1]), 1)
        return
    os.environ["JUGATRIX_SERVING"] = os.environ["JUGATRIX_SERVED"] = "1"
    django.setup()
    from django.conf import settings

    from server.accounts.first_owner import first_code
    from server.keeping.start import CannotStart, ready, stop

    its = settings.PLACE
    try:
        ready(print, new="--new" in arguments)
        lock = _held(Path(settings.DATA))
        _free(its.host, its.port)
    except CannotStart as error:
        stop(str(error))
    code = first_code()
    print("\n".join(greeting(its, code)), flush=True)
    nightly = subprocess.Popen(
        [sys.executable, str(settings.ROOT / "manage.py"), "nightly", "--of", str(os.getpid())]
    )
    more: dict[str, Any] = {"forwarded_allow_ips": ",".join(its.proxy)}
    if its.certificate:
        more |= {"certfile": its.certificate, "keyfile": its.key}
    try:
        run(its.host, its.port, _workers(its.workers), **more)
    finally:
        nightly.terminate()
        lock.close()


def _free(host: str, port: int) -> None:
    from server.keeping.start import CannotStart

    kind = socket.AF_INET6 if ":" in host else socket.AF_INET
    with socket.socket(kind) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        until = time.monotonic() + GOING_S
        while True:
            try:
                probe.bind((host, port))
                return
            except OSError as error:
                if time.monotonic() > until:
                    raise CannotStart(
                        f"It cannot listen on {host} port {port}: {error.strerror}. "
                        "Stop what runs there, or set another port."
                    ) from error
            time.sleep(0.2)


def greeting(its: Any, code: str | None) -> list[str]:
    """Return what the terminal says: where it is, and on the first start the code that makes the first owner."""
    scheme = "https" if its.secure else "http"
    port = "" if its.proxy else f":{its.port}"
    shown = next(iter(its.reached_by), its.host)
    lines = ["", f"  Jugatrix is at {scheme}://{shown}{port}"]
    if code:
        lines += [
            "  Nobody who can sign in runs this shop's copy yet. Open it in a browser and give this code once;",
            "  you are then the owner:",
            "",
            f"      {code}",
        ]
    if its.host in LOOPBACK and not its.proxy:
        lines += [
            "  Only this machine reaches it. JUGATRIX_HOST=0.0.0.0 opens it to the shop's network; see docs/running.md."
        ]
    elif not its.secure:
        lines += [
            "  Without TLS anybody on this network can listen to passwords, and tablets cannot work without Wi-Fi.",
            "  docs/running.md says how to put a certificate or a proxy in front.",
        ]
    return [*lines, "  Ctrl-C stops it.", ""]


if __name__ == "__main__":
    main(sys.argv[1:])
