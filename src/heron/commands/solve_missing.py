"""A new layer takes over where the camera is: numbers left out are read off its pose at the layer's first frame."""

from typing import Any

import numpy as np

from heron.bake import Bake
from heron.bake.cameras import rig_context
from heron.curves import Channel, evaluate
from heron.errors import Refused
from heron.model import changed, wrap_degrees
from heron.rigs.aiming import directions, middle, seen
from heron.rigs.place import numbers
from heron.rigs.rigged import Rigged, acting
from heron.rigs.size_hold import share_of
from heron.rigs.stack import run
from heron.scene.camera import Camera
from heron.scene.layers import STAGES, Aim, Arm, Carrier, Flight, Layer, Rail, SizeHold, Trail

#: Numbers that say where the camera is: with one of them given, it is there, and looks at what it goes by.
_PLACES = {"angle_deg", "distance_m", "height_m", "behind_m", "bearing_deg", "height_deg", "reach_m"}
#: What comes or goes with a jump unless it is blended takes so many frames, within its range.
BLEND = 12


def solve_missing(
    bake: Bake, camera: Camera, layer: Any, given: set[str], at: int | None = None
) -> tuple[Any, list[str]]:
    """The layer with what is left out read off the camera, and remarks.

    Args:
        camera: without the layer.
        given: the fields that somebody chose.
        at: the frame on which it is read off; left out, the layer's first.

    Raises:
        Refused: the camera cannot be on it from where it is.
    """
    scene = bake.scene
    remarks: list[str] = []
    layer = _blended(layer, given, scene.frames)
    frames = acting(layer, scene.frames)
    if frames is None:
        if layer.off:
            return layer, []
        return layer, [f"it lies outside {scene.frames} and does nothing there"]
    row = 0 if at is None else min(max(at - scene.frames.first, frames.start), frames.stop - 1) - frames.start
    plain = changed(layer, blend_in=0, blend_out=0, weight=Channel(rest=1.0))
    context = rig_context(bake, camera)
    if STAGES[layer.kind] == 0:
        step = run(_with(camera, plain), context, before=layer.kind).steps[layer.id]
        assert step.placed is not None
        here = [float(v[row]) for v in step.below]
        if isinstance(layer, Rail) and "metres" not in given:
            at = step.placed.by["line"].nearest(np.array(here[:3]))
            plain = layer = changed(layer, metres=Channel(rest=at))
            step = run(
                _with(camera, changed(plain, blend_in=0, blend_out=0)), context, before=layer.kind
            ).steps[layer.id]
            assert step.placed is not None
        found = _found(
            layer, step.placed, here, plain, given, remarks, row, frames.start + row + scene.frames.first
        )
        # A direction is read off within half a turn.
        read_off = {name: wrap_degrees(v) if name.endswith("_deg") else v for name, v in found.items()}
        own = {name: Channel(rest=v) for name, v in read_off.items() if name not in given}
        return changed(layer, **own), remarks
    if isinstance(layer, Aim):
        return _aimed(bake, camera, layer, given, frames.start + row, remarks)
    if isinstance(layer, SizeHold) and "share" not in given:
        found_now = run(camera, context)
        share = float(share_of(layer, context, found_now.steady, found_now.focal)[frames.start + row])
        if not np.isfinite(share) or share < 0.001:
            raise Refused(
                "It is not in the frame, so there is no size to keep.",
                "Give the share, or frame it first.",
                field="share",
            )
        return changed(layer, share=Channel(rest=min(share, 20.0))), remarks
    return layer, remarks


def _with(camera: Camera, layer: Any) -> Camera:
    return changed(camera, layers=(*camera.layers, layer))


