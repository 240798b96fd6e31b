"""A film: which scenes, in which order, how much of each; and the edits on it. Scenes know nothing of it."""

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from heron.errors import NotFound, Refused
from heron.film.frames import Film, Fit, Reel
from heron.model import Id, Model, Name, changed, new_id
from heron.timebase import MAX_FRAMES, Rate, parse_rate, parse_timecode
from heron.timebase.timecode import plain_timecode

_Frame = Annotated[int, Field(ge=0, lt=MAX_FRAMES)]
_Timecode = Annotated[str, AfterValidator(plain_timecode)]


class ReelOf(Model):
    """A scene in a film: all of its cut, or the frames of it from a first to a last one, counted from 0."""

    id: Id
    scene: int = Field(ge=0)
    first: _Frame = 0
    last: _Frame | None = None
    fit: Fit | None = None


class FilmDoc(Model):
    """A film as it is stored and undone."""

    name: Name
    rate: Rate = "24/1"
    start: _Timecode = "01:00:00:00"
    reels: tuple[ReelOf, ...] = Field(default=(), max_length=500)


@dataclass(frozen=True)
class SceneCut:
    """What a film knows of a scene: its name, its rate, and the frames of its cut."""

    name: str
    rate: str
    length: int


Cuts = Mapping[int, SceneCut]
Edited = tuple[FilmDoc, str]
_NOWHERE = SceneCut("A scene that was deleted", "24/1", 0)


class AddReel(Model):
    """Take a scene into the film, last or before another. Of another rate it is taken in once it is said how it fits."""

    edit: Literal["add"] = "add"
    id: Id = Field(default_factory=lambda: new_id("reel"))
    scene: int = Field(ge=0)
    before: Id | None = None
    fit: Fit | None = None


class DropReel(Model):
    """Take a scene out of the film; the scene stays."""

    edit: Literal["drop"] = "drop"
    reel: Id


class MoveReel(Model):
    """Put a scene before another, or last."""

    edit: Literal["move"] = "move"
    reel: Id
    before: Id | None = None


class TrimReel(Model):
    """Show the frames of a scene's cut from first to last; left out, from its first, to its last."""

    edit: Literal["trim"] = "trim"
    reel: Id
    first: _Frame = 0
    last: _Frame | None = None


class MoveEnd(Model):
    """Move an end of what is shown of a scene by film frames; rolled, the scene it touches makes up for it.

    trim the head of 2 by +k:   |----1----|----2----|   ->   |----1----|--2----|
    roll the cut before 2:      |----1----|----2----|   ->   |----1------|--2----|
    """

    edit: Literal["end"] = "end"
    reel: Id
    end: Literal["first", "last"]
    by: int = Field(ge=-MAX_FRAMES, le=MAX_FRAMES)
    roll: bool = False


class FitReel(Model):
    """Say how a scene of another rate is fitted: it keeps its time, or is played frame for frame."""

    edit: Literal["fit"] = "fit"
    reel: Id
    fit: Fit | None


class SetFilm(Model):
    """Change the film's name, rate or first timecode."""

    edit: Literal["set"] = "set"
    name: Name | None = None
    rate: Rate | None = None
    start: _Timecode | None = None


FilmEdit = Annotated[
    AddReel | DropReel | MoveReel | TrimReel | MoveEnd | FitReel | SetFilm, Field(discriminator="edit")
]


def laid(film: FilmDoc, cuts: Cuts) -> Film:
    """The film frame by frame. Of a reel whose scene has become shorter, what is left.

    Raises:
        Refused: a scene has another rate, and nobody said how it fits.
    """
    reels = []
    for one in film.reels:
        of = cuts.get(one.scene, _NOWHERE)
        end = of.length if one.last is None else min(one.last + 1, of.length)
        reels.append(Reel(of.name, max(end - one.first, 0), parse_rate(of.rate), one.fit, one.first))
    return Film(reels, parse_rate(film.rate))


def edited(film: FilmDoc, edit: FilmEdit, cuts: Cuts) -> Edited:
    """The film after an edit, and what was done.

    Raises:
        HeronError: it cannot be done; nothing has changed.
    """
    after, said = _edited(film, edit, cuts)
    length = laid(after, cuts).length
    parse_timecode(after.start, parse_rate(after.rate))
    if length > MAX_FRAMES:
        raise Refused(
            f"The film would be {length:,} frames long; {MAX_FRAMES:,} is the most.", "Trim some scenes."
        )
    return after, said


