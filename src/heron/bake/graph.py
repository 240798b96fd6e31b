"""A scene to be baked: what depends on what, in which order, under which key.

A thing's key is the fingerprint of its own content, of what it reads of the scene, and of the keys of
all it is linked to: moving one key of a camera changes that camera's key and nothing else's.
"""

from typing import Any

import numpy as np

from heron.bake import cameras, figures, movers, perches, pieces
from heron.bake.cache import CACHE, OverlayCache, ResultCache
from heron.bake.floor import Floor, floor_of
from heron.bake.kind import Kind, Sampled, Started
from heron.bake.samples import Floats, Samples
from heron.errors import HeronError
from heron.model import Model, fingerprint
from heron.rigs.track import Track
from heron.scene.camera import Camera
from heron.scene.document import Scene, called, spot_called
from heron.scene.links import Aspect, Link, counts, links, returned
from heron.scene.lookup import find
from heron.stage.body import Performance
from heron.stage.figure import Figure
from heron.stage.journey import Journey, journeys
from heron.stage.mover import Mover
from heron.stage.perch import Perch
from heron.stage.piece import Piece
from heron.stage.reference import AtPoint, OnCamera, OnFigure, OnMover, OnPerch, OnPiece, Role, Spot
from heron.timebase import Frames

#: Raise it when a computation changes, so that what browsers keep is dropped.
BAKE_VERSION = 13
_STARTED: dict[type[Model], Started] = {Camera: cameras, Figure: figures}
_SAMPLED: dict[type[Model], Sampled] = {**_STARTED, Mover: movers, Perch: perches}
_STAYS = Journey()
_KINDS: dict[type[Model], Kind] = {**_SAMPLED, Piece: pieces}


