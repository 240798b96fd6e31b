"""The scene document and the rules that hold across its parts."""

from collections import Counter
from typing import Annotated, Any, Literal, NamedTuple

from pydantic import AfterValidator, Field, ValidationError, model_validator

from heron.errors import HeronError, from_validation
from heron.model import Colour, Label, Model, Name
from heron.optics import DELIVERIES, FILM_BACKS, FIRST_KIT, Delivery, KitLens, Lens
from heron.optics.view import LONGEST_MM, SHORTEST_MM
from heron.scene.camera import Camera
from heron.scene.cue import Cue
from heron.scene.joins import misfits
from heron.scene.kept_cut import KeptCut
from heron.scene.line import Line
from heron.scene.links import has_links, links, loops
from heron.scene.noting import Noting
from heron.scene.own import dressed, misfit
from heron.scene.parts import Part
from heron.scene.passes import Pass
from heron.scene.reference_movie import ReferenceMovie
from heron.scene.shot import Shot
from heron.scene.sound import Sound
from heron.scene.upgrades import VERSION, upgrade_document
from heron.stage.acts.body import Recorded
from heron.stage.figure import Figure
from heron.stage.light import MOST_LAMPS
from heron.stage.mover import Mover
from heron.stage.perch import Perch
from heron.stage.piece import Piece
from heron.stage.reference import AtPoint, OnFigure, Spot, Tables, joint_word
from heron.timebase import MAX_FRAMES, Frames, Rate, parse_rate, parse_timecode
from heron.timebase.timecode import plain_timecode

TABLES: tuple[Tables, ...] = (
    "figures", "movers", "pieces", "perches", "lenses", "cameras", "shots", "cues", "passes", "lines", "sounds",
)  # fmt: skip


class Surround(Model):
    """Ground, sky and sun; bearing as pan, degrees; height above the horizon, degrees."""

    ground: Colour = "#a39a84"
    sky_low: Colour = "#e8e2d4"
    sky_high: Colour = "#b9c6cc"
    #: The floor is water, of the ground's colour where it is looked into.
    water: bool = False
    #: How far off half of a thing is lost in the haze, metres.
    haze_m: float = Field(default=130.0, ge=5, le=20_000)
    sun_bearing: float = Field(default=40.0, ge=-360, le=360)
    sun_height: float = Field(default=45.0, ge=1, le=90)
    #: The exposure value at ISO 100 that shows the stage as it is lit.
    light_ev: float = Field(default=9.6, ge=-10, le=25)
    #: Light from where the picture is taken, that keeps faces readable in shade, in shares of the sky's.
    fill: float = Field(default=0.25, ge=0, le=2)
    #: Light on the edges that turn away, in shares of the sun's.
    rim: float = Field(default=0.15, ge=0, le=2)


class FirstLens(Model):
    """What a new camera gets: film back, gate and squeeze, and a focal length."""

    on: Lens = Lens(back=FILM_BACKS[0].back)
    #: On the usual back it sees as much upright as the rover does.
    focal_mm: float = Field(default=32.0, ge=SHORTEST_MM, le=LONGEST_MM)


class Visible(NamedTuple):
    """Things of the stage that are not hidden."""

    pieces: tuple[Piece, ...]
    figures: tuple[Figure, ...]
    movers: tuple[Mover, ...]


