"""Names of people: letters, marks, figures and spaces as people write them, and told apart as people see them.

A name stands in addresses and beside every reading, so what would be an address of its own (a slash, dots alone) is none,
and one that only looks like another's is taken.
"""

import unicodedata
from typing import Any

from confusable_homoglyphs import confusables
from django.contrib.auth import get_user_model

from server.answers import ActionRefused

LONGEST = 60
BETWEEN = frozenset(" -'’.")
KINDS = ("L", "M", "N")


def good_name(typed: str) -> str:
    """Return a name as it is kept; raise ActionRefused for one that will not do or is taken."""
    name = " ".join(unicodedata.normalize("NFKC", typed).split())
    if not 0 < len(name) <= LONGEST or not any(unicodedata.category(c)[0] == "L" for c in name):
        raise ActionRefused(
            422, "poor_name", f"Give a name of up to {LONGEST} letters: it stands beside every reading."
        )
    odd = next((c for c in name if unicodedata.category(c)[0] not in KINDS and c not in BETWEEN), None)
    if odd is not None:
        raise ActionRefused(
            422,
            "poor_name",
            f"“{odd if odd.isprintable() else f'sign number {ord(odd)}'}” cannot stand in a name: "
            "take letters, figures, spaces, hyphens and apostrophes.",
        )
    if confusables.is_mixed_script(name):
        raise ActionRefused(
            422, "poor_name", "Take the letters of one alphabet: mixed, a name can look like somebody else's."
        )
    other = namesake(name)
    if other is not None:
        same = other.get_username()
        words = f"Somebody here is called {same} already" + (
            "" if same == name else ", and that looks the same"
        )
        raise ActionRefused(422, "name_taken", f"{words}. Take another name.")
    return name


def namesake(name: str) -> Any:
    """Return whoever has a name that looks like this one, or None."""
    looks = as_seen(name)
    return next(
        (user for user in get_user_model().objects.all() if as_seen(user.get_username()) == looks), None
    )


def as_seen(name: str) -> str:
    """Return what a name looks like: capitals, marks of width and letters of other alphabets that look alike put aside."""
    plain = unicodedata.normalize("NFKC", " ".join(name.split())).casefold()
    return "".join(_plainest(c) for c in unicodedata.normalize("NFD", plain))


def _plainest(letter: str) -> str:
    """Return the Latin letter that one looks like; itself where it looks like none."""
    found = confusables.is_confusable(letter, preferred_aliases=["latin"])
    if not found:
        return letter
    latin = [
        one["c"]
        for one in found[0]["homoglyphs"]
        if len(one["c"]) == 1 and one["n"].startswith("LATIN SMALL LETTER") and one["c"].isascii()
    ]
    return latin[0] if latin else letter
