"""Two corners in one file that lie across from one another and do not say so: asked, not guessed in silence."""

from engine.document.pairs import lying_across
from engine.document.schema import Project
from engine.findings import kinds
from engine.findings.finding import Finding
from engine.sentences import Sentence


def judge_pairs(project: Project) -> list[Finding]:
    """Return what is asked of corners that lie across from one another; `project` as its file has it."""
    return [
        Finding(
            kind=kinds.PAIR_NOT_NAMED,
            mark="warning",
            subjects=(one.name, other.name),
            what=Sentence(
                "{0} and {1} lie across from one another, and neither is named the other's other side:"
                " they are counted as a pair, one wheel each.",
                names=(one.name, other.name),
            ),
            why="Each alone would stand for both sides: twice the mass, two wheels in one place, every part cut twice.",
            remedy=Sentence("Take them as a pair: name each the other's other side."),
        )
        for one, other in lying_across(project)
    ]
