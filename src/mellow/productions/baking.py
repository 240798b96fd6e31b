"""Samples for the desk: what to fetch, and one frame for a preview."""

import json
import struct
from functools import lru_cache
from typing import Any

import numpy as np

from heron.bake import Baker, camera_key, camera_samples, figure_key, mover_key, mover_samples
from heron.cut import Clocks
from heron.errors import NotFound
from heron.formats.gltf import write_body, write_mover
from heron.model import fingerprint
from heron.scene import Scene
from heron.stage.body import JOINTS, LANDMARKS
from heron.stage.figure import Figure
from heron.stage.mover import Mover
from heron.timebase import Frames

BAKER = Baker()
_SHAPE_VERSION = 2


def keys(scene: Scene) -> dict[str, str]:
    """For everything the desk fetches, the fingerprint of its content: samples, shapes and the cut."""
    out = {"cut": cut_key(scene)}
    for camera in scene.cameras:
        out[camera.id] = camera_key(scene, camera)
    for figure in scene.figures:
        out[figure.id] = figure_key(scene, figure)
        out[f"shape:{figure.id}"] = fingerprint(
            "body", _SHAPE_VERSION, figure.stature, figure.look, figure.holds
        )
    for mover in scene.movers:
        out[mover.id] = mover_key(scene, mover)
        out[f"shape:{mover.id}"] = fingerprint("mover", _SHAPE_VERSION, mover.shape, mover.colour)
    return out


def cut_key(scene: Scene) -> str:
    """The fingerprint of all the clocks depend on."""
    return fingerprint("cut", list(scene.shots), scene.frames, scene.rate, scene.cut_start)


def samples(scene: Scene, thing: str) -> bytes:
    """The packed samples of a camera, figure or mover, or of the cut.

    Raises:
        NotFound: no such thing.
    """
    if thing == "cut":
        return _cut(scene)
    for camera in scene.cameras:
        if camera.id == thing:
            return BAKER.camera(scene, camera).packed()
    for figure in scene.figures:
        if figure.id == thing:
            return BAKER.figure(scene, figure).packed()
    for mover in scene.movers:
        if mover.id == thing:
            return BAKER.mover(scene, mover).packed()
    raise NotFound(f"There is nothing called {thing} on this stage.", "Load the scene again.")


def shape(scene: Scene, thing: str) -> bytes:
    """The `.glb` of a figure or mover.

    Raises:
        NotFound: no such thing.
    """
    for figure in scene.figures:
        if figure.id == thing:
            return _body(figure.model_dump_json(include={"id", "name", "look", "stature", "holds"}))
    for mover in scene.movers:
        if mover.id == thing:
            return _mover_body(mover.model_dump_json(include={"id", "name", "shape", "colour"}))
    raise NotFound(f"There is nothing called {thing} on this stage.", "Load the scene again.")


@lru_cache(maxsize=64)
def _body(content: str) -> bytes:
    return write_body(Figure.model_validate_json(content))


@lru_cache(maxsize=64)
def _mover_body(content: str) -> bytes:
    return write_mover(Mover.model_validate_json(content))


def one_frame(before: Scene, after: Scene, frame: int) -> dict[str, list[float]]:
    """The sample rows at a frame of everything whose samples differ between two scenes."""
    there = Frames(first=frame, last=frame)
    out: dict[str, list[float]] = {}
    old = {c.id: c for c in before.cameras}
    for camera in after.cameras:
        same = camera is old.get(camera.id) and after.delivery == before.delivery
        if same and camera.focus.things():
            same = camera_key(after, camera) == camera_key(before, camera)
        if not same or after.surround != before.surround:
            out[camera.id] = camera_samples(after, camera, there, BAKER).values[0].tolist()
    for mover in after.movers:
        if mover not in before.movers:
            out[mover.id] = mover_samples(mover, there).values[0].tolist()
    was = {f.id: figure_key(before, f) for f in before.figures}
    for figure in after.figures:
        if figure_key(after, figure) != was.get(figure.id):
            # A performance runs through all its acts, so it is baked whole.
            row = BAKER.figure(after, figure).values[frame - after.frames.first]
            out[figure.id] = row.tolist()
    return out


def _cut(scene: Scene) -> bytes:
    clocks = Clocks(scene)
    shot, stage = clocks.cut_table
    labels = clocks.timecode_labels()
    packed_labels = labels @ np.array([1_000_000, 10_000, 100, 1])
    header: dict[str, Any] = {
        "length": clocks.length, "drop": clocks.drop, "first": scene.frames.first,
        "shots": [
            {"id": p.shot.id, "cut_first": p.cut_first, "cut_last": p.cut_last} for p in clocks.placed
        ],
    }  # fmt: skip
    text = json.dumps(header).encode()
    text += b" " * (-len(text) % 4)
    columns = np.concatenate([shot, stage, packed_labels, clocks.stage_table]).astype("<i4")
    return struct.pack("<I", len(text)) + text + columns.tobytes()


def landmark_names() -> list[str]:
    """Every place on a body that can be named."""
    return [joint.name for joint in JOINTS] + list(LANDMARKS)
