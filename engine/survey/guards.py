"""Lengths written down before frame is cut, and read again after: whether anything has moved."""

import numpy as np

from engine.document.survey import Guard, Survey
from engine.facts import facts
from engine.sentences import Sentence, length
from engine.survey.loose import said
from engine.survey.network import LEAST_SHARE, tool_error

MOVED = 1.96  # standard errors: one guard in twenty is asked for again although nothing has moved


@facts
class Guarded:
    """One guard. state: open, held or moved; by : mm longer than before, None while open; within : mm that the tape may err."""

    name: str
    state: str
    by: float | None
    within: float
    say: Sentence


def guarded(survey: Survey) -> list[Guarded]:
    """Return what there is to say of every guard, those that moved first."""
    order = {"moved": 0, "open": 1, "held": 2}
    return sorted((_guarded(guard, survey) for guard in survey.guards), key=lambda one: order[one.state])


def _guarded(guard: Guard, survey: Survey) -> Guarded:
    tape = tool_error("tape", survey)
    errors = [tape * max(LEAST_SHARE, len(some) ** -0.5) for some in (guard.before, guard.after) if some]
    within = MOVED * float(np.hypot(*errors)) if len(errors) == 2 else MOVED * tape * float(np.sqrt(2))
    names = tuple(said(place) for place in guard.between)
    before = float(np.mean(guard.before))
    if not guard.after:
        words = "{0} to {1} stood at {before} before the cut. Read it again after."
        return Guarded(
            name=guard.name,
            state="open",
            by=None,
            within=within,
            say=Sentence(words, {"before": length(before)}, names),
        )
    by = float(np.mean(guard.after)) - before
    told = {"by": length(abs(by)), "within": length(within)}
    longer = "longer" if by > 0 else "shorter"
    if abs(by) <= within:
        words = f"{{0}} to {{1}} has stayed: {{by}} {longer}, and the tape may err by {{within}}."
        state = "held"
    else:
        words = (
            f"{{0}} to {{1}} is {{by}} {longer} than before the cut: stop, "
            "and pull it back before anything is welded."
        )
        state = "moved"
    return Guarded(name=guard.name, state=state, by=by, within=within, say=Sentence(words, told, names))
