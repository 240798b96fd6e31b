"""The pictures of shots that have no camera yet, and how they are added to drawn ones."""

from collections.abc import Sequence

import numpy as np
from PIL import Image, ImageOps

from heron.dailies.asked import Render
from heron.scene import Shot
from heron.stage.colour import light_of
from mellow.dailies import written
from mellow.productions import boards

#: The light of each of the 256 steps of a picture (sRGB, IEC 61966-2-1).
_LIGHT = np.array([light_of(f"#{v:02x}{v:02x}{v:02x}")[0] for v in range(256)])
#: Where one step of a picture ends and the next begins, in light.
_BETWEEN = (_LIGHT[:-1] + _LIGHT[1:]) / 2


def picture_of(shot: Shot, wide: int, high: int) -> Image.Image:
    """A shot's board on black, or a slate with its name, its note and its length."""
    board = boards.opened(shot.board)
    if board is not None:
        return ImageOps.pad(board.convert("RGB"), (wide, high), color=(0, 0, 0))
    told = [shot.name, shot.note, f"{shot.stage.count} frames, no camera yet"]
    return written.leader(Render(slate=False), wide, high, told)


def added(
    picture: Image.Image,
    others: Sequence[tuple[Image.Image, float]],
    light: tuple[float, float, float] = (0, 0, 0),
) -> Image.Image:
    """A picture with others added by weight, and some light (red, green, blue): all in linear light."""
    total = _LIGHT[np.asarray(picture)] + np.array(light)
    for other, weight in others:
        total += weight * _LIGHT[np.asarray(other)]
    return Image.fromarray(np.searchsorted(_BETWEEN, total).astype(np.uint8))
