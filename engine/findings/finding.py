"""A judgement, and the workshop values that it is made by."""

from dataclasses import dataclass

from engine.sentences import Sentence


@dataclass(frozen=True)
class Rules:
    """Workshop values, each of which a shop may change."""

    rod_square_good_deg: float = 5.0
    rod_square_warn_deg: float = 10.0
    rod_anywhere_good_deg: tuple[float, float] = (45.0, 135.0)
    rod_anywhere_warn_deg: tuple[float, float] = (25.0, 155.0)
    damper_left_mm: float = 5.0
    loose_preload_mm: float = 2.0
    coil_left_share: float = 0.10
    coil_left_mm: float = 3.0
    strap_before_damper_mm: float = 6.0
    bag_pressure_share: tuple[float, float] = (0.30, 0.75)


RULES = Rules()


@dataclass(frozen=True)
class Finding:
    """One judgement. `travel_mm` is where it happens, for the Jack; `subject` a body or unit."""

    code: str
    mark: str
    subject: str | None
    what: Sentence
    why: str = ""
    remedy: Sentence | None = None
    travel_mm: float | None = None
