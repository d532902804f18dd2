"""What carries the mounts, for a document that is still being worked on."""

from typing import Any

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from engine.document.read import check_project
from engine.frame.advice import advice
from engine.frame.borne import borne
from engine.frame.cases import LoadCase
from engine.frame.judged import judged
from engine.frame.result_file import stations
from engine.workup import WorkUp
from server.answers import Document, answer
from server.running.following import key_of, tell
from server.running.workers import away
from server.solving.shapes import FindingOut, SentenceOut
from server.solving.view import finding_values, sentence_values

router = Router(tags=["solving"])
CASES_SHOWN = 40


class AboutFrame(Schema):
    """The document in hand."""

    document: Document


class FrameMemberOut(Schema):
    """One member: its ends by the numbers of the places; the worst share of what its metal allows, stress N/mm²; buckling null unpushed."""

    name: str
    ends: list[int]
    outside: float
    case: str
    stress: float
    at: float
    share: float
    buckling: float | None


class FrameMountOut(Schema):
    """One mount: where it stands and how it moves in its worst case, mm; force N, stiffness N/mm, null where it does not give; takes a share of the wheel rate."""

    name: str
    on: str
    at: list[float]
    case: str
    force: float
    moves: list[float]
    stiffness: float | None
    takes: float | None


class FrameCaseOut(Schema):
    """One load case: how every place moves, mm; buckles_at how many times it the whole frame buckles at.

    stands : where the points of its stations then are, mm by STATION/POINT; nothing of one that does not reach there
    """

    name: str
    stands: dict[str, list[float]]
    moves: list[list[float]]
    buckles_at: float | None


class FrameRateOut(Schema):
    """A station's wheel rate on stiff mounts and with the frame's give, N/mm."""

    wheel_rate: float | None
    with_give: float | None


class FrameAdviceOut(Schema):
    """A change that was tried: the member to add or to put in the place of `replaces`; null to take that out."""

    kind: str
    say: SentenceOut
    member: dict[str, Any] | None
    replaces: str | None


class FrameOut(Schema):
    """A frame under all of its load cases; places mm by number, mass kg; the cases that are worst for something."""

    mass: float
    names: list[str]
    places: list[list[float]]
    held: dict[str, str]
    members: list[FrameMemberOut]
    mounts: list[FrameMountOut]
    cases: list[FrameCaseOut]
    rates: dict[str, FrameRateOut]
    findings: list[FindingOut]
    advice: list[FrameAdviceOut]


@router.post("/frame", response=FrameOut | None, operation_id="carryMounts")
def frame(request: HttpRequest, body: AboutFrame) -> HttpResponse:
    """Return what the frame of the document in hand bears; null where it has none."""
    return answer(away(carried, body.document, key=key_of(request)))


def carried(document: dict[str, Any]) -> dict[str, Any] | None:
    """Return what a document's frame bears, of plain values."""
    project = check_project(document)
    if project.frame is None or not project.frame.members:
        return None
    tell(0.1, "what comes to the mounts")
    its = borne(project)
    tell(0.6, "what would help")
    number = {name: k for k, name in enumerate(its.frame.names)}
    worst = dict.fromkeys([*(one.case for one in its.members), *(one.case for one in its.mounts)])
    at = {mount.name: mount.at for mount in its.frame.mounts}
    moved = its.displacements.reshape(len(its.frame.names), 6, -1)
    return {
        "mass": its.frame.mass,
        "names": its.frame.names,
        "places": its.frame.places.tolist(),
        "held": {its.frame.names[node]: how for node, how in its.frame.held.items()},
        "members": [
            {
                "name": member.name,
                "ends": [number[end] for end in member.ends],
                "outside": _across(member),
                **_borne(next((one for one in its.members if one.name == member.name), None)),
            }
            for member in its.frame.members
        ],
        "mounts": [
            {
                "name": one.name,
                "on": one.on,
                "at": at[one.name],
                "case": one.case,
                "force": one.force,
                "moves": one.moves,
                "stiffness": one.stiffness,
                "takes": one.takes,
            }
            for one in its.mounts
        ],
        "cases": [
            {
                "name": case.name,
                "stands": _stands(case, its.loaded.works),
                "moves": np.round(moved[:, :3, k], 5).tolist(),
                "buckles_at": its.buckles_at[case.name],
            }
            for k, case in enumerate(its.loaded.cases)
            if case.name in worst
        ][:CASES_SHOWN],
        "rates": stations(its),
        "findings": [finding_values(one) for one in judged(project, its)],
        "advice": [
            {
                "kind": one.kind,
                "say": sentence_values(one.say),
                "member": None
                if one.member is None
                else one.member.model_dump(mode="json", exclude_unset=True),
                "replaces": one.replaces,
            }
            for one in advice(project, its)
        ],
    }


def _stands(case: LoadCase, works: dict[str, WorkUp]) -> dict[str, list[float]]:
    """Return where the linkages are in a case."""
    found: dict[str, list[float]] = {}
    for station in dict.fromkeys(name.split("/")[0] for name in case.loads):
        work = works[station]
        place = work.solved.at(np.array([case.travel])).solution.motion.place[:, :, 0]
        if np.isfinite(place).all():
            rows = np.round(place.T, 1).tolist()
            found |= {f"{station}/{point}": rows[k] for point, k in work.linkage.index.items()}
    return found


def _across(member: Any) -> float:
    size = member.tube or member.box or member.flat
    return float(max(getattr(size, key, 0.0) for key in ("outside", "height", "width", "thickness")))


def _borne(one: Any) -> dict[str, Any]:
    if one is None:
        return {"case": "", "stress": 0.0, "at": 0.0, "share": 0.0, "buckling": None}
    return {key: getattr(one, key) for key in ("case", "stress", "at", "share", "buckling")}
