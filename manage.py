#!/usr/bin/env python
"""Django's command line: `solve`, `backup`, `export-all`, `load_demo`, `test` and the usual ones; a name may have hyphens."""

import os
import sys
from importlib import import_module
from importlib.util import find_spec
from pathlib import Path

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
    if sys.argv[1:2] in (["solve"], ["layouts"]):
        # Neither needs the database or the web: without them they start in half the time.
        command = import_module(f"server.solving.management.commands.{sys.argv[1]}").Command()
        command.run_from_argv(sys.argv)
        sys.exit()
    from django.core.management import execute_from_command_line

    if len(sys.argv) > 1 and not sys.argv[1].startswith("-"):
        sys.argv[1] = sys.argv[1].replace("-", "_")

    execute_from_command_line(sys.argv)
