"""What `manage.py carry` writes: cases, members, mounts, what is loose, advice and findings, as plain values."""

from typing import Any

from engine.document.frame_sides import OTHER
from engine.document.schema import Project
from engine.frame.advice import advice
from engine.frame.borne import Borne
from engine.frame.judged import judged, loose_parts
from engine.results.parts import finding

Values = dict[str, Any]


def frame_values(project: Project, its: Borne) -> Values:
    """Return the whole answer; N, mm, N·mm, N/mm²."""
    return {
        "format": "jugatrix-frame",
        "version": 1,
        "mass": round(its.frame.mass, 3),
        "cases": [
            {
                "name": case.name,
                "loads": {name: [float(c) for c in force] for name, force in case.loads.items()},
                "factor": round(case.factor, 4),
                "buckles_at": its.buckles_at[case.name],
                "held": case.name not in its.unheld,
            }
            for case in its.loaded.cases
        ],
        "members": [
            {
                "name": one.name,
                "case": one.case,
                "stress": one.stress,
                "at": round(one.at, 6),
                "axial": one.axial,
                "bending": list(one.bending),
                "torsion": one.torsion,
                "share": one.share,
                "buckling": one.buckling,
            }
            for one in its.members
        ],
        "mounts": [
            {
                "name": one.name,
                "on": one.on,
                "case": one.case,
                "force": one.force,
                "moves": [float(c) for c in one.moves],
                "stiffness": one.stiffness,
                "takes_of_rate": one.takes,
            }
            for one in its.mounts
        ],
        "stations": stations(its),
        "loose": [
            {"say": f"Nothing holds {', '.join(nodes)}: it can move, {ways}.", "nodes": nodes}
            for nodes, ways in loose_parts(its)
        ],
        "unknown": dict(its.loaded.unknown),
        "advice": [
            {
                "kind": one.kind,
                "say": str(one.say),
                "member": None
                if one.member is None
                else one.member.model_dump(mode="json", exclude_unset=True),
                "replaces": one.replaces,
                "share": list(one.share),
                "moves": list(one.moves),
                "mass": [round(value, 3) for value in one.mass],
            }
            for one in advice(project, its)
        ],
        "findings": [finding(one) for one in judged(project, its)],
    }


def stations(its: Borne) -> dict[str, Values]:
    """Return each station's wheel rate on stiff mounts and with the frame's give, N/mm; None where it stands nowhere."""
    found = {}
    for name, work in its.loaded.works.items():
        ride = work.solved.ride
        takes = sum(
            m.takes or 0.0 for m in its.mounts if m.name.startswith(f"{name}/") and not m.name.endswith(OTHER)
        )
        rate = None if ride is None else ride.wheel_rate
        found[name] = {
            "wheel_rate": rate,
            "with_give": None if rate is None else rate * (1 - min(takes, 1.0)),
        }
    return found
