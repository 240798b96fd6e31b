"""Starting points by what a shot is: each an ordinary rig, framed for the figures chosen and focused on them."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from pydantic import Field

from heron.commands.base import Command, Outcome, capital, listed, open_camera
from heron.commands.glass import MountLens
from heron.commands.keys import check_frame
from heron.commands.rigs import AddLayer
from heron.curves import Channel, Key
from heron.errors import Refused
from heron.framing.figures_in_frame import FiguresInFrame, on_floor
from heron.framing.shot_size import EYES_AT, cut_at
from heron.model import Id, changed
from heron.optics import KitLens
from heron.rigs import over_shoulder
from heron.scene import Camera, Scene, find, replace
from heron.scene.document import called
from heron.scene.focus import Focus
from heron.scene.layers import Aim, Arm, Carrier, Layer, Trail
from heron.scene.links import links
from heron.stage.figure import Figure
from heron.stage.reference import OnFigure
from heron.stage.skeleton import EYE
from heron.timebase import parse_rate
from heron.timebase.frames import FrameNumber

Floats = np.ndarray[Any, np.dtype[np.float64]]
Shot = Literal[
    "single", "two-shot", "over the shoulder", "side track", "front lead", "from behind", "rise and reveal", "orbit",
]  # fmt: skip
#: The size of each (common practice), by the figure that it is of.
SIZES: dict[str, str] = {
    "single": "medium", "over the shoulder": "medium", "side track": "full", "front lead": "medium full",
    "from behind": "medium full", "rise and reveal": "medium full", "two-shot": "medium full", "orbit": "medium full",
}  # fmt: skip
#: What each is called with the names of whom it is of, and how many they are: of either number where there are two.
LABELS: dict[str, tuple[str, tuple[int, ...]]] = {
    "single": ("Single of {}", (1,)), "front lead": ("Lead, in front of {}", (1,)), "side track": ("Track beside {}", (1,)),
    "from behind": ("Follow behind {}", (1,)), "rise and reveal": ("Rise and reveal beyond {}", (1,)), "orbit": ("Orbit {}", (1, 2)),
    "over the shoulder": ("Over {} to {}", (2,)), "two-shot": ("Two-shot of {}", (2,)),
}  # fmt: skip
#: A whole figure is usually shot at this focal length on a back near 36 mm wide: common practice.
WHOLE_FIGURE_MM = 40.0
#: Where a subject sits, and how late an operator is, seconds: common practice.
_THIRD, _LATE_S = 1 / 3, 0.35
#: A reveal rises from about eye height to looking down, in so many seconds, and draws back by a share (common practice
#: for the move; the numbers are ours).
RISE_FROM_DEG, RISE_TO_DEG, RISE_S, RISE_BACK, ASIDE_DEG = 2.0, 34.0, 4.0, 1.5, 14.0
#: An orbit goes so far round, in so many seconds, a little from above. The numbers are ours.
ORBIT_DEG, ORBIT_S, ORBIT_HEIGHT_DEG = 60.0, 4.0, 4.0
#: While its size is settled the near one may come nearer than a lens is chosen for, metres.
_NEAREST_M = 0.4
#: The frame is right within this share of half its height (3 px of 1,080 across), after so many rounds at most.
_CLOSE, _ROUNDS = 2e-4, 24


@dataclass(frozen=True)
class Framing:
    """What is solved for: how far the camera is, metres, and where what it watches is put."""

    distance_m: float
    x: float
    y: float


Build = Callable[[Framing], list[Layer]]


def _number(value: float) -> Channel:
    return Channel(rest=float(value))


_STILL: dict[str, Any] = {name: _number(0) for name in ("pan_deg", "tilt_deg", "roll_deg")}
_LATE: dict[str, Any] = {"lag_s": _number(_LATE_S), "lag_height_s": _number(_LATE_S)}


class StartRig(Command):
    """Give a camera a rig by what the shot is, in place of the one it has, focused on whom it is of.

    The eyes of whom it is of are on the upper third, at the place across that the shot asks for, and its size is the one
    in `SIZES` at the frame. Over the shoulder takes a lens of the kit: the one of a camera that looks the other way.
    """

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
        of = figures[1] if self.shot == "over the shoulder" else figures[0]
        focus = Focus(on=OnFigure(figure=of.id, joint="eyes"))
        scene = replace(scene, "cameras", changed(camera, layers=(), focus=focus))
        scene = self._lens(scene, figures)
        shot = FiguresInFrame(scene, self.camera, figures, of, self.frame)
        after = self._framed(scene, shot)
        who = listed([figure.name for figure in figures[: 2 if pairs or self.shot == "orbit" else 1]])
        size, lens = SIZES[self.shot], shot.focal(after)
        if self.shot == "over the shoulder":
            who = f"{figures[1].name} over {figures[0].name}"
        said = f"{capital(called(camera))} is {'an' if self.shot[0] == 'o' else 'a'} {self.shot} of {who}"
        return after, f"{said}: {size}, from {shot.away(after):.2f} m at {lens:.3g} mm, focused on {of.name}"

    def _framed(self, scene: Scene, shot: FiguresInFrame) -> Scene:
        """The layers, so far away and aimed so that whom it is of sits where it should at its size.

        Raises:
            Refused: no distance does.
        """
        build, x = self._build(scene, shot)
        tall = shot.of.stature
        framing = Framing(
            (EYE * tall - cut_at(SIZES[self.shot], tall)) * 2 / (1 + EYES_AT) * shot.per_m, x, EYES_AT
        )
        both = self.shot in ("two-shot", "orbit") and len(shot.figures) == 2
        for _ in range(_ROUNDS):
            after = scene
            for layer in build(framing):
                after = AddLayer(camera=self.camera, layer=layer, at=self.frame).apply(after)[0]
            if both:
                # The frame is wide enough as it was asked for, and its middle is theirs.
                off, grow = shot.pair(after, SIZES["two-shot"])
                dx = 0.0
            else:
                dx, off, grow = shot.one(after, x, SIZES[self.shot])
            if not np.isfinite(off + dx + grow) or grow <= 0:
                break
            if max(abs(dx), abs(off), abs(grow - 1)) < _CLOSE:
                return after
            framing = Framing(max(framing.distance_m * grow, 0.3), framing.x + dx, framing.y + off)
        who = listed([figure.name for figure in shot.figures])
        raise Refused(
            f"No {self.shot} of {who} can be framed at {self.frame}.",
            "Go to a frame where they are closer together, or choose another shot.",
            field="shot",
        )

    def _build(self, scene: Scene, shot: FiguresInFrame) -> tuple[Build, float]:
        """How its layers are made for a framing, and where across the frame whom it is of sits."""
        first = shot.figures[0]
        root, head = (OnFigure(figure=first.id, joint=joint) for joint in ("root", "head"))
        eye = EYE * first.stature

        def follows(angle: float, x: float) -> tuple[Build, float]:
            def layers(f: Framing) -> list[Layer]:
                trail = Trail(
                    of=root, angle_deg=_number(angle), distance_m=_number(f.distance_m), height_m=_number(eye), **_LATE, **_STILL,
                )  # fmt: skip
                return [trail, Aim(at=(head,), x=_number(f.x), y=_number(f.y))]

            return layers, x

        match self.shot:
            case "single":
                return follows(28.0, -_THIRD / 2)
            case "front lead":
                return follows(8.0, 0.0)
            case "from behind":
                return follows(172.0, 0.0)
            case "side track":
                # From the left it goes to the left of the frame: it has room ahead.
                return follows(90.0, _THIRD)
            case "rise and reveal":
                return self._rise(scene, shot, head), 0.0
            case "over the shoulder":
                return self._over(scene, shot)
            case "orbit":
                return self._orbit(scene, shot), 0.0
            case _:
                return self._two(shot), 0.0

    def _span(self, scene: Scene, seconds: float, what: str) -> tuple[int, int]:
        """First and last frame of a move that takes so long, as far as the scene goes."""
        begin = self.frame
        end = min(begin + round(seconds * float(parse_rate(scene.rate))), scene.frames.last)
        if end - begin < 2:
            raise Refused(
                f"There are only {end - begin} frames to {what} in.",
                "Start it earlier, or lengthen the scene.",
                field="frame",
            )
        return begin, end

    def _rise(self, scene: Scene, shot: FiguresInFrame, head: OnFigure) -> Build:
        """From behind at eye height up and back, the subject sinking in the frame so that what is beyond comes in."""
        begin, end = self._span(scene, RISE_S, "rise")
        # An arm's bearing counts from how its subject faces at the arm's first frame.
        facing = shot.bake.rows(shot.figures[0], np.array([scene.frames.first, begin]))[:, 3]
        behind = 180.0 - ASIDE_DEG + float(facing[1] - facing[0])

        def goes(a: float, b: float) -> Channel:
            return Channel(rest=a, keys=(Key(frame=begin, value=a), Key(frame=end, value=b)))

        def layers(f: Framing) -> list[Layer]:
            arm = Arm(
                round=(head,), turns_with=False, bearing_deg=_number(behind), height_deg=goes(RISE_FROM_DEG, RISE_TO_DEG),
                reach_m=goes(f.distance_m, f.distance_m * RISE_BACK), **_STILL,
            )  # fmt: skip
            return [arm, Aim(at=(head,), x=_number(f.x), y=goes(f.y, -_THIRD))]

        return layers

    def _orbit(self, scene: Scene, shot: FiguresInFrame) -> Build:
        """Round one person or two, from where the camera is now, with all of them in the frame."""
        begin, end = self._span(scene, ORBIT_S, "go round")
        heads = tuple(OnFigure(figure=f.id, joint="head") for f in shot.figures)
        middle = np.mean([shot.at(head) for head in heads], axis=0)
        was = shot.place(scene)
        # Its bearing counts from how the first of them faces at the scene's first frame.
        facing = float(shot.bake.track(heads[0]).heading[0])
        bearing = float(np.degrees(np.arctan2(-(was[0] - middle[0]), -(was[2] - middle[2])))) - facing
        goes = Channel(
            rest=bearing, keys=(Key(frame=begin, value=bearing), Key(frame=end, value=bearing + ORBIT_DEG))
        )

        def layers(f: Framing) -> list[Layer]:
            arm = Arm(
                round=heads, turns_with=False, bearing_deg=goes, height_deg=_number(ORBIT_HEIGHT_DEG),
                reach_m=_number(f.distance_m), **_STILL,
            )  # fmt: skip
            return [arm, Aim(at=heads, together="box", x=_number(f.x), y=_number(f.y))]

        return layers

    def _two(self, shot: FiguresInFrame) -> Build:
        """From the side of the line between two, square to it, on the side where cameras of the two stand already."""
        a, b = (shot.at(OnFigure(figure=f.id, joint="head")) for f in shot.figures)
        first, tall = shot.figures[0], max(figure.stature for figure in shot.figures)
        root = OnFigure(figure=first.id, joint="root")
        facing = float(shot.bake.rows(first, np.array([self.frame]))[0, 3])
        foot = shot.at(root)
        line = (b - a)[[0, 2]] / max(float(np.hypot(*(b - a)[[0, 2]])), 1e-6)
        side = shot.side() * np.array([-line[1], line[0]])

        def layers(f: Framing) -> list[Layer]:
            dx, dz = ((a + b) / 2)[[0, 2]] + f.distance_m * side - foot[[0, 2]]
            bearing = float(np.degrees(np.arctan2(-dx, -dz))) - facing
            trail = Trail(
                of=root, angle_deg=_number(bearing), distance_m=_number(np.hypot(dx, dz)), height_m=_number(EYE * tall), **_LATE, **_STILL,
            )  # fmt: skip
            heads = tuple(OnFigure(figure=figure.id, joint="head") for figure in shot.figures)
            return [trail, Aim(at=heads, together="box", x=_number(f.x), y=_number(f.y))]

        return layers

    def _over(self, scene: Scene, shot: FiguresInFrame) -> tuple[Build, float]:
        """Over the first to the second: it rides on the first's place, and watches the second."""
        near, far = shot.heads()
        root, *shoulders = (
            OnFigure(figure=shot.figures[0].id, joint=joint) for joint in ("root", "shoulder_r", "shoulder_l")
        )
        foot, sides = shot.at(root), [shot.at(spot) for spot in shoulders]
        side = shot.side()
        stands = over_shoulder.stand(on_floor(near), on_floor(far), shot.usual_m, shot.half, side)
        if stands is None:
            raise _too_far(shot)

        def layers(f: Framing) -> list[Layer]:
            at = over_shoulder.stand(on_floor(near), on_floor(far), f.distance_m, shot.half, side, _NEAREST_M)
            if at is None:
                raise _too_far(shot)
            # The shoulder on the side of whom it sees.
            here = np.array([at.x, at.z])
            inner = min(sides, key=lambda one: _between(one[[0, 2]] - here, far[[0, 2]] - here))
            away = float(np.hypot(inner[0] - at.x, inner[2] - at.z))
            high = over_shoulder.height(
                f.distance_m, away, float(far[1]), float(near[1]), float(inner[1]), 0.5 / shot.per_m, EYES_AT
            )
            over = Carrier(
                on=root, how="place", x_m=_number(at.x - foot[0]), y_m=_number(high - foot[1]), z_m=_number(at.z - foot[2]), **_STILL,
            )  # fmt: skip
            head = OnFigure(figure=shot.of.id, joint="head")
            return [over, Aim(at=(head,), x=_number(f.x), y=_number(f.y))]

        return layers, stands.far_x

    def _lens(self, scene: Scene, figures: list[Figure]) -> Scene:
        """The lens that the shot wants, where the kit has it and the camera does not zoom by keys."""
        camera: Camera = find(scene, "cameras", self.camera)
        if camera.focal.keys:
            return scene
        primes = [lens for lens in scene.lenses if lens.prime]
        wanted: KitLens | None = None
        if self.shot == "side track":
            wanted = next((lens for lens in primes if lens.shortest_mm == WHOLE_FIGURE_MM), None)
        if self.shot == "over the shoulder":
            pair = _looks_back(scene, self.camera, self.figures)
            if pair is not None and self._near_m(scene, figures, pair.focal.rest) is not None:
                same = changed(camera, focal=camera.focal.at_rest(pair.focal.rest), mounted=pair.mounted)
                return replace(scene, "cameras", same)
            near = [(self._near_m(scene, figures, lens.shortest_mm), lens) for lens in primes]
            fitting = [(abs(far - over_shoulder.NEAR_M), lens) for far, lens in near if far is not None]
            wanted = min(fitting, key=lambda one: one[0], default=(0.0, None))[1]
        if wanted is None or wanted.id == camera.mounted:
            return scene
        return MountLens(camera=self.camera, lens=wanted.id).apply(scene)[0]

    def _near_m(self, scene: Scene, figures: list[Figure], focal: float) -> float | None:
        """How far away the near person would be at a focal length, mm; None where it cannot be framed."""
        camera: Camera = find(scene, "cameras", self.camera)
        through = changed(camera, focal=camera.focal.at_rest(focal))
        shot = FiguresInFrame(
            replace(scene, "cameras", through), self.camera, figures, figures[1], self.frame
        )
        near, far = shot.heads()
        found = over_shoulder.stand(on_floor(near), on_floor(far), shot.usual_m, shot.half, 1)
        return found.near_m if found else None


def _between(a: Floats, b: Floats) -> float:
    """The angle between two directions on the floor, radians."""
    return abs(float(np.arctan2(a[0] * b[1] - a[1] * b[0], a @ b)))


def _too_far(shot: FiguresInFrame) -> Refused:
    near, far = shot.heads()
    apart = float(np.hypot(*(near - far)[[0, 2]]))
    names = listed([figure.name for figure in shot.figures])
    return Refused(
        f"{names} stand {apart:.1f} m apart: no lens here sees one over the other's shoulder in a medium.",
        "Bring them nearer to each other or farther apart, or put a longer or shorter lens into the kit.",
        field="figures",
    )


def _looks_back(scene: Scene, camera: Id, figures: tuple[Id, ...]) -> Camera | None:
    """The camera that sees the same two over the other shoulder: it rides on whom this one watches."""
    near, far = figures
    for other in scene.cameras:
        rides = {
            link.id for one in other.layers if isinstance(one, Carrier) and not one.off for link in links(one)
        }
        watches = {
            link.id for one in other.layers if isinstance(one, Aim) and not one.off for link in links(one)
        }
        if other.id != camera and far in rides and near in watches and not other.focal.keys:
            return other
    return None
