"""From a key to the screen: a place nudged in the browser, to the frame that shows every figure, finding and notch of it.

.venv/bin/python -m bench.key
"""

import os
import re
import subprocess
import tempfile
import time
import urllib.request
from pathlib import Path

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")

import django

django.setup()

from playwright.sync_api import Page, sync_playwright

from e2e.bench import CHROMIUM, QUIET
from e2e.test_demo import free_port

ROOT = Path(__file__).parents[1]
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
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        port = free_port()
        env = {**os.environ, "JUGATRIX_DATA": f"{folder}/demo"}
        served = subprocess.Popen(
            [str(ROOT / "bin" / "demo"), "--port", str(port)],
            env=env,
            stdout=subprocess.DEVNULL,
            start_new_session=True,
        )
        address = f"http://127.0.0.1:{port}"
        for _ in range(600):
            try:
                urllib.request.urlopen(f"{address}/health")
                break
            except OSError:
                time.sleep(0.25)
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=QUIET)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        page.get_by_role("button", name="Open the demo shop").click()
        page.get_by_role("heading", name="Which job").wait_for()
        print(f"{'station':40}{'p50':>8}{'p95':>8}{'longest':>9}")
        for job, station in STATIONS:
            took = sorted(nudged(page, job, station))
            name = f"{job}{f', {station}' if station else ''}"
            print(
                f"{name:40}{took[len(took) // 2]:5.0f} ms{took[int(0.95 * len(took))]:5.0f} ms{took[-1]:6.0f} ms"
            )
            page.goto(address)
        browser.close()
        os.killpg(served.pid, 15)
        served.wait()


def nudged(page: Page, job: str, station: str | None) -> list[float]:
    """Return how long each of many nudges took to be all on the screen, ms."""
    page.get_by_role("link", name=job).click()
    page.get_by_role("slider", name="Wheel travel").wait_for()
    if station:
        page.get_by_label("Station", exact=True).select_option(label=station)
    page.get_by_role("link", name="Layout").first.click()
    page.get_by_role("tab", name="Points").click()
    page.get_by_label(re.compile("up from floor")).first.focus()
    page.wait_for_timeout(3000)
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
