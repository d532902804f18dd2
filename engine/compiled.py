"""The inner loops as machine code: compiled at set-up, for their very source, or by numba the first time they are needed.

    python -m engine.compiled

A library is named after the sum of its source, so that one made from an older source is never run. Loading it
takes a thousandth of a second and does not load numba, which takes four tenths. Where set-up could not compile
(it takes a C compiler to link), numba compiles within the process and keeps what it made in its own cache.
"""

import hashlib
import importlib
import importlib.util
import os
import sys
import sysconfig
from functools import cache
from importlib.machinery import ExtensionFileLoader
from pathlib import Path
from tempfile import TemporaryDirectory
from types import ModuleType
from typing import Any

SOURCES = (
    "engine.linkage.closing",
    "engine.linkage.posing",
    "engine.limits.nearing",
    "engine.sizing.rocker.turning",
)
"""Modules that only this one imports: each says in SIGNATURES what of it is called from outside, and with what."""

ROOT = Path(__file__).parents[1]
BUILT = Path(__file__).with_name("built")
SUFFIX = str(sysconfig.get_config_var("EXT_SUFFIX"))


def library(source: str) -> str:
    """Return the name of a source's library."""
    text = ROOT.joinpath(*source.split(".")).with_suffix(".py").read_bytes()
    return f"{source.rpartition('.')[2]}_{hashlib.sha256(text).hexdigest()[:20]}"


def build(source: str) -> Path:
    """Compile a library if it is not there, and clear older ones away; return where it is."""
    name = library(source)
    file = BUILT / f"{name}{SUFFIX}"
    if file.exists():
        return file
    from numba.pycc import CC  # type: ignore[attr-defined]

    module: Any = importlib.import_module(source)
    BUILT.mkdir(exist_ok=True)
    with TemporaryDirectory(dir=BUILT) as aside:  # whoever starts meanwhile finds all of it or nothing
        compiler: Any = CC(name, source_module=module)  # type: ignore[no-untyped-call]
        compiler.output_dir = aside
        for function, takes in module.SIGNATURES.items():
            compiler.export(function.__name__, f"void({', '.join(takes)})")(function)
        compiler.compile()
        os.replace(Path(aside) / file.name, file)
    for other in BUILT.glob(f"{name.rpartition('_')[0]}_*{SUFFIX}"):
        if other != file:
            other.unlink()
    return file


@cache
def loaded(source: str) -> ModuleType:
    """Return a module with a source's functions, compiled."""
    name = library(source)
    file = BUILT / f"{name}{SUFFIX}"
    if not file.exists():
        return by_numba(source)
    loader = ExtensionFileLoader(name, str(file))
    spec = importlib.util.spec_from_file_location(name, file, loader=loader)
    assert spec is not None
    module = importlib.util.module_from_spec(spec)
    loader.exec_module(module)
    return module


def by_numba(source: str) -> ModuleType:
    """Return the same, compiled by numba in this process as each is first called."""
    from numba import njit

    its: Any = importlib.import_module(source)
    module = ModuleType(f"{source}_by_numba")
    for function in its.SIGNATURES:
        setattr(module, function.__name__, njit(error_model="numpy", cache=True)(function))
    return module


if __name__ == "__main__":
    from concurrent.futures import ProcessPoolExecutor

    with ProcessPoolExecutor(len(SOURCES)) as pool:
        for made in pool.map(build, SOURCES):
            sys.stdout.write(f"{made}\n")
