"""What a text with dialogue holds, whichever format it came in."""

from dataclasses import dataclass, field


@dataclass(frozen=True)
class BroughtLine:
    """A line as a text has it.

    Attributes:
        who: as it stands there; empty where nobody is named.
        start, end: seconds from the text's beginning, where it says so; else it follows after `pause` seconds.
    """

    who: str
    text: str
    start: float | None = None
    end: float | None = None
    pause: float = 0.0


@dataclass
class Brought:
    """All lines of a text, and what of it was left out or is odd, in sentences."""

    lines: list[BroughtLine] = field(default_factory=list)
    said: list[str] = field(default_factory=list)
