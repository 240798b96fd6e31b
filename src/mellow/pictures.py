"""Pictures that were sent or kept: opened within limits, and refused in one sentence when they are none."""

import io
import struct
import zlib
from pathlib import Path

from PIL import Image, ImageOps

from heron.errors import BadInput

_SIGNATURE, _END = b"\x89PNG\r\n\x1a\n", b"IEND\xaeB`\x82"
_JPEG_BEGIN, _JPEG_END = b"\xff\xd8", b"\xff\xd9"
#: JPEG of a quality at which nobody minds; ours.
_QUALITY = 88
#: More than any render or still asks for, and what fits in 100 MB while it is worked on.
MOST_PIXELS = 18_000_000
#: A sent picture's pixels take at most so many bytes packed: what Pillow is given, it unpacks.
_MOST_BYTES = 64 * 1024 * 1024


def png_size(content: bytes) -> tuple[int, int]:
    """Width and height in the header of a whole PNG, before anything is unpacked.

    Raises:
        BadInput: it is not a PNG, is cut off, or is larger than any picture here.
    """
    whole = content.startswith(_SIGNATURE) and content[12:16] == b"IHDR" and content.endswith(_END)
    if not whole or len(content) > _MOST_BYTES:
        raise BadInput("That is not a whole PNG picture.", "Send it as PNG.")
    wide, high = struct.unpack(">II", content[16:24])
    if not (wide > 0 and high > 0 and wide * high <= MOST_PIXELS):
        raise BadInput(
            f"A picture of {wide} × {high} is too large.",
            f"Send one of at most {MOST_PIXELS // 1_000_000} megapixels.",
        )
    return wide, high


def read_png(content: bytes) -> Image.Image:
    """A PNG's pixels as RGB.

    Raises:
        BadInput: as `png_size`, or its content cannot be unpacked.
    """
    png_size(content)
    try:
        with Image.open(io.BytesIO(content), formats=["PNG"]) as image:
            return image.convert("RGB")
    # Pillow answers broken chunks with whatever went wrong in them.
    except (
        OSError, SyntaxError, ValueError, IndexError, KeyError, TypeError, OverflowError, EOFError, AttributeError,
        struct.error, zlib.error, Image.DecompressionBombError,
    ):  # fmt: skip
        raise BadInput("That PNG cannot be read.", "Write it again and send it as PNG.") from None


def read_board(content: bytes) -> Image.Image:
    """The pixels of a PNG, JPEG or WebP as RGB, upright as its camera held it.

    Raises:
        BadInput: it is none of them, or is too large.
    """
    try:
        with Image.open(io.BytesIO(content), formats=["PNG", "JPEG", "WEBP"]) as image:
            wide, high = image.size
            if wide * high > MOST_PIXELS:
                raise BadInput(
                    f"A picture of {wide} × {high} is too large.",
                    f"Give one of at most {MOST_PIXELS // 1_000_000} megapixels.",
                )
            return ImageOps.exif_transpose(image).convert("RGB")
    except BadInput:
        raise
    # As above: broken files are answered with whatever went wrong in them.
    except Exception:
        raise BadInput("That is not a picture.", "Give a PNG, a JPEG or a WebP.") from None


def as_jpeg(content: bytes, longest: int) -> bytes:
    """A picture that was sent, as a JPEG of at most so many pixels along its longer side.

    Raises:
        BadInput: as `read_board`.
    """
    image, out = read_board(content), io.BytesIO()
    image.thumbnail((longest, longest))
    image.save(out, "JPEG", quality=_QUALITY)
    return out.getvalue()


def looks_whole(path: Path) -> bool:
    """Whether a kept PNG or JPEG begins and ends as one: not empty, not cut off, not zeroed."""
    begin, end = (_SIGNATURE, _END) if path.suffix == ".png" else (_JPEG_BEGIN, _JPEG_END)
    try:
        with path.open("rb") as file:
            if file.read(len(begin)) != begin:
                return False
            file.seek(-len(end), io.SEEK_END)
            return file.read() == end
    except OSError:
        return False


def is_sound(path: Path) -> bool:
    """Whether a kept PNG's checksums are right."""
    try:
        with Image.open(path, formats=["PNG"]) as image:
            image.verify()
    except (OSError, SyntaxError, ValueError):
        return False
    return True
