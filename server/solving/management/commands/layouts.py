"""`manage.py layouts`: list the arrangements, or write a starting project file for one; needs no database."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from engine.document.write import project_text
from engine.errors import EngineError
from engine.layouts.catalogue import LAYOUTS, layout_named, starting_project
from engine.layouts.layout import Brief

OPTIONS = {
    "wheel-radius": ("wheel_radius", "mm", 50, 1000),
    "tyre-width": ("tyre_width", "mm", 20, 1000),
    "track": ("track", "mm between the wheels' middles", 300, 4000),
    "bump": ("bump", "mm of wheel travel up from drawn", 5, 500),
    "droop": ("droop", "mm of wheel travel down from drawn", 5, 500),
    "corner-mass": ("corner_mass", "kg at each wheel, all of it", 5, 20000),
    "unsprung-mass": ("unsprung_mass", "kg of it that the spring does not carry", 0, 5000),
    "frequency": ("frequency", "Hz at which it should ride", 0.4, 6),
}


class Command(BaseCommand):
    """List the arrangements, or start a file for one."""

    help = "List the arrangements. With NAME, write a starting project file for it, scaled from the options."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("name", nargs="?", metavar="NAME", help="an arrangement from the list")
        parser.add_argument("--out", type=Path, metavar="FILE", help="write there instead of standard output")
        for option, (_, what, _, _) in OPTIONS.items():
            parser.add_argument(f"--{option}", type=float, metavar="N", help=what)

    def handle(self, *args: Any, **options: Any) -> None:
        if options["name"] is None:
            self._list()
            return
        try:
            text = project_text(starting_project(layout_named(options["name"]), self._brief(options)))
        except EngineError as error:
            self._refuse(str(error))
        if options["out"] is None:
            self.stdout.write(text)
            return
        try:
            options["out"].write_text(text, encoding="utf-8")
        except OSError as error:
            self._refuse(f"{options['out']}: cannot be written: {error.strerror}.")

    def _list(self) -> None:
        for layout in LAYOUTS:
            self.stdout.write(f"{layout.name:24} {layout.title}")
            self.stdout.write(f"{'':24} {layout.moves} Room: {layout.room}.")

    def _brief(self, options: dict[str, Any]) -> Brief:
        given = {}
        for option, (key, what, least, most) in OPTIONS.items():
            value = options[option.replace("-", "_")]
            if value is None:
                continue
            if not least <= value <= most:
                self._refuse(f"--{option}: give {least:g} to {most:g} ({what}), got {value:g}.")
            given[key] = value
        brief = Brief(**given)
        if brief.unsprung_mass >= brief.corner_mass:
            self._refuse(
                f"--unsprung-mass: must be less than the corner mass ({brief.corner_mass:g} kg), got {brief.unsprung_mass:g}."
            )
        return brief

    def _refuse(self, sentence: str) -> None:
        self.stderr.write(sentence)
        raise SystemExit(2)
