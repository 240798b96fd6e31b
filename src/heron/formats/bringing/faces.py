"""Which numbers of a face the changing shapes of a skin (morph targets) follow, by what they are called.

There is no standard for their names; these are words that faces are commonly built with (common practice).
"""

import re
from collections.abc import Iterable

from heron.commands.base import listed
from heron.formats.bringing.mapping import sided

_BROW, _LID, _MOUTH = {"brow", "brows", "eyebrow", "eyebrows"}, {"eye", "eyes", "lid", "lids", "eyelid", "eyelids"}, {"mouth", "lip", "lips"}  # fmt: skip
_UP = {"up", "raise", "raised", "raiser", "raises"}
_DOWN = {"down", "lower", "lowered", "lowerer", "drop"}
_INNER, _OUTER = {"inner", "in", "inside"}, {"outer", "out", "outside"}
#: Of each part of a face: the words a name must have, one of each set, best first; and how much of the shape it is then.
_WORDS: dict[str, tuple[tuple[float, tuple[set[str], ...]], ...]] = {
    "brow_in+": ((1.0, (_BROW, _INNER, _UP)), (0.5, (_BROW, _UP))),
    "brow_in-": ((1.0, (_BROW, _INNER, _DOWN)), (1.0, (_BROW, _DOWN))),
    "brow_out+": ((1.0, (_BROW, _OUTER, _UP)), (0.5, (_BROW, _UP))),
    "brow_out-": ((1.0, (_BROW, _OUTER, _DOWN)),),
    "knit": ((1.0, (_BROW, {"knit", "squeeze", "furrow", "frown", "together", "gather"})),),
    "lid_up-": ((1.0, ({"blink", "blinks"},)), (1.0, (_LID, {"close", "closed", "closes", "shut"}))),
    "lid_up+": ((1.0, (_LID, {"wide", "widen", "widened"})),),
    "lid_low": ((1.0, (_LID, {"squint"})), (1.0, ({"squint"},)), (1.0, ({"cheek", "cheeks"}, {"squint", *_UP}))),
    "open": ((1.0, ({"jaw"}, {"open", "drop"})), (1.0, (_MOUTH, {"open"})), (1.0, ({"aa"},)), (1.0, ({"a"}, {"mouth", "viseme", "vowel"}))),
    "wide+": ((1.0, (_MOUTH, {"stretch", "wide", "widen"})), (1.0, ({"ee"},)), (1.0, ({"ih"},)), (1.0, ({"e"}, {"viseme", "vowel"}))),
    "wide-": ((1.0, ({"pucker"},)), (1.0, (_MOUTH, {"funnel", "round", "narrow", "purse", "kiss"})), (1.0, ({"oo"},)), (1.0, ({"ou"},)), (1.0, ({"u"}, {"viseme", "vowel"}))),
    "corner+": ((1.0, ({"smile"},)), (1.0, (_MOUTH, {"corner", "corners"}, _UP)), (1.0, ({"happy", "joy"},))),
    "corner-": ((1.0, (_MOUTH, {"frown", "sad"})), (1.0, (_MOUTH, {"corner", "corners"}, _DOWN)), (1.0, ({"sad", "sorrow"},))),
    "lip_up": ((1.0, (_MOUTH, {"upper"}, _UP)), (1.0, ({"nose"}, {"sneer", "wrinkle", "wrinkler"})), (1.0, ({"sneer"},))),
}  # fmt: skip
#: What is said of a face that moves.
_SAID = (("brow", "brows"), ("knit", "brows"), ("lid", "lids"), ("open", "mouth"), ("wide", "mouth"), ("corner", "mouth"), ("lip", "mouth"))  # fmt: skip
_WORD = re.compile(r"[A-Z]+(?![a-z])|[A-Z]?[a-z]+")


def shapes_of_face(names: Iterable[str]) -> dict[str, tuple[str, float]]:
    """By the parts of a face, `open` or `lid_up-.l` for one side of it, the shape that moves it and how much of that.

    A part that has a shape for each side has no other; a name that says nothing of a face is not used.
    """
    all_ = list(dict.fromkeys(names))
    words = {name: {word.lower() for word in _WORD.findall(name)} for name in all_}
    out: dict[str, tuple[str, float]] = {}
    for part, ways in _WORDS.items():
        for share, needs in ways:
            found: dict[str | None, str] = {}
            for name in all_:
                # A name that says one end of a brow is not of the other, nor of the whole.
                ends = words[name] & (_INNER | _OUTER) if part.startswith("brow") else set()
                if all(words[name] & need for need in needs) and ends <= set().union(*needs):
                    found.setdefault(sided(name), name)
            if "r" in found and "l" in found:
                out |= {f"{part}.{side}": (found[side], share) for side in "rl"}
                break
            if None in found:
                out[part] = (found[None], share)
                break
    return out


def face_said(parts: Iterable[str]) -> str:
    """What is said of a character whose face has these parts."""
    moving = list(dict.fromkeys(said for begin, said in _SAID if any(one.startswith(begin) for one in parts)))
    if not moving:
        return "Its face stays as it is: it has no shapes (morph targets) that move one."
    return f"Its face follows expressions and speech: {listed(moving)}."
