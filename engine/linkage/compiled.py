"""`closing.py` as machine code: compiled at set-up, for this very source, or by numba the first time it is needed.

    python -m engine.linkage.compiled

The library is named after the sum of its source, so that one made from an older source is never run. Loading it
takes a thousandth of a second and does not load numba, which takes four tenths. Where set-up could not compile
(it takes a C compiler to link), numba compiles within the process and keeps what it made in its own cache.
"""

import hashlib
import importlib.util
import os
import sys
import sysconfig
from importlib.machinery import ExtensionFileLoader
from pathlib import Path
from tempfile import TemporaryDirectory
from types import ModuleType
from typing import Any

SOURCE = Path(__file__).with_name("closing.py")
BUILT = Path(__file__).with_name("built")
SUFFIX = str(sysconfig.get_config_var("EXT_SUFFIX"))


def name() -> str:
    """Return the library's name: its source's sum."""
    return f"closing_{hashlib.sha256(SOURCE.read_bytes()).hexdigest()[:20]}"


def build() -> Path:
    """Compile the library if it is not there, and clear older ones away; return where it is."""
    file = BUILT / f"{name()}{SUFFIX}"
    if file.exists():
        return file
    from numba.pycc import CC  # type: ignore[attr-defined]

    from engine.linkage import closing

    BUILT.mkdir(exist_ok=True)
    with TemporaryDirectory(dir=BUILT) as aside:  # whoever starts meanwhile finds all of it or nothing
        compiler: Any = CC(name(), source_module=closing)  # type: ignore[no-untyped-call]
        compiler.output_dir = aside
        for function, takes in closing.SIGNATURES.items():
            compiler.export(function.__name__, f"void({', '.join(takes)})")(function)
        compiler.compile()
        os.replace(Path(aside) / file.name, file)
    for other in BUILT.glob(f"closing_*{SUFFIX}"):
        if other != file:
            other.unlink()
    return file


def loaded() -> ModuleType:
    """Return a module with `closing.py`'s functions, compiled."""
    file = BUILT / f"{name()}{SUFFIX}"
    if file.exists():
        loader = ExtensionFileLoader(name(), str(file))
        spec = importlib.util.spec_from_file_location(name(), file, loader=loader)
        assert spec is not None
        module = importlib.util.module_from_spec(spec)
        loader.exec_module(module)
        return module
    return by_numba()


def by_numba() -> ModuleType:
    """Return the same, compiled by numba in this process as each is first called."""
    from engine.linkage import closing

    module = ModuleType("closing_by_numba")
    for function in closing.SIGNATURES:
        setattr(module, function.__name__, closing.compiled(function))
    return module


if __name__ == "__main__":
    sys.stdout.write(f"{build()}\n")
