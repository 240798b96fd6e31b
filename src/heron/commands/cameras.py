"""Commands on cameras."""

import math
from typing import Any, Literal

import numpy as np
from pydantic import Field

from heron.bake import Bake
from heron.commands.base import Command, Outcome, all_called, free_name, open_camera
from heron.commands.fitting import fitted, key_said, with_value
from heron.commands.keys import check_frame
from heron.commands.things import Ids, chosen_things
from heron.curves import Channel
from heron.errors import BadInput, Refused
from heron.framing.in_view import framed
from heron.model import Degrees, Id, Label, Metres, Model, Name, changed, new_id
from heron.optics import Gate, Lens, exposure_value, gate_size, shutter_seconds
from heron.optics.backs import FilmBack
from heron.optics.exposure import FASTEST_ISO, SLOWEST_ISO
from heron.optics.view import LONGEST_MM, SHORTEST_MM
from heron.scene import POSE, Camera, Scene, find, letter_after, replace
from heron.scene.focus import Focus, FocusOn
from heron.timebase import parse_rate
from heron.timebase.frames import FrameNumber


class Pose(Model):
    """Where a camera stands and looks: metres on the stage, degrees."""

    x: Metres
    y: Metres
    z: Metres
    pan: Degrees = 0.0
    tilt: Degrees = 0.0
    roll: Degrees = 0.0


class AddCamera(Command):
    """Make a camera; it gets the next free letter, and without a name the next free one.

    Film back and first lens are the scene's own unless they are named; it is focused on what it frames. With an
    `upright_deg` it keeps that field of view from top to bottom of the frame, by a zoom of the kit where one reaches.
    """

    kind: Literal["camera.add"] = "camera.add"
    id: Id = Field(default_factory=lambda: new_id("cam"))
    name: Name | None = None
    pose: Pose
    focal: float | None = Field(default=None, ge=SHORTEST_MM, le=LONGEST_MM)
    upright_deg: float | None = Field(default=None, ge=1.0, le=150.0)
    lens: Lens | None = None
    focus: FocusOn | None = None
    #: The frame at which it is looked what it frames.
    frame: FrameNumber | None = None

    def apply(self, scene: Scene) -> Outcome:
        letter = letter_after({c.letter for c in scene.cameras})
        name = self.name or free_name("View", {c.name for c in scene.cameras}, first=len(scene.cameras) + 1)
        channels = {n: Channel(rest=getattr(self.pose, n)) for n in POSE}
        lens = self.lens or scene.first_lens.on
        focal = scene.first_lens.focal_mm if self.focal is None else self.focal
        if self.focal is None and self.upright_deg is not None:
            focal = self._upright(scene, lens)
        fitting = [one for one in scene.lenses if one.shortest_mm <= focal <= one.longest_mm]
        # Without a prime of that focal length only a field of view that was asked for takes a zoom.
        fitting = [one for one in fitting if one.prime or self.upright_deg is not None]
        on = min(fitting, key=lambda one: one.longest_mm - one.shortest_mm, default=None)
        camera = Camera(
            id=self.id,
            letter=letter,
            name=name,
            lens=lens,
            focal=Channel(rest=focal),
            mounted=on.id if on else None,
            **channels,
        )
        # As bright as the stage is lit, at its first stop.
        seconds = shutter_seconds(camera.shutter_deg, float(parse_rate(scene.rate)))
        ev = float(exposure_value(np.array([camera.stop(camera.aperture.rest)]), seconds, camera.iso)[0])
        iso = camera.iso * 2 ** (ev - scene.surround.light_ev)
        camera = changed(camera, iso=round(min(max(iso, SLOWEST_ISO), FASTEST_ISO), 1))
        if on and camera.stop(camera.aperture.rest) < on.widest:
            camera = changed(
                camera, aperture=camera.aperture.at_rest(camera.spec("aperture").kept(on.widest))
            )
        frame = scene.frames.first if self.frame is None else self.frame
        check_frame(scene, frame)
        focus = self.focus or framed(Bake(scene), camera, frame)
        camera = changed(camera, focus=Focus(on=focus))
        return scene.having(cameras=(*scene.cameras, camera)), f"Made camera {letter} “{name}”"

    def _upright(self, scene: Scene, lens: Lens) -> float:
        """The focal length, mm, of a field of view from top to bottom of the frame."""
        assert self.upright_deg is not None
        height = gate_size(lens, scene.delivery.aspect)[1]
        focal = height / (2 * math.tan(math.radians(self.upright_deg) / 2))
        if not SHORTEST_MM <= focal <= LONGEST_MM:
            raise Refused(
                f"No lens shows {self.upright_deg:g}° on this film back: it would be {focal:.3g} mm.",
                f"Ask for a focal length between {SHORTEST_MM:g} and {LONGEST_MM:g} mm.",
                field="upright_deg",
            )
        return round(focal, 2)


