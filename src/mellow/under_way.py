"""Work that this process does beside its requests, and what ended lately, each by its id."""

import threading
from collections import OrderedDict
from typing import Generic, Protocol, TypeVar

from heron.errors import NotFound


class Job(Protocol):
    """Something with an id."""

    id: str


J = TypeVar("J", bound=Job)


class UnderWay(Generic[J]):
    """The last so many jobs of a kind."""

    def __init__(self, keep: int, reason: str, remedy: str) -> None:
        """Reason and remedy are what is said of an id that is not known."""
        self._keep, self._missing = keep, (reason, remedy)
        self._lock = threading.Lock()
        self._all: OrderedDict[str, J] = OrderedDict()

    def add(self, job: J) -> None:
        """Remember one more; the oldest is forgotten."""
        with self._lock:
            self._all[job.id] = job
            while len(self._all) > self._keep:
                self._all.popitem(last=False)

    def found(self, id_: str) -> J:
        """One by its id.

        Raises:
            NotFound: there is none, or the server was restarted since.
        """
        with self._lock:
            job = self._all.get(id_)
        if job is None:
            raise NotFound(*self._missing)
        return job

    def last(self) -> J:
        """The one that was added last."""
        with self._lock:
            return next(reversed(self._all.values()))
