"""Commands on a camera's lens, stop, exposure and clipping."""

from typing import Any, Literal

from pydantic import Field

from heron.bake import Bake
from heron.commands.base import Command, Outcome, open_camera, title
from heron.commands.fitting import fitted, key_said, with_value
from heron.commands.keys import check_frame
from heron.errors import BadInput, Refused
from heron.framing import keep_size
from heron.model import Id, changed
from heron.optics import KitLens
from heron.optics.exposure import (
    FASTEST_ISO,
    LARGEST_SHUTTER,
    NARROWEST_STOP,
    SLOWEST_ISO,
    SMALLEST_SHUTTER,
    WIDEST_STOP,
    stops_between,
)
from heron.optics.kit import stop_breach
from heron.optics.view import LONGEST_MM, SHORTEST_MM
from heron.scene import Camera, Scene, find, replace
from heron.timebase.frames import FrameNumber

#: What may give for the stop: its field, how it is called, its unit, how far it goes, and what else could.
_GIVES = {
    "shutter": ("shutter_deg", "shutter", "°", SMALLEST_SHUTTER, LARGEST_SHUTTER, "the ISO"),
    "iso": ("iso", "ISO", "", SLOWEST_ISO, FASTEST_ISO, "the shutter"),
}


class MountLens(Command):
    """Put a lens of the kit on a camera, keeping its place or the size of a figure; or take it off."""

    kind: Literal["camera.mount"] = "camera.mount"
    camera: Id
    lens: Id | None = None
    #: The next longer (1) or next shorter (−1) lens of the kit, in place of naming one.
    step: Literal[-1, 1] | None = None
    #: Where on a zoom; left out, as near to what it was as the zoom goes.
    focal: float | None = Field(default=None, ge=SHORTEST_MM, le=LONGEST_MM)
    keep: Literal["place", "size"] = "place"
    frame: FrameNumber | None = None
    figure: Id | None = None

    def reads(self) -> frozenset[str]:
        return frozenset(i for i in (self.lens, self.figure) if i)

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        if self.lens is None and self.step is None:
            free = changed(camera, mounted=None)
            return replace(scene, "cameras", free), f"Took the lens off camera {camera.letter}: any will do"
        lens = self._next(scene, camera) if self.step else find(scene, "lenses", self.lens or "")
        was = camera.focal.rest
        if self.keep == "size" and camera.focal.keys:
            raise Refused(
                f"{title(camera)} zooms by keys on its focal length, which keeping a size would undo.",
                "Keep the camera's place, or delete those keys first.",
                field="keep",
            )
        focal = min(max(self.focal or was, lens.shortest_mm), lens.longest_mm)
        said = f"Put the {lens.name} on camera {camera.letter}"
        new, more = _through(camera, lens, focal)
        if self.keep == "size" and focal != was:
            frame = scene.frames.first if self.frame is None else self.frame
            check_frame(scene, frame)
            new, kept = keep_size(Bake(scene), camera, focal, frame, self.figure)
            new, more = _through(new, lens, focal)
            more.insert(0, f"keeping {kept.figure.name}'s {kept.part} in size")
        new = changed(new, mounted=lens.id)
        if more:
            said += f", {', '.join(more)}"
        return replace(scene, "cameras", new), said

    def _next(self, scene: Scene, camera: Camera) -> KitLens:
        """The neighbour of a prime in the kit; from a zoom, or without a lens, the nearest prime that way."""
        kit, step = scene.lenses, self.step or 1
        at = next((i for i, lens in enumerate(kit) if lens.id == camera.mounted), None)
        primes = [i for i, lens in enumerate(kit) if lens.prime]
        ended = at is not None and step > 0 and camera.focal.rest >= kit[at].longest_mm
        if at is not None and (kit[at].prime or ended or not primes):
            to = at + step
        else:
            beyond = [i for i in primes if (kit[i].shortest_mm - camera.focal.rest) * step > 0]
            to = (beyond[0] if step > 0 else beyond[-1]) if beyond else -1
        if not 0 <= to < len(kit):
            way = "longer" if step > 0 else "shorter"
            raise Refused(
                f"The lens kit goes no {way} for camera {camera.letter}.",
                "Put another lens into the kit on the scene's card, or step the other way.",
                field="lens",
            )
        return kit[to]