class ShowCameras(Command):
    """Show cameras on the stage and the plan, or hide them; a locked one too, since nothing it sees changes."""

    kind: Literal["cameras.show"] = "cameras.show"
    ids: Ids
    shown: bool

    def apply(self, scene: Scene) -> Outcome:
        chosen = [item for _, item in chosen_things(scene, self.ids, ("cameras",))]
        after = replace(scene, "cameras", *(changed(c, hidden=not self.shown) for c in chosen))
        what = all_called(chosen) if len(chosen) <= 6 else f"{len(chosen)} cameras"
        return after, f"{'Showed' if self.shown else 'Hid'} {what}"


class SetCamera(Command):
    """Change a camera's name, group, film back, gate, squeeze, focal length, or whether it is hidden or locked."""

    kind: Literal["camera.set"] = "camera.set"
    camera: Id
    name: Name | None = None
    group: Label | None = None
    back: FilmBack | None = None
    gate: Gate | None = None
    squeeze: float | None = Field(default=None, ge=0.5, le=2.5)
    focal: float | None = Field(default=None, ge=SHORTEST_MM, le=LONGEST_MM)
    hidden: bool | None = None
    locked: bool | None = None
    #: A focal length that has a key here changes that key.
    frame: FrameNumber | None = None
    #: Do it though the lens cannot.
    force: bool = False

    def apply(self, scene: Scene) -> Outcome:
        camera: Camera = find(scene, "cameras", self.camera)
        update: dict[str, Any] = {}
        said = []
        if self.name is not None:
            update["name"] = self.name
            said.append(f"Renamed camera {camera.letter} to “{self.name}”")
        lens = {
            "back": self.back or camera.lens.back,
            "gate": self.gate or camera.lens.gate,
            "squeeze": self.squeeze or camera.lens.squeeze,
        }
        if any(v is not None for v in (self.back, self.gate, self.squeeze)):
            update["lens"] = changed(camera.lens, **lens)
        if self.back is not None:
            size = f"{self.back.width_mm:g} × {self.back.height_mm:g} mm"
            said.append(f"Gave camera {camera.letter} the film back {self.back.name or 'of'} {size}")
        if self.gate is not None:
            said.append(f"Set camera {camera.letter}'s gate to {self.gate}")
        if self.squeeze is not None:
            said.append(f"Set camera {camera.letter}'s squeeze to {self.squeeze:g}")
        if self.focal is not None:
            update["focal"] = with_value(camera, "focal", self.focal, self.frame)
            said.append(
                f"Set camera {camera.letter} to {self.focal:g} mm{key_said(camera, 'focal', self.frame)}"
            )
        if self.group is not None:
            update["group"] = self.group
            said.append(
                f"Put camera {camera.letter} in the group “{self.group}”"
                if self.group
                else f"Took camera {camera.letter} out of its group"
            )
        held = {name: value for name in ("hidden", "locked") if (value := getattr(self, name)) is not None}
        if not held or len(update) > 0:
            open_camera(scene, self.camera)
        update |= held
        if self.hidden is not None:
            said.append(f"{'Hid' if self.hidden else 'Showed'} camera {camera.letter}")
        if self.locked is not None:
            said.append(f"{'Locked' if self.locked else 'Unlocked'} camera {camera.letter}")
        if not said:
            raise BadInput(
                "Nothing to set was named.", "Give a name, group, back, gate, focal, hidden or locked."
            )
        return fitted(scene, camera, changed(camera, **update), "; ".join(said), force=self.force)
