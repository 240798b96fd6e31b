"""What is written on a picture: the slate under it, lines over it, and the leader before a shot."""

from functools import lru_cache
from pathlib import Path

from PIL import Image, ImageDraw, ImageFilter, ImageFont, ImageOps

from heron.dailies.asked import Render
from heron.fonts import font_for
from heron.framing.lines import frame_lines
from heron.optics import parse_deliveries

#: How high the slate's letters are, as a share of the picture's height; and the least, in pixels.
LETTERS, LEAST = 0.024, 11
#: A squint blurs by so much of the height: as in the viewfinder.
_SQUINT = 28
#: Smaller letters than this nobody reads.
_SMALLEST = 7
_DARK, _LIGHT, _FAINT = (17, 17, 17), (238, 238, 238), (150, 150, 150)
#: Characters that the shipped fonts do not have.
_IN_WORDS = str.maketrans({"∞": "infinity"})


def band(high: int) -> int:
    """How high the slate is, pixels: even, so that a movie's height stays so."""
    return 2 * round(_letters(high) * 0.9)


def size_written(render: Render, wide: int, high: int) -> tuple[int, int]:
    """A picture's size with what is written under it."""
    return wide, high + (band(high) if render.slate else 0)


def write_on(picture: Image.Image, render: Render, slate: str, aspect: float) -> Image.Image:
    """A picture with its lines and slate; the slate stands under it, so that it stays whole."""
    picture = judged(picture, render)
    if not render.slate and not render.lines:
        return picture.convert("RGB")
    wide, high = picture.size
    out = Image.new("RGB", size_written(render, wide, high), _DARK)
    out.paste(picture, (0, 0))
    pen = ImageDraw.Draw(out)
    protect = parse_deliveries(render.protect) if "protect" in render.lines else ()
    for line in frame_lines(aspect, render.safe, protect):
        if line.group not in render.lines:
            continue
        for x0, y0, x1, y1 in line.segments:
            ends = [_at(x0, y0, wide, high), _at(x1, y1, wide, high)]
            pen.line(ends, fill=(0, 0, 0), width=3)
            pen.line(ends, fill=(235, 235, 235), width=1)
    if render.slate:
        text, font = _fitting(slate, _letters(high), wide - _letters(high))
        pen.text((_letters(high) // 2, high + band(high) // 2), text, _LIGHT, font, anchor="lm")
    return out


def judged(picture: Image.Image, render: Render) -> Image.Image:
    """A picture changed so that it can be judged: as lines, in a few greys, blurred; and in a mirror."""
    if render.mirrored:
        picture = ImageOps.mirror(picture)
    if render.judge in ("values3", "values5"):
        steps = int(render.judge[-1])
        greys = [round(min(v * steps // 256, steps - 1) * 255 / (steps - 1)) for v in range(256)]
        return picture.convert("L").point(greys).convert("RGB")
    if render.judge == "lines":
        edges = picture.convert("L").filter(
            ImageFilter.Kernel((3, 3), (-1, -1, -1, -1, 8, -1, -1, -1, -1), scale=1)
        )
        return edges.point([max(255 - 5 * v, 0) for v in range(256)]).convert("RGB")
    if render.judge == "squint":
        return picture.filter(ImageFilter.GaussianBlur(picture.height / _SQUINT))
    return picture


def leader(render: Render, wide: int, high: int, told: list[str]) -> Image.Image:
    """A frame that says what follows: the shot large, and lines under it."""
    out = Image.new("RGB", size_written(render, wide, high), _DARK)
    pen = ImageDraw.Draw(out)
    big, small = max(high // 6, LEAST), max(high // 22, LEAST)
    text, font = _fitting(told[0], big, wide * 0.94)
    pen.text((wide // 2, high * 0.36), text, _LIGHT, font, anchor="mm")
    for i, line in enumerate(told[1:]):
        text, font = _fitting(line, small, wide * 0.94)
        pen.text((wide // 2, high * 0.56 + i * small * 1.6), text, _FAINT, font, anchor="mm")
    return out


def _letters(high: int) -> int:
    return max(round(high * LETTERS), LEAST)


def _fitting(text: str, letters: int, room: float) -> tuple[str, ImageFont.FreeTypeFont]:
    """A text as it fits a width: in smaller letters, and if those would be too small, less its middle.

    Both ends stay: the scene and the shot stand at one, the clocks at the other.
    """
    text = text.translate(_IN_WORDS)
    path = font_for(text)
    while letters > _SMALLEST and _font(path, letters).getlength(text) > room:
        letters -= 1
    font, whole, kept = _font(path, letters), text, len(text)
    while font.getlength(text) > room and kept > 2:
        kept -= 1
        text = f"{whole[: kept // 2]}…{whole[len(whole) - (kept - kept // 2) :]}"
    return text, font


def _at(x: float, y: float, wide: int, high: int) -> tuple[float, float]:
    return (x + 1) / 2 * (wide - 1), (1 - y) / 2 * (high - 1)


@lru_cache(maxsize=64)
def _font(path: Path, size: int) -> ImageFont.FreeTypeFont:
    return ImageFont.truetype(str(path), size)
