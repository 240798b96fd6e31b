"""The desk in headless Chromium, drawing in software."""

import gzip
import statistics
import sys
import tempfile
import time
from itertools import pairwise
from typing import Any

import numpy as np
from brought import brought
from dailies import renders
from large import large
from measure import ROOT, refer_to, refer_to_copy, say
from scenes import twelve_cameras

from server import crowd

#: What frame stands on the desk, looked at every 20 ms for some time.
PLAYED = """(over) => new Promise((done) => {
  const box = document.querySelector('[aria-label="Stage frame"]');
  const seen = [];
  const begun = performance.now();
  const timer = setInterval(() => {
    const now = performance.now();
    seen.push([now, Number(box.value)]);
    if (now - begun > over) { clearInterval(timer); done(seen); }
  }, 20);
})"""


#: Milliseconds for an empty picture, cleared and read back: what drawing costs before anything is drawn.
EMPTY = """() => {
  const [wide, high] = [640, 360];
  const pen = Object.assign(document.createElement("canvas"), { width: wide, height: high }).getContext("webgl2");
  const all = new Uint8Array(4 * wide * high), took = [];
  for (let n = 0; n < 9; n++) {
    const begun = performance.now();
    for (let i = 0; i < 50; i++) {
      pen.clearColor(i / 50, 0, 0, 1);
      pen.clear(pen.COLOR_BUFFER_BIT);
      pen.readPixels(0, 0, wide, high, pen.RGBA, pen.UNSIGNED_BYTE, all);
    }
    took.push((performance.now() - begun) / 50);
  }
  return took.sort((a, b) => a - b)[4];
}"""
NEXT_PICTURE = """() => new Promise((done) => {
  const canvas = document.querySelector("canvas[data-ready]");
  const pen = canvas.getContext("webgl2");
  const begun = performance.now();
  document.documentElement.dispatchEvent(new KeyboardEvent("keydown", { key: "ArrowRight", bubbles: true }));
  const look = () => {
    if (canvas.dataset.drawings !== "0") return requestAnimationFrame(look);
    pen.readPixels(0, 0, 1, 1, pen.RGBA, pen.UNSIGNED_BYTE, new Uint8Array(4));
    done(performance.now() - begun);
  };
  requestAnimationFrame(look);
})"""
PAINTED = """() => {
  window.painted = 0;
  const sheet = document.querySelectorAll("[data-testid=curves] canvas")[1];
  const clear = CanvasRenderingContext2D.prototype.clearRect;
  CanvasRenderingContext2D.prototype.clearRect = function (...at) {
    if (this.canvas === sheet) window.painted += 1;
    return clear.apply(this, at);
  };
}"""


def dense(page: Any, running: Any) -> None:
    """A key dragged among 5,000 that are in sight."""
    pk = running.new_demo()

    def do(**command: Any) -> None:
        seen = running.call("GET", f"/api/scenes/{pk}")["revision"]
        running.call("POST", f"/api/scenes/{pk}/commands", {"seen": seen, "command": command})

    do(kind="scene.set", frames={"first": 1001, "last": 2000})
    rest = {"x": 0, "y": 2, "z": 0, "pan": 0, "tilt": 0, "roll": 0}
    for k, (name, value) in enumerate(rest.items()):
        keys = [
            {"thing": "cam-a", "channel": name, "frame": 1001 + i, "value": value + float(np.sin(i / 40 + k))}
            for i in range(834)
        ]
        do(kind="keys.set", keys=keys)
    page.goto(f"{running.url}/scene/{pk}?look=A&frame=1990")
    page.wait_for_selector("canvas[data-ready]")
    page.keyboard.press("u")
    page.wait_for_selector("[data-testid=curves][data-drawn]")
    page.wait_for_timeout(3000)
    page.evaluate(PAINTED)
    box = page.get_by_test_id("curves").bounding_box()
    x, y = box["x"] + 400.5 * box["width"] / 1000, box["y"] + box["height"] / 2
    page.keyboard.down("Shift")
    for dy in range(-80, 81, 4):
        # Wherever a key is under the hand.
        page.mouse.click(x, y + dy)
        if page.get_by_test_id("curves").get_attribute("data-picked") != "0":
            y += dy
            break
    page.keyboard.up("Shift")
    page.mouse.move(x, y)
    page.mouse.down()
    page.evaluate("window.painted = 0")
    begun = time.perf_counter()
    turn = 0
    while time.perf_counter() - begun < 4:
        turn += 1
        page.mouse.move(x, y - 10 - turn % 60)
        page.wait_for_timeout(8)
    spent = time.perf_counter() - begun
    painted = page.evaluate("window.painted") / spent
    page.mouse.up()
    say(
        "a key dragged among 5,000 in sight: pictures a second, missing of 20", 0, max(20 - painted, 0), "", f" ({painted:.1f})",
        limit="the preview of a camera with 5,000 keys, and the page's own painting",
    )  # fmt: skip
    page.keyboard.press("u")
    page.keyboard.press("u")


def lens(page: Any, url: str, pk: int) -> None:
    """A picture through a wide-open lens, after a change and at rest."""
    page.goto(f"{url}/scene/{pk}?look=C&frame=1236")
    first, whole = [], []
    for _ in range(5):
        page.wait_for_selector("canvas[data-drawings='64']", timeout=60_000)
        # What was asked of the processor before is done by then.
        page.wait_for_timeout(1500)
        first.append(page.evaluate(NEXT_PICTURE))
        begun = time.perf_counter()
        page.wait_for_selector("canvas[data-drawings='64']", timeout=60_000)
        whole.append(time.perf_counter() - begun)
    say(
        "first picture through a lens after a change, 640×360, software drawing",
        250,
        statistics.median(first),
        limit="the quick blur by the processor",
    )
    say("that picture refined to 64 drawings, software drawing", None, statistics.median(whole), "s")


