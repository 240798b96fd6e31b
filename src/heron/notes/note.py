"""A note: what a careful eye says of a frame or a cut."""

from heron.model import Model


class Remedy(Model):
    """A change that was tried and takes a note away: in words, and as commands."""

    sentence: str
    commands: tuple[dict[str, object], ...]


class Note(Model):
    """One note.

    Attributes:
        camera: the letter of the camera; None of a cut.
        joint: names of the shots before and after a cut.
        of: the id of the camera, or the ids of those shots.
        first, last, worst: frames, of the stage for a camera, of the cut for a cut.
        severity: 0.5 at the threshold, 1 cannot be missed.
        at: where in the frame, −1 to 1, Y up.
        who: whom it is about first; by: what causes it.
        also: weaker kinds that say the same.
    """

    kind: str
    camera: str | None = None
    joint: tuple[str, ...] | None = None
    of: tuple[str, ...]
    first: int
    last: int
    worst: int
    measure: float
    threshold: float
    unit: str
    severity: float
    sentence: str
    at: tuple[float, float] | None = None
    who: tuple[str, ...] = ()
    by: tuple[str, ...] = ()
    also: tuple[str, ...] = ()
    remedies: tuple[Remedy, ...] = ()
