"""Film backs by published size."""

from pydantic import Field

from heron.errors import BadInput
from heron.model import Label, Model

SMALLEST_BACK_MM = 1.0
LARGEST_BACK_MM = 200.0


class FilmBack(Model):
    """The size of the picture area behind the lens, in millimetres."""

    name: Label = ""
    width_mm: float = Field(ge=SMALLEST_BACK_MM, le=LARGEST_BACK_MM)
    height_mm: float = Field(ge=SMALLEST_BACK_MM, le=LARGEST_BACK_MM)


class PublishedBack(Model):
    """A film back with the document that gives its size."""

    back: FilmBack
    standard: str


def _published(name: str, width: float, height: float, standard: str) -> PublishedBack:
    return PublishedBack(back=FilmBack(name=name, width_mm=width, height_mm=height), standard=standard)


#: Sizes by their standard's number, recalled from memory.
FILM_BACKS = (
    _published("Full-frame still", 36.0, 24.0, "ISO 1007"),
    _published("35 mm full aperture", 24.89, 18.66, "SMPTE ST 59"),
    _published("35 mm academy", 21.95, 16.0, "SMPTE ST 59"),
    _published("65 mm five-perforation", 52.63, 23.01, "SMPTE ST 215"),
    _published("Super 16", 12.52, 7.41, "SMPTE ST 201"),
    _published("16 mm", 10.26, 7.49, "SMPTE ST 7"),
)


def parse_back(text: str) -> FilmBack:
    """Read `36x24` as width by height in millimetres.

    Raises:
        BadInput: not two sizes, or out of range.
    """
    width, _, height = text.lower().replace("×", "x").partition("x")
    try:
        return FilmBack(width_mm=float(width), height_mm=float(height))
    except ValueError:
        raise BadInput(
            f"{text!r:.40} is not a film back.",
            f"Write it as 36x24, in millimetres, each side {SMALLEST_BACK_MM:g} to {LARGEST_BACK_MM:g}.",
            field="back",
        ) from None
