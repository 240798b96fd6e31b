"""What can be asked of the cut: each edit with its numbers, drawn before and after, gaps as dots."""

from typing import Annotated, Literal

from pydantic import Field

from heron.cut.live import REACTION_S, SHORTEST
from heron.model import Colour, Model, Name
from heron.timebase import MAX_FRAMES, Frames
from heron.timebase.frames import FrameNumber

#: An id or a name.
_Name = Annotated[str, Field(min_length=1, max_length=80)]
_Stage = Frames | tuple[FrameNumber, FrameNumber]
_Count = Annotated[int, Field(ge=1, le=MAX_FRAMES)]
_Few = Annotated[int, Field(ge=0, le=MAX_FRAMES)]
_Shots = Annotated[tuple[_Name, ...], Field(min_length=1, max_length=5000)]
_By = Annotated[int, Field(ge=-MAX_FRAMES, le=MAX_FRAMES)]
_CutFrame = Annotated[int, Field(ge=0, le=10 * MAX_FRAMES)]


class MoveEdges(Model):
    """Moves edges of shots by so many frames: later in the action or the cut, as drawn in `heron.cut.edits`.

    A trim has the cut close up behind it; `leaving` leaves the rest in place, `overwriting` goes on into the neighbour.
    `sound` moves where the sound of the stage changes to a shot's, and a roll with `picture_alone` leaves that in place.
    """

    edit: Literal["trim_in", "trim_out", "roll", "slip", "slide", "sound"]
    shots: _Shots
    by: _By = 0
    #: In place of `by`: the frames by which the sound leads the picture; less than nothing, it trails.
    lead: _By | None = None
    picture_alone: bool = False
    leaving: bool = False
    overwriting: bool = False


class Change(Model):
    """Takes shots out, leaving black or closing up; closes the black before them; joins two; copies them behind themselves.

    before:     |--1--|..|--2--|--3--|
    lift 2:     |--1--|.........|--3--|      ripple_delete 2:  |--1--|..|--3--|
    close_gap:  |--1--|--2--|--3--|          duplicate 2:      |--1--|..|--2--|--2--|--3--|
    """

    edit: Literal["lift", "ripple_delete", "close_gap", "join", "duplicate"]
    shots: _Shots
    #: Copies go before this shot; left out, each behind its own.
    before: _Name | None = None


class Put(Model):
    """Puts a camera's view of the stage, or a slate, into the cut: what comes later moves on, or what lies there is covered.

    insert at c:     |--1--|-2-|new|-2b-|--3--|
    overwrite at c:  |--1--|-2-|new|-3-|

    Of the first and last frames of the stage and of the cut, `at` and `stage`, or any three, are given; with `at` and
    `stage_in` alone it is as long as shots usually are.
    """

    edit: Literal["insert", "overwrite"]
    #: None puts a slate, of so many `frames`, at `at`.
    camera: _Name | None = None
    frames: _Count | None = None
    stage: _Stage | None = None
    at: _CutFrame | None = None
    stage_in: FrameNumber | None = None
    stage_out: FrameNumber | None = None
    cut_in: _CutFrame | None = None
    cut_out: _CutFrame | None = None


class Split(Model):
    """Splits a shot: `at` is the cut frame on which the second half begins; or `frame` its stage frame, of a named shot,
    which is the moment meant, whatever was trimmed meanwhile.

    |--1--|----2----|--3--|   ->   |--1--|--2|2b--|--3--|
    """

    edit: Literal["split"]
    at: _CutFrame | None = None
    shot: _Name | None = None
    frame: FrameNumber | None = None
    #: The second half is on it; left out, on the same.
    camera: _Name | None = None


class Angle(Model):
    """Puts another camera in place: over the same frames of the stage, or over others, which moves what comes later."""

    edit: Literal["swap_angle", "replace"]
    shots: _Shots
    camera: _Name | None = None
    stage: _Stage | None = None
    #: In place of `stage`: as many frames as each shot has, from this one on.
    stage_in: FrameNumber | None = None


class Reorder(Model):
    """Puts shots before another one, or last; each keeps the black before it.

    |--1--|--2--|--3--|   2 before 1:   |--2--|--1--|--3--|
    """

    edit: Literal["move"]
    shots: _Shots
    before: _Name | None = None


class Extend(Model):
    """Takes an edge of a shot to a cut frame: a roll where it touches its neighbour, else the rest stays in place."""

    edit: Literal["extend"]
    shots: _Shots
    edge: Literal["in", "out"]
    to: _CutFrame


class Fade(Model):
    """Fades shots in or out over so many of their own frames; 0 takes it off.

    |--1--|----2----|--3--|   fade out of 2:   |--1--|----2--\\|--3--|
    """

    edit: Literal["fade_in", "fade_out"]
    shots: _Shots
    frames: _Few
    #: Left out, the one it has: black at first.
    colour: Colour | None = None


class Dissolve(Model):
    """Mixes shots with those before them, over so many frames before the joint and after it; none, a plain cut.

    |--1--|----2----|--3--|   into 2:   |--1-/|/---2----|--3--|   no place changes

    With `usual` it is a quarter of a second to either side, or as much less as there are frames for.
    """

    edit: Literal["dissolve"]
    shots: _Shots
    frames: tuple[_Few, _Few] | None = None
    usual: bool = False


class AddVersion(Model):
    """Keeps another angle or length beside a shot, under a name; what is left out is as in the shot.

    Without a name it is called by its camera. With `choose` it is the chosen one from then on.
    """

    edit: Literal["add_version"]
    shots: _Shots
    name: Name | None = None
    camera: _Name | None = None
    stage: _Stage | None = None
    choose: bool = False


class Choose(Model):
    """Chooses the version of shots that has a name, or the next one (`step` 1) or the last one (−1) in order of their names;
    the one chosen until now is kept beside it.

    Of another length, the rest of the cut follows; or, with `keep_place`, stays where it is: black is left behind a shorter
    one, and a longer one takes the black behind it, then frames of the next shot.
    """

    edit: Literal["choose"]
    shots: _Shots
    version: Name | None = None
    step: Literal[1, -1] = 1
    keep_place: bool = False


class DropVersion(Model):
    """Deletes a version of a shot; of the one that is chosen, the first of the others is chosen."""

    edit: Literal["drop_version"]
    shots: _Shots
    version: Name


class Live(Model):
    """Cuts a run live: letters of cameras, and when each was pressed, seconds since play began at a frame of the cut.

    |--1 A--|----2 B----|   C, then A pressed:   |--1 A--|-B-|-C-|-A-|
    """

    edit: Literal["live"]
    start: _CutFrame
    #: The last frame of the run; left out, the cut's.
    to: _CutFrame | None = None
    presses: Annotated[
        tuple[tuple[Annotated[float, Field(ge=0, le=36_000)], _Name], ...], Field(max_length=5000)
    ]
    #: How much of real time it played at.
    speed: Annotated[float, Field(gt=0, le=4)] = 1.0
    #: Seconds that a hand takes, by which each cut is moved earlier.
    delay: Annotated[float, Field(ge=0, le=2)] = REACTION_S
    #: The least frames a shot has.
    shortest: _Count = SHORTEST


Edit = Annotated[
    MoveEdges
    | Change
    | Put
    | Split
    | Angle
    | Reorder
    | Extend
    | Fade
    | Dissolve
    | AddVersion
    | Choose
    | DropVersion
    | Live,
    Field(discriminator="edit"),
]
