"""The instruments of this shop: their addresses from the environment, else a stand-in that is started when it is looked at.

JUGATRIX_ANGLE_FINDER, JUGATRIX_DISTANCE_METER, JUGATRIX_CORNER_SCALES, JUGATRIX_TRAVEL_PAIR, JUGATRIX_AIR_GAUGE: where a real one is, as pyserial has it: /dev/ttyUSB0, COM3, socket://…
"""

import os
import threading

from django.conf import settings

from server.instruments.reader import Line
from server.instruments.stand_in import MANNERS, StandIn

_lock = threading.Lock()
_lines: dict[str, Line] = {}
_stand_ins: dict[str, StandIn] = {}


def key_of(name: str) -> str:
    """Return an instrument's key: its name as an address has it."""
    return name.replace(" ", "-")


NAMES = {key_of(manner.name): manner.name for manner in MANNERS}


def line_of(key: str) -> Line:
    """Return the line of an instrument, its stand-in started where there is no real one; raises KeyError."""
    name = NAMES[key]
    with _lock:
        if key not in _lines:
            address = os.environ.get(_variable(key), "")
            if not address:
                stand_in = StandIn(next(manner for manner in MANNERS if manner.name == name))
                stand_in.begin()
                _stand_ins[key], address = stand_in, stand_in.address
            _lines[key] = Line(name, address)
        return _lines[key]


def there(key: str) -> bool:
    """Return whether an instrument is in this shop: one with an address, or played where that is wanted."""
    return settings.STAND_INS or bool(os.environ.get(_variable(key)))


def _variable(key: str) -> str:
    return f"JUGATRIX_{key.replace('-', '_').upper()}"


def is_stand_in(key: str) -> bool:
    """Return whether an instrument is only played."""
    return key in _stand_ins
