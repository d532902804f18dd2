"""A sentence with its numbers still as numbers, so that each reader sees his own units.

Quantity   a value with what it measures: length and travel in mm (travel carries its sign), force N,
           rate N/mm, angle degrees, mass kg, frequency Hz, pressure bar gauge,
           roll_stiffness N·m per degree, ratio and share bare.
Sentence   words with {places} for quantities, and numbered places ({0}, {1}) for names of the file.
"""

from dataclasses import dataclass, field

PLAIN = {
    "length": "{:.1f} mm",
    "travel": "{:+.1f} mm",
    "force": "{:.0f} N",
    "rate": "{:.2f} N/mm",
    "angle": "{:.1f}°",
    "mass": "{:.1f} kg",
    "frequency": "{:.2f} Hz",
    "ratio": "{:.3f}",
    "share": "{:.0%}",
    "pressure": "{:.2f} bar",
    "roll_stiffness": "{:.0f} N·m/°",
    "area": "{:.0f} mm²",
    "volume": "{:.0f} mm³",
    "direction": "{:.3f}",
}


MM_PER_IN, N_PER_LBF, KG_PER_LB, BAR_PER_PSI = 25.4, 4.4482216152605, 0.45359237, 0.0689475729317831
INCHES = {
    "length": (MM_PER_IN, "{:.2f} in"),
    "travel": (MM_PER_IN, "{:+.2f} in"),
    "force": (N_PER_LBF, "{:.0f} lbf"),
    "rate": (N_PER_LBF / MM_PER_IN, "{:.1f} lb/in"),
    "mass": (KG_PER_LB, "{:.0f} lb"),
    "pressure": (BAR_PER_PSI, "{:.1f} psi"),
    "area": (MM_PER_IN**2, "{:.2f} in²"),
    "volume": (MM_PER_IN**3, "{:.1f} in³"),
}


@dataclass(frozen=True)
class Quantity:
    """A number and what it measures (a key of PLAIN)."""

    value: float
    measures: str

    def __str__(self) -> str:
        return self.told()

    def told(self, inches: bool = False) -> str:
        """Return it with its unit: the file's own, or an inch shop's."""
        factor, form = INCHES.get(self.measures, (1.0, "")) if inches else (1.0, "")
        text = (form or PLAIN[self.measures]).format(self.value / factor)
        # Rounding must not leave a sign on nothing.
        return text if any(digit in text for digit in "123456789") else text.replace("-", "").replace("+", "")


@dataclass(frozen=True)
class Sentence:
    """Words with named places for quantities and numbered ones for names; `str` gives it in the file's own units.

    names : as the file has them, never part of the words: whatever a name holds, it stays a name
    """

    words: str
    quantities: dict[str, Quantity] = field(default_factory=dict)
    names: tuple[str, ...] = ()

    def __str__(self) -> str:
        return self.told()

    def told(self, inches: bool = False) -> str:
        """Return it as text, its numbers in the file's own units or in an inch shop's."""
        names = [spoken(name) for name in self.names]
        text = self.words.format(*names, **{name: q.told(inches) for name, q in self.quantities.items()})
        return text[:1].upper() + text[1:]

    def followed(self, more: str) -> "Sentence":
        """Return the sentence with more words after it."""
        return Sentence(self.words + more, self.quantities, self.names)


def length(value: float) -> Quantity:
    """Return a length, mm."""
    return Quantity(value, "length")


def travel(value: float) -> Quantity:
    """Return a signed wheel travel, mm."""
    return Quantity(value, "travel")


def force(value: float) -> Quantity:
    """Return a force, N."""
    return Quantity(value, "force")


def spoken(name: str) -> str:
    """Return a name of the file as it is said: underscores are spaces."""
    return name.replace("_", " ")


def listed(names: tuple[str, ...] | list[str]) -> str:
    """Return names as they are said in a row: a, b and c."""
    words = [spoken(name) for name in names]
    return words[0] if len(words) == 1 else ", ".join(words[:-1]) + " and " + words[-1]
