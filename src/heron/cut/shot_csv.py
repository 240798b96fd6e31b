"""A list of shots from a spreadsheet: CSV (RFC 4180) with a line of headings, checked row by row before anything is made."""

import csv
import io
import re
from collections.abc import Collection
from dataclasses import dataclass
from fractions import Fraction

from heron.errors import BadInput
from heron.timebase import MAX_FRAMES

#: The headings that a column may have, in small letters; all else is left out.
_NAMES = {
    "name": ("name", "shot", "shot name"),
    "length": ("length", "frames", "duration"),
    "text": ("text", "note", "description", "action"),
    "picture": ("picture", "board", "image"),
}
MOST_ROWS = 5000
#: So many wrong rows are told of.
_TOLD = 6
_SECONDS = re.compile(r"(\d+(?:[.,]\d+)?)\s*s")


@dataclass(frozen=True)
class ListedShot:
    """A shot as it is listed: its name, its frames, a line of text, and the name of its picture."""

    name: str
    frames: int
    text: str
    picture: str = ""


def read_shots(text: str, fps: Fraction, taken: set[str], pictures: Collection[str] = ()) -> list[ListedShot]:
    """The shots of a list, in order.

    Args:
        fps: for lengths in seconds, as `2.5s`.
        taken: names that shots have already.
        pictures: names of the pictures that came with the list.

    Raises:
        BadInput: the list cannot be read, or some of its rows are wrong; which, and why.
    """
    rows = [
        row for row in csv.reader(io.StringIO(text.lstrip("\ufeff")), delimiter=_parted_by(text)) if any(row)
    ]
    if not rows:
        raise BadInput(
            "The list is empty.", "Give a line of headings (name, length, text) and a row for each shot."
        )
    at = _columns(rows[0])
    if len(rows) - 1 > MOST_ROWS:
        raise BadInput(
            f"The list has {len(rows) - 1:,} rows; {MOST_ROWS:,} are the most.",
            "Bring it in in parts, as scenes.",
        )
    out: list[ListedShot] = []
    wrong: list[str] = []
    names = set(taken)
    for number, row in enumerate(rows[1:], 2):
        cell = {key: row[i].strip() if i is not None and i < len(row) else "" for key, i in at.items()}
        why, frames = "", _frames(cell["length"], fps)
        if not cell["name"]:
            why = "it has no name"
        elif cell["name"] in names:
            why = f"a shot is called {cell['name']:.40} already"
        elif len(cell["name"]) > 80:
            why = "its name is longer than 80 letters"
        elif not cell["length"]:
            why = "it has no length"
        elif frames is None or not 1 <= frames <= MAX_FRAMES:
            why = f"{cell['length']!r:.40} is not a length: give frames, as 48, or seconds, as 2s"
        elif cell["picture"] and cell["picture"] not in pictures:
            why = f"its picture {cell['picture']:.40} was not given with the list"
        if why:
            wrong.append(f"row {number}: {why}")
            continue
        names.add(cell["name"])
        out.append(ListedShot(cell["name"], frames or 1, cell["text"], cell["picture"]))
    if wrong:
        more = f"; and {len(wrong) - _TOLD} more" if len(wrong) > _TOLD else ""
        raise BadInput(
            f"{len(wrong)} of {len(rows) - 1} rows can't be brought in: {'; '.join(wrong[:_TOLD])}{more}.",
            "Correct them in the list and bring it in again; nothing was made.",
        )
    return out


def _parted_by(text: str) -> str:
    """What parts the cells: spreadsheets of many countries write semicolons."""
    first = text.split("\n", 1)[0]
    return max(",;\t", key=first.count)


def _columns(headings: list[str]) -> dict[str, int | None]:
    found = [one.strip().lower() for one in headings]
    at = {
        key: next((i for i, one in enumerate(found) if one in names), None) for key, names in _NAMES.items()
    }
    missing = [key for key in ("name", "length") if at[key] is None]
    if missing:
        raise BadInput(
            f"The list has no column for the {' and the '.join(missing)}.",
            "Its first line holds headings: name, length (frames, or seconds as 2s), text.",
        )
    return at


def _frames(text: str, fps: Fraction) -> int | None:
    if text.isascii() and text.isdigit():
        return int(text) if len(text) < 9 else None
    seconds = _SECONDS.fullmatch(text)
    return None if seconds is None else round(Fraction(seconds.group(1).replace(",", ".")) * fps)
