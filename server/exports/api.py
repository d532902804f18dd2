"""What leaves the shop: the project file, and the sweep as CSV."""

import csv
import io
import math
import re
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Router

from engine.document.read import check_project
from engine.document.write import project_text
from engine.sentences import spoken
from engine.station.solved import SolvedStation, solve_station
from server.answers import ActionRefused
from server.jobs.actions.open_job import open_revision
from server.records.actions.fitting import fitting
from server.records.actions.survey import items_of, records_of, survey_of
from server.tables import as_text

router = Router(tags=["exports"])


def _file(text: str, name: str, kind: str) -> HttpResponse:
    safe = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-") or "job"
    response = HttpResponse(text, content_type=f"{kind}; charset=utf-8")
    suffix = "json" if "json" in kind else "csv"
    response["Content-Disposition"] = f'attachment; filename="{safe}.{suffix}"'
    return response


@router.get("/{job_id}/revisions/{number}/project.json", operation_id="exportProject")
def export_project(request: HttpRequest, job_id: UUID, number: int) -> HttpResponse:
    """Return a revision as a project file, every key as it was given, with survey and records as they stand now."""
    revision = open_revision(request.user, job_id, number)
    name = f"{revision.document['name']} revision {number}"
    items = items_of(revision.job)
    survey, records = survey_of(items), records_of(items)
    document = {**revision.document, **({"survey": fitting(revision.document, survey)} if survey else {})}
    if records:
        document["records"] = records
    return _file(project_text(document), name, "application/json")


@router.get("/{job_id}/revisions/{number}/sweep.csv", operation_id="exportSweep")
def export_sweep(
    request: HttpRequest, job_id: UUID, number: int, station: int = 0, steps: int = 41
) -> HttpResponse:
    """Return one station's sweep as CSV, a row a position, units in the headings."""
    revision = open_revision(request.user, job_id, number)
    project = check_project(revision.document)
    if not 0 <= station < len(project.stations):
        raise ActionRefused(404, "no_station", f"This job has no station number {station + 1}.")
    if not 2 <= steps <= 1001:
        raise ActionRefused(422, "steps", f"Ask for 2 to 1001 positions, not {steps}.")
    solved = solve_station(project.stations[station], f"stations[{station}]", steps)
    return _file(sweep_csv(solved), f"{project.name} {solved.station.name} sweep", "text/csv")


def sweep_csv(solved: SolvedStation) -> str:
    """Return the sweep as CSV text."""
    rows = solved.sweep
    head = ["travel mm", "reached", "wheel force N", "wheel rate N/mm"]
    for unit in rows.units:
        said = spoken(unit)
        head += [f"{said} length mm", f"{said} motion ratio (damper ÷ wheel)", f"{said} force N"]
    for name in rows.wheels:
        head += [f"{spoken(name)} camber deg", f"{spoken(name)} toe deg"]
    head += [f"{spoken(point)} {axis} mm" for point in solved.linkage.index for axis in "xyz"]
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow([as_text(heading) for heading in head])
    place = rows.solution.motion.place
    for k, travel in enumerate(rows.travels):
        line: list[float] = [travel, rows.wheel_force[k], rows.wheel_rate[k]]
        for trace in rows.units.values():
            line += [trace.length[k], trace.motion_ratio[k], trace.force[k]]
        for wheel in rows.wheels.values():
            line += [wheel.camber[k], wheel.toe[k]]
        line += [place[axis, point, k] for point in solved.linkage.index.values() for axis in range(3)]
        numbers = ["" if math.isnan(float(value)) else f"{value:.6f}" for value in line]
        writer.writerow([numbers[0], "yes" if solved.reached[k] else "no", *numbers[1:]])
    return out.getvalue()
