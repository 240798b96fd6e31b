"""Starting points by what a shot is: each an ordinary rig, framed for the figures chosen."""

from typing import Literal

import numpy as np
from pydantic import Field

from heron.bake import KEEPER, Bake, Scratch
from heron.commands.base import Command, Outcome, capital, listed, open_camera
from heron.commands.keys import check_frame
from heron.commands.rigs import AddLayer
from heron.curves import Channel, Key, evaluate
from heron.errors import Refused
from heron.model import Id, changed
from heron.optics import gate_size
from heron.scene import Scene, find, replace
from heron.scene.document import called
from heron.scene.layers import Aim, Arm, Carrier, Layer, Trail
from heron.stage.figure import Figure
from heron.stage.reference import OnFigure
from heron.stage.skeleton import EYE
from heron.timebase import parse_rate
from heron.timebase.frames import FrameNumber

Shot = Literal[
    "single", "two-shot", "over the shoulder", "side track", "front lead", "from behind", "rise and reveal"
]
#: How much of a figure's height the frame holds: a medium from the waist with headroom, one to the knees, all of it.
MEDIUM, TO_KNEES, ALL = 0.56, 0.95, 1.3
#: Where a subject sits, and how late an operator is, seconds: common practice.
_THIRD, _LATE_S = 1 / 3, 0.35
#: A reveal rises from about eye height to looking down, in so many seconds, and draws back by a share (common practice
#: for the move; the numbers are ours).
RISE_FROM_DEG, RISE_TO_DEG, RISE_S, RISE_BACK, ASIDE_DEG = 2.0, 34.0, 4.0, 1.5, 14.0


def _number(value: float) -> Channel:
    return Channel(rest=float(value))


