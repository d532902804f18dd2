"""A demo of its own behind a browser, for what is measured as a hand sees it."""

import os
import subprocess
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")

import django

django.setup()

from playwright.sync_api import Page, sync_playwright

from e2e.bench import CHROMIUM, QUIET
from e2e.test_demo import free_port

ROOT = Path(__file__).parents[1]


@contextmanager
def demo() -> Iterator[Page]:
    """Give a page on the list of the demo shop's jobs, 1280 × 800."""
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        port = free_port()
        served = subprocess.Popen(
            [str(ROOT / "bin" / "demo"), "--port", str(port)],
            env={**os.environ, "JUGATRIX_DATA": f"{folder}/demo"},
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
        yield page
        browser.close()
        os.killpg(served.pid, 15)
        served.wait()


def opened(page: Page, job: str, sheet: str, station: str | None = None) -> None:
    """Open a job's sheet from the list of jobs, and let it come to rest."""
    page.goto(page.url.split("/jobs")[0])
    page.get_by_role("link", name=job).click()
    page.get_by_role("slider", name="Wheel travel").wait_for()
    if station:
        page.get_by_label("Station", exact=True).select_option(label=station)
    page.get_by_role("link", name=sheet).first.click()
    page.wait_for_timeout(2500)
