#!/usr/bin/env python
"""Django's command line: `solve`, `backup`, `export-all`, `load_demo`, `test` and the usual ones; a name may have hyphens."""

import gc
import os
import sys
from contextlib import suppress
from importlib import import_module
from importlib.util import find_spec
from pathlib import Path
from typing import NoReturn

HEADLESS = {
    "solve": "server.solving.solve_file:SolveFile",
    "survey": "server.records.survey_file:SurveyFile",
    "prove": "server.proving.prove_file:ProveFile",
    "right": "server.solving.right_file:RightFile",
    "carry": "server.solving.carry_file:CarryFile",
    "practise": "server.solving.practise_file:PractiseFile",
    "order": "server.solving.order_file:OrderFile",
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


def run_headless(name: str, words: list[str]) -> NoReturn:
    """Run one of the headless commands, started and ended in no more time than it takes."""
    gc.set_threshold(GARBAGE)
    os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")  # looked for in everything installed
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # matrices here are small
    module, command = HEADLESS[name].split(":")
    status = 0
    try:
        getattr(import_module(module), command)().start(name, words)
    except SystemExit as end:
        status = end.code if isinstance(end.code, int) else 0
    with suppress(BrokenPipeError):
        sys.stdout.flush()
        sys.stderr.flush()
    # Python would take apart all that was loaded, for a sixth of the whole time.
    os._exit(status)


if __name__ == "__main__":
    use_own_environment()
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")
    if sys.argv[1:2] and sys.argv[1] in HEADLESS:
        run_headless(sys.argv[1], sys.argv[2:])
    if sys.argv[1:2] == ["layouts"]:  # needs neither the database nor the web
        import_module("server.solving.management.commands.layouts").Command().run_from_argv(sys.argv)
        sys.exit()
    from django.core.management import execute_from_command_line

    if len(sys.argv) > 1 and not sys.argv[1].startswith("-"):
        sys.argv[1] = sys.argv[1].replace("-", "_")

    execute_from_command_line(sys.argv)
