"""The whole vehicle as the Brief shows it: lean, shares, and what each station gives to it."""

from dataclasses import asdict
from typing import Any

from engine.document.pairs import paired
from engine.document.schema import Project
from engine.errors import EngineError
from engine.findings.finding import rules_of
from engine.findings.pairs import judge_pairs
from engine.findings.roll import judge_roll
from engine.ride.balance import balance_of
from engine.ride.roll import Roll
from engine.station.solved import SolvedStation, solve_station
from engine.workup import WorkUp
from server.solving.view import finding_values

Values = dict[str, Any]
STEPS = 9  # only the ride position is asked for


def vehicle_view(project: Project) -> Values:
    """Return the vehicle in roll; a station that cannot be solved says why and is left out."""
    asked, project = judge_pairs(project), paired(project)
    solved: list[SolvedStation] = []
    rolls: list[Roll | None] = []
    faults = []
    for number, station in enumerate(project.stations):
        try:
            one = solve_station(station, f"stations[{number}]", STEPS)
        except EngineError as error:
            faults.append(f"{station.name}: {error}")
            continue
        if one.ride is None:
            faults.append(f"{station.name}: {one.ride_fault}")
        solved.append(one)
        rolls.append(WorkUp(one).roll)
    rules = rules_of(project.judging)
    balance = balance_of(project, solved, rolls, rules.roll_gradient_deg_per_g)
    found: Values = {
        "gradient": None,
        "front_share": None,
        "arm": None,
        "sprung_mass": None,
        "wanted_bar": None,
        "spare": None,
    }
    if balance is not None:
        found |= asdict(balance)
    return found | {
        "stations": [
            {"station": one.station.name, **asdict(roll)}
            for one, roll in zip(solved, rolls, strict=True)
            if roll is not None and one.station.variant_of is None
        ],
        "findings": [finding_values(finding) for finding in (*asked, *judge_roll(balance, rules))],
        "faults": faults,
    }
