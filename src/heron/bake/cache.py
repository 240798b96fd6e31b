"""Keeps what was computed under the fingerprint of all it depends on."""

import dataclasses
import threading
from collections import Counter, OrderedDict
from collections.abc import Callable
from concurrent.futures import Future
from typing import Any, TypeVar

import numpy as np

from heron.errors import HeronError

R = TypeVar("R")
#: What a process keeps of results, in bytes.
KEEP_BYTES = 1_000_000_000


def size_in_bytes(result: Any) -> int:
    """How many bytes the arrays anywhere in a result take."""
    if isinstance(result, np.ndarray):
        # A view keeps all of what it looks into.
        return int(result.base.nbytes if isinstance(result.base, np.ndarray) else result.nbytes)
    if dataclasses.is_dataclass(result):
        return sum(size_in_bytes(getattr(result, field.name)) for field in dataclasses.fields(result))
    if isinstance(result, dict):
        return sum(size_in_bytes(v) for v in result.values())
    if isinstance(result, list | tuple):
        return sum(size_in_bytes(v) for v in result)
    return len(result) if isinstance(result, bytes) else 0


class ResultCache:
    """Results by key, the newest kept; safe to ask from many threads, each key computed once.

    Attributes:
        made: how often each kind of thing was really computed.
    """

    def __init__(self, keep_bytes: int = KEEP_BYTES) -> None:
        self._most, self._held = keep_bytes, 0
        self._kept: OrderedDict[str, tuple[Any, int]] = OrderedDict()
        self._under_way: dict[str, tuple[Future[Any], int]] = {}
        self._lock = threading.Lock()
        self.made: Counter[str] = Counter()

    def get(self, kind: str, key: str, make: Callable[[], R]) -> R:
        """What is kept under a key, else what `make` gives; others who ask meanwhile wait for it."""
        whole = f"{kind}/{key}"
        with self._lock:
            if whole in self._kept:
                self._kept.move_to_end(whole)
                found: R = self._kept[whole][0]
                return found
            waiting = self._under_way.get(whole)
            if waiting is None:
                mine: Future[Any] = Future()
                self._under_way[whole] = (mine, threading.get_ident())
        if waiting is not None:
            if waiting[1] == threading.get_ident():
                raise HeronError(
                    "Something on this stage would have to wait for itself.", "Undo the last change."
                )
            shared: R = waiting[0].result()
            return shared
        try:
            result = make()
        except BaseException as error:
            with self._lock:
                del self._under_way[whole]
            mine.set_exception(error)
            raise
        with self._lock:
            del self._under_way[whole]
            self.made[kind] += 1
            self._keep(whole, result)
        mine.set_result(result)
        return result

    def peek(self, kind: str, key: str) -> Any | None:
        """What is kept under a key, or None."""
        with self._lock:
            found = self._kept.get(f"{kind}/{key}")
        return found[0] if found else None

    @property
    def held(self) -> int:
        """Bytes kept now."""
        return self._held

    def _keep(self, whole: str, result: Any) -> None:
        size = size_in_bytes(result)
        self._kept[whole] = (result, size)
        self._held += size
        while self._held > self._most and len(self._kept) > 1:
            self._held -= self._kept.popitem(last=False)[1][1]


class OverlayCache(ResultCache):
    """A cache over another: reads what that one has, keeps what is new to itself.

    For a drag: what is tried pushes out nothing that is kept.
    """

    def __init__(self, below: ResultCache, keep_bytes: int = KEEP_BYTES) -> None:
        super().__init__(keep_bytes)
        self._below = below

    def get(self, kind: str, key: str, make: Callable[[], R]) -> R:
        """As `ResultCache.get`."""
        found: R | None = self._below.peek(kind, key)
        return super().get(kind, key, make) if found is None else found


#: The one of this process.
CACHE = ResultCache()
