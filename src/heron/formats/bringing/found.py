"""What a file from elsewhere holds, in its own frame and unit."""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Literal

import numpy as np

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ints = np.ndarray[Any, np.dtype[np.int64]]
Unit = Literal["m", "cm", "mm", "inch", "foot"]
Up = Literal["y", "z"]
#: Metres of each unit.
METRES: dict[Unit, float] = {"m": 1.0, "cm": 0.01, "mm": 0.001, "inch": 0.0254, "foot": 0.3048}
#: A file that another one names, by that name; None where it was not brought along.
Along = Callable[[str], bytes | None]


@dataclass(frozen=True, eq=False)
class Shape:
    """A surface of one colour or picture.

    Attributes:
        node: which node it hangs on.
        points: (v, 3) where the node has them at rest, in the file's world.
        normals: (v, 3) or None where the file has none.
        colours: (v, 3) linear light.
        triangles: (t, 3).
        uv: (v, 2) from the picture's upper left corner, or None.
        picture: which of the pictures, or None.
        both: whether it is seen from both sides.
        joints, weights: (v, k) of a skin, its joints as nodes; None of a rigid one.
        bound, bound_normals: (v, 3) of a skin where they were when it was fixed to them, in the frame of `Found.bind`.
        morphs: how its points change (morph targets), by name: (v, 3) in the frame of `bound`, else of `points`.
    """

    node: int
    points: Floats
    normals: Floats | None
    colours: Floats
    triangles: Ints
    uv: Floats | None = None
    picture: int | None = None
    both: bool = False
    joints: Ints | None = None
    weights: Floats | None = None
    bound: Floats | None = None
    bound_normals: Floats | None = None
    morphs: dict[str, Floats] = field(default_factory=dict)


@dataclass(frozen=True, eq=False)
class Clip:
    """A named piece of motion: (n, nodes, 4, 4) where each node is at each of its times, in seconds."""

    name: str
    seconds: Floats
    places: Callable[[Floats], Floats]


@dataclass(frozen=True, eq=False)
class CameraFrames:
    """A camera over the frames of a file, in its own frame and unit.

    Attributes:
        first: the frame of the first of them, where the file counts frames.
        places: (n, 4, 4) where it is; it looks along −Z, its up is +Y.
        focal, high, wide: (n,) millimetres: its focal length, and the picture it takes of its film back.
        aperture, focus: (n,) f-number, and the file's unit; None where the file says neither. Focus may be infinite.
        back: the film back that it is a part of, width and height in millimetres, where the file says so.
    """

    first: int | None
    places: Floats
    focal: Floats
    wide: Floats
    high: Floats
    aperture: Floats | None = None
    focus: Floats | None = None
    back: tuple[float, float] | None = None
    squeeze: float = 1.0
    shutter_deg: float | None = None
    iso: float | None = None


@dataclass(frozen=True, eq=False)
class Eye:
    """A camera, the node it hangs on, and what it is at so many frames a second."""

    name: str
    node: int
    frames: Callable[[float], CameraFrames]


@dataclass(eq=False)
class Found:
    """A file as it was read.

    Attributes:
        names, parents: of its nodes; −1 above a root.
        rest: (n, 4, 4) where each node stands at rest, in the file's world.
        bind: joints of skins, by node, where they were as the skin was fixed to them.
        unit, up: as the file says them, or None.
        said: what is left out, a sentence each.
    """

    names: list[str] = field(default_factory=list)
    parents: list[int] = field(default_factory=list)
    rest: Floats = field(default_factory=lambda: np.zeros((0, 4, 4)))
    bind: dict[int, Floats] = field(default_factory=dict)
    shapes: list[Shape] = field(default_factory=list)
    clips: list[Clip] = field(default_factory=list)
    eyes: list[Eye] = field(default_factory=list)
    pictures: list[bytes] = field(default_factory=list)
    metres: float | None = None
    up: Up | None = None
    said: list[str] = field(default_factory=list)
    #: It is a picture.
    flat: bool = False

    @property
    def triangles(self) -> int:
        """How many it has."""
        return sum(len(shape.triangles) for shape in self.shapes)

    def path(self, node: int) -> tuple[str, ...]:
        """The names from the top of the tree down to a node."""
        out: list[str] = []
        while node >= 0:
            out.append(self.names[node])
            node = self.parents[node]
        return tuple(reversed(out))

    def parents_among(self, nodes: list[int]) -> list[int]:
        """For some nodes, the place among them of the nearest one above each; −1 where there is none."""
        place = {node: k for k, node in enumerate(nodes)}
        out = []
        for node in nodes:
            above = self.parents[node]
            while above >= 0 and above not in place:
                above = self.parents[above]
            out.append(place.get(above, -1))
        return out

    def box(self, up: Up) -> Floats:
        """(2, 3) least and most of all its points in its own unit, turned so that Y is up."""
        points = np.concatenate([turned_up(shape.points, up) for shape in self.shapes])
        return np.stack([points.min(axis=0), points.max(axis=0)])

    def tell(self, sentence: str) -> None:
        """Say that something is left out, once."""
        if sentence not in self.said:
            self.said.append(sentence)


def turned_up(vectors: Floats, up: Up) -> Floats:
    """Vectors of a file whose up axis is `up`, in a frame whose Y is up."""
    return vectors if up == "y" else np.stack([vectors[..., 0], vectors[..., 2], -vectors[..., 1]], axis=-1)
