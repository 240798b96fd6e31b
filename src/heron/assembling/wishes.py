"""What an editor asks of a first assembly."""

from pydantic import Field

from heron.model import Id, Model


class Wishes(Model):
    """Pace, whose scene it is, how close, how much reaction; `lead` says when the picture changes to who speaks."""

    #: The usual length of a shot, seconds.
    pace: float = Field(default=3.2, ge=0.9, le=15)
    #: Whose scene it is; left out, everyone's.
    favour: Id | None = None
    #: 0, wide throughout; 1, close-ups early on.
    close: float = Field(default=0.5, ge=0, le=1)
    #: How much who listens matters: 0, only who speaks.
    reaction: float = Field(default=0.5, ge=0, le=1)
    #: Frames from where a line begins to the cut to its speaker: with more than 0 the sound leads.
    lead: int = Field(default=-4, ge=-48, le=48)
    #: How long the shot of everyone is kept at the beginning, seconds.
    master: float = Field(default=3.0, ge=0, le=60)


#: What is proposed unasked: a usual cut, and one that is faster, closer and more on who listens, to be told from it.
PROPOSED = (Wishes(), Wishes(pace=2.2, close=0.8, reaction=0.8, lead=6, master=1.5))
