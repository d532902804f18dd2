"""What stands at each place of a document, read off the models: nobody keeps a second list of it.

Slot     one place of a document: what may stand there, and the marks (Measures, Spatial, Columns) that say what it is.
Walk     values are plain JSON; the slot goes down beside them, into models, lists and dictionaries alike. Where the
         models know nothing (a key of somebody else's) the slot is empty and the values are walked all the same.
"""

import types
from typing import Annotated, Any, Union, get_args, get_origin

from pydantic import BaseModel

from engine.document.fields import Columns, Measures, Spatial
from engine.document.schema import Project, Station
from engine.facts import facts

NAMELESS = type(None)


@facts(kw_only=False)
class Slot:
    """What may stand at one place: its types, and the marks on them."""

    types: tuple[Any, ...] = ()
    marks: tuple[Any, ...] = ()

    @property
    def measures(self) -> str | None:
        """Return what the number here, or each number of the list here, is a number of."""
        own = next((mark.what for mark in self.marks if isinstance(mark, Measures)), None)
        return own or next((item.measures for item in self._items() if item.measures), None)

    @property
    def spatial(self) -> str | None:
        """Return place, direction or turn."""
        return next((mark.kind for mark in self.marks if isinstance(mark, Spatial)), None)

    @property
    def columns(self) -> tuple[str, ...]:
        """Return what the columns of a table measure."""
        return next((mark.what for mark in self.marks if isinstance(mark, Columns)), ())

    def below(self, key: str | int, value: Any) -> "Slot":
        """Return the slot of a key or a number of the value that stands here."""
        for kind in self.types:
            origin = get_origin(kind)
            if isinstance(key, str) and isinstance(kind, type) and issubclass(kind, BaseModel):
                if not _is_it(kind, value) or key not in kind.model_fields:
                    continue
                field = kind.model_fields[key]
                return slot_of(field.annotation, tuple(field.metadata))
            if origin is dict and isinstance(key, str):
                return slot_of(get_args(kind)[1])
            if origin is list and isinstance(key, int):
                return slot_of(get_args(kind)[0])
        return Slot()

    def _items(self) -> list["Slot"]:
        return [slot_of(get_args(kind)[0]) for kind in self.types if get_origin(kind) is list]


def slot_of(annotation: Any, marks: tuple[Any, ...] = ()) -> Slot:
    """Return the slot of an annotation."""
    if get_origin(annotation) is Annotated:
        inner, *own = get_args(annotation)
        return slot_of(inner, (*own, *marks))
    if get_origin(annotation) in (Union, types.UnionType):
        parts = [slot_of(part) for part in get_args(annotation) if part is not NAMELESS]
        return Slot(
            tuple(kind for part in parts for kind in part.types),
            (*(mark for part in parts for mark in part.marks), *marks),
        )
    return Slot((annotation,), marks)


def _is_it(kind: type[BaseModel], value: Any) -> bool:
    """Return whether a value is of a model, where several may stand in one place: told by its `kind`."""
    field = kind.model_fields.get("kind")
    said = value.get("kind") if isinstance(value, dict) else None
    wanted = get_args(field.annotation) if field is not None else ()
    return not wanted or said is None or said in wanted


PROJECT = Slot((Project,))
STATION = Slot((Station,))
