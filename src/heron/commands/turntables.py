"""Turntables: once round in so many seconds, without a frame that repeats the first."""

from typing import Any, Literal

from pydantic import Field

from heron.bake import draft
from heron.commands.acts import AddAct
from heron.commands.base import Command, Outcome, capital, open_camera, unlocked
from heron.commands.pointed import subject
from heron.commands.pointing import Pointed
from heron.commands.rigs import having, refuse_loops
from heron.commands.solve_missing import solve_missing
from heron.curves import Channel, Key
from heron.errors import Refused
from heron.model import Id, changed, new_id
from heron.scene import Scene, find, replace
from heron.scene.document import called, spot_called
from heron.scene.layers import Arm
from heron.stage.acts.body import Spin
from heron.stage.figure import Figure
from heron.stage.mover import Mover
from heron.stage.reference import OnFigure, OnMover, Spot
from heron.timebase import Frames, parse_rate
from heron.timebase.frames import FrameNumber


class Turntable(Command):
    """Go once round something in so many seconds: the camera round it, or it before the camera.

    `left` is counter-clockwise as seen from above, whichever of them turns.
    """

    kind: Literal["rig.turntable"] = "rig.turntable"
    camera: Id
    round: Pointed
    seconds: float = Field(gt=0.0, le=3600.0)
    direction: Literal["left", "right"] = "left"
    turns: Literal["camera", "subject"] = "camera"
    #: Whether the sun goes round with the camera, in that camera's picture alone, or stays.
    sun: Literal["stays", "rides"] = "stays"
    first: FrameNumber | None = None
    id: Id = Field(default_factory=lambda: new_id("lay"))

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        round_ = subject(scene, self.round, "turntable")
        first = scene.frames.first if self.first is None else self.first
        count = round(self.seconds * float(parse_rate(scene.rate)))
        if count < 2:
            raise Refused("A turn takes at least two frames.", "Give it more seconds.", field="seconds")
        if first not in scene.frames or first + count - 1 not in scene.frames:
            raise Refused(
                f"A turn of {count} frames from {first} goes beyond the scene's {scene.frames}.",
                "Lengthen the scene, or give it fewer seconds.", field="seconds",
            )  # fmt: skip
        span = Frames(first=first, last=first + count - 1)
        if self.turns == "subject":
            return self._subject(scene, round_, span)
        arm = Arm(id=self.id, round=(round_,), first=first, last=span.last, sun_rides=self.sun == "rides")
        given = {"id", "round", "first", "last", "sun_rides"}
        arm, _ = solve_missing(draft(scene), camera, arm, given)
        bearing = _once(arm.bearing_deg.rest, span, self.direction)
        # It faces what it goes round, and looks as high as it did: a root lies on the floor.
        arm = changed(arm, bearing_deg=bearing, pan_deg=Channel())
        after = having(camera, [*camera.layers, arm])
        trial = replace(scene, "cameras", after)
        refuse_loops(trial)
        who = spot_called(scene, round_)
        with_sun = ", and the sun with it" if self.sun == "rides" else ""
        return (
            trial,
            f"{capital(called(camera))} goes once round {who} in {count} frames, to the {self.direction}{with_sun}",
        )

    def _subject(self, scene: Scene, on: Spot, span: Frames) -> Outcome:
        said = f"in {span.count} frames, to the {self.direction}"
        if self.sun == "rides":
            raise Refused(
                "The camera stands still here, so there is nothing for the sun to ride with.",
                "Let the sun stay, or turn the camera.",
                field="sun",
            )
        if isinstance(on, OnFigure):
            spin = Spin(frames=span, turns=1 if self.direction == "left" else -1)
            figure: Figure = find(scene, "figures", on.figure)
            after, _ = AddAct(figure=figure.id, act=spin).apply(scene)
            return after, f"{figure.name} is turned once round {said}"
        if isinstance(on, OnMover):
            mover: Mover = find(scene, "movers", on.mover)
            unlocked(mover)
            return self._mover(scene, mover, span), f"{mover.name} turns once round {said}"
        raise Refused(
            "Only a figure or a mover can turn.",
            "Turn the camera, and let the sun ride with it.",
            field="turns",
        )

    def _mover(self, scene: Scene, mover: Mover, span: Frames) -> Scene:
        channel = mover.channel("pan")
        if len(channel.keys) > 1:
            raise Refused(
                f"{mover.name} turns by its keys already.",
                "Delete them first, or turn the camera.",
                field="turns",
            )
        begin = channel.keys[0].value if channel.keys else channel.rest
        update: dict[str, Any] = {"pan": _once(begin, span, self.direction)}
        return replace(scene, "movers", mover.with_channels(update))


def _once(begin: float, span: Frames, direction: str) -> Channel:
    """Once round, evenly: the key after the last frame is the first one's angle again."""
    way = 1.0 if direction == "left" else -1.0
    keys = (
        Key(frame=span.first, value=begin, before="straight", after="straight"),
        Key(frame=span.stop, value=begin + way * 360.0, before="straight", after="straight"),
    )
    return Channel(rest=begin, keys=keys)
