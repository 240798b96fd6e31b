"""What of a stage can be stood on."""

from dataclasses import dataclass

import numpy as np

from heron.bake.samples import Floats
from heron.stage.floors import bears
from heron.stage.piece import Piece, footprint


@dataclass(frozen=True)
class Floor:
    """What can be stood on, and the corners of the square that holds each, (k, 4): x, z from and to, metres."""

    pieces: tuple[Piece, ...]
    corners: Floats

    def within(self, corners: Floats) -> tuple[Piece, ...]:
        """What reaches into a square of the floor, (4,)."""
        there = (self.corners[:, :2] <= corners[2:]) & (self.corners[:, 2:] >= corners[:2])
        return tuple(self.pieces[i] for i in np.flatnonzero(there.all(axis=1)))


def floor_of(all_pieces: tuple[Piece, ...]) -> Floor:
    """Every piece that can be stood on: what moves bears nobody."""
    bearing = tuple(p for p in all_pieces if bears(p) and p.part_of is None)
    corners = np.array([footprint(p) for p in bearing]).reshape(-1, 4)
    return Floor(bearing, corners)
