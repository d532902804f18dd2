#!/usr/bin/env python
"""Django's command line: `solve`, `backup`, `export-all`, `load_demo`, `test` and the usual ones; a name may have hyphens."""

import gc
import os
import sys
from importlib import import_module
from importlib.util import find_spec
from pathlib import Path

HEADLESS = {
    "solve": "server.solving.solve_file:SolveFile",
    "survey": "server.records.survey_file:SurveyFile",
    "prove": "server.proving.prove_file:ProveFile",
}
"""What needs neither the database nor the web, nor anything of Django: without them it starts in half the time."""

GARBAGE = 100_000  # objects made before the collector looks: these commands end soon
OWN = Path(__file__).resolve().parent / ".venv" / "bin" / "python"


def use_own_environment() -> None:
    """Run outside the project's environment, start again inside it."""
    if find_spec("django") is not None:
        return
    if not OWN.exists() or Path(sys.executable) == OWN:
        sys.exit(
            "Jugatrix: its Python packages are not installed yet. Run bin/demo or bin/test once; they install them."
        )
    os.execv(OWN, [str(OWN), *sys.argv])


if __name__ == "__main__":
    use_own_environment()
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")
    if sys.argv[1:2] and sys.argv[1] in HEADLESS:
        gc.set_threshold(GARBAGE)
        module, command = HEADLESS[sys.argv[1]].split(":")
        getattr(import_module(module), command)().start(sys.argv[1], sys.argv[2:])
        sys.exit()
    if sys.argv[1:2] == ["layouts"]:  # needs neither the database nor the web
        import_module("server.solving.management.commands.layouts").Command().run_from_argv(sys.argv)
        sys.exit()
    from django.core.management import execute_from_command_line

    if len(sys.argv) > 1 and not sys.argv[1].startswith("-"):
        sys.argv[1] = sys.argv[1].replace("-", "_")

    execute_from_command_line(sys.argv)
