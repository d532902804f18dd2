"""A stand-in for an instrument: a small server of text lines on this machine's own loopback.

Line     `71.24 deg ok 83`, a few a second: the figure, its unit, what it says (ok, moving, far, low, off), the battery in
         percent. That is all a real one on a serial port would have to send.
Asked    `aim 71.3` says what it is held to: only a stand-in needs that, having no shop around it. `zero` sets it to nothing.
Manners  it has noise, lags behind what it is held to, drifts while it warms up, and its battery runs flat.
"""

import random
import socketserver
import threading
import time
from dataclasses import dataclass, field

PERIOD_S = 0.1
LAG = 0.45  # of the way to what it is held to, a line
STEADY_LINES = 4
FLAT_PERCENT = 3.0


@dataclass(frozen=True, kw_only=True)
class Manner:
    """How an instrument behaves: the spread and the drift of its figure, what it can read, and its battery's life."""

    name: str
    unit: str
    noise: float
    drift: float
    least: float
    most: float
    life_h: float = 30.0


ANGLE_FINDER = Manner(name="angle finder", unit="deg", noise=0.03, drift=0.05, least=-180.0, most=180.0)
DISTANCE_METER = Manner(name="distance meter", unit="mm", noise=0.4, drift=0.3, least=40.0, most=20_000.0)
MANNERS = (ANGLE_FINDER, DISTANCE_METER)


@dataclass
class State:
    """What an instrument shows, worked out anew for each line."""

    manner: Manner
    held: float = 0.0
    shown: float = 0.0
    zero: float = 0.0
    lines: int = 0
    percent: float = 83.0
    chance: random.Random = field(default_factory=lambda: random.Random(7))
    settled: int = 0

    def aim(self, value: float) -> None:
        """Hold it to something else."""
        self.held, self.settled = value, 0

    def line(self) -> str:
        """Return the next line it sends."""
        manner = self.manner
        self.lines += 1
        self.percent = max(0.0, self.percent - 100 * PERIOD_S / 3600 / manner.life_h)
        if self.percent < FLAT_PERCENT:
            return f"- {manner.unit} low {self.percent:.0f}"
        before = self.shown
        self.shown += (self.held - self.shown) * LAG
        close = abs(self.shown - before) < 2 * manner.noise
        self.settled = self.settled + 1 if close else 0
        drift = manner.drift * (1 - 0.995**self.lines)
        figure = self.shown + drift + self.chance.gauss(0.0, manner.noise) - self.zero
        if not manner.least <= self.held <= manner.most:
            return f"- {manner.unit} far {self.percent:.0f}"
        word = "ok" if self.settled >= STEADY_LINES else "moving"
        return f"{figure:.2f} {manner.unit} {word} {self.percent:.0f}"

    def asked(self, line: str) -> None:
        """Take a line that was sent to it; what it does not know it leaves alone."""
        words = line.split()
        if words[:1] == ["aim"] and len(words) == 2:
            try:
                self.aim(float(words[1]))
            except ValueError:
                return
        elif words == ["zero"]:
            self.zero = self.shown
        elif words == ["charge"]:
            self.percent = 100.0
        elif words == ["drain"]:
            self.percent = 0.0


class _Talk(socketserver.StreamRequestHandler):
    """One line after another to whoever listens, until he hangs up."""

    def handle(self) -> None:
        server = self.server
        assert isinstance(server, StandIn)
        threading.Thread(target=self._listen, args=(server.state,), daemon=True).start()
        try:
            while True:
                self.wfile.write(server.state.line().encode() + b"\n")
                time.sleep(PERIOD_S)
        except OSError:
            return

    def _listen(self, state: State) -> None:
        try:
            for line in self.rfile:
                state.asked(line.decode("ascii", "replace"))
        except (OSError, ValueError):
            return


class StandIn(socketserver.ThreadingTCPServer):
    """An instrument that is not there, on a free port of this machine's own."""

    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, manner: Manner) -> None:
        self.state = State(manner)
        super().__init__(("127.0.0.1", 0), _Talk)

    @property
    def address(self) -> str:
        """Return where it is read, as pyserial has it."""
        return f"socket://127.0.0.1:{self.server_address[1]}"

    def begin(self) -> None:
        """Start sending, beside everything else."""
        threading.Thread(target=self.serve_forever, daemon=True, name=self.state.manner.name).start()
