"""The scene document and the rules that hold across its parts."""

from collections import Counter
from typing import Any, Literal

from pydantic import Field, model_validator

from heron.errors import HeronError
from heron.model import Colour, Model, Name
from heron.optics import DELIVERIES, FIRST_KIT, Delivery, KitLens
from heron.scene.camera import Camera
from heron.scene.shot import Shot
from heron.stage.figure import Figure
from heron.stage.mover import Mover
from heron.stage.piece import Piece
from heron.timebase import MAX_FRAMES, Frames, Rate, parse_rate, parse_timecode

Tables = Literal["figures", "movers", "pieces", "lenses", "cameras", "shots"]
TABLES: tuple[Tables, ...] = ("figures", "movers", "pieces", "lenses", "cameras", "shots")


class Surround(Model):
    """Ground, sky and sun; bearing as pan, degrees; height above the horizon, degrees."""

    ground: Colour = "#a39a84"
    sky_low: Colour = "#e8e2d4"
    sky_high: Colour = "#b9c6cc"
    sun_bearing: float = Field(default=40.0, ge=-360, le=360)
    sun_height: float = Field(default=45.0, ge=1, le=90)
    #: The exposure value at ISO 100 that shows the stage as it is lit.
    light_ev: float = Field(default=9.6, ge=-10, le=25)


class Scene(Model):
    """Everything an artist made: the document that is stored, sent, undone and exported."""

    format: Literal["heron-scene"] = "heron-scene"
    version: Literal[2] = 2
    name: Name
    rate: Rate = "24/1"
    frames: Frames = Frames(first=1001, last=1240)
    delivery: Delivery = DELIVERIES[2]
    cut_start: str = "01:00:00:00"
    surround: Surround = Surround()
    figures: tuple[Figure, ...] = Field(default=(), max_length=200)
    movers: tuple[Mover, ...] = Field(default=(), max_length=200)
    pieces: tuple[Piece, ...] = Field(default=(), max_length=5000)
    lenses: tuple[KitLens, ...] = Field(default=(), max_length=200)
    cameras: tuple[Camera, ...] = Field(default=(), max_length=702)
    shots: tuple[Shot, ...] = Field(default=(), max_length=5000)

    @model_validator(mode="before")
    @classmethod
    def _upgraded(cls, data: Any) -> Any:
        """Version 1 knew no lens kit, stop, focus or exposure: their defaults say what it meant."""
        if isinstance(data, dict) and data.get("version") == 1:
            return {**data, "version": 2}
        return data

    @model_validator(mode="after")
    def _whole(self) -> "Scene":
        for problem in problems(self):
            raise ValueError(problem)
        return self


def problems(scene: Scene) -> list[str]:
    """What breaks a rule that no single part can check; empty when the scene is whole."""
    found = []
    ids = Counter(item.id for table in TABLES for item in getattr(scene, table))
    found += [f"the id {one} is used {n} times" for one, n in ids.items() if n > 1]
    letters = Counter(camera.letter for camera in scene.cameras)
    found += [f"the camera letter {one} is used {n} times" for one, n in letters.items() if n > 1]
    cameras = {camera.id for camera in scene.cameras}
    found += _loose_ends(scene)
    for shot in scene.shots:
        if shot.camera not in cameras:
            found.append(f"shot {shot.name} is on a camera that does not exist ({shot.camera})")
        if shot.stage.first < scene.frames.first or shot.stage.last > scene.frames.last:
            found.append(
                f"shot {shot.name} shows stage frames {shot.stage}, outside the scene's {scene.frames}"
            )
    total = sum(shot.gap_before + shot.stage.count for shot in scene.shots)
    if total > MAX_FRAMES:
        found.append(f"the cut would be {total:,} frames long; {MAX_FRAMES:,} is the most")
    try:
        parse_timecode(scene.cut_start, parse_rate(scene.rate))
    except HeronError as error:
        found.append(str(error))
    return found


def _loose_ends(scene: Scene) -> list[str]:
    """Cameras that name a lens or a thing to focus on that is not there."""
    lenses = {lens.id for lens in scene.lenses}
    things = {f.id for f in scene.figures} | {m.id for m in scene.movers} | {p.id for p in scene.pieces}
    found = []
    for camera in scene.cameras:
        if camera.mounted is not None and camera.mounted not in lenses:
            found.append(f"camera {camera.letter} has a lens that is not in the kit ({camera.mounted})")
        for gone in sorted(camera.focus.things() - things):
            found.append(f"camera {camera.letter} is focused on something that is not on the stage ({gone})")
    return found


def empty_scene(
    name: str,
    rate: str = "24/1",
    delivery: Delivery = DELIVERIES[2],
    lenses: tuple[KitLens, ...] = FIRST_KIT,
) -> Scene:
    """A floor, a horizon, a rate, a format and a lens kit."""
    return Scene(name=name, rate=rate, delivery=delivery, lenses=lenses)
