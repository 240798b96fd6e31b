"""Compositions: people are put at places of the frame, and the camera that sees them so is found."""

from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from heron.bake import draft
from heron.commands.base import Command, Outcome, listed, open_camera, title
from heron.commands.keys import check_frame
from heron.commands.things import PutThing
from heron.errors import BadInput, Refused
from heron.framing.composing import Family, Flags, Floats, aimed, at_distances, heights, nearest, of_two
from heron.framing.hidden import within_pieces
from heron.framing.project import project
from heron.model import Id, Model
from heron.scene import POSE, Camera, Scene, find
from heron.scene.document import spot_called
from heron.stage.reference import OnFigure, Spot
from heron.timebase import Frames
from heron.timebase.frames import FrameNumber

_Place = Annotated[float, Field(ge=-1.0, le=1.0)]
#: A camera stays so high above the floor, metres.
_OVER_FLOOR_M = 0.05
#: Who looks at the camera turns as it goes: it is found again so often at most, until all is this near to its place.
_ROUNDS, _CLOSE = 8, 1e-4
#: What layers keep farther off than this cannot be had, of half the frame.
_MISSED = 0.02


class PutInFrame(Model):
    """Something, and where in the frame it is to sit, −1 to 1 across and up."""

    on: Spot
    x: _Place
    y: _Place


class SizeInFrame(Model):
    """Somebody, and how high they are to be in the frame from crown to soles, as a share of its height."""

    figure: Id
    share: float = Field(ge=0.01, le=30.0)


class ComposeCamera(Command):
    """Put a head, or two, where they should sit in the frame: the camera goes to the nearest place that sees them so.

    With one place alone the camera turns where it stands. With a size as well it goes nearer or farther; with two places it
    travels. Lens and roll stay. It sets a key on a camera that has keys.
    """

    kind: Literal["camera.compose"] = "camera.compose"
    camera: Id
    frame: FrameNumber
    put: Annotated[tuple[PutInFrame, ...], Field(min_length=1, max_length=2)]
    size: SizeInFrame | None = None

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        check_frame(scene, self.frame)
        keyed = any(camera.channel(name).keys for name in POSE)
        after = scene
        for _ in range(_ROUNDS):
            wanted = self._pose(after, scene)
            put = PutThing(thing=camera.id, frame=self.frame, keep="key" if keyed else "rest", **wanted)
            after, _said = put.apply(scene)
            if (off := self._off(after)) < _CLOSE:
                break
        if off > _MISSED:
            raise Refused(
                f"What carries {title(camera)} keeps it from there.",
                "Turn off its layers that hold it at this frame, or ask for a place nearer by.",
                field="put",
            )
        where = listed([f"{spot_called(scene, one.on)} at {one.x:.2f}, {one.y:.2f}" for one in self.put])
        large = (
            f", {find(scene, 'figures', self.size.figure).name} {self.size.share:.0%} of its height"
            if self.size
            else ""
        )
        return after, f"{title(camera)} has {where} in the frame{large} at {self.frame}"

    def _at(self, bake: Any, spot: Spot) -> Floats:
        return np.asarray(bake.place(spot, np.array([self.frame]))[0])

    def _body(self, bake: Any) -> tuple[Floats, Floats]:
        """(3,) metres each: the crown and the soles of who has a size."""
        id_ = self.size.figure if self.size else ""
        crown, right, left = (
            self._at(bake, OnFigure(figure=id_, joint=j)) for j in ("crown", "sole_r", "sole_l")
        )
        return crown, (right + left) / 2

    def _pose(self, scene: Scene, before: Scene) -> dict[str, float]:
        """Where it must be, with people as they are in a scene; nearest to where it was before."""
        bake = draft(scene)
        camera: Camera = find(scene, "cameras", self.camera)
        row = bake.samples(camera, Frames(first=self.frame, last=self.frame)).values[0]
        roll, half = float(row[5]), np.tan(np.radians(row[7:9]) / 2)
        when = Frames(first=self.frame, last=self.frame)
        place = draft(before).samples(find(before, "cameras", self.camera), when).values[0, :3]
        points = [self._at(bake, one.on) for one in self.put]
        at = [(one.x, one.y) for one in self.put]
        if len(points) == 1 and self.size is None:
            found = aimed(place, points[0], at[0], half, roll)
            if found is None:
                raise self._none(camera)
            return {"pan": found[0], "tilt": found[1]}
        families: list[tuple[Family, bool]]
        if len(points) == 1:
            families = [(at_distances(points[0], at[0], place, half, roll), False)]
        else:
            if float(np.linalg.norm(points[1] - points[0])) < 0.02:
                raise BadInput("Both are at one place.", "Put two different people or things.", field="put")
            families = [
                (of_two(points[0], points[1], at[0], at[1], half, roll, back), True) for back in (False, True)
            ]
        size = None
        if self.size:
            crown, soles = self._body(bake)
            share = self.size.share

            def size(poses: Floats) -> Floats:
                return heights(poses, crown, soles, half, roll) - share

        def free(places: Floats) -> Flags:
            return (places[:, 1] > _OVER_FLOOR_M) & ~within_pieces(scene.visible.pieces, places)

        pose = nearest(families, place, free, size)
        if pose is None:
            raise self._none(camera)
        return dict(zip(("x", "y", "z", "pan", "tilt"), pose.tolist(), strict=True))

    def _none(self, camera: Camera) -> Refused:
        return Refused(
            f"Nowhere outside the set and over the floor does {title(camera)} see that with this lens and roll.",
            "Put them nearer to each other's places, ask for another size, or mount another lens.",
            field="put",
        )

    def _off(self, scene: Scene) -> float:
        """How far all is from its place, of half the frame."""
        bake = draft(scene)
        here = bake.samples(find(scene, "cameras", self.camera), Frames(first=self.frame, last=self.frame))
        off = [_far(project(here, self._at(bake, one.on)[None]), one) for one in self.put]
        if self.size:
            v = here.values[0]
            pose = v[None, :5]
            high = heights(pose, *self._body(bake), np.tan(np.radians(v[7:9]) / 2), float(v[5]))[0]
            off.append(abs(float(high) - self.size.share))
        return float(np.nan_to_num(max(off), nan=9.0))


def _far(seen: Any, one: PutInFrame) -> float:
    return float(np.nan_to_num(np.hypot(seen.x[0] - one.x, seen.y[0] - one.y), nan=9.0))
