"""Fonts for what is written on pictures and pages.

Barlow, as on the desk; where it lacks a letter, Noto Sans, which has Greek, Cyrillic and Devanagari too. Both under the
SIL Open Font License.
"""

from functools import cache
from pathlib import Path

from reportlab.pdfbase.ttfonts import TTFontFile

_HERE = Path(__file__).parent
BARLOW, BARLOW_BOLD, NOTO = (
    _HERE / name for name in ("barlow-500.ttf", "barlow-700.ttf", "noto-sans-500.ttf")
)


def font_for(text: str) -> Path:
    """The font that has all letters of a text; if none has, the one that lacks the fewest."""
    return min((BARLOW, NOTO), key=lambda font: sum(ord(sign) not in _signs(font) for sign in text))


@cache
def _signs(font: Path) -> frozenset[int]:
    return frozenset(TTFontFile(str(font)).charToGlyph)
