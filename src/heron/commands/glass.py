"""Commands on a camera's lens, stop, exposure and clipping."""

from typing import Any, Literal

from pydantic import Field

from heron.commands.base import Command, Outcome, open_camera, title
from heron.commands.fitting import WORDS, fitted, rest_of
from heron.commands.keys import check_frame
from heron.curves import Channel, Key, KeyKind
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
from heron.optics.view import LONGEST_MM, SHORTEST_MM
from heron.scene import Camera, Scene, find, replace
from heron.timebase.frames import MAX_FRAME_NUMBER

GlassName = Literal["focal", "aperture", "exposure"]
_UNITS = {"focal": ("", " mm"), "aperture": ("f/", ""), "exposure": ("", " stops")}
_RANGES = {
    "focal": (SHORTEST_MM, LONGEST_MM),
    "aperture": (WIDEST_STOP, NARROWEST_STOP),
    "exposure": (-20.0, 20.0),
}


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
    frame: int | None = None
    figure: Id | None = None

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        if self.lens is None and self.step is None:
            free = changed(camera, mounted=None)
            return replace(scene, "cameras", free), f"Took the lens off camera {camera.letter}: any will do"
        lens = self._next(scene, camera) if self.step else find(scene, "lenses", self.lens or "")
        was = camera.focal.rest
        focal = min(max(self.focal or was, lens.shortest_mm), lens.longest_mm)
        said = f"Put the {lens.name} on camera {camera.letter}"
        new, more = _through(camera, lens, focal)
        if self.keep == "size" and focal != was:
            frame = scene.frames.first if self.frame is None else self.frame
            check_frame(scene, frame)
            new, kept = keep_size(scene, camera, focal, frame, self.figure)
            new, more = _through(new, lens, focal)
            more.insert(0, f"keeping {kept.figure.name}'s {kept.part} in size")
        new = changed(new, mounted=lens.id)
        if more:
            said += f", {', '.join(more)}"
        return replace(scene, "cameras", new), said

    def _next(self, scene: Scene, camera: Camera) -> KitLens:
        """The neighbour in the kit; of a camera without a lens, the nearest focal length that way."""
        kit, step = scene.lenses, self.step or 1
        at = next((i for i, lens in enumerate(kit) if lens.id == camera.mounted), None)
        if at is not None:
            to = at + step
        else:
            primes = [i for i, lens in enumerate(kit) if lens.prime]
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
        update["focal"] = Channel(rest=focal)
        if not lens.prime:
            more.append(f"at {focal:g} mm")
    if not camera.aperture.keys and camera.aperture.rest < lens.widest:
        update["aperture"] = Channel(rest=lens.widest)
        more.append(f"stopped down to f/{lens.widest:g}")
    return changed(camera, **update), more


class SetGlass(Command):
    """Set a camera's stop, shutter, sensitivity, exposure, clipping or circle of confusion."""

    kind: Literal["camera.glass"] = "camera.glass"
    camera: Id
    aperture: float | None = Field(default=None, ge=WIDEST_STOP, le=NARROWEST_STOP)
    #: What gives when the stop changes, so that the exposure holds.
    hold: Literal["nothing", "shutter", "iso", "exposure"] = "nothing"
    exposure: float | None = Field(default=None, ge=-20.0, le=20.0)
    shutter_deg: float | None = Field(default=None, ge=SMALLEST_SHUTTER, le=LARGEST_SHUTTER)
    iso: float | None = Field(default=None, ge=SLOWEST_ISO, le=FASTEST_ISO)
    near_m: float | None = None
    far_m: float | None = None
    confusion_mm: float | None = None
    #: The film back's own circle of confusion again.
    own_confusion: bool = False
    force: bool = False

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        update: dict[str, Any] = {}
        said = []
        if self.aperture is not None:
            update["aperture"] = rest_of(camera, "aperture", self.aperture)
            said.append(f"f/{self.aperture:g}")
            update |= self._given(camera, stops_between(camera.aperture.rest, self.aperture), said)
        if self.exposure is not None:
            update["exposure"] = rest_of(camera, "exposure", self.exposure)
            said.append(f"{self.exposure:+g} stops")
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


class KeyGlass(Command):
    """Set a key on the focal length, the stop or the exposure offset."""

    kind: Literal["glass.key"] = "glass.key"
    camera: Id
    name: GlassName
    frame: int = Field(ge=0, le=MAX_FRAME_NUMBER)
    value: float
    shape: KeyKind = "eased"
    force: bool = False

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        check_frame(scene, self.frame)
        low, high = _RANGES[self.name]
        if not low <= self.value <= high:
            word = WORDS[self.name]
            raise BadInput(
                f"{word[:1].upper()}{word[1:]} must be from {low:g} to {high:g}; it was {self.value:g}.",
                "Correct it and send it again.",
                field="value",
            )
        channel: Channel = getattr(camera, self.name)
        was = channel.key_at(self.frame)
        before, after = (was.before, was.after) if was else (self.shape, self.shape)
        key = Key(frame=self.frame, value=self.value, before=before, after=after)
        new = changed(camera, **{self.name: channel.with_key(key)})
        front, behind = _UNITS[self.name]
        word = f"{'Changed the' if was else 'Set a'} key on the {WORDS[self.name]} of camera {camera.letter}"
        return fitted(
            scene, camera, new, f"{word} at {self.frame}: {front}{self.value:g}{behind}", force=self.force
        )


class UnkeyGlass(Command):
    """Take a key on the focal length, stop or exposure offset away."""

    kind: Literal["glass.unkey"] = "glass.unkey"
    camera: Id
    name: GlassName
    frame: int

    def apply(self, scene: Scene) -> Outcome:
        camera, channel = _keyed(scene, self.camera, self.name, self.frame)
        new = changed(camera, **{self.name: channel.without_key(self.frame)})
        said = f"Deleted the key on the {WORDS[self.name]} of camera {camera.letter} at {self.frame}"
        return replace(scene, "cameras", new), said


class ShapeGlass(Command):
    """Choose how the focal length, stop or exposure offset comes into a key and goes out of it."""

    kind: Literal["glass.shape"] = "glass.shape"
    camera: Id
    name: GlassName
    frame: int
    before: KeyKind | None = None
    after: KeyKind | None = None

    def apply(self, scene: Scene) -> Outcome:
        camera, channel = _keyed(scene, self.camera, self.name, self.frame)
        key = channel.key_at(self.frame)
        assert key is not None
        shaped = changed(key, before=self.before or key.before, after=self.after or key.after)
        new = changed(camera, **{self.name: channel.with_key(shaped)})
        said = f"Made the key on the {WORDS[self.name]} of camera {camera.letter} at {self.frame} {shaped.before} in and {shaped.after} out"
        return replace(scene, "cameras", new), said


def _keyed(scene: Scene, id_: str, name: str, frame: int) -> tuple[Camera, Channel]:
    camera = open_camera(scene, id_)
    channel: Channel = getattr(camera, name)
    if channel.key_at(frame) is None:
        raise Refused(
            f"There is no key on the {WORDS[name]} of camera {camera.letter} at {frame}.",
            "Choose a frame that has one.",
            field="frame",
        )
    return camera, channel
