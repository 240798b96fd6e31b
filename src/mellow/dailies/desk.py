"""The desk's server as a worker sees it: at an address, over HTTP, so that it may be on another machine."""

import json
import os
import socket
import urllib.error
import urllib.request
from typing import Any

#: How long an answer is waited for.
_PATIENCE_S = 30


def address() -> str:
    """Where the desk is."""
    return os.environ.get("MELLOW_DESK", "http://127.0.0.1:8014").rstrip("/")


def worker_name() -> str:
    """By what name this worker claims frames; the same when it begins anew."""
    return os.environ.get("MELLOW_WORKER", "") or f"{socket.gethostname()}-worker"


def ask(method: str, path: str, body: Any = None) -> Any:
    """What the desk answers.

    Raises:
        OSError: it does not, or refuses.
    """
    data = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(
        f"{address()}/api/{path}", data, {"Content-Type": "application/json"}, method=method
    )
    with urllib.request.urlopen(request, timeout=_PATIENCE_S) as answer:
        return json.loads(answer.read() or b"null")
