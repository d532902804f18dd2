"""An axle on air from nothing to its papers, as a newcomer would; every figure on paper is the one on screen."""

import io
import re

from playwright.sync_api import Locator, expect
from pypdf import PdfReader

from e2e.bench import Bench
from server.jobs.models import Job

NAME = "Saltmarsh omnibus"
FIGURE = re.compile(r"[-−+]?\d+(?:\.\d+)?")


def figures(text: str) -> set[float]:
    """Return the figures that stand in a text; a paper leaves out a nought after the point."""
    return {float(one.replace("−", "-")) for one in FIGURE.findall(text)}


class Papers(Bench):
    def sheet(self, name: str) -> None:
        self.page.get_by_role("link", name=re.compile(f"^{name}")).first.click()
        self.settle()

    def typed(self, label: str, text: str) -> None:
        field = self.page.get_by_label(re.compile(f"^{label}")).first
        field.fill(text)
        field.press("Enter")
        self.settle()

    def printed(self, press: Locator) -> list[str]:
        """Return the pages of what is printed by a press."""
        with self.page.expect_download(timeout=90_000) as waiting:
            press.click()
        return [
            page.extract_text() for page in PdfReader(io.BytesIO(waiting.value.path().read_bytes())).pages
        ]

    def drawn(self) -> str:
        """Return what stands on the drawing in view."""
        drawing = self.page.locator("svg[role=group]").last
        drawing.wait_for()
        self.settle()
        return " ".join(drawing.locator("text").all_text_contents())

    def test_an_axle_on_air_from_nothing_to_papers_that_say_what_the_screen_says(self) -> None:
        page = self.page
        self.sign_in_by_form()
        page.get_by_role("link", name="Start a new job").click()
        page.get_by_label("Name of the job").fill(NAME)
        self.typed("Track", "1700")
        self.typed("Mass at this wheel", "620")
        page.get_by_role("button", name="Start with this: Live axle on bags with separate dampers").click()
        page.get_by_role("slider", name="Wheel travel").wait_for()
        self.settle()
        self.sheet("Brief")
        page.get_by_label("What is it for?").select_option("road")
        self.sheet("Springing")
        self.typed("Pressure at ride height", "60 psi")
        pressure = page.get_by_label(re.compile("^Pressure at ride height")).first.input_value()
        standing = page.get_by_test_id("ride-travel").inner_text()
        self.save("On air, sized")
        page.get_by_text("revision 2, saved").wait_for()
        self.sheet("Make")
        listed = page.get_by_role("region", name=re.compile("^Parts of")).first
        listed.wait_for()
        self.settle()
        station = listed.get_attribute("aria-label") or ""
        station = station.removeprefix("Parts of ")
        pages = self.printed(page.get_by_role("button", name=station, exact=True))
        whole = "\n".join(pages)
        on_paper = figures(whole)
        self.assertIn(NAME, whole)
        self.assertIn("revision 2", whole)
        # Every part: each figure of its drawing on the screen stands on the page that shows it.
        names = [
            re.sub(r"\s+", " ", one).strip()
            for one in listed.get_by_role("button", name=re.compile(r"[0-9] × ")).all_inner_texts()
        ]
        self.assertGreater(len(names), 6)
        told = 0
        for number in range(len(names)):
            listed.get_by_role("button", name=re.compile(r"[0-9] × ")).nth(number).click()
            page.get_by_test_id("part").wait_for()
            self.settle()
            if page.locator("svg[role=group]").count():
                shown = figures(self.drawn())
                told += len(shown)
                self.assertLessEqual(shown, on_paper, names[number])
            page.get_by_role("button", name="All parts").first.click()
            listed.wait_for()
        self.assertGreater(told, 40)
        # Every mount that is set out: height, plumb marks and tapes.
        page.get_by_role("tab", name="Setting out").click()
        mounts = page.get_by_test_id("mount")
        self.assertGreater(mounts.count(), 5)
        for text in mounts.all_inner_texts():
            if station.split(" ")[0] not in text:
                continue
            lengths = figures(" ".join(re.findall(r"[-−]?\d+\.\d mm", text)))
            self.assertLessEqual(lengths, on_paper, text)
        self.assertIn(f"{pressure.replace(' bar', '')} bar at ride", whole)
        self.assertLessEqual(figures(standing), on_paper)
        expect(page.get_by_text("cannot be drawn")).to_have_count(0)
        self.assertEqual(Job.objects.get(name=NAME).last_number(), 2)
