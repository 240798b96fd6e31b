"""What a hand points at, taken as the subject of a layer or a look: which place on it counts, and from when."""

from typing import Any, Literal

from pydantic import Field

from heron.commands.acting import ahead_of
from heron.commands.acts import AddAct, SetAct, act_of
from heron.commands.base import Command, Outcome, open_camera
from heron.commands.keys import check_frame
from heron.commands.pointing import PieceAt, Pointed, meant
from heron.commands.riding import Ride
from heron.commands.rigs import AddLayer, SetLayer, layer_of
from heron.errors import Refused
from heron.model import Id, Metres, changed, new_id
from heron.scene import Camera, Scene, find
from heron.scene.focus import AtDistance, Pulled
from heron.scene.layers import Aim, Arm, Carrier, Layer, SizeHold, Trail
from heron.scene.links import subject_field
from heron.stage.acts.body import LeanOn, Sit, WalkWith
from heron.stage.acts.hands import PutDown
from heron.stage.acts.look import LookAt
from heron.stage.figure import LOOK_FRAMES, Figure
from heron.stage.reference import OnFigure, OnPiece, Spot
from heron.timebase import Frames
from heron.timebase.frames import FrameNumber

#: An aim that is not a camera's first comes to its subject over so many frames. The number is ours.
COMES_OVER = 12
#: What follows or circles a person uses the body as a whole; what watches one looks at the head (common practice).
_WHOLE = ("trail", "carrier", "turntable")


def subject(scene: Scene, on: Pointed, kind: str) -> Any:
    """The subject of a layer of a kind when a hand points there.

    Raises:
        Refused: nothing is there, or it has no size to hold.
    """
    if isinstance(on, AtDistance | Pulled):
        raise Refused("There is nothing there.", "Point at a figure, a thing or the floor.", field="on")
    if kind == "size":
        return changed(_person(on, "Only a figure has a size to hold."), joint="chin")
    if isinstance(on, PieceAt):
        return OnPiece(piece=on.piece)
    if isinstance(on, OnFigure):
        return changed(on, joint="root" if kind in _WHOLE else "head" if on.joint == "eyes" else on.joint)
    return on


def _person(on: Any, otherwise: str) -> OnFigure:
    if not isinstance(on, OnFigure):
        raise Refused(otherwise, "Point at one.", field="on")
    return on


class PointRig(Command):
    """Give a camera a layer whose subject is what a hand points at, or have it ride on somebody.

    A camera that watches something already comes to what it watches next over some frames from the one that is shown.
    """

    kind: Literal["rig.point"] = "rig.point"
    id: Id = Field(default_factory=lambda: new_id("lay"))
    camera: Id
    how: Literal["aim", "trail", "carrier", "arm", "size", "eyes", "facing"]
    on: Pointed
    frame: FrameNumber
    #: Where a ride is mounted, metres; left out, where the camera is.
    mount: tuple[Metres, Metres, Metres] | None = None

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        check_frame(scene, self.frame)
        if self.how in ("eyes", "facing"):
            figure = _person(self.on, "Only a figure can be ridden on so.").figure
            ride = Ride(id=self.id, camera=self.camera, figure=figure, how=self.how, frame=self.frame)
            return ride.apply(scene)
        mount = self.mount if self.how == "carrier" else None
        layer = self._layer(scene, camera, subject(scene, self.on, self.how))
        return AddLayer(camera=self.camera, layer=layer, at=self.frame, mount=mount).apply(scene)

    def _layer(self, scene: Scene, camera: Camera, on: Any) -> Any:
        if self.how == "trail":
            return Trail(id=self.id, of=on)
        if self.how == "carrier":
            return Carrier(id=self.id, on=on)
        if self.how == "arm":
            return Arm(id=self.id, round=(on,))
        if self.how == "size":
            return SizeHold(id=self.id, of=on)
        later = self.frame > scene.frames.first and any(isinstance(one, Aim) for one in camera.layers)
        when: dict[str, Any] = {"first": self.frame, "blend_in": COMES_OVER} if later else {}
        return Aim(id=self.id, at=(on,), **when)


class PointLayer(Command):
    """Change a layer's subject to what a hand points at, or add that to its subjects."""

    kind: Literal["rig.subject"] = "rig.subject"
    camera: Id
    layer: Id
    on: Pointed
    also: bool = False

    def apply(self, scene: Scene) -> Outcome:
        layer: Layer = layer_of(open_camera(scene, self.camera), self.layer)
        found = subject_field(type(layer))
        kind = getattr(layer, "kind", "")
        if found is None or (self.also and not found.several):
            raise Refused(
                f"A {kind} layer has {'no subject' if found is None else 'one subject'}.",
                "Choose another layer.",
                field="layer",
            )
        on = subject(scene, self.on, kind)
        was = getattr(layer, found.name)
        if isinstance(layer, SizeHold):
            on = changed(on, joint=layer.of.joint)
        value = ((*was, on) if self.also else (on,)) if found.several else on
        return SetLayer(camera=self.camera, layer=self.layer, fields={found.name: value}).apply(scene)


class PointAct(Command):
    """Have an act of a figure go by what a hand points at: what it looks at, points at, reaches for or sits on.

    Where no act is named, it begins to look there from a frame on. Where nothing is pointed at, it points ahead.
    """

    kind: Literal["figure.look"] = "figure.look"
    figure: Id
    on: Pointed | None = None
    frame: FrameNumber
    act: Id | None = None
    id: Id = Field(default_factory=lambda: new_id("act"))

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        check_frame(scene, self.frame)
        was: Any = act_of(figure, self.act) if self.act else None
        if isinstance(was, Sit | LeanOn):
            if not isinstance(self.on, PieceAt):
                raise Refused("That isn't a piece.", f"Point at a piece to {was.LABEL.lower()}.", field="on")
            return SetAct(figure=figure.id, act=changed(was, on=self.on.piece)).apply(scene)
        if isinstance(was, PutDown) and isinstance(self.on, PieceAt):
            # Where the hand points, not the middle of the piece.
            put_on: Any = meant(scene, self.on)
            return SetAct(figure=figure.id, act=changed(was, at=put_on)).apply(scene)
        at: Spot = subject(scene, self.on, "look") if self.on else ahead_of(scene, figure, self.frame)
        if was is None:
            last = min(self.frame + LOOK_FRAMES - 1, scene.frames.last)
            act = LookAt(id=self.id, at=_in_the_eyes(at), frames=Frames(first=self.frame, last=last))
            return AddAct(figure=figure.id, act=act).apply(scene)
        if not hasattr(was, "at"):
            raise Refused(f"A {was.LABEL.lower()} has no subject.", "Choose another act.", field="act")
        if isinstance(was, LookAt):
            at = _in_the_eyes(at)
        elif isinstance(was, WalkWith) and isinstance(at, OnFigure):
            at = changed(at, joint="root")
        return SetAct(figure=figure.id, act=changed(was, at=at)).apply(scene)


def _in_the_eyes(at: Spot) -> Spot:
    """Whom somebody looks at, they look in the eyes."""
    return changed(at, joint="eyes") if isinstance(at, OnFigure) and at.joint == "head" else at
