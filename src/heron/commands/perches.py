"""Commands on perches: a view saved, gone to, made a camera of, and let ride."""

from typing import Any, Literal

import numpy as np
from pydantic import Field

from heron.bake import Bake
from heron.bake.perches import from_it
from heron.bake.perches import pose as pose_of
from heron.commands.base import Command, Outcome, free_name, refuse_taken, unlocked
from heron.commands.keys import check_frame
from heron.commands.view import View
from heron.errors import BadInput, Refused
from heron.model import Id, Label, Name, changed, new_id
from heron.scene import POSE, Scene, find, replace
from heron.scene.document import rings, spot_called
from heron.scene.links import links
from heron.stage.perch import Perch
from heron.stage.reference import Spot
from heron.timebase.frames import FrameNumber

Floats = np.ndarray[Any, np.dtype[np.float64]]


class SavePerch(Command):
    """Save a view as a perch; without a name it gets the next free one."""

    kind: Literal["perch.add"] = "perch.add"
    id: Id = Field(default_factory=lambda: new_id("per"))
    name: Name | None = None
    group: Label = ""
    view: View
    #: What it rides on, from where that is at the frame.
    rides: Spot | None = None
    frame: FrameNumber

    def apply(self, scene: Scene) -> Outcome:
        name = self.name or free_name("Perch", {p.name for p in scene.perches})
        refuse_taken(scene, "perches", name)
        pose = {part: getattr(self.view, part) for part in POSE}
        perch = Perch(
            id=self.id, name=name, group=self.group, focal=self.view.focal, focus_m=self.view.focus_m, **pose
        )
        after = scene.having(perches=(*scene.perches, perch))
        if self.rides is not None:
            after = _riding(after, perch, self.rides, self.frame)
        on = f", which rides on {spot_called(scene, self.rides)}" if self.rides is not None else ""
        return after, f"Saved this view as the perch “{name}”{on}"

    def reads(self) -> frozenset[str]:
        return frozenset(link.id for link in links(self.rides)) if self.rides is not None else frozenset()


class SetPerch(Command):
    """Change a perch's name, group, lens or focus; move it, in stage terms at a frame; let it ride, or stand."""

    kind: Literal["perch.set"] = "perch.set"
    perch: Id
    name: Name | None = None
    group: Label | None = None
    frame: FrameNumber | None = None
    x: float | None = None
    y: float | None = None
    z: float | None = None
    pan: float | None = None
    tilt: float | None = None
    roll: float | None = None
    focal: float | None = Field(default=None, gt=0.0, le=5000.0)
    focus_m: float | None = Field(default=None, gt=0.0, le=1e6)
    #: No lens and no focus are kept with it any more.
    bare: bool = False
    rides: Spot | None = None
    #: It rides on nothing any more, and stays where it is at the frame.
    stands: bool = False

    def apply(self, scene: Scene) -> Outcome:
        perch: Perch = unlocked(find(scene, "perches", self.perch))
        said = f"Changed the perch “{perch.name}”"
        if self.name is not None and self.name != perch.name:
            refuse_taken(scene, "perches", self.name, perch.id)
            said = f"Called the perch “{perch.name}” “{self.name}”"
        plain = {n: v for n in ("name", "group", "focal", "focus_m") if (v := getattr(self, n)) is not None}
        moved = {n: v for n in POSE if (v := getattr(self, n)) is not None}
        if not (plain or moved or self.rides or self.stands or self.bare):
            raise BadInput(
                "Nothing about the perch was named.", "Give its name, its place or what it rides on."
            )
        frame = scene.frames.first if self.frame is None else self.frame
        check_frame(scene, frame)
        # What is given goes before what is taken off.
        perch = changed(perch, **{**({"focal": None, "focus_m": None} if self.bare else {}), **plain})
        scene = replace(scene, "perches", perch)
        if moved:
            bake = Bake(scene)
            pose = _there(bake, perch, frame)
            for name, value in moved.items():
                pose[POSE.index(name)] = value
            perch = _put(bake, perch, pose, frame)
            scene = replace(scene, "perches", perch)
            said = f"Moved the perch “{perch.name}”"
        if self.stands:
            scene = replace(scene, "perches", stood(Bake(scene), perch, frame))
            said = f"The perch “{perch.name}” stands where it is"
        elif self.rides is not None:
            scene = _riding(scene, stood(Bake(scene), perch, frame), self.rides, frame)
            said = f"The perch “{perch.name}” rides on {spot_called(scene, self.rides)}"
        return scene, said

    def reads(self) -> frozenset[str]:
        return frozenset(link.id for link in links(self.rides)) if self.rides is not None else frozenset()


def stood(bake: Bake, perch: Perch, frame: int | None = None) -> Perch:
    """A perch that rides on nothing, where it is at a frame, or at the scene's first."""
    if perch.rides is None:
        return perch
    at = bake.scene.frames.first if frame is None else frame
    return changed(perch, rides=None, **_named(_there(bake, perch, at)))


def _put(bake: Bake, perch: Perch, pose: Floats, frame: int) -> Perch:
    """A perch at a pose on the stage at a frame, whatever it rides on."""
    if perch.rides is not None:
        track, i = bake.track(perch.rides), frame - bake.scene.frames.first
        pose = from_it(pose[None, :], track.place[i : i + 1], track.heading[i : i + 1])[0]
    return changed(perch, **_named(pose))


def _riding(scene: Scene, perch: Perch, on: Spot, frame: int) -> Scene:
    check_frame(scene, frame)
    scene = replace(scene, "perches", perch)
    bake = Bake(scene)
    pose = _there(bake, perch, frame)
    after = replace(scene, "perches", _put(bake, changed(perch, rides=on), pose, frame))
    ring = next(iter(rings(after)), None)
    if ring:
        raise Refused(
            f"{ring[:1].upper()}{ring[1:]}.",
            "Let the perch ride on something that doesn't depend on it.",
            field="rides",
        )
    return after


def _there(bake: Bake, perch: Perch, frame: int) -> Floats:
    """(6,) its pose on the stage at a frame."""
    return np.asarray(pose_of(bake, perch, np.array([frame]))[0])


def _named(pose: Floats) -> dict[str, float]:
    return {name: round(float(v), 6) for name, v in zip(POSE, pose, strict=True)}
