"""What a kind of thing must know to be baked, and what it may ask of the scene it is baked in.

Each kind is a module with these functions. Kinds know this page alone; the graph knows kinds.
"""

from typing import Any, Protocol

import numpy as np

from heron.bake.cache import ResultCache
from heron.bake.floor import Floor
from heron.bake.samples import Floats
from heron.model import Model
from heron.rigs.track import Track
from heron.scene.document import Scene
from heron.scene.links import Aspect, Link
from heron.stage.body import Performance
from heron.stage.figure import Figure
from heron.stage.journey import Journey
from heron.stage.mover import Mover
from heron.stage.piece import Piece
from heron.stage.reference import Spot
from heron.timebase import Frames


class Baking(Protocol):
    """A scene that is baked, as a kind sees it; `Bake` is the only one."""

    scene: Scene
    cache: ResultCache

    def key(self, item: Model, aspect: Aspect = "whole") -> str: ...
    def item(self, link: Link) -> Model: ...
    def floor(self) -> Floor: ...
    def journey(self, id_: str) -> Journey: ...
    def parts(self, mover: Mover) -> tuple[Piece, ...]: ...
    def mover(self, id_: str) -> Mover: ...
    def camera(self, id_: str) -> Model: ...
    def rows(self, item: Model, t: np.ndarray[Any, Any]) -> Floats: ...
    def piece_at(self, piece: Piece, frame: int) -> Piece: ...
    def root(self, figure: Figure) -> tuple[Floats, Floats]: ...
    def made(self, item: Model) -> Any: ...
    def performance(self, figure: Figure) -> Performance: ...
    def place(self, spot: Spot, t: np.ndarray[Any, Any], *, bare: bool = False) -> Floats: ...
    def track(self, spot: Spot) -> Track: ...
    def jumps(self, item: Model) -> list[int]: ...


class Kind(Protocol):
    """A kind that others can stand by."""

    def content(self, item: Any, aspect: str, /) -> str:
        """The fingerprint of a thing's own content."""

    def reads(self, bake: Baking, item: Any, aspect: str, /) -> tuple[Any, ...]:
        """What of the scene it depends on beside what it links to."""

    def place(self, bake: Baking, item: Any, spot: Any, t: np.ndarray[Any, Any], /) -> Floats:
        """(n, 3) metres on the stage: a spot on it at moments, (n,)."""

    def stance(self, bake: Baking, item: Any, spot: Any, /) -> tuple[Floats, Floats | None]:
        """(n,) heading in degrees, and (n, 4) how it is turned where that is more than a heading."""

    def jumps(self, bake: Baking, item: Any, /) -> list[int]:
        """Frames on which it is suddenly elsewhere."""


class Sampled(Kind, Protocol):
    """A kind that has rows of numbers."""

    @property
    def COLUMNS(self) -> tuple[str, ...]:
        """What each number is."""

    def rows(self, bake: Baking, item: Any, t: np.ndarray[Any, Any], /) -> Floats:
        """(n, columns) at moments, (n,)."""

    def facts(self, bake: Baking, item: Any, frames: Frames, values: Floats, /) -> dict[str, Any]:
        """What is told of it once for all frames."""


class Started(Sampled, Protocol):
    """A kind of which a frame cannot be computed alone."""

    def make(self, bake: Baking, item: Any, /) -> Any:
        """All of it, from its start."""
