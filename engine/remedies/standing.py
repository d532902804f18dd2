"""What makes it stand elsewhere or carry otherwise: preload, a spring's length or rate, pressure."""

from engine.findings.finding import Finding
from engine.remedies.knob import Knob, Path, Values, add_to, unit_knob, unit_number, with_value
from engine.sentences import Quantity, Sentence, length, spoken
from engine.station.solved import SolvedStation


def height_knobs(values: Values, name: str | None) -> list[Knob]:
    """Return what raises it: the named unit's preload or its spring's length, else the first such unit's."""
    number = unit_number(values, name)
    if number is None or "springs" not in values["units"][number]:
        sprung = [k for k, unit in enumerate(values["units"]) if "springs" in unit]
        if not sprung:
            return []
        number = min(sprung, key=lambda k: values["units"][k]["kind"] != "coilover")
    name = spoken(values["units"][number]["name"])
    if values["units"][number]["kind"] == "coilover":
        words = (f"Add {{by}} of preload on the {name}.", f"Take {{by}} of preload out of the {name}.")
        return [unit_knob(values, number, ("preload",), words, 80.0)]
    words = ("Fit a spring {by} longer.", "Fit a spring {by} shorter.")
    return [unit_knob(values, number, ("springs", 0, "free_length"), words, 150.0)]


def coil_solid(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    """Return less preload or length, then a spring that closes further."""
    number = unit_number(values, finding.subject)
    if number is None:
        return []
    springs = values["units"][number]["springs"]
    words = "Fit a spring of the same rate that closes {by} further."
    most = max(springs[0]["solid_length"] - 1.0, 1.0)
    closer = unit_knob(values, number, ("springs", 0, "solid_length"), (words, words), most, (-1,))
    return [*height_knobs(values, finding.subject), closer]


def coil_loose(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    """Return more preload, or a longer spring."""
    return height_knobs(values, finding.subject)


def standing(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    """What makes it stand elsewhere: preload, pressure, or another spring."""
    return [*height_knobs(values, None), *pressure_knobs(values), *rate_knobs(values, solved, hold=False)]


def pressure_knobs(values: Values) -> list[Knob]:
    """Return the pressure of every bag together, bar."""
    bags = [k for k, unit in enumerate(values["units"]) if unit["kind"] == "air_spring"]
    if not bags:
        return []
    before = values["units"][bags[0]]["pressure"]

    def turn(values: Values, x: float) -> Values:
        for k in bags:
            values = with_value(values, ("units", k, "pressure"), round(max(before + x, 0.0), 4))
        return values

    def say(x: float) -> Sentence:
        both = {"new": Quantity(before + x, "pressure"), "old": Quantity(before, "pressure")}
        return Sentence("Set {new} instead of {old}.", both)

    return [Knob(turn=turn, say=say, step=0.1, most=8.0, fine=0.05)]


def rate_knobs(values: Values, solved: SolvedStation, hold: bool = True) -> list[Knob]:
    """Return another spring on every coil unit; with `hold` preload or length is set anew, to stand where it stood."""
    coils = [
        k
        for k, unit in enumerate(values["units"])
        if unit["kind"] in ("coilover", "spring") and "rate" in unit["springs"][0]
    ]
    if not coils:
        return []
    first = values["units"][coils[0]]
    before = float(first["springs"][0]["rate"])

    def turn(values: Values, x: float) -> Values:
        share = (before + x) / before
        for k in coils:
            unit = values["units"][k]
            for n, spring in enumerate(unit["springs"]):
                if "rate" in spring:
                    values = with_value(
                        values, ("units", k, "springs", n, "rate"), round(spring["rate"] * share, 6)
                    )
            if hold and solved.at_ride is not None:
                more = _squeeze_at_ride(solved, unit["name"]) * (1 / share - 1)
                values = add_to(("units", k, *_seat_of(unit)))(values, round(more, 4))
        return values

    def say(x: float) -> Sentence:
        new = Quantity(before + x, "rate")
        words = "Fit a spring of {new} instead of {old}"
        if not hold or solved.at_ride is None:
            return Sentence(words + ".", {"new": new, "old": Quantity(before, "rate")})
        if first["kind"] == "coilover":
            words += ", preload reset to stand where it stands."
            return Sentence(words, {"new": new, "old": Quantity(before, "rate")})
        by = _squeeze_at_ride(solved, first["name"]) * (before / (before + x) - 1)
        words += f", {{by}} {'longer' if by > 0 else 'shorter'}, to stand where it stands."
        return Sentence(words, {"new": new, "old": Quantity(before, "rate"), "by": length(abs(by))})

    return [Knob(turn=turn, say=say, step=0.02 * before, most=2.0 * before, fine=0.1)]


def _squeeze_at_ride(solved: SolvedStation, name: str) -> float:
    """Return how far a coil is squeezed at ride height, mm."""
    law = next(law for law in solved.springing.laws if law.name == name)
    assert solved.at_ride is not None
    return law.free_reference - float(solved.at_ride.units[name].length[0])


def _seat_of(unit: Values) -> Path:
    """Return where a unit's squeeze is set: by its perch, or by how long its spring is."""
    return ("preload",) if unit["kind"] == "coilover" else ("springs", 0, "free_length")


def split(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    """Return what makes it stand higher or lower."""
    return [*height_knobs(values, finding.subject), *pressure_knobs(values)]


def frequency(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    """Return another rate, standing where it stands."""
    return rate_knobs(values, solved)
