"""`manage.py study FILE`: a vehicle's mounts, rockers and springs varied together; the front that nothing beats as JSON."""

import signal
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import CommandParser

from engine.document.read import read_json
from engine.document.schema import Project
from engine.study.asked import StudyAsked, check_study
from server.django_headless import HeadlessCommand
from server.headless import OneFile
from server.study.executors import NoSuchPlace, cores, executor_at, share_of
from server.study.folder import Busy, OtherStudy, StudyFolder
from server.study.result import result_values
from server.study.run import Ran, run

PROVED = 5


class Command(HeadlessCommand, OneFile):
    """Do a design study, or take one up again."""

    help = (
        "Vary the mounts, rockers and springs of a vehicle's stations together against its wishes (the study's file is "
        "described in docs/study.md). Parts are kept as Parquet in a folder beside the file; stopped, it is taken up again by "
        "the same command. Exit 2 with one sentence per fault on bad input."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        super().add_arguments(parser)
        parser.add_argument(
            "--folder", type=Path, help="where the parts are kept; FILE.study beside the file else"
        )
        parser.add_argument("--workers", type=int, default=0, help="processes; one for each core else")
        parser.add_argument(
            "--on",
            default=settings.PLACE.study_on,
            help="“dask”, or a scheduler's address; this machine else",
        )
        parser.add_argument(
            "--proved", type=int, default=PROVED, help="how many of the front the general solver proves"
        )
        parser.add_argument(
            "--line",
            type=Path,
            help="the line that studies of this machine wait in: it shares the cores with them",
        )
        parser.add_argument("--quiet", action="store_true", help="say nothing while it runs")

    def read(self, data: bytes) -> Any:
        value = read_json(data)
        return check_study(value)

    def result_of(self, read: Any, options: dict[str, Any]) -> Any:
        asked: StudyAsked
        project: Project
        asked, project = read
        folder = StudyFolder(options["folder"] or Path(f"{options['file']}.study"))
        share = partial(share_of, options["line"], options["workers"] or cores())
        study = asked.model_dump_json(exclude_unset=True)
        try:
            folder.begin(study)
            for ending in (signal.SIGTERM, signal.SIGINT):
                signal.signal(ending, lambda *_: folder.ask_to_stop())
            ran = run(
                folder,
                study,
                asked.candidates,
                share,
                partial(executor_at, options["on"]),
                self._teller(options["quiet"]),
            )
        except (Busy, OtherStudy, NoSuchPlace) as error:
            self.refuse([str(error)])
        except OSError as error:
            self.refuse([f"{folder.path}: cannot be written: {error.strerror}."])
        return result_values(asked, project, folder.front(), ran, options["proved"])

    def _teller(self, quiet: bool) -> Callable[[Ran], None]:
        def tell(ran: Ran) -> None:
            if not quiet:
                self.stderr.write(
                    f"{ran.done} of {ran.parts} parts, {ran.vehicles:,} vehicles, {ran.seconds:.0f} s. {ran.said}".rstrip()
                )

        return tell
