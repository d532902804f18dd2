"""What `manage.py practise` writes: the account at the end, as plain values."""

from typing import Any

from engine.practice.play import SURVEY, Account, decision_of

Values = dict[str, Any]


def account_values(account: Account) -> Values:
    """Return an account."""
    exercise = account.exercise
    return {
        "format": "jugatrix-practice",
        "version": 1,
        "exercise": exercise.key,
        "title": exercise.title,
        "about": exercise.about,
        "seed": account.seed,
        "worker": account.worker.name,
        "took": dict(account.worker.takes),
        "came": [
            {
                "what": one.what,
                "decision": key,
                "wanted": _rounded(one.wanted),
                "got": _rounded(one.got),
                "measures": one.measures,
                "well": one.well,
                "say": one.say,
            }
            for key, one in account.came
        ],
        "slips": [{"say": one, "found": one in account.found} for one in account.slips],
        "readings": account.readings,
        "enough": account.enough,
        "cut_twice": account.cut_twice,
        "hours": account.hours,
        "money": account.money,
        "cost": round(account.cost, 2),
        "mistakes": [{"decision": key, "say": words} for key, words in account.mistakes],
        "costliest": None
        if account.costliest is None
        else {
            "decision": account.costliest[0],
            "asks": "How is it measured?"
            if account.costliest[0] == SURVEY
            else decision_of(exercise, account.costliest[0]).asks,
            "cost": round(account.costliest[1], 2),
        },
        "believed_off": {place: round(off, 2) for place, off in account.off.items()},
    }


def _rounded(value: float | None) -> float | None:
    return None if value is None else round(value, 4)
