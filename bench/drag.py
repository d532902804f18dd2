"""What a hand sees while it drags: the gaps between frames, with the Jack, a bracket, a rocker's joint and the ratio asked for.

.venv/bin/python -m bench.drag
"""

import math

from playwright.sync_api import Locator, Page

from bench.browser import demo, opened

MOVES, REACH_PX = 300, 14
WATCHED = """() => { window.gaps = []; window.going = true; let last = performance.now();
  const look = (now) => { window.gaps.push(now - last); last = now; if (window.going) requestAnimationFrame(look); };
  requestAnimationFrame(look); }"""


def main() -> None:
    with demo() as page:
        print(f"{'dragged, demo Heron':32}{'frames':>8}{'middle':>10}{'99 of 100':>12}{'longest':>10}")
        opened(page, "Heron three-wheeler", "Layout")
        told("the Jack", dragged(page, page.get_by_role("slider", name="Wheel travel")))
        # The close-up has the first unit's moving eye in its middle.
        told("a bracket", dragged(page, page.get_by_test_id("view-close")))
        opened(page, "Heron three-wheeler", "Rocker")
        joint = page.get_by_test_id("rocker-drawing").locator("circle[r='7']").first
        told("a rocker's joint", dragged(page, joint))
        opened(page, "Heron three-wheeler", "Rocker")
        told("the ratio asked for", dragged(page, page.get_by_test_id("pull-level")))


def dragged(page: Page, handle: Locator) -> list[float]:
    """Return the gaps between frames while a handle is moved to and fro, ms."""
    handle.scroll_into_view_if_needed()
    box = handle.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.evaluate(WATCHED)
    for move in range(MOVES):
        page.mouse.move(x, y + REACH_PX * math.sin(move / 12))
    gaps: list[float] = page.evaluate("() => { window.going = false; return window.gaps; }")
    page.mouse.up()
    page.wait_for_timeout(1500)
    return sorted(gaps[2:])


def told(what: str, gaps: list[float]) -> None:
    middle, most = gaps[len(gaps) // 2], gaps[int(0.99 * len(gaps))]
    print(f"{what:32}{len(gaps):8}{middle:7.1f} ms{most:9.1f} ms{gaps[-1]:7.1f} ms")


if __name__ == "__main__":
    main()
