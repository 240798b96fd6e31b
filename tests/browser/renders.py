"""Scenes of a few frames, and takes waited for: what tests of renders share."""

import base64
import io
import json
import time

import numpy as np
from PIL import Image

from heron.commands import parse_commands, run
from heron.demo import slack_tide
from heron.scene import write_scene

DRAW = """async ([camera, stage, how]) => {
  while (!window.heronDraw) await new Promise((go) => setTimeout(go, 50));
  const content = new Uint8Array(await (await window.heronDraw(camera, stage, how)).arrayBuffer());
  let text = '';
  for (const byte of content) text += String.fromCharCode(byte);
  return btoa(text);
}"""
QUICK, FINE = {"quality": "quick"}, {"quality": "fine", "drawings": 64}


def pixels(content):
    return np.asarray(Image.open(io.BytesIO(content)).convert("RGB"), dtype=float)


def drawer(page, server, scene_id, wide, high):
    """Draws frames on the page that draws, as pixels."""
    page.goto(f"{server.url}/draw/{scene_id}?wide={wide}&high={high}")
    return lambda camera, stage, how: pixels(base64.b64decode(page.evaluate(DRAW, [camera, stage, how])))


def do(scene, *commands):
    return run(scene, parse_commands(json.dumps(list(commands))))[0]


def short(first=4, second=4):
    """The demo with a cut of a few frames: 010 on camera A from 1100, 020 on B from 1200."""
    scene = slack_tide()
    return do(
        scene,
        *[{"kind": "shot.delete", "shot": shot.id} for shot in scene.shots],
        {"kind": "shot.add", "camera": "cam-a", "stage": {"first": 1100, "last": 1099 + first}},
        {"kind": "shot.add", "camera": "cam-b", "stage": {"first": 1200, "last": 1199 + second}},
    )


def bring(server, scene):
    return server.call("POST", "/api/scenes/import", write_scene(scene).encode())["id"]


def begin(server, scene_id, **render):
    return server.call("POST", f"/api/scenes/{scene_id}/takes", {"high": 72, **render})["id"]


def told(server, take):
    return server.call("GET", f"/api/takes/{take}")


def wait(server, take, until=lambda one: one["take"]["state"] == "done", most=120):
    """What is told of a take once something is so."""
    for _ in range(most * 5):
        try:
            one = told(server, take)
        except OSError:
            one = None
        if one and until(one):
            return one
        time.sleep(0.2)
    raise AssertionError(f"it took too long: {one and one['take']}")
