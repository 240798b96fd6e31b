"""Pictures from elsewhere: opened under a limit, and kept no larger than they are looked at."""

import io

from PIL import Image, UnidentifiedImageError

from heron.errors import BadInput

#: A side of a picture on the stage, and the longest that is opened, pixels.
KEPT_PX, MOST_PX = 2048, 16_384
#: Whatever its sides, no more than so many pixels are opened.
_MOST_PIXELS = 120_000_000
KINDS = ("PNG", "JPEG", "WEBP")


def kept_picture(content: bytes, name: str) -> tuple[bytes, tuple[int, int]]:
    """A picture as it is kept: PNG where it is see-through, else JPEG, at most 2,048 pixels a side; and its size before.

    Raises:
        BadInput: it is none, is damaged, or is larger than any screen.
    """
    try:
        with Image.open(io.BytesIO(content), formats=KINDS) as opened:
            wide, high = opened.size
            if max(wide, high) > MOST_PX or wide * high > _MOST_PIXELS:
                raise BadInput(
                    f"{name} is {wide:,} × {high:,} pixels.", f"Save it at {MOST_PX:,} pixels a side or less."
                )
            opened.draft("RGB", (KEPT_PX, KEPT_PX))
            clear = opened.mode in ("RGBA", "LA", "PA") or "transparency" in opened.info
            picture = opened.convert("RGBA" if clear else "RGB")
    except Image.DecompressionBombError:
        raise BadInput(f"{name} is larger than {MOST_PX:,} pixels a side.", "Save it smaller.") from None
    except UnidentifiedImageError:
        raise BadInput(f"{name} is not a PNG, JPEG or WebP picture.", "Save it as one of these.") from None
    except (OSError, ValueError, SyntaxError, EOFError, MemoryError):
        raise BadInput(f"{name} is a damaged picture.", "Copy it again, or save it again.") from None
    if max(picture.size) > KEPT_PX:
        picture.thumbnail((KEPT_PX, KEPT_PX), Image.Resampling.LANCZOS)
    out = io.BytesIO()
    if clear and picture.getchannel("A").getextrema()[0] == 255:
        picture, clear = picture.convert("RGB"), False
    if clear:
        picture.save(out, "PNG", optimize=False)
    else:
        picture.save(out, "JPEG", quality=90)
    return out.getvalue(), (wide, high)
