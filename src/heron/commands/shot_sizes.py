"""“Odile, medium”: the distance, or the lens, that gives a shot its size."""

import math
from collections.abc import Callable
from typing import Any, Literal

import numpy as np

from heron.bake import Samples, draft
from heron.commands.base import Command, Outcome, capital, open_camera
from heron.commands.glass import MountLens
from heron.commands.keys import check_frame
from heron.commands.things import PutThing
from heron.curves import Key
from heron.errors import Refused
from heron.framing import project
from heron.framing.project import Seen
from heron.framing.shot_size import EYES_AT, cut_at, eyes_and_cut, pair_off, with_article
from heron.model import Id, changed
from heron.scene import Camera, Scene, find, replace
from heron.scene.document import called
from heron.scene.layers import Aim, SizeHold
from heron.scene.limits import mounted_lens
from heron.stage.figure import Figure
from heron.stage.reference import OnFigure
from heron.stage.skeleton import EYE
from heron.timebase import Frames
from heron.timebase.frames import FrameNumber

Floats = np.ndarray[Any, np.dtype[np.float64]]
ShotSize = Literal[
    "extreme close-up",
    "close-up",
    "medium close-up",
    "medium",
    "mid-thigh",
    "medium full",
    "full",
    "wide",
    "extreme wide",
]
#: The lower edge is this near to where the body is to be cut, in halves of the frame, after so many rounds at most.
_CLOSE, _ROUNDS = 2e-3, 14


