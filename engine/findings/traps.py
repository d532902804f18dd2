"""Numbers that were read in one unit and written in another: asked about, because the mass says they cannot be.

A coil of 9 kgf/mm written as 9 N/mm could not carry a tenth of its wheel; one of 300 lb/in written as 300 N/mm
hardly moves under it. Both are seen from the weight, and from the frequency that the right unit would give.
"""

from collections.abc import Iterable

import numpy as np

from engine.conventions import GRAVITY_M_PER_S2
from engine.findings import kinds
from engine.findings.finding import Finding
from engine.sentences import Quantity, Sentence
from engine.station.equilibrium import frequency_hz
from engine.station.solved import SolvedStation

KGF_PER_N = GRAVITY_M_PER_S2  # N in a kilogram-force
N_PER_MM_IN_LB_PER_IN = 0.1751268  # 4.4482216 N / 25.4 mm
CARRIES_SHARE = 0.5  # of the weight, squeezed solid: less is no spring for this wheel
TOO_QUICK_HZ = 4.5
QUICK_HZ = 3.2  # enough to ask where it stands nowhere as well
LIKELY_HZ = (0.6, 3.5)


def judge_traps(solved: SolvedStation) -> list[Finding]:
    """Return a question for every coil whose rate only makes sense in another unit."""
    found = []
    for law in solved.springing.laws:
        unit = next(unit for unit in solved.station.units if unit.name == law.name)
        springs = getattr(unit, "springs", None)
        if law.stack is None or not springs or springs[0].rate is None:
            continue
        ratio = _ratio(solved, law.name)
        if ratio is None or ratio <= 0:
            continue
        share = sum(other.stack is not None for other in solved.springing.laws) / solved.springing.wheels
        weight = solved.springing.weight_n / max(share, 1.0)
        rates = [float(spring.rate) for spring in springs if spring.rate is not None]
        alone = 1 / sum(1 / rate for rate in rates)
        if float(law.stack.force[-1]) * ratio < CARRIES_SHARE * weight and _likely(
            solved, alone * KGF_PER_N, ratio, share
        ):
            found.append(_asked(law.name, rates, KGF_PER_N, "kgf/mm", "could never carry this wheel"))
        elif _too_quick(solved, _frequency(solved, alone, ratio, share)) and _likely(
            solved, alone * N_PER_MM_IN_LB_PER_IN, ratio, share
        ):
            found.append(
                _asked(law.name, rates, N_PER_MM_IN_LB_PER_IN, "lb/in", "would hardly move under this wheel")
            )
    return found


def _ratio(solved: SolvedStation, unit: str) -> float | None:
    """Return the unit's motion ratio nearest to the drawn position."""
    reached = np.flatnonzero(solved.path.reached)
    if not len(reached):
        return None
    row = reached[np.abs(solved.search.travels[reached]).argmin()]
    return float(solved.search.units[unit].motion_ratio[row])


def _frequency(solved: SolvedStation, rate: float, ratio: float, share: float) -> float:
    """Return the frequency that a rate would give, the changing ratio left out, Hz."""
    return frequency_hz(rate * ratio**2 * max(share, 1.0), solved.station.mass.sprung)


def _too_quick(solved: SolvedStation, frequency: float) -> bool:
    return frequency > (QUICK_HZ if solved.ride is None else TOO_QUICK_HZ)


def _likely(solved: SolvedStation, rate: float, ratio: float, share: float) -> bool:
    return LIKELY_HZ[0] <= _frequency(solved, rate, ratio, share) <= LIKELY_HZ[1]


def _asked(unit: str, rates: list[float], factor: float, other: str, why: str) -> Finding:
    """Return the question: every spring of a stack is named, since every one is read in the other unit."""
    count = range(len(rates))
    values = {f"rate{k}": Quantity(rates[k], "rate") for k in count}
    values |= {f"meant{k}": Quantity(rates[k] * factor, "rate") for k in count}
    springs = f"A spring of {{rate0}} on the {{0}} {why}."
    if len(rates) > 1:
        springs = f"Springs of {_and(f'{{rate{k}}}' for k in count)}, one on the other on the {{0}}, {why}."
    read, meant = _and(f"{rate:g}" for rate in rates), _and(f"{{meant{k}}}" for k in count)
    was, it = ("Was", "it") if len(rates) == 1 else ("Were", "them")
    return Finding(
        kind=kinds.RATE_IN_OTHER_UNIT,
        mark="warning",
        subjects=(unit,),
        what=Sentence(
            f"{springs} {was} {read} {other} meant, which is {meant}?",
            values,
            (unit,),
        ),
        why="Parts come from everywhere, and their labels in every unit.",
        remedy=Sentence(f"Read {it} as {read} {other}: {meant}.", values),
        travel_mm=None,
        value=rates[0],
        limit=rates[0] * factor,
        measures="rate",
    )


def _and(words: Iterable[str]) -> str:
    return " and ".join(words)
