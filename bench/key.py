"""From a key to the screen: a place nudged in the browser, to the frame that shows every figure, finding and notch of it.

.venv/bin/python -m bench.key
"""

import re

from playwright.sync_api import Page

from bench.browser import demo, opened

KEYS, REST_MS = 60, 120
STATIONS = (
    ("Heron three-wheeler", None),
    ("Hollin Fell fire tender", None),
    ("Wandering Shelf library", "Rear axle"),
)
COUNTED = """() => { const plain = window.fetch; window.open_ones = 0; window.answers = 0;
  window.fetch = async (...asked) => {
    const solving = (asked[0].url ?? asked[0]).endsWith("/api/solve");
    window.open_ones += solving;
    try { return await plain(...asked); } finally { window.open_ones -= solving; window.answers += solving; }
  }; }"""
ARMED = """() => { window.answers = 0; window.done = new Promise((told) => addEventListener("keydown", () => {
  const began = performance.now();
  let still = 0;
  const look = () => {
    const busy = window.open_ones > 0 || document.querySelector("[aria-busy=true]") !== null;
    still = window.answers > 0 && !busy ? still + 1 : 0;
    if (performance.now() - began > 5000) told(-1);
    else if (still === 2) told(performance.now() - began);
    else requestAnimationFrame(look);
  };
  requestAnimationFrame(look);
}, { once: true, capture: true })); }"""


def main() -> None:
    with demo() as page:
        print(f"{'station':40}{'p50':>8}{'p95':>8}{'longest':>9}")
        for job, station in STATIONS:
            took = sorted(nudged(page, job, station))
            name = f"{job}{f', {station}' if station else ''}"
            p50, p95 = took[len(took) // 2], took[int(0.95 * len(took))]
            print(f"{name:40}{p50:5.0f} ms{p95:5.0f} ms{took[-1]:6.0f} ms")


def nudged(page: Page, job: str, station: str | None) -> list[float]:
    """Return how long each of many nudges took to be all on the screen, ms."""
    opened(page, job, "Layout", station)
    page.get_by_role("tab", name="Points").click()
    page.get_by_label(re.compile("up from floor")).first.focus()
    page.wait_for_timeout(2000)
    page.evaluate(COUNTED)
    took = []
    for number in range(KEYS):
        page.evaluate(ARMED)
        page.keyboard.press("ArrowUp" if number % 2 else "ArrowDown")
        took.append(float(page.evaluate("() => window.done")))
        page.wait_for_timeout(REST_MS)
    assert min(took) > 0, "an answer never came"
    return took[2:]


if __name__ == "__main__":
    main()
