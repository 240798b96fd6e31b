"""A rig turned into keys, whole or for a range, to finish by hand."""

from typing import Any, Literal

import numpy as np
from pydantic import Field

from heron.bake import draft
from heron.bake.cameras import rig_context
from heron.commands.base import Command, Outcome, open_camera
from heron.commands.keys import check_frame
from heron.commands.layers_to_keys import ERROR, as_keys
from heron.curves import Channel, Key, evaluate
from heron.curves.simplify import simplified
from heron.errors import BadInput, Refused
from heron.model import Id, changed
from heron.rigs.rigged import Rigged
from heron.rigs.stack import run
from heron.scene import POSE, Camera, Scene, replace
from heron.scene.document import called
from heron.scene.layers import Breath, SizeHold
from heron.timebase.frames import FrameNumber, Frames

#: What lies outside the range is kept this much nearer than what is turned into keys.
_OUTSIDE = 0.05


class RigToKeys(Command):
    """Turn a camera's layers into keys, over all of the scene or a range: within `error` of metres and of degrees / 10.

    For a range the layers stay, of no weight within it: before and after it they carry the camera as they did, and
    the camera breathes on over the keys.
    """

    kind: Literal["rig.keys"] = "rig.keys"
    camera: Id
    first: FrameNumber | None = None
    last: FrameNumber | None = None
    error: float = Field(default=ERROR, ge=0.0, le=1.0)

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        if not camera.layers:
            raise Refused(
                f"Camera {camera.letter} has keys only, no layers.",
                "Put a layer on it first.",
                field="camera",
            )
        if (self.first is None) != (self.last is None):
            raise BadInput("A range has a first and a last frame.", "Give both, or neither.", field="first")
        if self.first is None or self.last is None:
            after, count = as_keys(scene, camera, 4, self.error)
            return replace(scene, "cameras", after), f"Turned {called(camera)}'s layers into {count} keys"
        check_frame(scene, self.first)
        check_frame(scene, self.last)
        if self.last < self.first:
            raise BadInput(
                f"A range from {self.first} to {self.last} ends before it begins.",
                "Give its first frame first.",
                field="last",
            )
        locked = next((layer for layer in camera.layers if layer.locked and not layer.off), None)
        if locked is not None:
            raise Refused(
                f"The {locked.kind} of camera {camera.letter} is locked.",
                "Unlock it on the card first.",
                field="layer",
            )
        after, count = _over(scene, camera, Frames(first=self.first, last=self.last), self.error)
        return (
            replace(scene, "cameras", after),
            f"Turned {called(camera)}'s layers into {count} keys from {self.first} to {self.last}; "
            "outside they go on"
            + (", and it breathes on" if any(isinstance(one, Breath) for one in camera.layers) else ""),
        )


def _over(scene: Scene, camera: Camera, part: Frames, error: float) -> tuple[Camera, int]:
    """Keys over a part of the scene's frames, the layers of no weight there.

    Raises:
        Refused: the camera would stand elsewhere outside it.
    """
    before = _run(scene, camera)
    muted = changed(camera, layers=tuple(_mute(layer, part, scene.frames) for layer in camera.layers))
    pose = [*before.steady, *([before.focal] if _sized(camera) else [])]
    channels, count = {}, 0
    for k, (name, values) in enumerate(zip([*POSE, "focal"], pose, strict=False)):
        allowed = error if k < 3 else 10 * error
        channels[name], n = _patched(camera.channel(name), scene.frames, part, values, allowed)
        count += n
    after = muted.with_channels(channels)
    now = _run(scene, after)
    for k, (old, new) in enumerate(zip(before.pose, now.pose, strict=True)):
        off = np.abs(new - old)
        if off.max() > max(2 * (error if k < 3 else 10 * error), 1e-6):
            at = scene.frames.first + int(np.argmax(off))
            raise Refused(
                f"A layer ends within {part}, and what it leaves behind goes on after: at {at} the camera would "
                "stand elsewhere.",
                "Let the range reach past that layer's end, or turn the whole rig into keys.",
                field="last",
            )
    return after, count


def _run(scene: Scene, camera: Camera) -> Rigged:
    return run(camera, rig_context(draft(scene), camera))


def _sized(camera: Camera) -> bool:
    return any(isinstance(layer, SizeHold) and not layer.off for layer in camera.layers)


def _mute(layer: Any, part: Frames, scene: Frames) -> Any:
    """A layer of no weight over a part; what has a past keeps it, for the layer itself runs on."""
    if layer.off or isinstance(layer, Breath):
        return layer
    channel: Channel = layer.weight
    nothing = [_straight(part.first, 0.0), _straight(part.last, 0.0)]
    return changed(layer, weight=_outside(channel, scene, part, 0.0).with_keys(*nothing))


def _patched(channel: Channel, scene: Frames, part: Frames, values: Any, error: float) -> tuple[Channel, int]:
    """A channel that follows values, (n,) one for each frame of the scene, over a part of it, and as it did outside.

    The channel, and how many keys are within the part.
    """
    here = slice(part.first - scene.first, part.stop - scene.first)
    made = simplified(part.first, values[here], error)
    new = list(made.keys) or [_straight(part.first, made.rest)]
    if new[-1].frame != part.last:
        new.append(_straight(part.last, new[-1].value))
    # From the frame before into the first one, and out of the last, it goes straight: that is between two frames.
    new[0], new[-1] = changed(new[0], before="straight"), changed(new[-1], after="straight")
    return _outside(channel, scene, part, error * _OUTSIDE).with_keys(*new), len(new)


def _outside(channel: Channel, scene: Frames, part: Frames, error: float) -> Channel:
    """A channel without keys in a part, as it was on every frame outside it.

    Its keys stay where that is enough; where a curve leads into the part, what comes before (or after) is keyed again.
    """
    frames = scene.array()
    own = evaluate(channel, frames)
    ends = [f for f in (part.first - 1, part.stop) if f in scene]
    kept = [k for k in channel.keys if k.frame not in part and k.frame not in ends]
    at_ends = [_ended(channel, f, float(own[f - scene.first]), before=f < part.first) for f in ends]
    plain = changed(channel, keys=()).with_keys(*kept, *at_ends)
    out = np.array([f not in part for f in scene.each()])
    if not kept and not at_ends:
        return plain
    if np.abs(evaluate(plain, frames) - own)[out].max(initial=0.0) < 1e-9:
        return plain
    keys = [k for k in channel.keys if k.frame not in scene]
    for first, last in ((scene.first, part.first - 1), (part.stop, scene.last)):
        if first <= last:
            made = simplified(first, own[first - scene.first : last + 1 - scene.first], max(error, 1e-9))
            new = (
                list(made.keys)
                or [_straight(first, made.rest), _straight(last, made.rest)][: 1 + (last > first)]
            )
            keys += [changed(new[0], before="straight"), *new[1:-1]]
            keys.append(changed(new[-1], after="straight", before=new[-1].before))
    return changed(channel, keys=()).with_keys(*keys)


def _straight(frame: int, value: float) -> Key:
    return Key(frame=frame, value=value, before="straight", after="straight")


def _ended(channel: Channel, frame: int, value: float, *, before: bool) -> Key:
    """The key just before the part, or just after it: into the part it goes straight."""
    old = channel.key_at(frame)
    if old is not None:
        return changed(old, after="straight") if before else changed(old, before="straight")
    return _straight(frame, value)
