"""A film of 300 shots on the desk."""

from typing import Any

from measure import say
from scenes import large_scene

STALLS = """() => { const all = window.stalls ?? []; window.stalls = []; return Math.max(0, ...all); }"""
WATCH_STALLS = """
window.stalls = [];
new PerformanceObserver((list) => { for (const e of list.getEntries()) window.stalls.push(e.duration); })
  .observe({ entryTypes: ["longtask"] });
"""


def large(chromium: Any, running: Any) -> None:
    """A large cut in the browser: opened, scrolled and trimmed."""
    from heron.scene import write_scene

    pk = running.call("POST", "/api/scenes/import", write_scene(large_scene()).encode())["id"]
    page = chromium.new_page(viewport={"width": 1280, "height": 800})
    page.add_init_script(WATCH_STALLS)
    for _ in range(2):
        page.goto(f"{running.url}/scene/{pk}?look=A&frame=1100")
        page.wait_for_selector("canvas[data-ready]", timeout=120_000)
        opened = page.evaluate("performance.getEntriesByName('first-picture')[0].startTime") / 1000
        # Cameras that are not looked through come after the first picture.
        page.wait_for_timeout(6000)
    say(
        "300 shots, 100 cameras, 30,000 frames: opened again to first picture", 3, opened, "s",
        limit="the first drawing by the processor, and samples of 30,000 frames",
    )  # fmt: skip
    page.wait_for_timeout(8000)
    strip = page.locator("[data-testid=strip-cut]").bounding_box()
    page.mouse.move(strip["x"] + 500, strip["y"] + 50)
    page.keyboard.down("Control")
    for _ in range(10):
        page.mouse.wheel(0, -200)
        page.wait_for_timeout(60)
    page.keyboard.up("Control")
    page.evaluate(STALLS)
    for _ in range(25):
        page.mouse.wheel(150, 0)
        page.wait_for_timeout(40)
    scrolled = page.evaluate(STALLS)
    edge = page.locator('[data-trim$="-last"]').nth(2).bounding_box()
    page.mouse.move(edge["x"] + 4, edge["y"] + 20)
    page.mouse.down()
    for i in range(15):
        page.mouse.move(edge["x"] - 3 * i, edge["y"] + 20)
        page.wait_for_timeout(40)
    page.mouse.up()
    page.wait_for_timeout(1000)
    trimmed = page.evaluate(STALLS)
    say("the same scrolled: longest stall, software drawing", 100, scrolled)
    say(
        "the same trimmed: longest stall, software drawing", 100, trimmed,
        limit="the strip of 300 shots laid out again",
    )  # fmt: skip
