"""What ships with Jugatrix and under which terms, in one text: `python -m server.keeping.licences BUILD NODE_MODULES`.

The bundler tells what of others' scripts is in the build; fonts and the packages that the server runs on are told here.
"""

import re
import sys
from collections.abc import Iterator
from importlib.metadata import Distribution, distributions
from pathlib import Path

FONTS = ("@fontsource-variable/archivo", "dejavu-fonts-ttf")
BUNDLED = "licences-of-scripts.md"
WHOLE = "licences.txt"
IS_LICENCE = re.compile(r"(?i)^(licen[cs]e|copying|notice|ofl)")
LOCK = Path(__file__).parents[2] / "requirements" / "run.txt"
RULE = "\n" + "=" * 100 + "\n"


def shipped() -> set[str]:
    """Return the names of the packages that the server runs on, as the lock has them."""
    return {_plain(name) for name in re.findall(r"(?m)^([A-Za-z0-9._-]+)==", LOCK.read_text("utf-8"))}


def licences(build: Path, modules: Path) -> str:
    """Return all of it; raise FileNotFoundError where a font or the bundler's part is missing."""
    parts = ["What ships with Jugatrix, and under which terms.", (build / BUNDLED).read_text("utf-8")]
    for font in FONTS:
        texts = sorted(path for path in (modules / font).iterdir() if IS_LICENCE.match(path.name))
        if not texts:
            raise FileNotFoundError(f"{modules / font} has no licence beside it.")
        parts.append(f"{font}\n\n{texts[0].read_text('utf-8')}")
    parts += _of_packages()
    return RULE.join(parts) + "\n"


def _of_packages() -> Iterator[str]:
    wanted = shipped()
    found = {_plain(one.metadata["Name"]): one for one in distributions()}
    for name in sorted(wanted):
        its = found.get(name)
        if its is None:
            raise FileNotFoundError(f"{name} is in the lock and not installed.")
        yield f"{its.metadata['Name']} {its.version}\n{_terms(its)}\n\n" + "\n\n".join(_texts(its))


def _terms(its: Distribution) -> str:
    said = next((its.metadata[key] for key in ("License-Expression", "License") if key in its.metadata), "")
    classes = [one for one in its.metadata.get_all("Classifier") or [] if one.startswith("License ::")]
    return said.strip().partition("\n")[0] or ", ".join(one.rpartition(" :: ")[2] for one in classes)


def _texts(its: Distribution) -> Iterator[str]:
    for file in its.files or []:
        if IS_LICENCE.match(file.name) and ".dist-info" in str(file):
            path = Path(str(its.locate_file(file)))
            if path.is_file():
                yield path.read_text("utf-8", "replace")


def _plain(name: str) -> str:
    return re.sub(r"[-_.]+", "-", name).lower()


if __name__ == "__main__":
    build, modules = map(Path, sys.argv[1:3])
    (build / WHOLE).write_text(licences(build, modules), "utf-8")
    (build / BUNDLED).unlink()
