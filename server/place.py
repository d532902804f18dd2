"""Where this copy runs: from the environment, else from one settings file, else as on a bench of one's own.

The file is TOML, named by JUGATRIX_SETTINGS or `settings.toml` in the data folder; every key may also come from the
environment as JUGATRIX_<KEY>, which wins. What is not known is refused by its name.
"""

import os
import socket
import tomllib
from collections.abc import Mapping
from dataclasses import fields
from ipaddress import ip_address
from pathlib import Path

from engine.facts import facts

ROOT = Path(__file__).resolve().parents[1]
LOOPBACK = ("127.0.0.1", "::1", "localhost")


class BadPlace(ValueError):
    """A setting that cannot be, in a sentence."""


@facts
class Place:
    """How a shop runs it.

    host, port  : what it listens on
    names       : by which names and addresses it is reached, the first the one that is shown to tablets
    proxy       : addresses of a proxy in front that ends TLS; only those are believed about who asks
    certificate, key : files of its own certificate, where no proxy ends TLS
    workers     : processes that answer; one where a real instrument hangs on a serial port
    backup_hour : hour of the day, by this machine's clock, of the nightly backup; -1 for none
    backups     : folder for them; `backups` beside the data where it is not given
    study_on    : where design studies are done: nothing for this machine, `dask`, or the address of a scheduler
    stand_ins   : whether instruments that are not there are played
    """

    host: str = "127.0.0.1"
    port: int = 8000
    names: tuple[str, ...] = ()
    proxy: tuple[str, ...] = ()
    certificate: str = ""
    key: str = ""
    workers: int = 0
    backup_hour: int = 2
    backups: str = ""
    study_on: str = ""
    stand_ins: bool = True

    @property
    def reached_by(self) -> tuple[str, ...]:
        """Return the names it answers to: those given, else this machine's own where it listens to its network."""
        if self.names or self.host in LOOPBACK:
            return self.names
        own = socket.gethostname()
        return tuple(name for name in (lan_address(), own, f"{own}.local") if name)

    @property
    def secure(self) -> bool:
        """Return whether browsers reach it over TLS."""
        return bool(self.proxy or self.certificate)


def lan_address() -> str:
    """Return this machine's address on its network; empty without one. Nothing is sent."""
    try:
        with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
            probe.connect(("192.0.2.1", 9))
            return str(probe.getsockname()[0])
    except OSError:
        return ""


def data_folder() -> Path:
    """Return where everything that is kept lies."""
    return Path(os.environ.get("JUGATRIX_DATA", ROOT / "var"))


def place(environment: Mapping[str, str] = os.environ) -> Place:
    """Return how this copy runs; raise BadPlace."""
    given = environment.get("JUGATRIX_SETTINGS", "")
    file = Path(given) if given else data_folder() / "settings.toml"
    found = _of_file(file, given != "")
    for field in fields(Place):
        text = environment.get(f"JUGATRIX_{field.name.upper()}")
        if text is not None:
            found[field.name] = text.split() if field.type == tuple[str, ...] else text
    if "names" not in found and environment.get("JUGATRIX_HOSTS"):
        found["names"] = environment["JUGATRIX_HOSTS"].split()
    return _checked({key: _typed(key, value) for key, value in found.items()})


def _of_file(file: Path, must_be: bool) -> dict[str, object]:
    try:
        text = file.read_text("utf-8")
    except (OSError, UnicodeDecodeError) as error:
        if must_be:
            raise BadPlace(f"The settings file {file} cannot be read: {error}.") from error
        return {}
    try:
        found = tomllib.loads(text)
    except tomllib.TOMLDecodeError as error:
        raise BadPlace(f"The settings file {file} is no TOML: {error}.") from error
    known = [field.name for field in fields(Place)]
    for key in found:
        if key not in known:
            raise BadPlace(f"“{key}” in {file} is no setting; there are {', '.join(known)}.")
    return found


def _typed(key: str, value: object) -> object:
    kind = next(field.type for field in fields(Place) if field.name == key)
    if kind is int:
        if isinstance(value, bool) or not str(value).lstrip("-").isdecimal():
            raise BadPlace(f"The setting {key} wants a whole number, not “{value}”.")
        return int(str(value))
    if kind is bool:
        if isinstance(value, bool):
            return value
        if str(value).lower() not in ("1", "0", "yes", "no", "true", "false", ""):
            raise BadPlace(f"The setting {key} wants yes or no, not “{value}”.")
        return str(value).lower() in ("1", "yes", "true")
    if kind is str:
        return str(value)
    return tuple(str(one) for one in (value if isinstance(value, list | tuple) else str(value).split()))


def _checked(found: dict[str, object]) -> Place:
    its = Place(**found)  # type: ignore[arg-type]
    if not 1 <= its.port <= 65535:
        raise BadPlace(f"The setting port takes 1 to 65535, not {its.port}.")
    if bool(its.certificate) != bool(its.key):
        raise BadPlace(
            "Give both certificate and key, the two files of the shop's own certificate, or neither."
        )
    for file in (its.certificate, its.key):
        if file and not Path(file).is_file():
            raise BadPlace(f"The certificate's file {file} is not there.")
    if its.certificate and its.proxy:
        raise BadPlace("Either a proxy ends TLS, or a certificate of one's own: give proxy or certificate.")
    for address in its.proxy:
        try:
            ip_address(address)
        except ValueError:
            raise BadPlace(f"The setting proxy takes addresses such as 127.0.0.1, not “{address}”.") from None
    if not -1 <= its.backup_hour <= 23:
        raise BadPlace(f"The setting backup_hour takes 0 to 23, or -1 for none, not {its.backup_hour}.")
    if not 0 <= its.workers <= 32:
        raise BadPlace(f"The setting workers takes 1 to 32, not {its.workers}.")
    return its
