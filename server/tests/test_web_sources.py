"""The web shows; the engine computes. What in it works with angles and roots is drawing, and is listed here."""

import os
import re
from collections import defaultdict
from graphlib import CycleError, TopologicalSorter
from pathlib import Path
from unittest import TestCase

from django.conf import settings

DRAWS = re.compile(r"Math\.(sqrt|PI|atan2?|a?cos|a?sin|tan|pow|exp|log)\b| \*\* ")
PHYSICS = re.compile(r"9\.8\d|0\.0254|25\.4|4\.448|0\.1751")
TLS_ONLY = re.compile(r"randomUUID\(|subtle\b|navigator\.(?!onLine|userAgent|language)\w+|\bcaches\.")
ASKS_FIRST = {"api/line.ts", "session/without-line.ts", "session/worker.ts", "people/code.tsx"}
IMPORTS = re.compile(r'(?:from|import)\s*\(?\s*"(\.{1,2}/[^"]+)"')
DRAWING = {
    "frame/catching.ts",  # what an end catches under the pointer
    "frame/frame-drawing.tsx",
    "make/shapes.tsx",
    "make/card-photo.tsx",
    "make/round.tsx",  # a tube turned in the round
    "rocker/plane.ts",  # the rocker's plane on the screen, and back
    "rocker/plate-panel.tsx",  # the plate's outline
    "rocker/rocker-drawing.tsx",
    "rocker/search-panel.tsx",  # a score is a square
    "survey/drawing.tsx",  # the outline of a place's error
    "views/envelopes.ts",
    "views/plane-view.tsx",
    "views/shapes.ts",
    "views/solids.ts",
    "views/turnable.tsx",
}
UNITS = {
    "quantity/quantity.ts",  # the one converter, and round ticks
    "views/scribed.tsx",  # a scale bar of whole inches
}


class WebSources(TestCase):
    def sources(self) -> list[tuple[str, str]]:
        web = Path(settings.ROOT) / "web" / "src"
        found = [
            (str(path.relative_to(web)), path.read_text("utf-8"))
            for path in sorted(web.rglob("*.ts*"))
            if not path.name.endswith(".gen.ts")
        ]
        self.assertGreater(len(found), 80)
        return found

    def test_only_drawings_work_with_angles_and_roots(self) -> None:
        using = {name for name, text in self.sources() if DRAWS.search(text)}
        self.assertEqual(using - DRAWING - UNITS, set())

    def test_only_one_place_knows_units_and_none_knows_physics(self) -> None:
        using = {name for name, text in self.sources() if PHYSICS.search(text)}
        self.assertEqual(using - UNITS, set())

    def test_nothing_needs_what_browsers_have_with_tls_only(self) -> None:
        """A shop may serve its own network without; what is used all the same is asked for first."""
        using = {name for name, text in self.sources() if TLS_ONLY.search(text)}
        self.assertEqual(using - ASKS_FIRST, set())

    def test_no_folder_looks_back_up(self) -> None:
        """Every folder of the browser's sources stands on others, and none of those on it; files do not go round either."""
        web = Path(settings.ROOT) / "web" / "src"
        folders: dict[str, set[str]] = defaultdict(set)
        files: dict[str, set[str]] = defaultdict(set)
        for name, text in self.sources():
            here = (web / name).parent
            for asked in IMPORTS.findall(text):
                path = os.path.relpath(os.path.normpath(here / asked), web)
                its = next(
                    (f"{path}{end}" for end in (".ts", ".tsx", "") if (web / f"{path}{end}").is_file()), None
                )
                self.assertIsNotNone(its, f"{name} imports {asked}, which is not there")
                files[name].add(str(its))
                folder, other = name.partition("/")[0], str(its).partition("/")[0]
                if folder != other and "/" in name:
                    folders[folder].add(other)
        self.assertGreater(sum(map(len, files.values())), 500)
        for graph in (folders, files):
            try:
                TopologicalSorter(graph).prepare()
            except CycleError as error:
                self.fail(f"they go round: {' → '.join(error.args[1])}")
