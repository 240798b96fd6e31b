"""Prints each budget beside its measured figure; fails on none. Writes docs/benchmarks.md."""

import json
import os
import platform
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from itertools import pairwise
from pathlib import Path
from typing import Any

import numpy as np

ROOT = Path(__file__).parents[1]
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
LINES: list[tuple[str, str, str]] = []


def milliseconds(work: Callable[[], object], runs: int) -> list[float]:
    """Wall time of each run, after one that does not count."""
    work()
    out = []
    for _ in range(runs):
        start = time.perf_counter()
        work()
        out.append((time.perf_counter() - start) * 1000)
    return out


def say(what: str, budget: str, measured: str) -> None:
    """Print a line and keep it for the page."""
    LINES.append((what, budget, measured))
    print(f"{what:62} budget {budget:>16}   measured {measured}", flush=True)


def core() -> None:
    """Baking, without a server."""
    from heron.bake import Baker, camera_samples
    from heron.curves import Channel, Key
    from heron.demo import slack_tide
    from heron.model import changed
    from heron.scene.camera import POSE
    from heron.stage.body import perform
    from heron.stage.piece import walkable_height
    from heron.timebase import Frames

    frames = Frames(first=1001, last=3400)
    demo = changed(slack_tide(), frames=frames)
    rng = np.random.default_rng(1)

    def keyed() -> Channel:
        return Channel(keys=tuple(Key(frame=1001 + 200 * i, value=float(rng.normal())) for i in range(12)))

    cameras = [changed(demo.cameras[0], **{name: keyed() for name in POSE}) for _ in range(12)]
    baker = Baker()
    took = milliseconds(lambda: [camera_samples(demo, c, frames, baker) for c in cameras], 9)
    say(
        "bake 12 keyed cameras over 2,400 frames (no rig layers yet)",
        "150 ms",
        f"{statistics.median(took):.1f} ms",
    )
    took = milliseconds(
        lambda: perform(demo.figures[0], lambda p: walkable_height(demo.pieces, p), frames, 24.0), 5
    )
    say("bake one figure over 2,400 frames", "none", f"{statistics.median(took):.0f} ms")


def large_scene() -> Any:
    """The demo grown to 300 shots, 100 cameras and 30,000 frames."""
    from heron.commands import parse_commands, run
    from heron.demo import slack_tide
    from heron.scene import Scene

    cameras = [{"kind": "camera.duplicate", "camera": "cam-a", "id": f"c{i}"} for i in range(95)]
    shots = [
        {
            "kind": "shot.add",
            "camera": f"c{i % 95}",
            "stage": {"first": 1001 + 100 * i, "last": 1100 + 100 * i},
        }
        for i in range(296)
    ]
    long = Scene.model_validate({**slack_tide().model_dump(), "frames": {"first": 1001, "last": 31_000}})
    return run(long, parse_commands(json.dumps(cameras + shots)))[0]


def server() -> None:
    """Answers of the API, over rows in SQLite on disk."""
    from django.core.management import call_command
    from django.test import Client

    from heron.commands import parse_commands, run
    from heron.demo import slack_tide
    from heron.scene import Scene
    from mellow.productions import rows
    from mellow.productions.api.scenes import production

    call_command("migrate", verbosity=0)
    client = Client(headers={"host": "127.0.0.1"})

    def post(path: str, body: object) -> None:
        answer = client.post(path, body, content_type="application/json")
        assert answer.status_code == 200, answer.content

    twelve = parse_commands(
        "[" + ",".join('{"kind": "camera.duplicate", "camera": "cam-b"}' for _ in range(8)) + "]"
    )
    scene = run(
        Scene.model_validate({**slack_tide().model_dump(), "frames": {"first": 1001, "last": 3400}}), twelve
    )[0]
    pk = rows.create(production(), scene).pk
    place = iter(range(1237, 1400))

    def move() -> None:
        frame = next(place)
        command = {"kind": "keys.move", "thing": "cam-b", "frame": frame - 1, "to": frame}
        post(f"/api/scenes/{pk}/commands", {"seen": 10_000, "command": command})
        client.get(f"/api/scenes/{pk}/samples/cam-b")

    took = sorted(milliseconds(move, 60))
    say(
        "one key moved, 12 cameras over 2,400 frames, 95th percentile",
        "50 ms",
        f"{took[56]:.1f} ms with its samples",
    )
    pose = {"x": 0.0, "y": 1.6, "z": 3.0}
    body = {"command": {"kind": "camera.place", "camera": "cam-a", "pose": pose}, "frame": 1100}
    took = milliseconds(lambda: post(f"/api/scenes/{pk}/preview", body), 60)
    say("preview during a drag, one camera, one frame", "15 ms", f"{statistics.median(took):.1f} ms")

    big = rows.create(production(), large_scene()).pk

    def opening() -> None:
        rows._SEEN.clear()
        client.get(f"/api/scenes/{big}")
        client.get(f"/api/scenes/{big}/samples/cut")

    took = milliseconds(opening, 3)
    say(
        "300 shots, 100 cameras, 30,000 frames: document and cut",
        "part of 3 s",
        f"{statistics.median(took):.0f} ms",
    )


