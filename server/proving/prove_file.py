"""`manage.py prove FILE`: a project file with its records in, what was built and how it stands out."""

from typing import Any

from engine.document.schema import Project
from engine.prove.proof import proof_values, prove
from server.headless import OneFile


class ProveFile(OneFile):
    """Prove a job."""

    help = (
        "Work out the records of a project file: the vehicle on its wheels, cycles against the drawing, weigh-ins and "
        "what to turn, gates. Exit 2 with one sentence per fault on bad input."
    )

    def result_of(self, read: Project, options: dict[str, Any]) -> Any:
        return proof_values(prove(read))