def drawn(page: Any, url: str, pk: int) -> None:
    """What one drawing of the demo costs, from the rover and from the camera that sees most."""
    most = [0, 0]
    for look in ("rover", *"ABCDE"):
        page.goto(f"{url}/scene/{pk}?look={look}&frame=1200")
        page.wait_for_selector("canvas[data-cost]", timeout=60_000)
        cost = page.locator("canvas[data-cost]").get_attribute("data-cost") or "0 0"
        most = [max(a, int(b)) for a, b in zip(most, cost.split(), strict=True)]
    say("one drawing of the demo, most of rover and cameras: triangles", None, most[0], "")
    say("the same: draws", None, most[1], "")


def wall(chromium: Any, running: Any) -> None:
    """Pictures of 320 × 180 on the wall, one, four and twelve of them, at the next moment."""
    from heron.scene import write_scene

    pk = running.call("POST", "/api/scenes/import", write_scene(twelve_cameras()).encode())["id"]
    took = {}
    for shown, many in (("chosen", 1), ("cut", 4), ("all", 12)):
        page = chromium.new_page(viewport={"width": 1320, "height": 900})
        page.add_init_script(
            "localStorage.setItem('heron-wishes', JSON.stringify("
            f"{{ state: {{ wallOf: '{shown}', wallColumns: 4 }}, version: 0 }}))"
        )
        page.goto(f"{running.url}/scene/{pk}?look=A&frame=1100")
        page.wait_for_selector("canvas[data-ready]", timeout=60_000)
        page.locator("[role=tab][aria-label^='Camera A']").first.click(modifiers=["Control"])
        page.keyboard.press("Shift+W")
        page.keyboard.press("w")
        page.locator("[data-wall]").nth(many - 1).wait_for()
        assert page.locator("[data-wall]").count() == many
        page.wait_for_timeout(8000)
        took[many] = statistics.median([_settled(page) for _ in range(7)])
        page.close()
    for many, times in ((4, 3), (12, 9)):
        say(f"the wall: {many} pictures at 320 × 180, times one of them", times, took[many] / took[1], "")


def _settled(page: Any) -> float:
    """The next picture, once nothing is drawn any more."""
    page.wait_for_timeout(2500)
    return float(page.evaluate(NEXT_PICTURE))


def browser() -> None:
    """The desk in headless Chromium, drawing in software."""
    sys.path.insert(0, str(ROOT / "tests" / "browser"))
    from harness import FLAGS, Server
    from playwright.sync_api import sync_playwright

    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        running = Server(folder)
        refer_to_copy()
        crowd(running)
        pk = running.new_demo()
        chromium = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = chromium.new_page()
        refer_to("an empty picture", page.evaluate(EMPTY))
        page.close()
        first = []
        for _ in range(4):
            page = chromium.new_page(viewport={"width": 1280, "height": 800})
            page.goto(f"{running.url}/scene/{pk}?look=A&frame=1100")
            page.wait_for_selector("canvas[data-ready]", timeout=60_000)
            first.append(page.evaluate("performance.getEntriesByName('first-picture')[0].startTime"))
            needed = page.evaluate(
                "(() => { const shown = performance.getEntriesByName('first-picture')[0].startTime;"
                " return performance.getEntriesByType('resource')"
                ".filter(e => e.name.endsWith('.js') && e.startTime < shown).map(e => e.name); })()"
            )
            if len(first) < 4:
                page.close()
        say(
            "demo opened to first picture, software drawing on two cores",
            2,
            statistics.median(first) / 1000,
            "s",
            limit="the first drawing: shaders are compiled and the stage drawn by the processor",
        )
        page.wait_for_timeout(4000)
        page.keyboard.press("Home")
        page.keyboard.press("Space")
        shown = page.evaluate(PLAYED, 60_000)
        pictures = sum(a != b for (_, a), (_, b) in pairwise(shown))
        # Each loop of the scene adds its 320 frames; the first look may be from before it began.
        turns = np.cumsum([0, *(b < a - 160 for (_, a), (_, b) in pairwise(shown))])
        off = [t / 1000 * 24 - f - 320 * n for (t, f), n in zip(shown, turns, strict=True)]
        off = np.array(off) - off[0]
        say(
            "playback: picture against the clock, 95 % of looks over a minute, software drawing",
            1,
            float(np.quantile(np.abs(off - np.median(off)), 0.95)),
            "frames",
            f"; drift {abs(np.mean(off[-200:]) - np.mean(off[:200])):.2f}",
            limit="a picture takes longer than two frames to draw by the processor",
        )
        say(
            "the same: pictures a second, missing of 12",
            0,
            max(12 - pictures / 60, 0),
            "",
            f" ({pictures / 60:.1f})",
        )
        lens(page, running.url, pk)
        dense(page, running)
        drawn(page, running.url, pk)
        wall(chromium, running)
        # Nobody looks at a picture meanwhile that would be refined beside the frames.
        page.goto("about:blank")
        renders(running, page, pk)
        page.close()
        large(chromium, running)
        brought(chromium, running)
        chromium.close()
        running.kill()

    scripts = [ROOT / "web/dist/assets" / name.rsplit("/", 1)[1] for name in needed]
    size = sum(len(gzip.compress(p.read_bytes())) for p in scripts)
    say("JavaScript to first picture, gzipped", 450, size / 1000, "kB")
