"""Frames of the cut that are added up from two pictures, or faded."""

from dataclasses import dataclass

from heron.cut import Clocks
from heron.dailies.depends import Depends
from heron.model import fingerprint
from heron.scene import Camera, find


@dataclass(frozen=True)
class Part:
    """One picture of a mix: a camera's at a stage frame, and how much it counts, in linear light.

    `shot` is the shot it belongs to, where that has something for itself.
    """

    camera: str
    stage: int
    weight: float
    shot: str | None = None


@dataclass(frozen=True)
class Stands:
    """A shot without a camera in a mix, and how much its board or slate counts."""

    shot: str
    weight: float


@dataclass(frozen=True)
class Mixed:
    """What a picture is added up from, and the light (red, green, blue) that the colours of fades add.

    `slates` are added when the picture is handed over, the rest when it is drawn: its fingerprint does not know them.
    """

    parts: tuple[Part, ...]
    light: tuple[float, float, float]
    slates: tuple[Stands, ...] = ()


def mixes(clocks: Clocks) -> dict[int, Mixed]:
    """By the frame of the cut, what its picture is added up from, where it is more than its shot's own."""
    mix, (shot, stage) = clocks.mix_table, clocks.cut_table
    out = {}
    for cut in mix.frames.tolist():
        both = (
            (int(shot[cut]), int(stage[cut]), float(mix.own[cut])),
            (int(mix.other[cut]), int(mix.stage[cut]), float(mix.others[cut])),
        )
        shown = [(clocks.placed[i].shot, frame, weight) for i, frame, weight in both if i >= 0 and weight > 0]
        parts = tuple(
            Part(on.camera, frame, weight, on.id if on.own else None)
            for on, frame, weight in shown
            if on.camera is not None
        )
        slates = tuple(Stands(on.id, weight) for on, _, weight in shown if on.camera is None)
        red, green, blue = (float(v) for v in mix.light[cut])
        out[cut] = Mixed(parts, (red, green, blue), slates)
    return out


def print_of(mixed: Mixed, depends: Depends) -> str:
    """The fingerprint of a picture that is added up: of its parts', their weights, and the light."""
    prints = []
    for part in mixed.parts:
        shot = find(depends.scene, "shots", part.shot) if part.shot else None
        as_shot = depends.of_shot(shot)
        camera: Camera = find(as_shot.scene, "cameras", part.camera)
        prints.append((as_shot.on(camera, part.stage)[1], round(part.weight, 9)))
    return fingerprint("mixed", prints, [round(v, 9) for v in mixed.light])
