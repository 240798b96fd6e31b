"""What the catalogue holds: what there is to choose from, and the table of channels."""

from typing import Literal

from pydantic import BaseModel

from heron.bake import CAMERA_COLUMNS
from heron.bake.movers import COLUMNS as MOVER_COLUMNS
from heron.commands.move_kinds import What
from heron.commands.posing import Part
from heron.commands.shot_sizes import ShotSize
from heron.commands.starts import Shot
from heron.curves import ChannelSpec
from heron.curves.drawing import BITS, KEY_NUMBERS
from heron.curves.feel import Feel
from heron.hand.working import Works
from heron.optics import Delivery, PublishedBack
from heron.stage.acts import Lane
from heron.stage.piece import DrawnKind
from heron.stage.reference import Tables


class Columns(BaseModel):
    """The columns of packed samples, in their order."""

    camera: list[Literal[CAMERA_COLUMNS]]  # type: ignore[valid-type]
    mover: list[Literal[MOVER_COLUMNS]]  # type: ignore[valid-type]
    figure: list[str]


class ChoiceOut(BaseModel):
    """A field of a layer with a few values: (value, what it is called)."""

    field: str
    label: str
    values: list[tuple[str | bool, str]]


class PlainOut(BaseModel):
    """A number of a layer that has no keys."""

    field: str
    label: str
    unit: str
    digits: int
    step: float


class IdleOut(BaseModel):
    """Channels and other numbers of a layer that do nothing while a field has a value."""

    field: str
    value: str | bool
    channels: list[str]


class LayerOut(BaseModel):
    """A kind of rig layer: what it is called, and the field that holds its subject, where it has one."""

    label: str
    subject: str | None
    several: bool
    channels: list[ChannelSpec]
    #: Fields that are a choice, numbers without keys, and what does nothing while a field has a value.
    choices: list[ChoiceOut]
    numbers: list[PlainOut]
    idle: list[IdleOut]


class MoveOut(BaseModel):
    """A kind of move of a camera; its ways are empty where it has no amount."""

    what: What
    says: str
    unit: str
    usual: float
    ways: tuple[str, str]
    of: bool
    turns: bool
    directions: bool


class StartOut(BaseModel):
    """What a camera's rig can be started as: called with the names in place of `{}`, its size, and of how many it can be."""

    shot: Shot
    label: str
    size: str
    figures: list[int]


class WorkingOut(BaseModel):
    """A way of working something by hand, and the channels that it changes."""

    works: Works
    label: str
    channels: list[str]


class HandOut(BaseModel):
    """How far a hand goes in a second, and over the whole picture; and how far each channel goes, as it is kept."""

    limits: dict[str, tuple[float, float]]

    turn_deg: float
    walk_m: float
    lift_m: float
    zoom_times: float
    focus_times: float
    over: float
    over_zoom_times: float
    over_focus_times: float
    count_in_s: int


class DrawnKeyOut(BaseModel):
    """The numbers of each key of a drawn curve, in their order, and what the bits of the one called so mean."""

    numbers: list[Literal[KEY_NUMBERS]]  # type: ignore[valid-type]
    bits: dict[Literal[tuple(BITS)], int]  # type: ignore[valid-type]


class NumberOut(BaseModel):
    """A number of an act."""

    name: str
    label: str
    unit: str
    default: float
    least: float
    most: float


class ActOut(BaseModel):
    """A kind of act: its lane and what can be set of it."""

    kind: str
    label: str
    lane: Lane
    #: Whether its content can be slipped, stretched and repeated.
    timed: bool
    seconds: float
    numbers: list[NumberOut]
    choices: dict[str, list[str]]
    #: Its fields that are yes or no, and their labels.
    flags: dict[str, str]
    #: Whether it goes by something that is pointed at, or goes to points on the floor.
    at: bool
    points: bool
    #: Its fields that name something, and the table that it is in.
    names: dict[str, Tables]


class Catalogue(BaseModel):
    """What there is to choose from; the table of channels and the columns of samples, by kind of thing."""

    film_backs: list[PublishedBack]
    deliveries: list[Delivery]
    rates: list[str]
    #: Each as people say it.
    rate_names: dict[str, str]
    landmarks: list[str]
    channels: dict[str, list[ChannelSpec]]
    #: By kind.
    layers: dict[str, LayerOut]
    #: An operator's hand in words: millimetres, degrees and hertz.
    hands: dict[str, tuple[float, float, float]]
    followers: dict[str, tuple[float, float, float]]
    #: What simplified keys may be off by unless asked otherwise, by measure.
    simplified_within: dict[str, float]
    #: From near to far.
    shot_sizes: list[ShotSize]
    starts: list[StartOut]
    moves: list[MoveOut]
    #: How moves begin and end.
    feels: dict[Feel, str]
    #: By table.
    working: dict[str, list[WorkingOut]]
    hand: HandOut
    piece_kinds: list[DrawnKind]
    #: What can be put on the stage that moves, and what it is called.
    mover_shapes: dict[str, str]
    #: Lane by lane.
    #: The parts of a body that a pose is dragged by, and the joint that each is held by.
    pose_parts: dict[Part, str]
    acts: list[ActOut]
    lanes: list[Lane]
    drawn_key: DrawnKeyOut
    columns: Columns