class Scene(Model):
    """Everything an artist made: the document that is stored, sent, undone and exported."""

    format: Literal["heron-scene"] = "heron-scene"
    version: Literal[5] = VERSION
    name: Name
    rate: Rate = "24/1"
    frames: Frames = Frames(first=1001, last=1240)
    delivery: Delivery = DELIVERIES[2]
    cut_start: Annotated[str, AfterValidator(plain_timecode)] = "01:00:00:00"
    surround: Surround = Surround()
    first_lens: FirstLens = FirstLens()
    figures: tuple[Figure, ...] = Field(default=(), max_length=200)
    movers: tuple[Mover, ...] = Field(default=(), max_length=200)
    pieces: tuple[Piece, ...] = Field(default=(), max_length=5000)
    perches: tuple[Perch, ...] = Field(default=(), max_length=1000)
    lenses: tuple[KitLens, ...] = Field(default=(), max_length=200)
    cameras: tuple[Camera, ...] = Field(default=(), max_length=702)
    shots: tuple[Shot, ...] = Field(default=(), max_length=5000)
    #: What the cut that plays is called, once others are kept, and those.
    cut_name: Label = ""
    cuts: tuple[KeptCut, ...] = Field(default=(), max_length=50)
    #: Parts of it that are not to be touched.
    locked: tuple[Part, ...] = ()
    #: In order of frame.
    cues: tuple[Cue, ...] = Field(default=(), max_length=5000)
    #: What hands did, in the order in which they were recorded.
    passes: tuple[Pass, ...] = Field(default=(), max_length=200)
    #: In the order in which they are said.
    lines: tuple[Line, ...] = Field(default=(), max_length=5000)
    sounds: tuple[Sound, ...] = Field(default=(), max_length=5000)
    #: Whether lines without a recording are spoken by a stand-in voice.
    stand_ins: bool = True
    noting: Noting = Noting()
    reference: ReferenceMovie | None = None

    @model_validator(mode="before")
    @classmethod
    def _upgraded(cls, data: Any) -> Any:
        return upgrade_document(data) if isinstance(data, dict) else data

    @model_validator(mode="after")
    def _whole(self) -> "Scene":
        for problem in problems(self):
            raise ValueError(problem)
        return self

    def having(self, **update: Any) -> "Scene":
        """A draft of this scene with some fields replaced; no rule that holds across its parts is checked.

        What a command makes is checked whole before anyone keeps it (`heron.scene.lookup.whole`).
        """
        content = {name: getattr(self, name) for name in type(self).model_fields}
        return Scene.model_construct(**{**content, **update})

    @property
    def visible(self) -> Visible:
        """What pictures show."""
        return Visible(
            tuple(one for one in self.pieces if not one.hidden),
            tuple(one for one in self.figures if not one.hidden),
            tuple(one for one in self.movers if not one.hidden),
        )

    @property
    def files(self) -> tuple[str, ...]:
        """The keys of the files that it is made of besides sounds."""
        of_pieces = (one.source.file for one in self.pieces if one.source is not None)
        of_acts = (act.file for one in self.figures for act in one.acts if isinstance(act, Recorded))
        bodies = (one.character for one in self.figures if one.character is not None)
        movie = () if self.reference is None else (self.reference.file,)
        return tuple(dict.fromkeys((*of_pieces, *bodies, *of_acts, *movie)))

    def items(self) -> dict[str, Model]:
        """Everything in its tables by id."""
        return {item.id: item for table in TABLES for item in getattr(self, table)}


def problems(scene: Scene) -> list[str]:
    """What breaks a rule that no single part can check; empty when the scene is whole."""
    found = []
    ids = Counter(item.id for table in TABLES for item in getattr(scene, table))
    found += [f"the id {one} is used {n} times" for one, n in ids.items() if n > 1]
    letters = Counter(camera.letter for camera in scene.cameras)
    found += [f"the camera letter {one} is used {n} times" for one, n in letters.items() if n > 1]
    found += _loose_ends(scene)
    lamps = sum(mover.light is not None for mover in scene.movers)
    if lamps > MOST_LAMPS:
        found.append(f"{lamps} lamps light it; {MOST_LAMPS} are the most")
    for shot in scene.shots:
        if shot.camera is not None and (
            shot.stage.first < scene.frames.first or shot.stage.last > scene.frames.last
        ):
            found.append(
                f"shot {shot.name} shows stage frames {shot.stage}, outside the scene's {scene.frames}"
            )
    found += misfits(scene.shots, scene.frames) if not found else []
    found += _own_misfits(scene) if not found else []
    total = sum(shot.gap_before + shot.stage.count for shot in scene.shots)
    if total > MAX_FRAMES:
        found.append(f"the cut would be {total:,} frames long; {MAX_FRAMES:,} is the most")
    try:
        parse_timecode(scene.cut_start, parse_rate(scene.rate))
    except HeronError as error:
        found.append(str(error))
    return found


