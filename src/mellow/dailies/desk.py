"""The desk's server as a worker sees it: at an address, over HTTP, so that it may be on another machine."""

import fcntl
import os
import socket
import tempfile
from functools import cache
from pathlib import Path
from typing import IO, Any

import httpx

#: Locks of names that this process holds.
_LOCKS: list[IO[str]] = []
_MOST_WORKERS = 100
#: How long an answer is waited for.
_PATIENCE_S = 30


def address() -> str:
    """Where the desk is."""
    return os.environ.get("MELLOW_DESK", "http://127.0.0.1:8014").rstrip("/")


def worker_name() -> str:
    """By what name this worker claims frames: the same when it begins again, and another for each on a machine."""
    return os.environ.get("MELLOW_WORKER", "") or _free_name()


@cache
def _free_name() -> str:
    """The first name on this machine that no running worker holds; the lock goes with the process."""
    for number in range(1, _MOST_WORKERS):
        path = Path(tempfile.gettempdir()) / f"mellow-heron-worker-{os.getuid()}-{number}.lock"
        held = path.open("w")
        try:
            fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            held.close()
            continue
        _LOCKS.append(held)
        return f"{socket.gethostname()}-worker-{number}"
    return f"{socket.gethostname()}-worker-{os.getpid()}"


def ask(method: str, path: str, body: Any = None) -> Any:
    """What the desk answers.

    Raises:
        OSError: it does not, or refuses.
    """
    try:
        answer = httpx.request(method, f"{address()}/api/{path}", json=body, timeout=_PATIENCE_S)
        answer.raise_for_status()
    except httpx.HTTPError as error:
        raise OSError(str(error)) from error
    return answer.json()
