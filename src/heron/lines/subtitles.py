"""Subtitles: WebVTT (W3C) and SubRip, read and written."""

import html
import re
from collections.abc import Iterable

from heron.errors import BadInput
from heron.lines.brought import Brought, BroughtLine

_TIME = r"(?:(\d{1,4}):)?(\d{2}):(\d{2})([.,])(\d{3})"
_CUE = re.compile(rf"^\s*{_TIME}\s+-->\s+{_TIME}(?:\s|$)")
_VOICE = re.compile(r"<v(?:\.[^\s>]*)?\s+([^>]+)>")
_TAG = re.compile(r"</?[a-zA-Z0-9.:][^>]*>")
#: A speaker before a colon: a few words that begin with a capital.
_NAMED = re.compile(r"^[-–]?\s*([A-ZÀ-ÞΑ-ΫА-Я][\w.'’-]*(?: [A-ZÀ-ÞΑ-ΫА-Я0-9(][\w.'’()-]*){0,2}):\s+(?=\S)")


def read_vtt(text: str) -> Brought:
    """The cues of a WebVTT file.

    Raises:
        BadInput: it is none, or has no cue.
    """
    text = text.lstrip("\ufeff")
    if not re.match(r"WEBVTT(?:[ \t\n\r]|$)", text):
        raise BadInput(
            "This is not WebVTT: it does not begin with WEBVTT.",
            "Give a .vtt file as subtitle programs write it.",
        )
    return _cues(text, ".")


def read_srt(text: str) -> Brought:
    """The cues of a SubRip file.

    Raises:
        BadInput: it has no cue.
    """
    return _cues(text.lstrip("\ufeff"), None)


def _cues(text: str, mark: str | None) -> Brought:
    out, bad, reversed_ = Brought(), [], []
    for block in re.split(r"\n[ \t]*\n", text.replace("\r\n", "\n").replace("\r", "\n")):
        rows = block.strip("\n").split("\n")
        if re.match(r"(NOTE|STYLE|REGION|WEBVTT)(\s|$)", rows[0]):
            continue
        at = next((i for i, row in enumerate(rows) if "-->" in row), None)
        if at is None:
            continue
        found = _CUE.match(rows[at])
        if found is None or (mark and {found[4], found[9]} != {mark}):
            bad.append(rows[at].strip()[:40])
            continue
        start, end = _seconds(found.groups()[:5]), _seconds(found.groups()[5:])
        if end <= start:
            reversed_.append(rows[at].strip()[:40])
            continue
        who, said = _spoken(" ".join(row.strip() for row in rows[at + 1 :]))
        if said:
            out.lines.append(BroughtLine(who, said, start, end))
    if bad:
        out.said.append(f"{_cues_called(bad)} left out: its times cannot be read ({bad[0]})")
    if reversed_:
        out.said.append(f"{_cues_called(reversed_)} left out: it ends before it begins ({reversed_[0]})")
    if not out.lines:
        why = f": {out.said[0]}" if out.said else ""
        raise BadInput(f"There are no subtitles in it{why}.", "Cues look like 00:00:01.000 --> 00:00:03.500.")
    out.lines.sort(key=lambda one: one.start or 0.0)
    return out


def _cues_called(some: list[str]) -> str:
    return "One cue was" if len(some) == 1 else f"{len(some)} cues were"


def _seconds(parts: Iterable[str | None]) -> float:
    hours, minutes, seconds, _, thousandths = (part or "0" for part in parts)
    return int(hours) * 3600 + int(minutes) * 60 + int(seconds) + int(thousandths) / 1000


def _spoken(text: str) -> tuple[str, str]:
    """(who, what) of a cue's text."""
    voice = _VOICE.search(text)
    said = html.unescape(_TAG.sub("", text))
    who, said = (html.unescape(voice[1]), said) if voice else named(said)
    return " ".join(who.split()), " ".join(said.split())


def named(text: str) -> tuple[str, str]:
    """(who, what) of a text that may begin with a name and a colon."""
    found = _NAMED.match(text)
    return (found[1], text[found.end() :]) if found else ("", text)


def write_vtt(cues: Iterable[tuple[str, str, float, float]]) -> str:
    """WebVTT of (who, text, start, end), seconds."""
    out = ["WEBVTT", ""]
    for who, text, start, end in cues:
        out += [f"{_clock(start)} --> {_clock(end)}", f"<v {_plain(who)}>{_plain(text)}</v>", ""]
    return "\n".join(out)


def _plain(text: str) -> str:
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")


def _clock(seconds: float) -> str:
    whole = round(seconds * 1000)
    return f"{whole // 3_600_000:02}:{whole // 60_000 % 60:02}:{whole // 1000 % 60:02}.{whole % 1000:03}"
