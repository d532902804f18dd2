"""Every sheet of every demo job on a screen, a tablet and a telephone: nothing goes off it sideways, and fingers meet what they press."""

import re
from itertools import pairwise

from django.test import SimpleTestCase

from e2e.bench import SHEETS, Bench
from e2e.node import asked

SIZES = ((1280, 800), (820, 1180), (390, 844))
WORKED_OUT = ("study", "right")  # these begin long work by themselves
LEAST_PX = 43.5

MEASURE = """() => {
  const wrong = [];
  let looked = 0;
  const wide = document.documentElement.scrollWidth - window.innerWidth;
  if (wide > 1) {
    const out = [...document.querySelectorAll('body *')].filter(e => {
      const box = e.getBoundingClientRect();
      if (!box.width || box.right <= window.innerWidth + 1) return false;
      for (let up = e.parentElement; up; up = up.parentElement) {
        const flow = getComputedStyle(up).overflowX;
        if (flow !== 'visible') return false;
      }
      return true;
    });
    wrong.push(`${wide} px sideways: ` + out.slice(-2).map(e => e.outerHTML.slice(0, 90)).join(' / '));
  }
  const tall = document.documentElement.scrollHeight - window.innerHeight;
  if (window.innerWidth >= 1024 && tall > 1) wrong.push(`${tall} px down beside what scrolls by itself`);
  const name = e => (e.getAttribute('aria-label') || e.innerText || e.className || '').toString().trim().slice(0, 40);
  const seen = e => {
    const box = e.getBoundingClientRect(), style = getComputedStyle(e);
    return box.width > 0 && box.height > 0 && style.visibility !== 'hidden' && !e.closest('.sr-only') && !e.closest('[inert]');
  };
  for (const e of document.querySelectorAll('button, .press, select, [role=slider], [role=tab], input')) {
    if (!seen(e) || e.closest('svg')) continue;
    looked += 1;
    let its = e;
    if (e.matches('[type=checkbox], [type=radio], [type=file]')) its = e.closest('label') || e;
    const box = its.getBoundingClientRect();
    if (box.height < LEAST || box.width < LEAST) wrong.push(`${Math.round(box.width)} × ${Math.round(box.height)} px: ${e.tagName} ${name(e)}`);
    if (e.matches('input.entry.text-right') && e.scrollWidth > e.clientWidth + 1) wrong.push(`${e.scrollWidth - e.clientWidth} px too long for its field: ${name(e)} ${e.value}`);
  }
  return [looked, wrong];
}""".replace("LEAST", str(LEAST_PX), 2)


class Fingers(Bench):
    def measured(self, job: str, inches: bool, dark: bool = False) -> list[str]:
        page = self.page
        self.sign_in()
        if dark:
            page.evaluate("localStorage.setItem('jugatrix-theme', 'dark')")
            page.reload()
            self.assertEqual(page.evaluate("document.documentElement.dataset.theme"), "dark")
        page.get_by_role("link", name=re.compile(f"^{job}")).first.click()
        page.get_by_role("navigation").first.wait_for()
        path = re.sub(r"/(brief|layout).*$", "", page.url)
        if inches:
            page.get_by_role("button", name=re.compile("^(mm|Units)")).first.click()
        found = []
        for sheet in (one for one in SHEETS if one not in WORKED_OUT):
            page.set_viewport_size({"width": 1280, "height": 800})
            page.goto(f"{path}/{sheet}")
            page.wait_for_function("() => (document.querySelector('main')?.innerText.length ?? 0) > 60")
            for width, height in SIZES:
                page.set_viewport_size({"width": width, "height": height})
                self.settle()
                looked, wrong = page.evaluate(MEASURE)
                self.assertGreater(looked, 5, f"{job} {sheet} at {width}")
                found += [f"{job} {sheet} at {width}: {one}" for one in wrong]
        return found

    def test_the_three_wheeler(self) -> None:
        self.assertEqual(self.measured("Heron", inches=True, dark=True), [])

    def test_the_fire_tender(self) -> None:
        self.assertEqual(self.measured("Hollin", inches=False), [])

    def test_the_library_coach(self) -> None:
        self.assertEqual(self.measured("Wandering", inches=False, dark=True), [])

    def test_in_inches(self) -> None:
        self.assertEqual(self.measured("Hollin", inches=True), [])


class Rail(SimpleTestCase):
    def test_no_name_on_the_rail_lies_under_its_handle_or_on_another(self) -> None:
        """The rail of the Jack is 440 px high here, its handle covers 31 px either way; every place of the handle is tried."""
        names = [30.0, 150.0, 232.0, 236.0, 300.0, 400.0]
        places = [float(place) for place in range(22, 419, 3)]
        questions = [["spreadAround", names, 19, 14, 432, place, 31] for place in places]
        for place, heights in zip(places, asked("jack/notches.ts", questions), strict=True):
            with self.subTest(handle=place):
                self.assertEqual(len(heights), len(names))
                self.assertTrue(all(abs(height - place) >= 31 for height in heights), heights)
                gaps = [after - before for before, after in pairwise(heights)]
                self.assertTrue(all(gap >= 19 for gap in gaps), heights)
                self.assertTrue(heights[0] > 0 and heights[-1] <= 432, heights)