class StartRig(Command):
    """Give a camera a rig by what the shot is, in place of the one it has."""

    kind: Literal["rig.start"] = "rig.start"
    camera: Id
    shot: Shot
    #: Whom it is of; over the shoulder, of the second over the first.
    figures: tuple[Id, ...] = Field(min_length=1, max_length=2)
    frame: FrameNumber

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        check_frame(scene, self.frame)
        figures: list[Figure] = [find(scene, "figures", id_) for id_ in self.figures]
        pairs = self.shot in ("two-shot", "over the shoulder")
        if pairs and len(figures) < 2:
            raise Refused(
                f"A {self.shot} takes two figures.", "Choose the other one as well.", field="figures"
            )
        focal = float(evaluate(camera.focal, np.array([self.frame]))[0])
        height = gate_size(camera.lens, scene.delivery.aspect)[1]
        bare = changed(camera, layers=())
        after = replace(scene, "cameras", bare)
        for layer in self._layers(scene, figures, focal / height):
            after, _ = AddLayer(camera=self.camera, layer=layer, at=self.frame).apply(after)
            if isinstance(layer, Trail) and self.shot != "two-shot":
                after = self._as_near(after, layer, figures[0])
        who = listed([figure.name for figure in figures[: 2 if pairs else 1]])
        return after, f"{capital(called(camera))} is a {self.shot} of {who}"

    def _as_near(self, scene: Scene, trail: Trail, figure: Figure) -> Scene:
        """The trail so far away that at the frame it is as far as was wanted, however late it follows."""
        at = np.array([self.frame])
        bake, camera = Bake(scene, Scratch(KEEPER)), find(scene, "cameras", self.camera)
        there = bake.rows(camera, at)[0, [0, 2]]
        root = bake.place(OnFigure(figure=figure.id, joint="root"), at)[0, [0, 2]]
        wanted = trail.distance_m.rest
        more = wanted - float(np.hypot(*(there - root)))
        nearer = changed(trail, distance_m=_number(max(wanted + more, 0.3)))
        kept = tuple(
            changed(one, distance_m=nearer.distance_m) if one.id == trail.id else one for one in camera.layers
        )
        return replace(scene, "cameras", changed(camera, layers=kept))

    def _layers(self, scene: Scene, figures: list[Figure], per_m: float) -> list[Layer]:
        """Its layers; `per_m` is how far away the frame is a metre high."""
        first = figures[0]
        root, head = (OnFigure(figure=first.id, joint=joint) for joint in ("root", "head"))
        eye = EYE * first.stature

        def follows(angle: float, holds: float, x: float) -> list[Layer]:
            trail = Trail(
                of=root, angle_deg=_number(angle), distance_m=_number(holds * first.stature * per_m), height_m=_number(eye),
                lag_s=_number(_LATE_S), lag_height_s=_number(_LATE_S), tilt_deg=_number(0), roll_deg=_number(0),
            )  # fmt: skip
            return [trail, Aim(at=(head,), x=_number(x), y=_number(_THIRD))]

        if self.shot == "single":
            return follows(28.0, MEDIUM, -_THIRD / 2)
        if self.shot == "front lead":
            return follows(8.0, TO_KNEES, 0.0)
        if self.shot == "from behind":
            return follows(172.0, TO_KNEES, 0.0)
        if self.shot == "rise and reveal":
            return self._rise(scene, first, root, head, per_m)
        if self.shot == "side track":
            # From the left it goes to the left of the frame: it has room ahead.
            return follows(90.0, ALL, _THIRD)
        other = OnFigure(figure=figures[1].id, joint="head")
        if self.shot == "over the shoulder":
            tall = first.stature
            over = Carrier(
                on=root, how="all", x_m=_number(0.26 * tall), y_m=_number(0.97 * tall), z_m=_number(0.75 * tall),
                pan_deg=_number(0), tilt_deg=_number(0), roll_deg=_number(0),
            )  # fmt: skip
            return [over, Aim(at=(other,), x=_number(0.3), y=_number(_THIRD))]
        return self._two(scene, figures, other, head, per_m)

    def _rise(self, scene: Scene, first: Figure, root: OnFigure, head: OnFigure, per_m: float) -> list[Layer]:
        """From behind at eye height up and back, the subject sinking in the frame so that what is beyond comes in."""
        fps = float(parse_rate(scene.rate))
        begin, end = self.frame, min(self.frame + round(RISE_S * fps), scene.frames.last)
        if end - begin < 2:
            raise Refused(
                f"There are only {end - begin} frames to rise in.",
                "Start it earlier, or lengthen the scene.",
                field="frame",
            )
        near = TO_KNEES * first.stature * per_m
        # An arm's bearing counts from how its subject faces at the arm's first frame.
        facing = Bake(scene, Scratch(KEEPER)).rows(first, np.array([scene.frames.first, begin]))[:, 3]
        behind = 180.0 - ASIDE_DEG + float(facing[1] - facing[0])

        def goes(a: float, b: float) -> Channel:
            return Channel(rest=a, keys=(Key(frame=begin, value=a), Key(frame=end, value=b)))

        arm = Arm(
            round=(head,), turns_with=False, bearing_deg=_number(behind), height_deg=goes(RISE_FROM_DEG, RISE_TO_DEG),
            reach_m=goes(near, near * RISE_BACK), pan_deg=_number(0), tilt_deg=_number(0), roll_deg=_number(0),
        )  # fmt: skip
        return [arm, Aim(at=(head,), x=_number(0.0), y=goes(_THIRD, -_THIRD))]

    def _two(
        self, scene: Scene, figures: list[Figure], other: OnFigure, head: OnFigure, per_m: float
    ) -> list[Layer]:
        """From the side of the line between two, so far that both are in it to the knees."""
        bake, at = Bake(scene, Scratch(KEEPER)), np.array([self.frame])
        a, b = bake.place(head, at)[0], bake.place(other, at)[0]
        apart = float(np.hypot(*(b - a)[[0, 2]]))
        tall = max(figure.stature for figure in figures)
        away = max(TO_KNEES * tall, 1.6 * apart / scene.delivery.aspect) * per_m
        line = (b - a) / max(apart, 1e-6)
        # To the side on which the second stands to the right.
        side = np.array([-line[2], 0.0, line[0]])
        where = (a + b) / 2 - away * side
        facing = float(bake.rows(find(scene, "figures", figures[0].id), at)[0, 3])
        root = bake.place(OnFigure(figure=figures[0].id, joint="root"), at)[0]
        dx, dz = where[0] - root[0], where[2] - root[2]
        bearing = float(np.degrees(np.arctan2(-dx, -dz))) - facing
        trail = Trail(
            of=OnFigure(figure=figures[0].id, joint="root"), angle_deg=_number(bearing), distance_m=_number(np.hypot(dx, dz)),
            height_m=_number(EYE * tall), lag_s=_number(_LATE_S), lag_height_s=_number(_LATE_S), tilt_deg=_number(0), roll_deg=_number(0),
        )  # fmt: skip
        return [trail, Aim(at=(head, other), together="box", x=_number(0), y=_number(_THIRD))]
