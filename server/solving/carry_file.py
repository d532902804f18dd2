"""`manage.py carry FILE`: a project file with a frame in, what the frame bears out; needs no database."""

from typing import Any

from engine.document.schema import Project
from engine.frame.borne import borne
from engine.frame.result_file import frame_values
from server.headless import OneFile


class CarryFile(OneFile):
    """Say whether the frame of a project bears its mounts."""

    help = "Say what the frame of a project file bears at its mounts: stress, buckling, movement, and what would help."

    def result_of(self, read: Project, options: dict[str, Any]) -> Any:
        if read.frame is None or not read.frame.members:
            self.refuse(["frame: this job has no frame; write its nodes and members first (docs/frame.md)."])
        return frame_values(read, borne(read))
