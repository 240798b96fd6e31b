"""A camera that is elsewhere from one frame to the next: a cut by its keys, and a change of place while it is off air.

Common practice: the old pose is held up to N−1, the new one stands on N.
"""

from typing import Any, Literal

import numpy as np

from heron.bake import Bake
from heron.commands.base import Command, Outcome, capital, open_camera
from heron.commands.fitting import fitted
from heron.commands.focusing import RackFocus
from heron.commands.keys import check_frame
from heron.commands.view import View
from heron.curves import Channel, Key, evaluate
from heron.curves.edits import frozen_side, with_key_on_curve
from heron.cut.air import next_on_air, off_air
from heron.errors import BadInput, Refused
from heron.model import Id, changed
from heron.scene import POSE, Camera, Scene, find, replace
from heron.scene.document import called
from heron.scene.focus import AtDistance
from heron.scene.layers import STAGES
from heron.timebase.frames import FrameNumber


class JumpCamera(Command):
    """Cut to another view on one camera, by held keys; later keys stay, or all move with the new view."""

    kind: Literal["camera.jump"] = "camera.jump"
    camera: Id
    #: The first frame of the new view.
    frame: FrameNumber
    to: View | None = None
    perch: Id | None = None
    later: Literal["stay", "move"] = "stay"
    #: Do it though the lens cannot.
    force: bool = False

    def apply(self, scene: Scene) -> Outcome:
        camera = _by_keys(open_camera(scene, self.camera))
        check_frame(scene, self.frame)
        if self.frame == scene.frames.first:
            raise Refused(
                "There is no frame before this one to cut from.", "Go to a later frame.", field="frame"
            )
        if (self.to is None) == (self.perch is None):
            raise BadInput("A jump goes to one view.", "Give a view, or a perch.", field="to")
        goal, name = self._goal(scene)
        new: dict[str, Channel] = {}
        for part in POSE:
            channel = camera.channel(part)
            here = float(evaluate(channel, np.array([self.frame]))[0])
            value = goal[part]
            if part in ("pan", "roll"):
                value = here + (value - here + 180.0) % 360.0 - 180.0
            new[part] = _jumped(channel, self.frame, value, value - here if self.later == "move" else 0.0)
        focal, focus_m = self._glass(scene)
        if focal is not None and (camera.focal.keys or focal != camera.focal.rest):
            new["focal"] = _jumped(camera.focal, self.frame, focal, 0.0)
        after = camera.with_channels(new)
        where = f"to the perch “{name}”" if name else "to another view"
        moved = (
            ", and all that comes later moves with it"
            if self.later == "move" and _later(camera, self.frame)
            else ""
        )
        scene, said = fitted(
            scene,
            camera,
            after,
            f"{capital(called(camera))} jumps {where} at {self.frame}{moved}",
            force=self.force,
        )
        if focus_m is not None:
            on = AtDistance(metres=focus_m)
            scene = RackFocus(camera=self.camera, frame=self.frame, on=on, over=0, force=self.force).apply(
                scene
            )[0]
        return scene, said

    def reads(self) -> frozenset[str]:
        return frozenset({self.perch} if self.perch else ())

    def _glass(self, scene: Scene) -> tuple[float | None, float | None]:
        """The focal length and the focus distance that come with the new view."""
        view = self.to if self.perch is None else find(scene, "perches", self.perch)
        assert view is not None
        return view.focal, view.focus_m

    def _goal(self, scene: Scene) -> tuple[dict[str, float], str]:
        if self.perch is None:
            return {part: float(getattr(self.to, part)) for part in POSE}, ""
        perch = find(scene, "perches", self.perch)
        pose = Bake(scene).rows(perch, np.array([self.frame]))[0, :6]
        return dict(zip(POSE, map(float, pose), strict=True)), perch.name