def _own_misfits(scene: Scene) -> list[str]:
    """What shots cannot have for themselves."""
    found = []
    items = None
    for shot in scene.shots:
        if not shot.own:
            continue
        items = items or scene.items()
        for one in shot.own:
            name = "the surround" if one.of is None else called(items[one.of[1]])
            if wrong := misfit(one):
                found.append(f"shot {shot.name} {wrong} of {name}")
        try:
            dressed(scene, shot)
        except ValidationError as error:
            what = from_validation(error, f"what shot {shot.name} has for itself").reason
            found.append(what[:1].lower() + what[1:].rstrip("."))
    return found


#: How one of a table is called in a sentence.
SINGULAR: dict[Tables, str] = {
    "figures": "figure", "movers": "mover", "pieces": "set piece", "perches": "perch",
    "cameras": "camera", "shots": "shot", "lenses": "lens", "cues": "cue", "passes": "pass",
    "lines": "line", "sounds": "sound",
}  # fmt: skip


PLURAL: dict[Tables, str] = {
    **{t: f"{one}s" for t, one in SINGULAR.items()},
    "lenses": "lenses",
    "perches": "perches",
    "passes": "passes",
}


def called(item: Any) -> str:
    """What something in a scene is called in a sentence: `Odile`, `camera A`, `shot 010`."""
    if isinstance(item, Camera):
        return f"camera {item.letter}"
    return f"shot {item.name}" if isinstance(item, Shot) else str(item.name)


def spot_called(scene: Scene, spot: Spot) -> str:
    """What a place is called in a sentence: `Odile's head`, `Odile` for all of her, `camera B`, `the ground`."""
    if isinstance(spot, AtPoint):
        return spot.of or f"the place {spot.x:.2f}, {spot.y:.2f}, {spot.z:.2f}"
    (link,) = links(spot)
    item = next((one for one in getattr(scene, link.table) if one.id == link.id), None)
    name = called(item) if item else f"a {SINGULAR[link.table]} that is not there"
    if isinstance(spot, OnFigure) and spot.joint != "root":
        return f"{name}'s {joint_word(spot.joint)}"
    return name


def _loose_ends(scene: Scene) -> list[str]:
    """What names something that is not there, and rings of things that wait for each other."""
    items = scene.items()
    there = {table: {item.id for item in getattr(scene, table)} for table in TABLES}
    found = []
    for item in items.values():
        if not has_links(type(item)):
            continue
        found += [
            f"{called(item)} {link.role.verb} a {SINGULAR[link.table]} that is not in the scene ({link.id})"
            for link in links(item)
            if link.id not in there[link.table]
        ]
    return found + rings(scene)


def rings(scene: Scene) -> list[str]:
    """Things that must be known to compute each other, each ring in a sentence."""
    found = []
    for ring in loops(scene.items()):
        told = ", who ".join(
            f"{role.verb} {called(after)}"
            for (_, role), (after, _) in zip(ring, [*ring[1:], ring[0]], strict=True)
        )
        found.append(f"{called(ring[0][0])} {told}: each would wait for the other")
    return found


def empty_scene(
    name: str,
    rate: str = "24/1",
    delivery: Delivery = DELIVERIES[2],
    lenses: tuple[KitLens, ...] = FIRST_KIT,
) -> Scene:
    """A floor, a horizon, a rate, a format and a lens kit."""
    return Scene(name=name, rate=rate, delivery=delivery, lenses=lenses)
