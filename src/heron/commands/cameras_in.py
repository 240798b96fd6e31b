"""Cameras that were brought in, put on the stage with their moves and lenses as keys."""

from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from heron.commands.base import Command, Outcome, unused
from heron.commands.key_edits import ERRORS
from heron.curves import Channel
from heron.curves.simplify import simplified
from heron.curves.spec import Measure
from heron.errors import BadInput, Refused
from heron.model import STAGE_LIMIT_M, Id, Model, Name, changed, new_id
from heron.optics import Lens
from heron.optics.backs import FilmBack
from heron.optics.exposure import NARROWEST_STOP, WIDEST_STOP
from heron.scene import POSE, Camera, Scene, letter_after
from heron.scene.focus import NEAREST_M, AtDistance, Focus, Pulled
from heron.timebase.frames import FrameNumber

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Frames of a camera that is brought in.
_MOST = 20_000
_Values = Annotated[tuple[float, ...], Field(min_length=1, max_length=_MOST)]


class CameraTrack(Model):
    """A camera of a file, with a value for each frame: metres on the stage, degrees, millimetres, f-number."""

    name: Name
    #: The stage frame of its first value, where the file says one.
    first: FrameNumber | None = None
    x: _Values
    y: _Values
    z: _Values
    pan: _Values
    tilt: _Values
    roll: _Values
    focal: _Values
    back: FilmBack
    squeeze: float = 1.0
    f_stop: _Values | None = None
    #: None is infinity.
    focus_m: Annotated[tuple[float | None, ...], Field(max_length=_MOST)] | None = None
    shutter_deg: float | None = None
    iso: float | None = None


class BringCameras(Command):
    """Put the cameras of a file on the stage, their moves and lenses as keys: one on every frame, or few within an error."""

    kind: Literal["cameras.bring"] = "cameras.bring"
    #: How the ids of the cameras begin.
    id: Id = Field(default_factory=lambda: new_id("cam"))
    cameras: tuple[CameraTrack, ...] = Field(min_length=1, max_length=60)
    #: The stage frame that is the file's beginning; left out, the one it says where the scene has that.
    at: FrameNumber | None = None
    #: Where else it begins; left out, on the scene's first frame.
    otherwise: FrameNumber | None = None
    #: As few keys as stay within these errors, by measure; none, a key on every frame.
    few: bool = False

    def apply(self, scene: Scene) -> Outcome:
        made, cut = [], False
        letters, names = {one.letter for one in scene.cameras}, {one.name for one in scene.cameras}
        for i, track in enumerate(self.cameras):
            camera, whole = self._camera(
                scene, track, f"{self.id[:36]}-{i}", letter_after(letters), unused(track.name, names)
            )
            letters, names, cut = letters | {camera.letter}, names | {camera.name}, cut or not whole
            made.append(camera)
        what = f"camera {made[0].letter} “{made[0].name}”" if len(made) == 1 else f"{len(made)} cameras"
        keys = sum(len(channel.keys) for one in made for _, channel in one.each())
        said = f"Brought in {what}, {keys:,} keys"
        if cut:
            said += "; what goes past the scene's end is left out"
        return scene.having(cameras=(*scene.cameras, *made)), said

    def _camera(
        self, scene: Scene, track: CameraTrack, id_: str, letter: str, name: str
    ) -> tuple[Camera, bool]:
        first = self.at
        if first is None and track.first is not None and track.first in scene.frames:
            first = track.first
        if first is None:
            first = scene.frames.first if self.otherwise is None else self.otherwise
        count = len(track.x)
        fits = min(count, scene.frames.last - first + 1)
        if fits < 1:
            raise Refused(
                f"It would begin at {first}, after the scene's end.",
                f"Begin at {scene.frames.last} at the latest.",
                field="at",
            )
        numbers = {one: np.array(getattr(track, one)[:fits]) for one in (*POSE, "focal")}
        if track.f_stop is not None:
            numbers["aperture"] = 2 * np.log2(np.clip(track.f_stop[:fits], WIDEST_STOP, NARROWEST_STOP))
        if any(len(values) < fits for values in numbers.values()):
            raise BadInput(
                f"{track.name} has not as many values of each of its numbers.",
                "Bring it in again.",
                field="cameras",
            )
        lens = Lens(back=track.back, squeeze=track.squeeze)
        own = {name: value for name in ("shutter_deg", "iso") if (value := getattr(track, name)) is not None}
        blank = Camera(id=id_, letter=letter, name=name, lens=lens, **own)
        channels = {
            one: self._channel(blank.spec(one).measure, first, values) for one, values in numbers.items()
        }
        focus = Focus()
        if track.focus_m is not None and fits <= len(track.focus_m):
            per_m = np.array(
                [
                    1 / STAGE_LIMIT_M if one is None else 1 / max(one, NEAREST_M)
                    for one in track.focus_m[:fits]
                ]
            )
            if np.ptp(per_m) < 1e-7:
                focus = Focus(on=AtDistance(metres=track.focus_m[0] and round(track.focus_m[0], 4)))
            else:
                focus = Focus(on=Pulled(), distance=self._channel("per metre", first, per_m))
        return changed(blank, focus=focus, **channels), fits == count

    def _channel(self, measure: Measure, first: int, values: Floats) -> Channel:
        if np.ptp(values) < 1e-7:
            return Channel(rest=round(float(values[0]), 6))
        return simplified(first, values, ERRORS[measure] if self.few else 0.0)
