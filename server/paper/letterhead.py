"""What heads a shop's papers: its mark, its name and its address, as far as it has said them."""

from collections.abc import Iterator

from reportlab.platypus import Flowable, Spacer

from engine.facts import facts
from server.paper.pen import mark_picture
from server.paper.setting import Paper


@facts
class Letterhead:
    """A shop's own: the mark is a PNG, empty for none."""

    name: str = ""
    address: str = ""
    mark: bytes = b""

    def flowables(self, paper: Paper) -> Iterator[Flowable]:
        """Yield the mark, the name and the address, and a gap under them; nothing where nothing was said."""
        if self.mark:
            yield mark_picture(self.mark)
            yield Spacer(1, 6)
        if self.name:
            yield paper.say(self.name, "day")
        for line in self.address.splitlines():
            yield paper.say(line)
        if self.mark or self.name or self.address:
            yield Spacer(1, 14)


NO_LETTERHEAD = Letterhead()
