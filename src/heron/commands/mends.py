"""Proposals that take a hitch away: keys moved a little, an arm for a chord, a lens that goes with the distance."""

from typing import Literal

import numpy as np

from heron.bake import draft
from heron.commands.base import Command, Outcome, capital, open_camera
from heron.commands.keys import KeyHere, check_frame
from heron.commands.matching import MatchZoom
from heron.commands.rigs import AddLayer
from heron.commands.things import PutThing
from heron.errors import Refused
from heron.model import Id, new_id
from heron.motion.found import found_in
from heron.motion.hitches import Hitch
from heron.motion.mending import Mend, mend
from heron.motion.signals import root_of
from heron.scene import POSE, Camera, Scene, find, replace
from heron.scene.document import called, spot_called
from heron.scene.layers import Arm
from heron.scene.links import links
from heron.stage.reference import Spot
from heron.timebase.frames import FrameNumber


class MendHitch(Command):
    """Take a hitch away by the smallest change: of a chord an arm is made, of a dolly zoom that pumps the lens follows."""

    kind: Literal["camera.mend"] = "camera.mend"
    camera: Id
    subject: Spot
    #: Any frames of the hitch.
    first: FrameNumber
    last: FrameNumber

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        bake = draft(scene)
        hit = next(
            (
                h
                for h in found_in(bake, camera, self.subject)
                if h.first <= self.last and h.last >= self.first
            ),
            None,
        )
        if hit is None:
            raise Refused(
                f"There is no hitch from {self.first} to {self.last}.",
                "It may be mended already.",
                field="first",
            )
        return mended_by(scene, camera, self.subject, hit)

    def reads(self) -> frozenset[str]:
        return frozenset(link.id for link in links(self.subject))


def mended_by(scene: Scene, camera: Camera, subject: Spot, hit: Hitch) -> Outcome:
    """A scene with a hitch taken away, and how.

    Raises:
        Refused: no change within bounds does.
    """
    if hit.kind == "chord":
        return SwingKeys(camera=camera.id, subject=subject, first=hit.first, last=hit.last).apply(scene)
    found = mend(scene, camera, subject, hit)
    if found is not None:
        return replace(
            scene, "cameras", found.camera
        ), f"{_told(found)}, so that it goes evenly from {hit.first} to {hit.last}"
    if hit.kind == "pump" and hit.measure == "size":
        span = _zooming(camera, hit)
        if span is not None:
            return MatchZoom(camera=camera.id, subject=subject, first=span[0], last=span[1]).apply(scene)
    raise Refused(
        f"{hit.sentence}; no small change of its keys takes that away.",
        "Move the keys around it, or redo the move there.",
        field="first",
    )


def _told(found: Mend) -> str:
    gone = [m for m in found.moved if m.now is None]
    if gone:
        return f"Took away the key on the {_label(found, gone[0].channel)} of {called(found.camera)} at {gone[0].frame}"
    n = len(found.moved)
    return f"Moved {n} key{'s' if n != 1 else ''} of {called(found.camera)} a little"


def _label(found: Mend, name: str) -> str:
    return found.camera.spec(name).label.lower()


def _zooming(camera: Camera, hit: Hitch) -> tuple[int, int] | None:
    """The keys of the focal length that a hitch lies between."""
    before = [k.frame for k in camera.focal.keys if k.frame <= hit.first]
    after = [k.frame for k in camera.focal.keys if k.frame >= hit.last]
    return (before[-1], after[0]) if before and after else None


class SwingKeys(Command):
    """Two keys of a round move as an arm round its subject: the same two views, and no chord between them."""

    kind: Literal["camera.swing"] = "camera.swing"
    camera: Id
    subject: Spot
    first: FrameNumber
    last: FrameNumber
    id: Id = "lay-swing"

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        check_frame(scene, self.first)
        check_frame(scene, self.last)
        end = draft(scene).rows(camera, np.array([self.last]))[0, :6]
        taken = {layer.id for layer in camera.layers}
        id_ = self.id if self.id not in taken else new_id("lay")
        pivot = root_of(self.subject)
        arm = Arm(id=id_, round=(pivot,), first=self.first, last=self.last, blend_out=0)
        scene, _ = AddLayer(camera=self.camera, layer=arm, at=self.first).apply(scene)
        names = ("bearing_deg", "height_deg", "reach_m", "pan_deg", "tilt_deg", "roll_deg")
        channels = tuple(f"{id_}.{name}" for name in names)
        scene, _ = KeyHere(thing=self.camera, frame=self.first, channels=channels).apply(scene)
        wanted = dict(zip(POSE, map(float, end), strict=True))
        scene, _ = PutThing(thing=self.camera, frame=self.last, keep="key", **wanted).apply(scene)
        who = spot_called(scene, pivot)
        return scene, (
            f"{capital(called(find(scene, 'cameras', self.camera)))} swings round {who} on an arm from "
            f"{self.first} to {self.last}, in place of the straight way between two keys"
        )
