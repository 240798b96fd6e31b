"""Proposals that take a hitch away: keys moved a little, an arm for a chord, a lens that goes with the distance."""

from typing import Any, Literal

import numpy as np

from heron.bake import KEEPER, Bake, Scratch
from heron.commands.base import Command, Outcome, capital, open_camera
from heron.commands.fitting import fitted
from heron.commands.keys import KeyHere, check_frame, put_between
from heron.commands.rigs import AddLayer
from heron.commands.things import PutThing
from heron.curves import Channel, Key
from heron.curves.simplify import simplified
from heron.errors import BadInput, Refused
from heron.framing.project import project
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

#: What a matched lens or distance may be off by: millimetres and metres.
_MATCH_MM, _MATCH_M = 0.02, 0.001


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
        bake = Bake(scene, Scratch(KEEPER))
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
        "Move the keys about it, or draw the move anew there.",
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


class MatchZoom(Command):
    """A dolly zoom by hand: the lens goes with the distance over a range, or the distance with the lens, so that a
    subject keeps the size it has at its first frame.
    """

    kind: Literal["camera.match"] = "camera.match"
    camera: Id
    subject: Spot
    first: FrameNumber
    last: FrameNumber
    answers: Literal["lens", "distance"] = "lens"
    force: bool = False

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        check_frame(scene, self.first)
        check_frame(scene, self.last)
        if self.last <= self.first:
            raise BadInput("A range ends after it begins.", "Give its first frame first.", field="last")
        bake = Bake(scene, Scratch(KEEPER))
        here = slice(self.first - scene.frames.first, self.last + 1 - scene.frames.first)
        samples = bake.samples(camera)
        at = bake.place(root_of(self.subject), scene.frames.array())
        depth, focal = project(samples, at).depth[here], samples.column("focal_mm")[here]
        who = spot_called(scene, root_of(self.subject))
        if not (depth > 0.05).all():
            raise Refused(
                f"{capital(who)} is not in front of {called(camera)} all that time.",
                "Choose another range.",
                field="first",
            )
        new: dict[str, Channel]
        if self.answers == "lens":
            new = {"focal": _put(camera.focal, self.first, focal[0] * depth / depth[0], _MATCH_MM)}
        else:
            if any(layer.kind in ("carrier", "trail", "arm", "rail", "flight") for layer in camera.layers):
                raise Refused(
                    f"{capital(called(camera))} is carried by a layer.",
                    "Let the lens answer.",
                    field="answers",
                )
            place = samples.values[here, :3]
            away = (place - at[here]) * ((focal / focal[0]) * (depth[0] / depth))[:, None]
            new = {
                name: _put(camera.channel(name), self.first, (at[here] + away)[:, k], _MATCH_M)
                for k, name in enumerate(("x", "y", "z"))
                if np.ptp(away[:, k]) > 1e-9
            }
        after = camera.with_channels(new)
        what = "The lens" if self.answers == "lens" else "The distance"
        said = f"{what} of {called(camera)} keeps {who} as large from {self.first} to {self.last}"
        return fitted(scene, camera, after, said, force=self.force)

    def reads(self) -> frozenset[str]:
        return frozenset(link.id for link in links(self.subject))


def _put(channel: Channel, first: int, values: Any, error: float) -> Channel:
    made = simplified(first, values, error)
    last = first + len(values) - 1
    keys = list(made.keys) or [
        Key(frame=f, value=made.rest, before="straight", after="straight") for f in (first, last)
    ]
    return put_between(channel, keys)


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
        end = Bake(scene, Scratch(KEEPER)).rows(camera, np.array([self.last]))[0, :6]
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
