"""What a load case puts on each wheel, and on a station: the vehicle stands on its springs with it and without."""

import numpy as np

from engine.document.schema import Project
from engine.errors import EngineError
from engine.vehicle.carried import put_in
from engine.vehicle.stance import stance
from engine.vehicle.wheels import vehicle_of


def corner_masses(project: Project, station: str) -> dict[str, float]:
    """Return the mass at a station's wheel in each of the job's load cases, kg by the case's name.

    That of the job as it is, and what the case adds where the vehicle stands on its springs. None of a case where the
    vehicle stands nowhere, or does not hold together.
    """
    if not project.loads:
        return {}
    try:
        vehicle = vehicle_of(project)
    except EngineError:
        return {}
    support = next((n for n, one in enumerate(vehicle.supports) if one.solved.station.name == station), None)
    if support is None:
        return {}
    keys = [vehicle.wheels[k].key for k in vehicle.of(support)]
    if vehicle.supports[support].solved.station.kind == "corner":
        keys = keys[:1]  # its own wheel; the mirror image's is another
    bare = stance(vehicle).scales
    own = vehicle.supports[support].solved.station.mass.corner
    found = {}
    for case in project.loads:
        more = float(np.mean([(stance(vehicle, extra=put_in(case)).scales[key] - bare[key]) for key in keys]))
        if np.isfinite(more):
            found[case.name] = own + more
    return found