class WaitOffAir(Command):
    """While a camera is off air, have it go at once to where its next shot begins, and wait there."""

    kind: Literal["camera.off_air"] = "camera.off_air"
    camera: Id
    #: Any frame on which it is off air.
    frame: FrameNumber

    def apply(self, scene: Scene) -> Outcome:
        camera = _by_keys(open_camera(scene, self.camera))
        check_frame(scene, self.frame)
        span = next((one for one in off_air(scene, self.camera) if self.frame in one), None)
        if span is None:
            raise Refused(
                f"{capital(called(camera))} is on air at {self.frame}, or in no shot at all.",
                "Choose a frame on which none of its shots uses it.",
                field="frame",
            )
        begin = next_on_air(scene, span)
        if begin is None:
            raise Refused(
                f"{capital(called(camera))} has no later shot to go to.", "Give it one first.", field="frame"
            )
        new: dict[str, Channel] = {}
        for part in POSE:
            channel = camera.channel(part)
            if not channel.keys:
                continue
            value = float(evaluate(channel, np.array([begin]))[0])
            new[part] = _waiting(channel, span.first, begin, value, jumps=span.first > scene.frames.first)
        after = camera.with_channels(new)
        if after == camera:
            raise Refused(
                f"{capital(called(camera))} stands where its next shot begins already.",
                "Nothing needs to change.",
                field="frame",
            )
        return (
            replace(scene, "cameras", after),
            f"{capital(called(camera))} waits off air from {span.first} where its next shot begins at {begin}",
        )


def _by_keys(camera: Camera) -> Camera:
    carried = [layer.kind for layer in camera.layers if STAGES[layer.kind] in (0, 2) and not layer.off]
    if carried:
        raise Refused(
            f"{capital(called(camera))} is moved by its {carried[-1]}, so a key can't make it jump.",
            "End that layer before this frame and begin another on it, or turn the rig into keys.",
            field="camera",
        )
    return camera


def _later(camera: Camera, frame: int) -> bool:
    return any(key.frame > frame for part in POSE for key in camera.channel(part).keys)


def _held(channel: Channel, frame: int) -> Key:
    """The key that holds what a channel is at a frame: it comes in as the curve does."""
    value = float(evaluate(channel, np.array([frame]))[0])
    old = channel.key_at(frame)
    if old is not None:
        i = channel.keys.index(old)
        return changed(old, after="held", handle_after=None, **frozen_side(channel, i, "before"))
    return Key(frame=frame, value=value, before="straight", after="held")


def _up_to(channel: Channel, frame: int) -> list[Key]:
    """The keys up to a frame, whose values there and before stay as they are, the last of them held."""

    kept = channel
    if len(channel.keys) > 1 and channel.key_at(frame) is None:
        kept = with_key_on_curve(channel, frame)
    keys = [key for key in kept.keys if key.frame < frame]
    return [*keys, _held(kept, frame)]


def _jumped(channel: Channel, frame: int, value: float, later: float) -> Channel:
    before = _up_to(channel, frame - 1)
    old = channel.key_at(frame)
    at = changed(old, value=value) if old else Key(frame=frame, value=value)
    after = [changed(key, value=key.value + later) for key in channel.keys if key.frame > frame]
    return changed(channel, keys=(*before, at, *after))


def _waiting(channel: Channel, first: int, begin: int, value: float, *, jumps: bool) -> Channel:
    """A channel held before a frame, at a value from there up to where a shot begins, and as it was from there on."""
    kept: Any = channel
    if len(channel.keys) > 1 and channel.key_at(begin) is None:
        kept = with_key_on_curve(channel, begin)
    at = kept.key_at(begin) or Key(frame=begin, value=value)
    at = changed(at, before="straight", handle_before=None)
    later = [key for key in kept.keys if key.frame > begin]
    before = _up_to(channel, first - 1) if jumps else []
    wait = [Key(frame=first, value=value, before="straight", after="straight")] if first < begin else []
    return changed(channel, keys=(*before, *wait, at, *later))
