"""An instrument read by its lines: a stand-in on loopback or a real one on a serial port, told apart by its address alone."""

import math
import threading
import time
from collections import deque
from typing import Any

import serial

from engine.facts import facts

QUIET_S = 20.0  # nobody has looked for so long: the line is closed
TIMEOUT_S = 0.5
STALE_S = 1.5
CALM_LINES = 5  # in a row that say it is steady: fewer are no reading yet
MEAN_LINES = 12  # the last of them make the figure: one alone is as good as its noise
JUMP_SPREADS = 6.0  # of the figures before
JUMPS = {"°": 0.3, "mm": 2.0, "kg": 1.0, "bar": 0.05}
LONGEST = 240  # characters of a line: what goes on longer is no line of an instrument
UNITS = {"deg": "°", "mm": "mm", "kg": "kg", "bar": "bar"}


@facts(kw_only=False)
class Reading:
    """What an instrument shows, a figure a head: none with the reason where it shows nothing."""

    values: tuple[float, ...]
    unit: str
    steady: bool
    battery: float | None
    said: str

    @property
    def value(self) -> float | None:
        """Return the figure of its first head."""
        return self.values[0] if self.values else None


class Line:
    """One instrument's line, opened when somebody looks and closed when nobody does."""

    def __init__(self, name: str, address: str) -> None:
        self.name, self.address = name, address
        self._last = Reading((), "", False, None, "No line from it yet.")
        self._steady: deque[tuple[float, ...]] = deque(maxlen=MEAN_LINES)
        self._heard = 0.0
        self._looked = 0.0
        self._lock = threading.Lock()
        self._news = threading.Condition()
        self._port: Any = None

    def look(self) -> Reading:
        """Return what it shows now."""
        self._looked = time.monotonic()
        self._open()
        deadline = time.monotonic() + TIMEOUT_S
        while self._heard == 0.0 and time.monotonic() < deadline and self._port is not None:
            time.sleep(0.02)
        if self._heard and time.monotonic() - self._heard > STALE_S:
            return Reading(
                (), self._last.unit, False, self._last.battery, "It has stopped sending. Is it switched on?"
            )
        return self._last

    def next(self, seconds: float) -> Reading:
        """Return what it shows at its next line, or after so many seconds without one."""
        if not self._heard or self._port is None:
            return self.look()
        self._looked = time.monotonic()
        with self._news:
            self._news.wait(seconds)
        return self.look()

    def say(self, words: str) -> None:
        """Send it a line."""
        self._looked = time.monotonic()
        self._open()
        port = self._port
        if port is not None:
            try:
                port.write(words.encode() + b"\n")
            except (OSError, serial.SerialException):
                self._port = None

    def _open(self) -> None:
        with self._lock:
            if self._port is not None:
                return
            try:
                port = serial.serial_for_url(self.address, timeout=TIMEOUT_S)
            except (OSError, ValueError, serial.SerialException):
                self._last = Reading(
                    (), "", False, None, f"The {self.name} does not answer at {self.address}."
                )
                self._heard = 0.0
                return
            self._port = port
            threading.Thread(target=self._listen, args=(port,), daemon=True).start()

    def _listen(self, port: Any) -> None:
        try:
            while time.monotonic() - self._looked < QUIET_S and self._port is port:
                line = port.read_until(b"\n", LONGEST)
                if line:
                    self._last = self.calmed(read_line(line.decode("ascii", "replace")))
                    self._heard = time.monotonic()
                    with self._news:
                        self._news.notify_all()
        except (OSError, serial.SerialException):
            self._last = Reading((), "", False, None, f"The {self.name} has gone away.")
        finally:
            with self._lock:
                if self._port is port:
                    self._port = None
            port.close()

    def calmed(self, its: Reading) -> Reading:
        """Return what a line says; steady only after some steady ones, and then the mean of the last of them."""
        if not (its.steady and its.values):
            self._steady.clear()
            return its
        if self._steady and self._jumped(its):
            self._steady.clear()
        self._steady.append(its.values)
        if len(self._steady) < CALM_LINES:
            return Reading(its.values, its.unit, False, its.battery, SAID["moving"])
        means = tuple(sum(head) / len(head) for head in zip(*self._steady, strict=True))
        return Reading(means, its.unit, True, its.battery, its.said)

    def _jumped(self, its: Reading) -> bool:
        """Return whether a steady figure is another one than before: zeroed, or held to something else meanwhile."""
        if len(self._steady[-1]) != len(its.values):
            return True
        least = JUMPS.get(its.unit, 0.0)
        for value, head in zip(its.values, zip(*self._steady, strict=True), strict=True):
            mean = sum(head) / len(head)
            spread = math.sqrt(sum((one - mean) ** 2 for one in head) / len(head))
            if abs(value - mean) > max(least, JUMP_SPREADS * spread):
                return True
        return False


SAID = {
    "ok": "steady",
    "moving": "not steady yet",
    "far": "It cannot read that: too near, too far or too steep.",
    "low": "Its battery is flat. Charge it.",
}


def read_line(line: str) -> Reading:
    """Return what a line says; a line that is none says so."""
    words = line.split()
    if len(words) != 4 or words[1] not in UNITS:
        return Reading((), "", False, None, f"It sends what is not understood: “{line.strip()[:40]}”.")
    try:
        values = () if words[0] == "-" else tuple(float(word) for word in words[0].split("/"))
        battery = float(words[3])
    except ValueError:
        values, battery = (math.nan,), 0.0
    if not all(map(math.isfinite, (*values, battery))):
        return Reading((), "", False, None, f"It sends what is not understood: “{line.strip()[:40]}”.")
    return Reading(values, UNITS[words[1]], words[2] == "ok", battery, SAID.get(words[2], words[2]))