#: One frame on by the keyboard, and how long until its first picture has really been drawn.
NEXT_PICTURE = """() => new Promise((done) => {
  const canvas = document.querySelector("canvas");
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
#: The longest the page kept anyone waiting, since it was last asked.
STALLS = """() => { const all = window.stalls ?? []; window.stalls = []; return Math.max(0, ...all); }"""
WATCH_STALLS = """
window.stalls = [];
new PerformanceObserver((list) => { for (const e of list.getEntries()) window.stalls.push(e.duration); })
  .observe({ entryTypes: ["longtask"] });
"""


def lens(page: Any, url: str, pk: int) -> None:
    """A picture through a wide-open lens, after a change and at rest."""
    page.goto(f"{url}/scene/{pk}?look=C&frame=1236")
    first, whole = [], []
    for _ in range(5):
        page.wait_for_selector("canvas[data-drawings='64']", timeout=60_000)
        first.append(page.evaluate(NEXT_PICTURE))
        begun = time.perf_counter()
        page.wait_for_selector("canvas[data-drawings='64']", timeout=60_000)
        whole.append(time.perf_counter() - begun)
    say(
        "first picture through a lens after a change, 640×360, software drawing",
        "250 ms",
        f"{statistics.median(first):.0f} ms",
    )
    say("that picture refined to 64 drawings, software drawing", "none", f"{statistics.median(whole):.1f} s")


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
    say("300 shots, 100 cameras, 30,000 frames: opened again to first picture", "3 s", f"{opened:.1f} s")
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
    say(
        "the same scrolled and trimmed: longest stall, software drawing",
        "100 ms",
        f"{scrolled:.0f} ms and {trimmed:.0f} ms",
    )


def browser() -> None:
    """The desk in headless Chromium, drawing in software."""
    sys.path.insert(0, str(ROOT / "tests" / "browser"))
    from harness import FLAGS, Server
    from playwright.sync_api import sync_playwright

    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        running = Server(folder)
        pk = running.new_demo()
        chromium = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        first = []
        for _ in range(4):
            page = chromium.new_page(viewport={"width": 1280, "height": 800})
            page.goto(f"{running.url}/scene/{pk}?look=A&frame=1100")
            page.wait_for_selector("canvas[data-ready]", timeout=60_000)
            first.append(page.evaluate("performance.getEntriesByName('first-picture')[0].startTime"))
            if len(first) < 4:
                page.close()
        say(
            "demo opened to first picture, software drawing on two cores",
            "2 s",
            f"{statistics.median(first) / 1000:.1f} s",
        )
        page.wait_for_timeout(4000)
        page.keyboard.press("Home")
        page.keyboard.press("Space")
        shown = page.evaluate(PLAYED, 60_000)
        pictures = sum(a != b for (_, a), (_, b) in pairwise(shown))
        # Each loop of the scene adds its 320 frames.
        turns = np.cumsum([0, *(b < a for (_, a), (_, b) in pairwise(shown))])
        off = [t / 1000 * 24 - f - 320 * n for (t, f), n in zip(shown, turns, strict=True)]
        off = np.array(off) - off[0]
        say(
            "playback: picture against the clock over a minute, software drawing",
            "1 frame",
            f"drift {abs(np.mean(off[-200:]) - np.mean(off[:200])):.2f}, 95 % within "
            f"{np.quantile(np.abs(off - np.median(off)), 0.95):.1f} frames, {pictures / 60:.0f} pictures a second",
        )
        lens(page, running.url, pk)
        page.close()
        large(chromium, running)
        chromium.close()
        running.kill()
    import gzip

    scripts = list((ROOT / "web/dist/assets").glob("*.js"))
    size = sum(len(gzip.compress(p.read_bytes())) for p in scripts)
    say("JavaScript to first picture, gzipped", "450 kB", f"{size / 1000:.0f} kB")


def main() -> None:
    """Measure all, then write the page."""
    os.environ["MELLOW_VAR"] = tempfile.mkdtemp()
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "mellow.settings")
    import django

    django.setup()
    core()
    server()
    browser()
    rows = "\n".join(f"| {a} | {b} | {c} |" for a, b, c in LINES)
    cores = os.cpu_count()
    (ROOT / "docs/benchmarks.md").write_text(
        "# Benchmarks\n\nThe last output of `make bench`: "
        f"{cores} cores, {platform.machine()}, Python {platform.python_version()}, drawing in software.\n\n"
        f"| what | budget | measured |\n| --- | --- | --- |\n{rows}\n"
    )


if __name__ == "__main__":
    main()
