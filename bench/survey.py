"""How fast a survey is adjusted, and how fast what to read next is known.

    OPENBLAS_NUM_THREADS=1 .venv/bin/python -m bench.survey

Beside it, in the same run, what one would write first: `scipy.optimize.least_squares` on the same network.
"""

import json
from pathlib import Path

import numpy as np
from scipy.optimize import least_squares

from bench.linkage import best_of
from engine.document.read import check_project
from engine.survey.adjust import adjust
from engine.survey.network import Network
from engine.survey.survey_file import survey_result
from engine.survey.wanted import Aim, wanted_of
from engine.survey.worked import WorkedSurvey
from engine.survey.worth import worth_reading
from engine.tests.survey.networks import held_readings, network_of, survey_of, true_places

HERON = Path(__file__).parents[1] / "server" / "demo" / "files" / "heron-three-wheeler.json"


def network(many: int = 30, readings: int = 200) -> Network:
    """Return a network of so many places and about so many readings, one of them a slip."""
    rng = np.random.default_rng(2)
    places = true_places(rng, many)
    taken = held_readings(rng, list(places), 4 * readings)
    survey = survey_of(places, taken, rng)
    survey["readings"] = survey["readings"][:readings]
    survey["readings"][-1]["values"][0] += 25
    return network_of(survey, places, rng)


def main() -> None:
    """Print the figures."""
    some = network()
    ours = best_of(lambda: adjust(some), 9)
    found = adjust(some)

    def plain() -> np.ndarray:
        fit = least_squares(lambda x: some.left(x)[0] / some.sigma, some.begin())
        return np.linalg.inv(fit.jac.T @ fit.jac)

    theirs = best_of(plain, 2)
    print(
        f"{len(some.names)} places, {some.rows} readings, suspects {[one.number for one in found.suspects]}"
    )
    print(f"{'adjusted, slips left out, errors':44}{ours * 1e3:9.1f} ms")
    print(f"{'scipy least_squares and errors, no slips':44}{theirs * 1e3:9.1f} ms{theirs / ours:9.1f} x")
    project = check_project(json.loads(HERON.read_text("utf-8")))
    worked = WorkedSurvey(project)
    aim = Aim(figure="ride height", of=project.stations[0].name)

    def next_one() -> None:
        wanted = wanted_of(project, worked.adjusted, aim)
        assert wanted is not None
        worth_reading(worked.adjusted, wanted)

    print(f"{'demo: everything that the sheet shows':44}{best_of(lambda: _shown(project), 5) * 1e3:9.1f} ms")
    print(f"{'demo: what to read next for a ride height':44}{best_of(next_one, 5) * 1e3:9.1f} ms")
    print(f"{'demo: the headless result':44}{best_of(lambda: survey_result(project), 3) * 1e3:9.1f} ms")


def _shown(project: object) -> None:
    worked = WorkedSurvey(project)  # type: ignore[arg-type]
    _ = worked.readings, worked.loose, worked.squares, worked.sides, worked.guards, worked.pictures


if __name__ == "__main__":
    main()
