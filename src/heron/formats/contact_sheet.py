"""The shot list with pictures, as a PDF: six shots a page, what each is beside its picture."""

import io
from functools import cache
from pathlib import Path
from xml.sax.saxutils import escape

from reportlab.lib.enums import TA_RIGHT
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase.pdfmetrics import registerFont, registerFontFamily
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Paragraph

from heron.cut import Clocks
from heron.dailies.shot_list import ShotLine, shot_list
from heron.errors import BadInput, Refused
from heron.fonts import BARLOW, BARLOW_BOLD, font_for
from heron.scene import Scene

_WIDE, _HIGH = A4
_EDGE, _ROWS, _PICTURE = 36.0, 6, 208.0
_TEXT = ParagraphStyle("text", fontSize=8.5, leading=11)
_NAME = ParagraphStyle("name", fontSize=12, leading=15)
_FOOT = ParagraphStyle("foot", fontSize=7.5, leading=9, alignment=TA_RIGHT)


def write_contact_sheet(scene: Scene, pictures: dict[str, bytes]) -> bytes:
    """The sheet; a shot without a picture has an empty frame.

    Args:
        pictures: JPEG or PNG by the shot's id.

    Raises:
        Refused: there is no cut.
        BadInput: one is not a picture.
    """
    if not scene.shots:
        raise Refused("There are no shots in the cut yet.", "Put a camera on the assembly first.")
    lines, clocks, out = shot_list(scene, notes=True), Clocks(scene), io.BytesIO()
    sheet = Canvas(out, pagesize=A4, pageCompression=1)
    sheet.setTitle(f"{scene.name}, shots")
    pages = -(-len(lines) // _ROWS)
    high = (_HIGH - 2 * _EDGE - 40) / _ROWS
    for i, (line, shot) in enumerate(zip(lines, scene.shots, strict=True)):
        if i % _ROWS == 0:
            _head(sheet, scene, clocks, i // _ROWS + 1, pages)
        top = _HIGH - _EDGE - 32 - (i % _ROWS) * high
        _picture(sheet, pictures.get(shot.id), line, scene.delivery.aspect, top, high - 14)
        _words(sheet, line, top, high - 10)
        if i % _ROWS == _ROWS - 1 or i == len(lines) - 1:
            sheet.showPage()
    sheet.save()
    return out.getvalue()


def _head(sheet: Canvas, scene: Scene, clocks: Clocks, page: int, pages: int) -> None:
    _paragraph(sheet, f"<b>{escape(scene.name)}</b>", _NAME, _EDGE, _HIGH - _EDGE + 2, 260)
    told = (
        f"{len(scene.shots)} shots · {clocks.length} frames · {scene.delivery.label} · page {page} of {pages}"
    )
    _paragraph(sheet, escape(told), _FOOT, _WIDE - _EDGE - 300, _HIGH - _EDGE - 2, 300)
    sheet.setStrokeGray(0.6)
    sheet.line(_EDGE, _HIGH - _EDGE - 22, _WIDE - _EDGE, _HIGH - _EDGE - 22)


def _picture(
    sheet: Canvas, content: bytes | None, line: ShotLine, aspect: float, top: float, high: float
) -> None:
    wide = min(_PICTURE, high * aspect)
    tall = wide / aspect
    if content is None:
        sheet.setStrokeGray(0.7)
        sheet.rect(_EDGE, top - tall, wide, tall)
        return
    try:
        sheet.drawImage(
            ImageReader(io.BytesIO(content)), _EDGE, top - tall, wide, tall, preserveAspectRatio=True
        )
    except Exception:  # Whatever is not a picture is refused, in many ways.
        raise BadInput(f"The picture of shot {line.shot} cannot be read.", "Draw it again.") from None


def _words(sheet: Canvas, line: ShotLine, top: float, high: float) -> None:
    left = _EDGE + _PICTURE + 16
    wide = _WIDE - _EDGE - left
    told = [
        f"<b>{escape(line.camera)}</b> {escape(line.sees)}, {escape(line.lens)}",
        f"{escape(line.timecode)} · stage {line.first} to {line.last} · {line.frames} frames, {line.seconds:g} s",
        escape(line.move),
        f'<font color="#555555">{escape(line.note)}</font>' if line.note else "",
        f'<font color="#8a5a00">{escape(line.frame_notes)}</font>' if line.frame_notes else "",
    ]
    _paragraph(sheet, f"<b>{escape(line.shot)}</b>", _NAME, left, top + 3, wide)
    at = top - 16
    for text in told:
        if text and at > top - high:
            at -= _paragraph(sheet, text, _TEXT, left, at, wide) + 2


def _paragraph(
    sheet: Canvas, text: str, style: ParagraphStyle, left: float, top: float, wide: float
) -> float:
    """Write some words below a height; how high they are, points."""
    made = Paragraph(text, ParagraphStyle("written", style, fontName=_family(font_for(text))))
    _, high = made.wrap(wide, _HIGH)
    made.drawOn(sheet, left, top - high)
    return float(high)


@cache
def _family(font: Path) -> str:
    """A font's name in the PDF, with its bold."""
    bold = BARLOW_BOLD if font == BARLOW else font
    for path in (font, bold):
        registerFont(TTFont(path.stem, str(path)))
    registerFontFamily(font.stem, normal=font.stem, bold=bold.stem, italic=font.stem, boldItalic=bold.stem)
    return font.stem
