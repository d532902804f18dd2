"""One root for everything the engine refuses, with stable codes and the values that led to it."""

from dataclasses import dataclass
from typing import Any

from engine.sentences import length, spoken, travel


class EngineError(Exception):
    """Root of every refusal of the engine. `code` is stable; `values` carries the numbers."""

    code = "engine_error"
    path = ""

    @property
    def values(self) -> dict[str, Any]:
        """Return the public attributes, as plain values."""
        return {key: value for key, value in vars(self).items() if not key.startswith("_")}


@dataclass(frozen=True)
class Fault:
    """One thing wrong with a project file: where it stands and what to do about it."""

    path: str
    message: str

    def __str__(self) -> str:
        return f"{self.path}: {self.message}" if self.path else self.message


class DocumentRefused(EngineError, ValueError):
    """A project file that cannot be read; `faults` lists every reason found."""

    code = "document_refused"

    def __init__(self, faults: list[Fault]) -> None:
        self.faults = faults
        self.path = faults[0].path
        super().__init__("\n".join(str(fault) for fault in faults))


class LinkageRefused(EngineError, ValueError):
    """A linkage that holds too little or too much: names what is loose or doubly held."""

    def __init__(self, code: str, sentence: str, bodies: tuple[str, ...] = (), path: str = "") -> None:
        self.code = code
        self.bodies = bodies
        self.path = path
        super().__init__(sentence)


class LinkageDidNotClose(EngineError, ArithmeticError):
    """The linkage cannot be put together where it must be."""

    code = "linkage_did_not_close"

    def __init__(self, travel_mm: float, body: str, gap_mm: float, path: str = "") -> None:
        self.travel_mm, self.body, self.gap_mm = travel_mm, body, gap_mm
        self.path = path
        super().__init__(
            f"At {travel(travel_mm)} of travel the {spoken(body)} is {length(gap_mm)} away from its joint. "
            f"Change its length, or move its bracket by about that much."
        )
