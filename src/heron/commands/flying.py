"""A camera that flies along perches."""

import itertools
from typing import Literal

from pydantic import Field

from heron.commands.base import Command, Outcome
from heron.commands.rigs import AddLayer
from heron.errors import Refused
from heron.model import Id, new_id
from heron.scene import Scene, find
from heron.scene.layers import Flight, Leg
from heron.stage.reference import OnPerch
from heron.timebase import parse_rate
from heron.timebase.frames import FrameNumber


class FlyCamera(Command):
    """Have a camera fly along perches from a frame on: two seconds a leg, soft, as a layer of its own."""

    kind: Literal["rig.fly"] = "rig.fly"
    camera: Id
    perches: tuple[Id, ...] = Field(min_length=2, max_length=200)
    frame: FrameNumber
    seconds: float = Field(default=2.0, gt=0.0, le=3600.0)
    id: Id = Field(default_factory=lambda: new_id("lay"))

    def apply(self, scene: Scene) -> Outcome:
        for id_ in self.perches:
            find(scene, "perches", id_)
        if any(a == b for a, b in itertools.pairwise(self.perches)):
            raise Refused("A leg needs two different perches.", "Let it wait there instead.", field="perches")
        count = max(round(self.seconds * float(parse_rate(scene.rate))), 1)
        legs = tuple(Leg(to=OnPerch(perch=id_), frames=count) for id_ in self.perches)
        layer = Flight(id=self.id, first=self.frame, legs=legs)
        return AddLayer(camera=self.camera, layer=layer).apply(scene)

    def reads(self) -> frozenset[str]:
        return frozenset(self.perches)
