"""Two people's changes of one document put together: what only one of them touched is taken, what both did is asked.

Base, mine, theirs   the document that both began with, and what each made of it.
One thing            a value, a place's three numbers, a table; what has a name is a thing by its name wherever it stands
                     in its list. Taken out by one and changed by the other is one thing changed by both.
"""

from collections.abc import Collection, Iterator
from dataclasses import dataclass, field
from typing import Any

from engine.facts import facts

Values = dict[str, Any]
Path = tuple[str, ...]


class _Nothing:
    """What stands where nothing does."""


NOTHING = _Nothing()


@facts
class Clash:
    """One thing that both changed, each otherwise: where it stands, by keys and names from the top."""

    path: Path


@facts
class Merged:
    """The document with both people's changes in it; of what both changed mine, but for what was chosen from theirs."""

    document: Values
    clashes: tuple[Clash, ...]


def merged(base: Values, mine: Values, theirs: Values, from_theirs: Collection[Path] = ()) -> Merged:
    """Return two changes of one document put together.

    from_theirs : the clashes of which theirs is taken, by their paths
    """
    work = _Merge(frozenset(from_theirs))
    document = work.together(base, mine, theirs, ())
    assert isinstance(document, dict)
    return Merged(document=document, clashes=tuple(Clash(path=path) for path in work.clashes))


@dataclass
class _Merge:
    from_theirs: frozenset[Path]
    clashes: list[Path] = field(default_factory=list)

    def together(self, base: Any, mine: Any, theirs: Any, path: Path) -> Any:
        if theirs in (mine, base):
            return mine
        if mine == base:
            return theirs
        if isinstance(mine, dict) and isinstance(theirs, dict):
            before = base if isinstance(base, dict) else {}
            return self._keyed(before, mine, theirs, path)
        named = [_named(value) for value in (base, mine, theirs)]
        if named[1] is not None and named[2] is not None:
            whole = self._keyed(named[0] or {}, named[1], named[2], path)
            return [whole[name] for name in _order(named[0] or {}, named[1], named[2]) if name in whole]
        self.clashes.append(path)
        return theirs if path in self.from_theirs else mine

    def _keyed(self, base: Values, mine: Values, theirs: Values, path: Path) -> Values:
        found = {}
        for key in _order(base, mine, theirs):
            its = self.together(
                base.get(key, NOTHING), mine.get(key, NOTHING), theirs.get(key, NOTHING), (*path, key)
            )
            if its is not NOTHING:
                found[key] = its
        return found


def _order(base: Values, mine: Values, theirs: Values) -> Iterator[str]:
    """Yield every key: in the base's order, then what was added, by name, so that it is the same whoever is asked."""
    yield from base
    yield from sorted((set(mine) | set(theirs)) - set(base))


def _named(value: Any) -> Values | None:
    """Return a list's things by their names; None where it is none, or they have none, or two share one."""
    if not isinstance(value, list) or not all(isinstance(one, dict) and "name" in one for one in value):
        return None
    found = {str(one["name"]): one for one in value}
    return found if len(found) == len(value) else None
