"""What a layer goes by: where something is over frames, and how it stands."""

from collections.abc import Callable
from functools import cached_property
from typing import Any

import numpy as np

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: (n,) degrees, unwrapped, 0 towards −Z, positive to the left: the way it faces on the floor; and (n, 4) how all of
#: it is turned, None where it turns by its heading alone.
Stance = tuple[Floats, Floats | None]


class Track:
    """Something over frames.

    How it is turned is asked for only by those that depend on it: two cameras that watch each other never ask.

    Attributes:
        place: (n, 3) metres on the stage.
        name: as it is called in a sentence.
    """

    def __init__(self, place: Floats, stance: Callable[[], Stance], name: str) -> None:
        self.place, self.name, self._stance = place, name, stance

    @cached_property
    def _stands(self) -> Stance:
        return self._stance()

    @property
    def heading(self) -> Floats:
        """(n,) degrees: the way it faces on the floor."""
        return self._stands[0]

    @property
    def turn(self) -> Floats | None:
        """(n, 4) how all of it is turned; None where it turns by its heading alone."""
        return self._stands[1]

    def part(self, frames: slice) -> "Track":
        """The same over some of the frames."""

        def stance() -> Stance:
            turn = self.turn
            return self.heading[frames], None if turn is None else turn[frames]

        return Track(self.place[frames], stance, self.name)