class SizeShot(Command):
    """Have a camera hold a figure at a size: by going nearer or farther, or by another focal length.

    The eyes are put on the upper third, unless a layer watches something; across the frame it stays as it is. With
    `also` it frames two people together: the larger one at the size, both well within the frame, their middle in its
    middle. A focus that is on another figure goes to this one.
    """

    kind: Literal["camera.shot_size"] = "camera.shot_size"
    camera: Id
    figure: Id
    also: Id | None = None
    size: ShotSize
    by: Literal["distance", "lens"] = "distance"
    frame: FrameNumber

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        figure: Figure = find(scene, "figures", self.figure)
        check_frame(scene, self.frame)
        on = camera.focus.on
        if isinstance(on, OnFigure) and not camera.focus.marks and on.figure not in (self.figure, self.also):
            eyes = changed(camera.focus, on=OnFigure(figure=self.figure, joint="eyes"))
            camera = changed(camera, focus=eyes)
            scene = replace(scene, "cameras", camera)
        if self.by == "lens" and any(isinstance(one, SizeHold) and not one.off for one in camera.layers):
            raise Refused(
                f"A layer of {called(camera)} holds a size already.",
                "Take the size hold off, or let the distance answer.",
                field="by",
            )
        aim = _Shot(scene, camera, figure, self.frame)
        if not aim.seen(scene)[0].depth[0] > 0.05:
            raise Refused(
                f"{figure.name} is not in front of {called(camera)} at {self.frame}.",
                "Turn the camera towards the figure first.",
                field="figure",
            )
        if self.also is not None:
            return self._both(scene, aim, _Shot(scene, camera, find(scene, "figures", self.also), self.frame))
        scene = aim.turned(scene)
        after, value = self._by_distance(scene, aim) if self.by == "distance" else self._by_lens(scene, aim)
        how = f"from {value:.2f} m away" if self.by == "distance" else f"at {value:.3g} mm"
        return after, f"{capital(called(camera))} holds {figure.name} in {with_article(self.size)} {how}"

    def _both(self, scene: Scene, one: "_Shot", two: "_Shot") -> Outcome:
        """Two people in one frame: turned to their middle and gone so far away, or zoomed, that both are in it."""
        camera: Camera = find(scene, "cameras", self.camera)
        middle = (one.eyes + two.eyes) / 2
        at, focal, factor = one.place(scene), one.focal(scene), 1.0
        for _ in range(2 * _ROUNDS):
            if self.by == "distance":
                x, y, z = (float(v) for v in middle + (at - middle) * factor)
                put = {"x": x, "y": y, "z": z, **one.direction(scene)}
                scene = PutThing(thing=self.camera, frame=self.frame, keep=one.keep, **put).apply(scene)[0]
            else:
                camera = find(scene, "cameras", self.camera)
                scene = replace(scene, "cameras", _at_focal(camera, focal / factor, self.frame))
            off, up, grow = pair_off([shot.found(scene, self.size) for shot in (one, two)])
            if not np.isfinite(off + up + grow) or not 0.01 < factor * grow < 100:
                break
            if max(abs(off), abs(up), abs(grow - 1)) < _CLOSE:
                names = f"{one.figure.name} and {two.figure.name}"
                said = f"{capital(called(camera))} frames {names} together, {with_article(self.size)} of the larger"
                lens = mounted_lens(scene, camera)
                if self.by == "lens" and lens is not None and lens.prime:
                    scene = self._another(scene, one.focal(scene))
                return scene, said
            scene = one.turned_by(scene, off, up)
            factor *= grow
        raise Refused(
            f"{one.figure.name} and {two.figure.name} cannot be framed together in {with_article(self.size)} from here.",
            "Come round to where neither is behind the other, or choose a wider size.",
            field="also",
        )

    def _by_distance(self, scene: Scene, aim: "_Shot") -> tuple[Scene, float]:
        eyes, at = aim.eyes, aim.place(scene)
        # Along the line to the eyes, which stay where they are in the frame; what is watched is placed again.
        looks = aim.direction(scene) if aim.watches else {}

        def moved(factor: float) -> Scene:
            x, y, z = (round(float(v), 4) for v in eyes + (at - eyes) * factor)
            put = PutThing(thing=self.camera, frame=self.frame, keep=aim.keep, x=x, y=y, z=z, **looks)
            return put.apply(scene)[0]

        after = self._settled(scene, aim, moved, 0.02, 200.0)
        return after, float(np.linalg.norm(aim.place(after) - eyes))

    def _by_lens(self, scene: Scene, aim: "_Shot") -> tuple[Scene, float]:
        camera: Camera = find(scene, "cameras", self.camera)
        was = aim.focal(scene)
        lens = mounted_lens(scene, camera)
        low, high = (lens.shortest_mm, lens.longest_mm) if lens and not lens.prime else (4.0, 1200.0)

        def zoomed(factor: float) -> Scene:
            # A longer lens is nearer.
            return aim.turned(replace(scene, "cameras", _at_focal(camera, was / factor, self.frame)))

        try:
            after = self._settled(scene, aim, zoomed, was / high, was / low)
        except Refused:
            name = lens.name if lens and not lens.prime else "longest and shortest lens there is"
            raise Refused(
                f"{with_article(self.size).capitalize()} from here takes another focal length than the {name} has.",
                "Let the distance answer, or put on another lens.",
                field="by",
            ) from None
        focal = aim.focal(after)
        if lens is not None and lens.prime:
            after = self._another(after, focal)
        return after, focal

    def _another(self, scene: Scene, focal: float) -> Scene:
        """With a lens of the kit that has the focal length: a prime that is it, else the zoom that covers it."""
        kit = [one for one in scene.lenses if one.shortest_mm <= focal <= one.longest_mm]
        if not kit:
            raise Refused(
                f"No lens of the kit has {focal:.3g} mm.",
                "Let the distance answer, or put such a lens into the kit.",
                field="by",
            )
        best = min(kit, key=lambda one: one.longest_mm - one.shortest_mm)
        return MountLens(camera=self.camera, lens=best.id, focal=round(focal, 2)).apply(scene)[0]

    def _settled(
        self, scene: Scene, aim: "_Shot", change: Callable[[float], Scene], low: float, high: float
    ) -> Scene:
        """The change that brings the lower edge to where the body is cut.

        Raises:
            Refused: none within what is possible does.
        """
        goal = cut_at(self.size, aim.figure.stature)
        a, b = math.log(low), math.log(high)
        factor = 0.0
        for _ in range(_ROUNDS):
            after = change(math.exp(factor))
            eyes, cut = aim.seen(after, goal)
            # What is to be between the eyes and the edge, and what is: the size goes with the inverse of the distance.
            wanted = float(eyes.y[0]) + 1.0
            found = float(eyes.y[0] - cut.y[0])
            if not np.isfinite(found) or found <= 0 or wanted <= 0:
                break
            if abs(found - wanted) < _CLOSE:
                return after
            factor = min(max(factor + math.log(found / wanted), a), b)
        raise Refused(
            f"No {self.size} of {aim.figure.name} can be had from here.",
            "Come round to where the figure is seen upright, or choose another size.",
            field="size",
        )


