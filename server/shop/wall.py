"""A page for every mount, on its side, to be hung where it is set out: its two views as large as the page takes."""

from reportlab.lib.units import mm
from reportlab.platypus import Flowable, PageBreak, Spacer

from engine.document.frame_sides import tube_lines
from engine.drawing.flat import said_in
from engine.drawing.setting_out import setting_out_drawing
from engine.shop.job_parts import JobParts
from server.paper.pen import Drawn
from server.paper.setting import Paper

UNDER_MM = 16.0
READ_BACK = "Height first, then the plumb mark, then the tapes. Tack only. Read back: up ______  out ______  ahead ______  by ______"
NOTHING = "This job has no mount to set out."


def mount_pages_pdf(
    parts: JobParts, made_by: str = "", paper: str = "A4", inches: bool = False, fractions: bool = False
) -> bytes:
    """Return a page for every mount and every place of the frame that is set out by itself; raise NoPaper."""
    setting = Paper(by=made_by or "Jugatrix", page=paper, inches=inches, on_its_side=True)
    floor = 0.0 if parts.project.vehicle is None else parts.project.vehicle.floor
    tubes = tube_lines(parts.project)
    stations = {work.station.name: work.station for work in parts.works}
    story: list[Flowable] = []
    for mount in parts.mounts:
        if mount.on is not None:
            continue  # it lies on another one's bolt
        its = setting_out_drawing(
            mount,
            stations.get(mount.station),
            parts.tabs_at(mount),
            said_in(inches, fractions),
            floor,
            tubes,
        )
        times = min(setting.wide / its.wide, (setting.tall - UNDER_MM) / its.tall)
        story += [Drawn(its, times), Spacer(1, 3 * mm), setting.say(READ_BACK), PageBreak()]
    if not story:
        story = [setting.say(NOTHING), PageBreak()]
    return setting.build(story[:-1], f"{parts.project.name}, mounts to set out")
