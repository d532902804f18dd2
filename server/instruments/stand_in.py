"""A stand-in for an instrument: a small server of text lines on this machine's own loopback.

Line     `71.24 deg ok 83`, a few a second: the figure, its unit, what it says (ok, moving, far, low, off), the battery in
         percent. That is all a real one on a serial port would have to send. One with several heads sends their figures
         with a stroke between them: `182.5/190.0/211.0 kg ok 83`.
Asked    `aim 71.3` says what it is held to, a figure a head: only a stand-in needs that, having no shop around it. `zero`
         sets it to nothing. `curve -40:332.9 0:307.9 …` tells a travel pair how long the damper is at each wheel height:
         it then follows the wheel, which a jack moves at its own pace.
Manners  it has noise, lags behind what it is held to, drifts while it warms up, and its battery runs flat.
"""

import bisect
import math
import random
import socketserver
import threading
import time
from dataclasses import dataclass, field

from engine.facts import facts

PERIOD_S = 0.1
LAG = 0.45  # of the way to what it is held to, a line
STEADY_LINES = 4
FLAT_PERCENT = 3.0
LONGEST = 8000  # characters of what is said to it


@facts
class Manner:
    """How an instrument behaves: the spread and the drift of its figure, what it can read, and its battery's life.

    pace : the most that its figure moves in a line, where something slow moves it
    """

    name: str
    unit: str
    noise: float
    drift: float
    least: float
    most: float
    life_h: float = 30.0
    pace: float = math.inf


ANGLE_FINDER = Manner(name="angle finder", unit="deg", noise=0.03, drift=0.05, least=-180.0, most=180.0)
DISTANCE_METER = Manner(name="distance meter", unit="mm", noise=0.4, drift=0.3, least=40.0, most=20_000.0)
SCALES = Manner(name="corner scales", unit="kg", noise=0.15, drift=0.2, least=0.0, most=6000.0)
TRAVEL_PAIR = Manner(
    name="travel pair", unit="mm", noise=0.08, drift=0.05, least=-1000.0, most=2000.0, pace=4.0
)
AIR_GAUGE = Manner(name="air gauge", unit="bar", noise=0.008, drift=0.01, least=0.0, most=20.0)
MANNERS = (ANGLE_FINDER, DISTANCE_METER, SCALES, TRAVEL_PAIR, AIR_GAUGE)


@dataclass
class State:
    """What an instrument shows, worked out anew for each line: a figure a head."""

    manner: Manner
    held: list[float] = field(default_factory=lambda: [0.0])
    shown: list[float] = field(default_factory=lambda: [0.0])
    zero: list[float] = field(default_factory=lambda: [0.0])
    curve: list[tuple[float, float]] = field(default_factory=list)
    aimed: bool = False
    lines: int = 0
    percent: float = 83.0
    chance: random.Random = field(default_factory=lambda: random.Random(7))
    settled: int = 0

    def aim(self, *values: float) -> None:
        """Hold it to something else, a figure a head."""
        self.settled, self.aimed = 0, True
        if len(values) != len(self.held):
            self.shown, self.zero = [0.0] * len(values), [0.0] * len(values)
        self.held = list(values)

    def line(self) -> str:
        """Return the next line it sends."""
        manner = self.manner
        self.lines += 1
        self.percent = max(0.0, self.percent - 100 * PERIOD_S / 3600 / manner.life_h)
        if self.percent < FLAT_PERCENT:
            return f"- {manner.unit} low {self.percent:.0f}"
        before = list(self.shown)
        self.shown = [
            shown + max(-manner.pace, min(manner.pace, (held - shown) * LAG))
            for shown, held in zip(self.shown, self.held, strict=True)
        ]
        close = all(abs(now - then) < 2 * manner.noise for now, then in zip(self.shown, before, strict=True))
        self.settled = self.settled + 1 if close else 0
        if not self.aimed or not all(manner.least <= held <= manner.most for held in self.held):
            return f"- {manner.unit} far {self.percent:.0f}"
        figures = [now - zero for now, zero in zip(self.shown, self.zero, strict=True)]
        if self.curve:
            figures = [figures[0], self._along(self.shown[0])]
        drift = manner.drift * (1 - 0.995**self.lines)
        said = "/".join(f"{one + drift + self.chance.gauss(0.0, manner.noise):.2f}" for one in figures)
        word = "ok" if self.settled >= STEADY_LINES else "moving"
        return f"{said} {manner.unit} {word} {self.percent:.0f}"

    def _along(self, at: float) -> float:
        """Return the second head's figure where the first one stands, straight between the curve's places."""
        places = [place for place, _ in self.curve]
        k = min(max(bisect.bisect_right(places, at), 1), len(places) - 1)
        (one, a), (other, b) = self.curve[k - 1], self.curve[k]
        return a + (b - a) * (at - one) / (other - one)

    def asked(self, line: str) -> None:
        """Take a line that was sent to it; what it does not know it leaves alone."""
        words = line[:LONGEST].split()
        try:
            if words[:1] == ["aim"] and len(words) > 1:
                self.aim(*(float(word) for word in words[1:]))
            elif words[:1] == ["curve"]:
                pairs = [tuple(float(part) for part in word.split(":")) for word in words[1:]]
                if len(pairs) > 1 and all(len(pair) == 2 for pair in pairs):
                    self.curve = sorted({pair[0]: pair[1] for pair in pairs}.items())
        except ValueError:
            return
        if words == ["zero"]:
            self.zero = list(self.shown)
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
