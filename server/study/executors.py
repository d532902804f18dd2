"""Where the parts of a study are done: processes of this machine, or a cluster that a setting names.

Every place is a `concurrent.futures.Executor`, so that whoever hands out the parts need not know which it is.
""                   processes of this machine, behind whoever answers at the bench: one for each core while one study
                     is at work, shared out while others work or wait beside it
"dask"               a cluster of dask's own on this machine
"tcp://host:8786"    a scheduler that is there already, with as many workers as somebody has started
"""

import logging
import multiprocessing
import os
from concurrent.futures import BrokenExecutor, CancelledError, Executor, Future, ProcessPoolExecutor
from pathlib import Path
from typing import Any

from server.running.giving_way import leave_all
from server.study.waiting import SEATS, at_work_or_waiting


class NoSuchPlace(ValueError):
    """A place for a study that is not there, in a sentence."""


def executor_at(where: str, workers: int) -> Executor:
    """Return where parts are done; raise NoSuchPlace."""
    if not where:
        # Loaded once, and copied from what is loaded: what all of them need is in memory once.
        context = multiprocessing.get_context("forkserver")
        context.set_forkserver_preload(["scipy.stats", "engine.study.chunk", "server.study.executors"])
        return ProcessPoolExecutor(max_workers=workers, mp_context=context, initializer=_begun)
    if where != "dask" and "://" not in where:
        raise NoSuchPlace(
            f"A study is done on “dask”, or at an address like tcp://host:8786, not on “{where}”."
        )
    return DaskExecutor(where, workers)


def lost_by(executor: Executor) -> tuple[type[BaseException], ...]:
    """Return what is raised when whoever does the parts is gone, rather than when a part cannot be done."""
    return (BrokenExecutor, CancelledError, *getattr(executor, "lost", ()))


def cores() -> int:
    """Return how many processes this machine takes."""
    return len(os.sched_getaffinity(0))


def share_of(line: Path | None, workers: int) -> int:
    """Return how many processes a study may have: all there are while it is alone, its share of them beside others."""
    if line is None or at_work_or_waiting(line) <= 1:
        return workers
    return max(1, workers // SEATS)


def _begun() -> None:
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    leave_all()


class DaskExecutor(Executor):
    """A dask cluster as an executor of the standard library. It is an extra: requirements/dask.txt."""

    WAITS_S = 20

    def __init__(self, where: str, workers: int) -> None:
        logging.getLogger("distributed").setLevel(logging.ERROR)
        try:
            from distributed import Client, KilledWorker, LocalCluster
            from distributed.comm import CommClosedError
        except ImportError as error:
            words = "dask is not installed here: pip install -r requirements/dask.txt, or do the study without it."
            raise NoSuchPlace(words) from error
        self.lost = (KilledWorker, CommClosedError, TimeoutError, ConnectionError)
        self.cluster = None
        if where == "dask":
            self.cluster = LocalCluster(
                n_workers=workers, threads_per_worker=1, dashboard_address=None, silence_logs=logging.ERROR
            )
        try:
            self.client = Client(self.cluster or where, timeout=self.WAITS_S)
        except (OSError, TimeoutError) as error:
            raise NoSuchPlace(f"No scheduler answers at {where}.") from error
        self.inner = self.client.get_executor(pure=False, retries=0)

    def submit(self, work: Any, /, *values: Any, **more: Any) -> Future[Any]:
        """Hand a piece of work to the cluster."""
        return self.inner.submit(work, *values, **more)

    def shutdown(self, wait: bool = True, *, cancel_futures: bool = False) -> None:
        """Let go of the cluster; one that was there already goes on."""
        try:
            self.client.close(timeout=5)
            if self.cluster is not None:
                self.cluster.close(timeout=5)
        except Exception:
            return
