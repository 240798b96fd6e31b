"""What this process keeps of a scene between one question and the next: one object for each."""

import asyncio
import threading
from collections import OrderedDict
from dataclasses import dataclass, field

from heron.scene import Scene

Ear = tuple[asyncio.AbstractEventLoop, asyncio.Event]
#: How many scenes' documents are kept.
_KEEP = 16
_LOCK = threading.Lock()


@dataclass
class OpenScene:
    """A scene that somebody works on here.

    Attributes:
        turn: changes take turns.
        kept: its revision and its document as last read or written, so that an edit need not read all rows.
        repairs: what was mended in it as it was read.
        ears: who is told when it changes.
    """

    turn: threading.Lock = field(default_factory=threading.Lock)
    kept: tuple[int, Scene] | None = None
    repairs: list[str] = field(default_factory=list)
    ears: set[Ear] = field(default_factory=set)


_OPEN: OrderedDict[int, OpenScene] = OrderedDict()


def opened(scene_id: int) -> OpenScene:
    """What is kept of a scene, by its row."""
    with _LOCK:
        found = _OPEN.setdefault(scene_id, OpenScene())
        _OPEN.move_to_end(scene_id)
        # Who waits for a turn, or listens, goes on with the same one: only the document is let go.
        for one in list(_OPEN.values())[:-_KEEP]:
            one.kept = None
        return found


def forget(scene_id: int | None = None) -> None:
    """Keep no document but what is on the disk: of a scene, or of all, as after a restart."""
    with _LOCK:
        for id_, one in _OPEN.items():
            if scene_id in (None, id_):
                one.kept = None
