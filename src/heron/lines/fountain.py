"""Screenplays as plain text (the Fountain syntax): dialogue read, and lines written."""

import re
from collections.abc import Iterable

from heron.errors import BadInput
from heron.lines.brought import Brought, BroughtLine

#: Before the next speaker, and for a direction in brackets inside a speech, seconds (ours).
TURN_S, BEAT_S = 0.25, 0.8
_NOTES = re.compile(r"/\*.*?\*/|\[\[.*?\]\]", re.DOTALL)
_EMPHASIS = re.compile(r"(?<!\\)[*_]+|\\(?=[*_])")
_HEADING = re.compile(r"^(?:\.(?!\.)|(?:INT|EXT|EST|I/E|INT\./EXT)[. ])", re.IGNORECASE)
_TITLE = re.compile(r"^[A-Za-z][A-Za-z ]*:")


def read_fountain(text: str) -> Brought:
    """The dialogue of a screenplay, speech after speech; a direction in brackets parts a speech in two.

    Raises:
        BadInput: nobody speaks in it.
    """
    out, others = Brought(), 0
    rows = _NOTES.sub("", text.lstrip("\ufeff").replace("\r\n", "\n").replace("\r", "\n")).split("\n")
    at = _after_title(rows)
    while at < len(rows):
        who = _cue(rows, at)
        if who is None:
            others += bool(rows[at].strip())
            at += 1
            continue
        at = _speech(rows, at + 1, who, out)
    if not out.lines:
        raise BadInput(
            "No dialogue found in this text.",
            "A name stands in capitals on a line of its own, and what is said on the line below.",
        )
    if others:
        out.said.append(f"{others} line{'s' if others > 1 else ''} of action and headings left out")
    return out


def _after_title(rows: list[str]) -> int:
    """Where the title page ends."""
    if not rows or not _TITLE.match(rows[0]):
        return 0
    return next((i for i, row in enumerate(rows) if not row.strip()), len(rows))


def _cue(rows: list[str], at: int) -> str | None:
    """The name on a row on which somebody begins to speak."""
    row = rows[at].strip()
    if not row or (at and rows[at - 1].strip()) or at + 1 >= len(rows) or not rows[at + 1].strip():
        return None
    forced = row.startswith("@")
    if not forced and (row[0] in "!>~#=" or _HEADING.match(row) or row.endswith("TO:")):
        return None
    name = re.sub(r"\s*\([^)]*\)", "", row.removeprefix("@").removesuffix("^")).strip()
    if not name or not any(c.isalpha() for c in name):
        return None
    return name if forced or name == name.upper() else None


def _speech(rows: list[str], at: int, who: str, out: Brought) -> int:
    """Take in what follows a name, and say where it ends."""
    pause = TURN_S if out.lines else 0.0
    part: list[str] = []

    def close() -> None:
        nonlocal pause
        said = " ".join(_EMPHASIS.sub("", " ".join(part)).split())
        if said:
            out.lines.append(BroughtLine(who, said, pause=pause))
            pause = 0.0
        part.clear()

    # A row of two blanks keeps a speech open.
    while at < len(rows) and (rows[at].strip() or rows[at] == "  "):
        row = rows[at].strip().removeprefix("~")
        if row.startswith("(") and row.endswith(")"):
            close()
            pause += BEAT_S
        else:
            part.append(row)
        at += 1
    close()
    return at


def write_fountain(title: str, lines: Iterable[tuple[str, str]]) -> str:
    """A screenplay of (who, text) in order."""
    out = [f"Title: {title}"]
    for who, text in lines:
        cue = who.upper()
        usual = cue.casefold() == who.casefold() and _cue(["", cue, "-"], 1) == cue
        out += ["", cue if usual else f"@{who}", re.sub(r"([*_])", r"\\\1", text)]
    return "\n".join([*out, ""])