def _through(camera: Camera, lens: KitLens, focal: float) -> tuple[Camera, list[str]]:
    """The camera at a focal length of a lens, stopped down if it must be; and what that took, in words."""
    more: list[str] = []
    keys = [k.value for k in camera.focal.keys]
    update: dict[str, Any] = {}
    if keys and not (lens.shortest_mm <= min(keys) and max(keys) <= lens.longest_mm):
        raise Refused(
            f"{title(camera)} zooms from {min(keys):g} to {max(keys):g} mm, which the {lens.name} cannot.",
            "Delete the keys on its focal length, or choose a zoom that goes so far.",
            field="lens",
        )
    if not keys:
        update["focal"] = camera.focal.at_rest(focal)
        if not lens.prime:
            more.append(f"at {focal:g} mm")
    if not camera.aperture.keys and stop_breach(lens, camera.stop(camera.aperture.rest)):
        update["aperture"] = camera.aperture.at_rest(camera.spec("aperture").kept(lens.widest))
        more.append(f"stopped down to f/{lens.widest:g}")
    return changed(camera, **update), more


class SetGlass(Command):
    """Set a camera's stop, shutter, sensitivity, exposure, clipping or circle of confusion."""

    kind: Literal["camera.glass"] = "camera.glass"
    camera: Id
    aperture: float | None = Field(default=None, ge=WIDEST_STOP, le=NARROWEST_STOP)
    #: What gives when the stop changes, so that the exposure holds.
    hold: Literal["nothing", "shutter", "iso", "exposure"] = "iso"
    exposure: float | None = Field(default=None, ge=-20.0, le=20.0)
    shutter_deg: float | None = Field(default=None, ge=SMALLEST_SHUTTER, le=LARGEST_SHUTTER)
    iso: float | None = Field(default=None, ge=SLOWEST_ISO, le=FASTEST_ISO)
    near_m: float | None = Field(default=None, ge=0.001, le=1000.0)
    far_m: float | None = Field(default=None, ge=0.01, le=20_000.0)
    confusion_mm: float | None = Field(default=None, ge=0.001, le=1.0)
    #: The film back's own circle of confusion again.
    own_confusion: bool = False
    #: A stop or an exposure that has a key here changes that key; then nothing gives for it.
    frame: FrameNumber | None = None
    force: bool = False

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        update: dict[str, Any] = {}
        said = []
        if self.aperture is not None:
            update["aperture"] = with_value(camera, "aperture", self.aperture, self.frame)
            said.append(f"f/{self.aperture:g}{key_said(camera, 'aperture', self.frame)}")
            if not camera.aperture.keys:
                stops = stops_between(camera.stop(camera.aperture.rest), self.aperture)
                update |= self._given(camera, stops, said)
        if self.exposure is not None:
            update["exposure"] = with_value(camera, "exposure", self.exposure, self.frame)
            said.append(f"{self.exposure:+g} stops{key_said(camera, 'exposure', self.frame)}")
        words = {
            "shutter_deg": "shutter {:g}°", "iso": "ISO {:g}", "near_m": "near {:g} m", "far_m": "far {:g} m",
            "confusion_mm": "circle of confusion {:g} mm",
        }  # fmt: skip
        for name, word in words.items():
            value = getattr(self, name)
            if value is not None:
                update[name] = value
                said.append(word.format(value))
        if self.own_confusion:
            update["confusion_mm"] = None
            said.append("the film back's own circle of confusion")
        if not said:
            raise BadInput("Nothing to set was named.", "Give a stop, shutter, ISO, exposure or distance.")
        sentence = f"Set camera {camera.letter} to {', '.join(said)}"
        return fitted(scene, camera, changed(camera, **update), sentence, force=self.force)

    def _given(self, camera: Camera, stops: float, said: list[str]) -> dict[str, Any]:
        """What must change so that a stop narrower by `stops` exposes the same."""
        if self.hold in _GIVES:
            name, word, unit, low, high, others = _GIVES[self.hold]
            value = getattr(camera, name) * 2**stops
            if not low <= value <= high:
                raise Refused(
                    f"The {word} would have to be {value:.4g}{unit}; it goes from {low:g}{unit} to {high:g}{unit}.",
                    f"Let {others} or the exposure offset give instead.",
                    field="hold",
                )
            said.append(f"held by {'ISO ' if name == 'iso' else 'a shutter of '}{value:.4g}{unit}")
            return {name: value}
        if self.hold == "exposure":
            said.append(f"held by {stops:+.2g} stops of offset")
            return {"exposure": camera.exposure.shifted(stops)}
        return {}