def _blended(layer: Any, given: set[str], scene_frames: Any) -> Any:
    """Level, breath and a size come and go with blends, where nobody said how: they would jump otherwise."""
    if layer.kind not in ("level", "breath", "size"):
        return layer
    first = scene_frames.first if layer.first is None else layer.first
    last = scene_frames.last if layer.last is None else layer.last
    most = max(min(BLEND, (last - first) // 2), 0)
    update = {}
    if layer.first is not None and "blend_in" not in given:
        update["blend_in"] = most
    if layer.last is not None and "blend_out" not in given:
        update["blend_out"] = most
    return changed(layer, **update) if update else layer


def _found(
    layer: Layer,
    placed: Any,
    here: list[float],
    plain: Any,
    given: set[str],
    remarks: list[str],
    row: int,
    frame: int,
) -> dict[str, float]:
    def value(name: str) -> float:
        return float(evaluate(getattr(plain, name), np.array([frame]))[0])

    if isinstance(layer, Flight):
        # Its perches say where it is.
        return {}
    if isinstance(layer, Carrier):
        return numbers(layer, placed, row, here, value)
    if isinstance(layer, Trail) and layer.how == "distance":
        at = [float(v[row]) for v in placed.by["at"]]
        # The path at its first frame is straight: the camera stands beside its line as it may, and is put on it.
        behind = value("behind_m") if "behind_m" in given else None
        if behind is None:
            back = np.radians(float(placed.by["heading"][row]))
            behind = value("behind_m") + float(
                (here[0] - at[0]) * np.sin(back) + (here[2] - at[2]) * np.cos(back)
            )
            remarks.append("it is put on the path, straight behind")
        return {
            "behind_m": max(behind, 0.0), "height_m": here[1] - at[1],
            "pan_deg": here[3] - float(placed.by["heading"][row]), "tilt_deg": here[4], "roll_deg": here[5],
        }  # fmt: skip
    if isinstance(layer, Rail):
        if "metres" in given:
            return {"pan_deg": 0.0, "tilt_deg": 0.0}
        return numbers(layer, placed, row, here, value)
    if isinstance(layer, Arm) and {"bearing_deg", "height_deg", "reach_m"} <= given:
        return {"pan_deg": 0.0, "tilt_deg": 0.0, "roll_deg": here[5]}
    found = numbers(layer, placed, row, here, value)
    if given & _PLACES:
        # It looks at its subject unless something else says where.
        found["pan_deg"] = 0.0
        if isinstance(layer, Arm):
            found["tilt_deg"] = 0.0
    return found


def _aimed(
    bake: Bake, camera: Camera, layer: Aim, given: set[str], i: int, remarks: list[str]
) -> tuple[Aim, list[str]]:
    context = rig_context(bake, camera)
    before = run(camera, context)
    if {"x", "y"} <= given:
        return layer, remarks
    pose = [v[i : i + 1] for v in before.steady]
    v = middle([directions(bake.track(spot).place[i : i + 1], pose)[:3] for spot in layer.at])
    focal = before.focal[i : i + 1]
    # A size that is held answers to the new direction with another lens, which the placement is read through.
    for _ in range(4):
        x, y, ahead = seen(v, pose, (context.gate_mm[0] / (2 * focal), context.gate_mm[1] / (2 * focal)))
        if ahead[0] <= 1e-6 or max(abs(x[0]), abs(y[0])) > 10.0:
            remarks.append("it is not in sight at first, so it is put in the middle")
            middle_ = {n: Channel(rest=0.0) for n in ("x", "y") if n not in given}
            # No placement can be read off: it comes there over some frames instead.
            blend: dict[str, int] = {}
            if layer.first is not None and "blend_in" not in given:
                last = bake.scene.frames.last if layer.last is None else layer.last
                blend["blend_in"] = max(min(BLEND, last - layer.first - layer.blend_out), 0)
            return changed(layer, **middle_, **blend), remarks
        read = {"x": Channel(rest=float(x[0])), "y": Channel(rest=float(y[0]))}
        layer = changed(layer, **{name: c for name, c in read.items() if name not in given})
        if not any(isinstance(one, SizeHold) for one in camera.layers):
            break
        focal = run(_with(camera, changed(layer, blend_in=0)), context).focal[i : i + 1]
    return (layer if {"x", "y"} & given else _taken_up(camera, layer, context, i, before)), remarks


def _taken_up(camera: Camera, layer: Aim, context: Any, i: int, before: Rigged) -> Aim:
    """Where it follows late (or several), what is left over at its first frame is kept as its offset."""
    plain = changed(layer, blend_in=0, weight=Channel(rest=1.0))
    for _ in range(6):
        there = run(_with(camera, plain), context).steady
        pan = (float(before.steady[3][i] - there[3][i]) + 180.0) % 360.0 - 180.0
        tilt = float(before.steady[4][i] - there[4][i])
        if max(abs(pan), abs(tilt)) < 1e-7:
            break
        plain = changed(plain, pan_deg=plain.pan_deg.shifted(pan), tilt_deg=plain.tilt_deg.shifted(tilt))
    return changed(layer, pan_deg=plain.pan_deg, tilt_deg=plain.tilt_deg)
