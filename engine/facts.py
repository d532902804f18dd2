"""Facts: a bundle of values that nobody changes.

What Python's own frozen dataclasses cost is nearly all in methods that facts have no use for: a check at run time of
what the type checker has already refused, an equality of arrays that has no answer. Facts are themselves alone, equal
to nothing else; what is compared by what it holds is a `dataclass(frozen=True)` (decision 0029).
"""

from collections.abc import Callable
from dataclasses import dataclass, field, fields
from typing import Any, TypeVar, dataclass_transform, overload

T = TypeVar("T")


@overload
def facts(kind: type[T]) -> type[T]: ...


@overload
def facts(*, kw_only: bool) -> Callable[[type[T]], type[T]]: ...


@dataclass_transform(eq_default=False, frozen_default=True, kw_only_default=True, field_specifiers=(field,))
def facts(kind: type[T] | None = None, *, kw_only: bool = True) -> type[T] | Callable[[type[T]], type[T]]:
    """Make facts of a class: its annotations are what it is made from, each given by its name, if nothing else is said."""

    def made(kind: type[T]) -> type[T]:
        kind.__repr__ = _shown  # type: ignore[method-assign]
        return dataclass(kw_only=kw_only, eq=False, repr=False)(kind)

    return made if kind is None else made(kind)


def _shown(its: Any) -> str:
    said = ", ".join(f"{one.name}={getattr(its, one.name)!r}" for one in fields(its) if one.repr)
    return f"{type(its).__qualname__}({said})"