def _edited(film: FilmDoc, edit: FilmEdit, cuts: Cuts) -> Edited:
    if isinstance(edit, AddReel):
        return _added(film, edit, cuts)
    if isinstance(edit, SetFilm):
        update = edit.model_dump(exclude={"edit"}, exclude_none=True)
        told = ", ".join(f"{name} to {value}" for name, value in update.items())
        return changed(film, **update), f"Set the film's {told}" if told else "Left the film as it was"
    at = _place(film, edit.reel)
    reel, others = film.reels[at], [*film.reels[:at], *film.reels[at + 1 :]]
    of = cuts.get(reel.scene, _NOWHERE)
    if isinstance(edit, DropReel):
        return changed(film, reels=tuple(others)), f"Took {of.name} out of the film"
    if isinstance(edit, MoveReel):
        if edit.before == reel.id:
            return film, f"Left {of.name} where it was"
        to = len(others) if edit.before is None else _place(changed(film, reels=tuple(others)), edit.before)
        where = f"before {cuts.get(others[to].scene, _NOWHERE).name}" if to < len(others) else "to the end"
        return changed(film, reels=(*others[:to], reel, *others[to:])), f"Moved {of.name} {where}"
    if isinstance(edit, FitReel):
        how = {"time": "keeps its time", "frames": "is played frame for frame", None: "runs as it is"}[
            edit.fit
        ]
        return _with(film, at, changed(reel, fit=edit.fit)), f"{of.name} {how}"
    if isinstance(edit, MoveEnd):
        return _end_moved(film, at, edit, cuts)
    last = of.length - 1 if edit.last is None else edit.last
    return _shows(film, at, edit.first, last, of), f"Shows {edit.first} to {last} of {of.name}"


def _end_moved(film: FilmDoc, at: int, edit: MoveEnd, cuts: Cuts) -> Edited:
    head = edit.end == "first"
    ends = [(at, edit.end)]
    if edit.roll:
        other = at - 1 if head else at + 1
        if not 0 <= other < len(film.reels):
            raise Refused(
                "There is no scene beside it to roll the cut with.", "Trim it instead.", field="roll"
            )
        ends.append((other, "last" if head else "first"))
    for place, end in ends:
        reel = film.reels[place]
        of = cuts.get(reel.scene, _NOWHERE)
        last = of.length - 1 if reel.last is None else min(reel.last, of.length - 1)
        # A scene of another rate is trimmed by the frames of its own that lie nearest.
        same = reel.fit == "frames" or of.rate == film.rate
        by = edit.by if same else round(edit.by * parse_rate(of.rate) / parse_rate(film.rate))
        first, last = (reel.first + by, last) if end == "first" else (reel.first, last + by)
        film = _shows(film, place, first, last, of)
    name = cuts.get(film.reels[at].scene, _NOWHERE).name
    what = f"cut {'before' if head else 'after'}" if edit.roll else f"{'head' if head else 'tail'} of"
    return film, f"{'Rolled' if edit.roll else 'Trimmed'} the {what} {name} by {edit.by:+d} f"


def _shows(film: FilmDoc, at: int, first: int, last: int, of: SceneCut) -> FilmDoc:
    """The film with other frames of a scene's cut.

    Raises:
        Refused: it has not all of them.
    """
    if not 0 <= first <= last < of.length:
        raise Refused(
            f"The cut of {of.name} has frames 0 to {of.length - 1}; {first} to {last} are not all there.",
            "Give a first and a last frame within it, the first before the last.",
            field="first",
        )
    kept = None if last == of.length - 1 else last
    return _with(film, at, changed(film.reels[at], first=first, last=kept))


def _added(film: FilmDoc, edit: AddReel, cuts: Cuts) -> Edited:
    of = cuts.get(edit.scene)
    if of is None:
        raise NotFound(f"There is no scene {edit.scene}.", "Choose one from the list.", field="scene")
    if not of.length:
        raise Refused(
            f"{of.name} has no cut yet.", "Put shots in its cut, then take it into the film.", field="scene"
        )
    to = len(film.reels) if edit.before is None else _place(film, edit.before)
    twice = any(one.scene == edit.scene for one in film.reels)
    reel = ReelOf(id=edit.id, scene=edit.scene, fit=edit.fit)
    said = f"Took {of.name} into the film{', once more' if twice else ''}"
    return changed(film, reels=(*film.reels[:to], reel, *film.reels[to:])), said


def _with(film: FilmDoc, at: int, reel: ReelOf) -> FilmDoc:
    return changed(film, reels=(*film.reels[:at], reel, *film.reels[at + 1 :]))


def _place(film: FilmDoc, reel: str) -> int:
    for at, one in enumerate(film.reels):
        if one.id == reel:
            return at
    raise NotFound(
        f"There is no reel {reel} in this film.", "Somebody may have taken it out; look again.", field="reel"
    )


def usual_fit(scene: str, film: str) -> Fit:
    """How a scene of another rate is fitted unless asked otherwise: frame for frame where the two differ by 0.1 %."""
    ratio: Fraction = parse_rate(scene) / parse_rate(film)
    return "frames" if abs(ratio - 1) <= Fraction(1, 999) else "time"
