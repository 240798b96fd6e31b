"""Renders: frames as the worker draws them, and the desk meanwhile."""

import statistics
import time
from collections.abc import Callable
from typing import Any

from measure import say

FINE = """async ([camera, stage]) => {
  while (!window.heronDraw) await new Promise((go) => setTimeout(go, 50));
  const begun = performance.now();
  await window.heronDraw(camera, stage, { quality: "fine", drawings: 64 });
  return (performance.now() - begun) / 1000;
}"""


def renders(running: Any, page: Any, pk: int) -> None:
    """Quick frames, the second take after a change, the desk while frames are drawn, and one fine frame."""
    scene = running.scene(pk)
    camera = next(shot["camera"] for shot in scene["shots"] if shot["name"] == "020")
    idle = _preview(running, pk, camera)
    asked = {"of": "cut", "movie": False, "pictures": "jpeg"}
    first, frames, busy = _drawn(running, pk, asked, lambda: _preview(running, pk, camera, 12))
    say("quick render, 960×540, drawn, read back, sent and kept", 0.5, first / frames, "s a frame")
    say(
        "a preview while frames are drawn, 95th percentile, against twice itself", 2 * idle, busy,
        limit="frames are drawn by the same two cores",
    )  # fmt: skip
    keys = [{"thing": camera, "channel": "y", "frame": f, "value": 2.5} for f in (1160, 1240)]
    seen = running.call("GET", f"/api/scenes/{pk}")["revision"]
    running.call(
        "POST", f"/api/scenes/{pk}/commands", {"seen": seen, "command": {"kind": "keys.set", "keys": keys}}
    )
    begun = running.call("POST", f"/api/scenes/{pk}/takes/plan", asked)
    changed = begun["frames"] - begun["kept"]
    second, _, _ = _drawn(running, pk, asked, None)
    more = f"; {changed} of {frames} frames"
    say(
        "the same after one camera moved: time for what changed, of all the time",
        None,
        second / first,
        "",
        more,
    )
    page.goto(f"{running.url}/draw/{pk}?wide=1920&high=1080")
    say("fine frame, 1920×1080, 64 drawings", None, page.evaluate(FINE, [camera, 1200]), "s")


def _drawn(
    running: Any, pk: int, asked: dict[str, Any], meanwhile: Callable[[], float] | None
) -> tuple[float, int, float]:
    """Seconds from the first frame that was drawn to the last, frames, and what was measured meanwhile."""
    take = running.call("POST", f"/api/scenes/{pk}/takes", asked)["id"]
    begun, measured, start = 0.0, 0.0, 0
    while True:
        now = running.call("GET", "/api/takes")
        one = next(t for t in now if t["id"] == take)
        new = one["done"] - one["reused"]
        if new and not begun:
            begun, start = time.perf_counter(), new
            measured = meanwhile() if meanwhile else 0.0
        if one["state"] in ("packing", "done"):
            break
        time.sleep(0.1)
    took = time.perf_counter() - begun
    all_ = one["frames"] - one["reused"]
    while one["state"] != "done":
        time.sleep(0.2)
        one = next(t for t in running.call("GET", "/api/takes") if t["id"] == take)
    return took * all_ / max(all_ - start, 1), one["frames"], measured


def _preview(running: Any, pk: int, camera: str, runs: int = 40) -> float:
    """Milliseconds for a camera's frame while a hand drags, 95th percentile."""
    took = []
    for i in range(runs):
        key = {"thing": camera, "channel": "x", "frame": 1200, "value": 1 + i / 100}
        body = {"command": {"kind": "keys.set", "keys": [key]}, "frames": {"first": 1200, "last": 1200}}
        start = time.perf_counter()
        running.call("POST", f"/api/scenes/{pk}/preview", body)
        took.append((time.perf_counter() - start) * 1000)
    return statistics.quantiles(took[1:], n=20)[-1]