class _Shot:
    """A camera and whom it is of, at a frame."""

    def __init__(self, scene: Scene, camera: Camera, figure: Figure, frame: int) -> None:
        self.id, self.figure, self.frame = camera.id, figure, frame
        self.one = Frames(first=frame, last=frame)
        bake = draft(scene)
        self.eyes = bake.place(OnFigure(figure=figure.id, joint="eyes"), self.one.array())[0]
        self.watches = any(isinstance(one, Aim) and not one.off for one in camera.layers)
        #: Where across the frame it was, and stays.
        self.aside: float | None = None
        self.keep: Literal["key", "rest"] = "key" if camera.key_frames("pose") else "rest"
        if any(channel.keys for one in camera.layers for _, channel in one.each()):
            self.keep = "key"

    def _here(self, scene: Scene) -> Samples:
        return draft(scene).samples(find(scene, "cameras", self.id), self.one)

    def place(self, scene: Scene) -> Floats:
        """(3,) metres: where the lens is."""
        return np.asarray(self._here(scene).values[0, :3])

    def direction(self, scene: Scene) -> dict[str, float]:
        """Pan and tilt, degrees."""
        here = self._here(scene).at(self.frame)
        return {name: here[name] for name in ("pan", "tilt")}

    def focal(self, scene: Scene) -> float:
        """Millimetres."""
        return float(self._here(scene).at(self.frame)["focal_mm"])

    def seen(self, scene: Scene, height: float = 0.0) -> tuple[Seen, Seen]:
        """Where the eyes are in the frame, and what of someone who stands is so high above the floor."""
        here = self._here(scene)
        # Who walks is a little lower than who stands: the cut goes with the eyes.
        below = EYE * self.figure.stature - height
        under = np.array([[self.eyes[0], self.eyes[1] - below, self.eyes[2]]])
        return project(here, self.eyes[None]), project(here, under)

    def found(self, scene: Scene, size: str) -> tuple[Floats, Floats]:
        """(2,) each: the eyes in the frame, and where its lower edge is to be."""
        return eyes_and_cut(self._here(scene), self.eyes, self.figure.stature, size)

    def turned_by(self, scene: Scene, right: float, up: float) -> Scene:
        """Turned so that what is so far right of the middle comes to it, and what lacks so much upwards has it."""
        here = self._here(scene).at(self.frame)
        half = [math.tan(math.radians(here[name]) / 2) for name in ("horizontal_deg", "vertical_deg")]
        pan = here["pan"] - math.degrees(math.atan(right * half[0]))
        tilt = here["tilt"] - math.degrees(math.atan(up * half[1]))
        return PutThing(thing=self.id, frame=self.frame, keep=self.keep, pan=pan, tilt=tilt).apply(scene)[0]

    def turned(self, scene: Scene) -> Scene:
        """Tilted so that the eyes are on the upper third; across as they are, or within the frame."""
        if self.watches:
            return scene
        for _ in range(6):
            eyes, _ = self.seen(scene)
            here = self._here(scene).at(self.frame)
            half = [math.tan(math.radians(here[name]) / 2) for name in ("horizontal_deg", "vertical_deg")]
            x, y = float(eyes.x[0]), float(eyes.y[0])
            if self.aside is None:
                self.aside = min(max(x, -2 * EYES_AT), 2 * EYES_AT)
            aside = self.aside
            up = math.degrees(math.atan(y * half[1]) - math.atan(EYES_AT * half[1]))
            left = math.degrees(math.atan(aside * half[0]) - math.atan(x * half[0]))
            if abs(up) < 1e-4 and abs(left) < 1e-4:
                break
            scene = PutThing(
                thing=self.id,
                frame=self.frame,
                keep=self.keep,
                pan=here["pan"] + left,
                tilt=here["tilt"] + up,
            ).apply(scene)[0]
        return scene


def _at_focal(camera: Camera, focal: float, frame: int) -> Camera:
    """The camera at a focal length: on a key where it zooms by keys."""
    channel = camera.focal
    if not channel.keys:
        return changed(camera, focal=channel.at_rest(focal))
    key = channel.key_at(frame)
    new = changed(key, value=focal) if key else Key(frame=frame, value=focal)
    return changed(camera, focal=channel.with_keys(new))
