"""A picture as something to stand on a stage: an upright panel of its shape, seen from both sides."""

import io

import numpy as np
from PIL import Image, ImageOps

from heron.formats.bringing.found import Found, Shape
from heron.formats.bringing.pictures import kept_picture

#: How high a picture is put up; ours, so that it is a backdrop behind people. Its card says another size.
PICTURE_HIGH_M = 3.0
#: The tag that says how a camera was held (EXIF 2.3).
_ORIENTATION = 0x0112


def read_picture(content: bytes, name: str) -> Found:
    """A PNG, JPEG or WebP as a panel whose foot stands on the floor, facing +Z.

    Raises:
        BadInput: it is not a picture, or too large.
    """
    kept, (wide, high) = kept_picture(content, name)
    kept = _upright(content, kept)
    with Image.open(io.BytesIO(kept)) as image:
        across, up = image.size
    half = PICTURE_HIGH_M * across / up / 2
    corners = np.array([(-half, 0, 0), (half, 0, 0), (half, PICTURE_HIGH_M, 0), (-half, PICTURE_HIGH_M, 0)])
    found = Found(["Picture"], [-1], np.eye(4)[None], metres=1.0, up="y", pictures=[kept], flat=True)
    found.shapes.append(
        Shape(
            0, corners, np.tile([0.0, 0.0, 1.0], (4, 1)), np.ones((4, 3)), np.array([(0, 1, 2), (0, 2, 3)]),
            np.array([(0.0, 1.0), (1.0, 1.0), (1.0, 0.0), (0.0, 0.0)]), 0, both=True,
        )
    )  # fmt: skip
    if max(wide, high) > 2048:
        found.tell(f"It is kept at 2,048 pixels of {max(wide, high):,}.")
    return found


def _upright(content: bytes, kept: bytes) -> bytes:
    """The kept picture as its camera held it: that is said in the one that came (EXIF, orientation)."""
    with Image.open(io.BytesIO(content)) as came:
        held = came.getexif().get(_ORIENTATION, 1)
    if held == 1:
        return kept
    with Image.open(io.BytesIO(kept)) as image:
        image.getexif()[_ORIENTATION] = held
        out = io.BytesIO()
        ImageOps.exif_transpose(image).save(
            out, image.format, **({"quality": 90} if image.format == "JPEG" else {})
        )
    return out.getvalue()
