"""Commands on what a camera is focused on."""

from typing import Literal

import numpy as np
from pydantic import Field

from heron.bake import Bake
from heron.bake.cameras import COLUMNS
from heron.commands.base import Command, Outcome, open_camera
from heron.commands.fitting import fitted
from heron.commands.keys import NewKey, SetKeys, check_frame
from heron.commands.pointing import Pointed, meant
from heron.errors import Refused
from heron.model import Id, changed
from heron.optics.focus import nearest_possible
from heron.scene import Camera, Scene, find, replace
from heron.scene.document import spot_called
from heron.scene.focus import AtDistance, Focus, FocusMark, FocusOn, Pulled
from heron.scene.links import links
from heron.timebase.frames import MAX_FRAMES, FrameNumber

#: Half a second at 24 frames a second: common practice for a rack that is meant to be seen.
USUAL_RACK = 12


class SetFocus(Command):
    """Focus on something: from the first frame on, or in place of the mark in force at a frame."""

    kind: Literal["focus.set"] = "focus.set"
    camera: Id
    on: Pointed
    frame: FrameNumber | None = None
    force: bool = False

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        on = meant(scene, self.on)
        said = f"Focused camera {camera.letter} on {called(scene, on)}"
        marks = camera.focus.marks
        begun = [i for i, m in enumerate(marks) if self.frame is not None and m.frame - m.over <= self.frame]
        if begun:
            i = begun[-1]
            marks = (*marks[:i], changed(marks[i], on=on), *marks[i + 1 :])
            focus = changed(camera.focus, marks=marks)
            said += f" from {marks[i].frame}"
        else:
            focus = changed(camera.focus, on=on)
        if isinstance(on, Pulled):
            at = scene.frames.first if self.frame is None else self.frame
            focus = with_curve(scene, camera, focus, at)
        return _focused(scene, camera, focus, on, said, force=self.force)


class KeyFocus(Command):
    """Set a key on the focus distance, which has the focus follow its curve from then on; what it is now, or another."""

    kind: Literal["focus.key"] = "focus.key"
    camera: Id
    frame: FrameNumber
    #: Left out, the key is where the focus is.
    metres: float | None = None
    force: bool = False

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        check_frame(scene, self.frame)
        value = distance_at(scene, camera, self.frame) if self.metres is None else self.metres
        if not isinstance(camera.focus.in_force(self.frame), Pulled):
            scene, _ = SetFocus(camera=self.camera, on=Pulled(), frame=self.frame, force=self.force).apply(
                scene
            )
        key = NewKey(thing=self.camera, channel="focus.distance", frame=self.frame, value=value)
        return SetKeys(keys=(key,), force=self.force).apply(scene)


class RackFocus(Command):
    """Rack to something: there at `frame`, having taken the `over` frames before it."""

    kind: Literal["focus.rack"] = "focus.rack"
    camera: Id
    frame: FrameNumber
    on: Pointed
    over: int | None = Field(default=None, ge=0, le=MAX_FRAMES)
    shape: Literal["straight", "eased"] = "straight"
    force: bool = False

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        check_frame(scene, self.frame)
        on = meant(scene, self.on)
        others = [m for m in camera.focus.marks if m.frame != self.frame]
        before = max((m.frame for m in others if m.frame < self.frame), default=scene.frames.first)
        over = min(USUAL_RACK, self.frame - before) if self.over is None else self.over
        mark = FocusMark(frame=self.frame, on=on, over=over, shape=self.shape)
        focus = changed(camera.focus, marks=tuple(sorted([*others, mark], key=lambda m: m.frame)))
        if isinstance(on, Pulled):
            focus = with_curve(scene, camera, focus, self.frame)
        said = f"Racked camera {camera.letter} to {called(scene, on)} at {self.frame} over {over} frames"
        return _focused(scene, camera, focus, on, said, force=self.force)


class SetMark(Command):
    """Move a focus mark in time, or change how its rack runs."""

    kind: Literal["focus.mark"] = "focus.mark"
    camera: Id
    frame: FrameNumber
    to: FrameNumber | None = None
    over: int | None = Field(default=None, ge=0, le=MAX_FRAMES)
    shape: Literal["straight", "eased"] | None = None

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        mark = _mark(camera, self.frame)
        update = {
            k: v for k, v in (("frame", self.to), ("over", self.over), ("shape", self.shape)) if v is not None
        }
        if self.to is not None:
            check_frame(scene, self.to)
            if self.to != self.frame and any(m.frame == self.to for m in camera.focus.marks):
                raise Refused(
                    f"There is already a focus mark at {self.to}.",
                    "Choose another frame, or delete that one first.",
                    field="to",
                )
        new = changed(mark, **update)
        marks = sorted([*(m for m in camera.focus.marks if m is not mark), new], key=lambda m: m.frame)
        after = changed(camera, focus=changed(camera.focus, marks=tuple(marks)))
        said = f"Changed camera {camera.letter}'s rack to {called(scene, mark.on)}: at {new.frame} over {new.over} frames"
        return replace(scene, "cameras", after), said


class DeleteMark(Command):
    """Take a focus mark away."""

    kind: Literal["focus.unmark"] = "focus.unmark"
    camera: Id
    frame: FrameNumber

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        mark = _mark(camera, self.frame)
        marks = tuple(m for m in camera.focus.marks if m is not mark)
        after = changed(camera, focus=changed(camera.focus, marks=marks))
        return replace(
            scene, "cameras", after
        ), f"Deleted camera {camera.letter}'s focus mark at {self.frame}"


def called(scene: Scene, on: FocusOn) -> str:
    """What is focused on, as a person would say it.

    Raises:
        NotFound: it is not on the stage.
    """
    if isinstance(on, AtDistance):
        return f"{on.metres:.4g} m" if on.metres else "infinity"
    if isinstance(on, Pulled):
        return "its own curve"
    for link in links(on):
        find(scene, link.table, link.id)
    return spot_called(scene, on)


def distance_at(scene: Scene, camera: Camera, frame: int) -> float:
    """How far away a camera is focused at a frame, metres, as a focus distance with a curve may be."""
    spec = camera.focus.spec("distance")
    row = Bake(scene).rows(camera, np.array([frame]))[0]
    return spec.shown(float(np.clip(row[COLUMNS.index("focus_per_m")], *spec.span)))


def with_curve(scene: Scene, camera: Camera, focus: Focus, frame: int) -> Focus:
    """A focus that comes to follow its curve: one without keys stands where the focus is at a frame."""
    if focus.distance.keys or camera.focus.pulled():
        return focus
    rest = focus.spec("distance").kept(distance_at(scene, camera, frame))
    return changed(focus, distance=focus.distance.at_rest(rest))


def _focused(scene: Scene, camera: Camera, focus: Focus, on: FocusOn, said: str, *, force: bool) -> Outcome:
    longest = max([k.value for k in camera.focal.keys] or [camera.focal.rest])
    if isinstance(on, AtDistance) and on.metres is not None and on.metres < nearest_possible(longest):
        raise Refused(
            f"Nothing at {on.metres:g} m can be sharp through {longest:g} mm.",
            f"Focus at {nearest_possible(longest):g} m or farther, or take a shorter lens.",
            field="metres",
        )
    return fitted(scene, camera, changed(camera, focus=focus), said, force=force)


def _mark(camera: Camera, frame: int) -> FocusMark:
    for mark in camera.focus.marks:
        if mark.frame == frame:
            return mark
    raise Refused(
        f"Camera {camera.letter} has no focus mark at {frame}.", "Choose a frame that has one.", field="frame"
    )
