"""Where a coilover's perch stands: other coils, or another preload, wind it as far as they ask.

Perch  the upper or lower seat that is wound; from the other seat it stands as far away, the damper topped out,
       as the coils are long less the preload.
"""

from collections.abc import Sequence
from typing import Any

from engine.document.units import Coilover, Spring


def seated(
    unit: Coilover, springs: Sequence[Spring] | None = None, preload: float | None = None
) -> dict[str, Any]:
    """Return a coilover's fields with other springs or another preload (mm), its perch wound to where that puts it.

    Past an end of what it can be wound the perch has less than nothing left, mm.
    """
    coils = list(unit.springs if springs is None else springs)
    squeezed = unit.preload if preload is None else preload
    fields: dict[str, Any] = {"springs": coils, "preload": squeezed}
    if unit.perch is not None:
        lower = _apart(coils, squeezed) - _apart(unit.springs, unit.preload)
        wound = {"up": round(unit.perch.up + lower, 3), "down": round(unit.perch.down - lower, 3)}
        fields["perch"] = unit.perch.model_copy(update=wound)
    return fields


def _apart(springs: Sequence[Spring], preload: float) -> float:
    return sum(spring.free_length for spring in springs) - preload
