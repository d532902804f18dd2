"""The room that a rocker may take: a box about what is drawn, the length of a tube, and what it must stay out of."""

import numpy as np

from engine.document.schema import Station
from engine.limits.solids import placed_all, solids_on
from engine.linkage.linkage import Linkage
from engine.linkage.vectors import Array
from engine.sizing.rocker.targets import KeepOut

BOX_MM = 40.0
FAR_MM = 150.0


def usual_room(pivot: Array, far: Array, shared: bool = False) -> dict[str, Array]:
    """Return the room about a rocker, its pivot and far end (3,) mm: a box about the one, a wider one about the other.

    shared : the pivot's bolt carries another body too, so the pivot stays
    """
    return {
        "corner": pivot if shared else pivot - BOX_MM,
        "edges": np.eye(3) * (0.0 if shared else 2 * BOX_MM),
        "far_low": far - FAR_MM,
        "far_high": far + FAR_MM,
    }


def along_tube(station: Station, name: str) -> tuple[Array, Array] | None:
    """Return a named tube as a pivot's room: corner (3,) and edges (3, 3) mm, one of them not nothing.

    None where no envelope of that name runs along something.
    """
    tube = next((one for one in station.envelopes if one.name == name and one.along), None)
    if tube is None or tube.along is None:
        return None
    one, other = (
        np.array(station.points[end] if isinstance(end, str) else end, dtype=float) for end in tube.along
    )
    edges = np.zeros((3, 3))
    edges[0] = other - one
    return one, edges


def keep_outs_of(linkage: Linkage, leave: str | None) -> tuple[KeepOut, ...]:
    """Return the solids on the chassis that a rocker must stay clear of; one that it sits on is left out."""
    on_chassis = [one for one in linkage.station.envelopes if one.on == "chassis" and one.name != leave]
    names = {one.name for one in on_chassis if one.shape in ("capsule", "cylinder", "box")}
    solids = [solid for solid in solids_on(linkage) if solid.name in names]
    if not solids:
        return ()
    placed = placed_all(linkage, solids, np.ascontiguousarray(linkage.points.T[:, :, None]))
    return tuple(
        KeepOut(
            name=name,
            centre=part.centre[0],
            axes=part.axes[0],
            half=part.half[0],
            radius=part.solid.skin + part.solid.disc,
        )
        for name, part in placed.items()
    )
