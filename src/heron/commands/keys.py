"""Commands on keys of cameras and movers. A key sets place and direction together."""

from typing import Any, Literal

from pydantic import Field

from heron.commands.base import Command, Outcome, open_camera
from heron.commands.cameras import Pose
from heron.curves import Key, KeyKind
from heron.errors import Refused
from heron.model import Id, changed
from heron.scene import POSE, Camera, Scene, find, replace
from heron.stage.mover import Mover
from heron.timebase.frames import MAX_FRAME_NUMBER


def _thing(scene: Scene, id_: str) -> tuple[Any, Any, str]:
    """(table, the camera or mover, how it is called)."""
    if any(m.id == id_ for m in scene.movers):
        mover: Mover = find(scene, "movers", id_)
        return "movers", mover, mover.name
    camera: Camera = open_camera(scene, id_)
    return "cameras", camera, f"camera {camera.letter}"


def check_frame(scene: Scene, frame: int) -> None:
    """A key or mark can only be where the scene is.

    Raises:
        Refused: the frame is outside the scene.
    """
    if frame not in scene.frames:
        raise Refused(
            f"Frame {frame} is outside the scene's range {scene.frames}.",
            "Choose a frame inside it, or lengthen the scene.",
            field="frame",
        )


class SetKey(Command):
    """Set a key on place and direction at a frame, or replace the one that is there."""

    kind: Literal["keys.set"] = "keys.set"
    thing: Id
    frame: int = Field(ge=0, le=MAX_FRAME_NUMBER)
    pose: Pose
    shape: KeyKind = "eased"

    def apply(self, scene: Scene) -> Outcome:
        table, thing, called = _thing(scene, self.thing)
        check_frame(scene, self.frame)
        update, moved = {}, False
        for name in POSE:
            channel = getattr(thing, name)
            was = channel.key_at(self.frame)
            moved = moved or was is not None
            before, after = (was.before, was.after) if was else (self.shape, self.shape)
            key = Key(frame=self.frame, value=getattr(self.pose, name), before=before, after=after)
            update[name] = channel.with_key(key)
        word = "Changed the key of" if moved else "Set a key on"
        return replace(scene, table, changed(thing, **update)), f"{word} {called} at {self.frame}"


class DeleteKey(Command):
    """Take the key at a frame away; after the last key the thing stays where that key had it."""

    kind: Literal["keys.delete"] = "keys.delete"
    thing: Id
    frame: int

    def apply(self, scene: Scene) -> Outcome:
        table, thing, called = _thing(scene, self.thing)
        _require(thing, called, self.frame)
        update = {name: getattr(thing, name).without_key(self.frame) for name in POSE}
        return replace(scene, table, changed(thing, **update)), f"Deleted the key of {called} at {self.frame}"


class MoveKey(Command):
    """Move a key in time."""

    kind: Literal["keys.move"] = "keys.move"
    thing: Id
    frame: int
    to: int = Field(ge=0, le=MAX_FRAME_NUMBER)

    def apply(self, scene: Scene) -> Outcome:
        table, thing, called = _thing(scene, self.thing)
        _require(thing, called, self.frame)
        check_frame(scene, self.to)
        if self.to != self.frame and any(getattr(thing, n).key_at(self.to) for n in POSE):
            raise Refused(
                f"There is already a key at {self.to}.",
                "Delete that one first, or choose another frame.",
                field="to",
            )
        update = {}
        for name in POSE:
            channel = getattr(thing, name)
            key = channel.key_at(self.frame)
            if key:
                kept = changed(channel, keys=tuple(k for k in channel.keys if k.frame != self.frame))
                update[name] = kept.with_key(changed(key, frame=self.to))
        return replace(
            scene, table, changed(thing, **update)
        ), f"Moved the key of {called} from {self.frame} to {self.to}"


class ShapeKey(Command):
    """Choose how the curve comes into a key and goes out of it."""

    kind: Literal["keys.shape"] = "keys.shape"
    thing: Id
    frame: int
    before: KeyKind | None = None
    after: KeyKind | None = None

    def apply(self, scene: Scene) -> Outcome:
        table, thing, called = _thing(scene, self.thing)
        _require(thing, called, self.frame)
        update = {}
        for name in POSE:
            channel = getattr(thing, name)
            key = channel.key_at(self.frame)
            if key:
                update[name] = channel.with_key(
                    changed(key, before=self.before or key.before, after=self.after or key.after)
                )
        sides = [f"{w} {v}" for w, v in (("before", self.before), ("after", self.after)) if v]
        said = f"Made the key of {called} at {self.frame} {' and '.join(sides) or 'as it was'}"
        return replace(scene, table, changed(thing, **update)), said


def _require(thing: Camera | Mover, called: str, frame: int) -> None:
    if not any(getattr(thing, name).key_at(frame) for name in POSE):
        raise Refused(
            f"There is no key of {called} at {frame}.", "Choose a frame that has one.", field="frame"
        )