class Bake:
    """One scene (or draft of one) over a cache of results."""

    def __init__(self, scene: Scene, cache: ResultCache = CACHE) -> None:
        self.scene = scene
        self.cache = cache
        self._keys: dict[tuple[str, Aspect], tuple[Model, str]] = {}
        self._floor: Floor | None = None
        self._items: dict[str, Model] = {}
        self._back: dict[str, tuple[Link, ...]] | None = None
        self._journeys: dict[str, Journey] | None = None
        self._parts: dict[str, tuple[Piece, ...]] | None = None

    def key(self, item: Model, aspect: Aspect = "whole") -> str:
        """The fingerprint of all that a thing's samples depend on."""
        slot = (str(getattr(item, "id", "")), aspect)
        known = self._keys.get(slot)
        if known and known[0] is item:
            return known[1]
        kind = _KINDS.get(type(item))
        named = (*links(item), *self._returned().get(slot[0], ()))
        below = [self.key(self.item(link), link.asks(aspect)) for link in named if counts(item, link, aspect)]
        own = kind.content(item, aspect) if kind else item.digest
        reads = kind.reads(self, item, aspect) if kind else ()
        made = fingerprint(BAKE_VERSION, type(item).__name__, aspect, own, list(reads), below)
        self._keys[slot] = (item, made)
        return made

    def item(self, link: Link) -> Model:
        """What a link names.

        Raises:
            NotFound: it is not in the scene.
        """
        if not self._items:
            self._items = self.scene.items()
        found = self._items.get(link.id)
        return find(self.scene, link.table, link.id) if found is None else found

    def _returned(self) -> dict[str, tuple[Link, ...]]:
        """By its id, who does something with a thing or a figure that it depends on."""
        if self._back is None:
            self._back = returned(self.scene.figures)
        return self._back

    def journey(self, id_: str) -> Journey:
        """Through whose hands a thing goes."""
        if self._journeys is None:
            self._journeys = journeys(self.scene.figures)
        return self._journeys.get(id_, _STAYS)

    def parts(self, mover: Mover) -> tuple[Piece, ...]:
        """The set pieces that a mover is made of, or that ride on it."""
        if self._parts is None:
            found: dict[str, list[Piece]] = {}
            for piece in self.scene.pieces:
                if piece.part_of is not None:
                    found.setdefault(piece.part_of, []).append(piece)
            self._parts = {id_: tuple(some) for id_, some in found.items()}
        return self._parts.get(mover.id, ())

    def mover(self, id_: str) -> Mover:
        """A mover by its id."""
        found = self.item(Link("movers", id_, Role("is"), None))
        assert isinstance(found, Mover)
        return found

    def camera(self, id_: str) -> Model:
        """A camera by its id."""
        return self.item(Link("cameras", id_, Role("is"), None))

    def piece_at(self, piece: Piece, frame: int) -> Piece:
        """A set piece as it stands on the stage at a frame: upright, where what it is part of has it."""
        return pieces.on_stage(self, piece, frame)

    def root(self, figure: Figure) -> tuple[Floats, Floats]:
        """Where a figure stands over the scene's frames, (n, 3) metres, and (n,) degrees: the way it faces, unwrapped."""
        return figures.root(self, figure)

    def floor(self) -> Floor:
        """All that can be stood on."""
        if self._floor is None:
            self._floor = floor_of(self.scene.pieces)
        return self._floor

    def made(self, item: Model) -> Any:
        """What a thing that must be computed from a start came to, over the frames that takes."""
        kind = _STARTED[type(item)]
        return self.cache.get(type(item).__name__, self.key(item), lambda: kind.make(self, item))

    def rows(self, item: Model, t: np.ndarray[Any, Any]) -> Floats:
        """(n, columns) float64 at moments of the scene, (n,), whole frames or between two.

        The same numbers to the bit in whatever order and company a frame is asked for. Between two
        frames nothing is blended across a jump of the thing itself.
        """
        return _SAMPLED[type(item)].rows(self, item, t)

    def samples(self, item: Model, frames: Frames | None = None) -> Samples:
        """A thing over the scene's frames, which are kept; or over some of them.

        Raises:
            HeronError: a number came to nothing finite, which no scene should allow.
        """
        whole = frames is None or frames == self.scene.frames
        there = self.scene.frames if frames is None else frames

        def make() -> Samples:
            kind = _SAMPLED[type(item)]
            values = self.rows(item, there.array())
            if not np.isfinite(values).all():
                wrong = kind.COLUMNS[int(np.flatnonzero(~np.isfinite(values).all(axis=0))[0])]
                raise HeronError(
                    f"The {wrong.replace('_', ' ')} of {called(item)} cannot be computed.",
                    "Undo the last change to it.",
                )
            # Between frames it goes straight, but for these.
            told = {**kind.facts(self, item, there, values), "jumps": self.jumps(item)}
            return Samples(kind.COLUMNS, there, values, told)

        return self.cache.get("samples", self.key(item), make) if whole else make()

    def known(self, item: Model) -> Samples | None:
        """A thing's samples over the scene's frames, if they are kept."""
        found: Samples | None = self.cache.peek("samples", self.key(item))
        return found

    def performance(self, figure: Figure) -> Performance:
        """A figure over the scene's frames."""
        done: Performance = self.made(figure)
        return done

    def face(self, figure: Figure) -> Floats:
        """(n, 10) the numbers of a figure's face over the scene's frames."""
        return figures.face(self, figure)

    def place(self, spot: Spot, t: np.ndarray[Any, Any], *, bare: bool = False) -> Floats:
        """(n, 3) metres on the stage: where something is at moments of the scene, (n,).

        Args:
            bare: a figure is taken without its gazes.

        Raises:
            NotFound: it is not in the scene.
        """
        if isinstance(spot, AtPoint):
            return np.tile([spot.x, spot.y, spot.z], (len(t), 1))
        item = self._named(spot)
        if bare and isinstance(item, Figure | Mover | Piece):
            return _KINDS[type(item)].place(self, item, spot, t, bare=True)  # type: ignore[call-arg]
        return _KINDS[type(item)].place(self, item, spot, t)

    def track(self, spot: Spot) -> Track:
        """Where something is over the scene's frames, and how it is turned.

        Raises:
            NotFound: it is not in the scene.
        """
        t, name = self.scene.frames.array(), spot_called(self.scene, spot)
        place = self.place(spot, t)
        if isinstance(spot, AtPoint):
            return Track(place, lambda: (np.zeros(len(t)), None), name)
        item = self._named(spot)
        return Track(place, lambda: _KINDS[type(item)].stance(self, item, spot), name)

    def _named(self, spot: OnFigure | OnMover | OnPiece | OnCamera | OnPerch) -> Model:
        (link,) = links(spot)
        return self.item(link)

    def jumps(self, item: Model) -> list[int]:
        """Frames on which a thing is suddenly elsewhere, in order."""
        return sorted(set(_KINDS[type(item)].jumps(self, item)))


#: What was last tried: the checks of a command and the picture of what it comes to compute it once.
_TRIED = OverlayCache(CACHE, keep_bytes=100_000_000)
#: Beside a document's fields, where no field can be called so.
_DRAFT = "draft of it"


def draft(scene: Scene) -> Bake:
    """A scene that is only tried: what is known is read, and what it comes to pushes out nothing that is kept."""
    found: Bake | None = scene.__dict__.get(_DRAFT)
    if found is None:
        found = scene.__dict__.setdefault(_DRAFT, Bake(scene, _TRIED))
    return found
