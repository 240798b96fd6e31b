"""A set of 500,000 triangles: brought in, met by rays and feet, gone round in the rover's picture; USD of the demo."""

import statistics
import time
from typing import Any

import numpy as np
import trimesh
from measure import milliseconds, say

#: Parts of the set, each a rough ball on a floor of tiles.
PARTS = 100
ROUND = """() => new Promise((done) => {
  const canvas = document.querySelector("canvas[data-ready]");
  const pen = canvas.getContext("webgl2");
  const picture = document.querySelector('[aria-label^="Picture: the arrows"]');
  const took = [];
  const press = () => {
    const begun = performance.now(), was = canvas.dataset.drawn;
    picture.dispatchEvent(new KeyboardEvent("keydown", { key: "ArrowLeft", ctrlKey: true, bubbles: true }));
    const look = () => {
      if (canvas.dataset.drawings !== "0" || performance.now() === begun) return requestAnimationFrame(look);
      pen.readPixels(0, 0, 1, 1, pen.RGBA, pen.UNSIGNED_BYTE, new Uint8Array(4));
      took.push(performance.now() - begun);
      took.length < 12 ? requestAnimationFrame(press) : done(took);
    };
    requestAnimationFrame(look);
  };
  press();
})"""


def heavy() -> bytes:
    """The set as a `.glb`."""
    draw = np.random.default_rng(3)
    scene = trimesh.Scene()
    ball = trimesh.creation.uv_sphere(count=[25, 50])  # 4,800 triangles
    for k in range(PARTS):
        points = ball.vertices * (0.8 + 0.1 * draw.random((len(ball.vertices), 1)))
        x, z = 3.0 * (k % 10 - 4.5), 3.0 * (k // 10 - 4.5)
        mesh = trimesh.Trimesh(points + np.array([x, 0.8, z]), ball.faces, process=False)
        mesh.visual.vertex_colors = np.column_stack(
            [draw.integers(90, 220, (len(points), 3)), np.full(len(points), 255)]
        )
        scene.add_geometry(mesh, node_name=f"Ball {k}", geom_name=f"Ball {k}")
    return bytes(scene.export(file_type="glb"))


def brought(chromium: Any, running: Any) -> None:
    """What a heavy set costs, from the file to going round it."""
    content = heavy()
    pk = running.new_demo()
    begun = time.perf_counter()
    sent = running.call("POST", "/api/files?name=heavy.glb", content)
    told = running.call("POST", "/api/files/readings", {"source": sent["source"], "name": "heavy.glb"})
    while told["state"] in ("waiting", "reading"):
        time.sleep(0.1)
        told = running.call("GET", f"/api/files/readings/{told['id']}")
    file = told["file"]
    command = {"kind": "set.bring", "id": "in", "name": "Heavy", "file": file["key"], "parts": file["parts"]}
    seen = running.call("GET", f"/api/scenes/{pk}")["revision"]
    running.call("POST", f"/api/scenes/{pk}/commands", {"seen": seen, "command": command})
    took = time.perf_counter() - begun
    what = f"a .glb of {file['triangles']:,} triangles, {len(content) / 2**20:.0f} MB: on the stage"
    say(what, 10, took, "s")
    page = chromium.new_page(viewport={"width": 1280, "height": 720})
    page.goto(f"{running.url}/scene/{pk}?look=rover&frame=1100")
    page.wait_for_selector("canvas[data-ready]", timeout=120_000)
    page.wait_for_timeout(8000)
    size = page.evaluate(
        "(() => { const c = document.querySelector('canvas[data-ready]'); return [c.width, c.height]; })()"
    )
    round_ = statistics.median(page.evaluate(ROUND)[2:])
    say(
        f"the same gone round, {size[0]} × {size[1]}, software drawing: pictures a second, missing of 5", 0,
        max(5 - 1000 / round_, 0), "", f" ({1000 / round_:.1f})",
    )  # fmt: skip
    page.close()


def rays() -> None:
    """Rays and floor on it, and the demo as USD, in the core alone."""
    from heron.bake import Bake
    from heron.demo import slack_tide
    from heron.formats.bringing.kept import keep_model
    from heron.formats.bringing.recognise import read_found
    from heron.formats.usd import write_usd
    from heron.stage.models.meeting import solid_of
    from heron.stage.models.part import read_model

    content = heavy()
    begun = time.perf_counter()
    kept = keep_model(read_found(content, "heavy.glb", lambda name: None), "heavy.glb")
    say("the same read", None, time.perf_counter() - begun, "s")
    begun = time.perf_counter()
    solids = [solid_of(part) for part in read_model(kept.content).parts]
    say("the same made ready for rays and feet", None, time.perf_counter() - begun, "s")
    draw = np.random.default_rng(1)
    origins = draw.uniform(-0.4, 0.4, (2_000, 3)) + np.array([0, 3.0, 0])
    ways = np.tile([0.0, -1.0, 0.0], (len(origins), 1))
    met = statistics.median(milliseconds(lambda: [one.first(origins, ways) for one in solids], 5))
    say("the same: 200,000 rays", None, met)
    feet = draw.uniform(-0.5, 0.5, (100, 2))
    stood = statistics.median(milliseconds(lambda: [one.layers(feet[:, 0], feet[:, 1]) for one in solids], 5))
    say("the same: the floor under 10,000 places", None, stood)
    write_usd(Bake(slack_tide()))
    say(
        "USD of the demo",
        3,
        statistics.median(milliseconds(lambda: write_usd(Bake(slack_tide())), 3)) / 1000,
        "s",
    )
