"""Where work waits for workers: a file of its own beside the database, or a Redis server that many machines share.

Nothing is lost with it. What is to be drawn stands in the database; a task only sends a worker there.
"""

import json
import logging
from typing import Any

from django.conf import settings
from django.core.signing import BadSignature, Signer
from huey import RedisHuey, SqliteHuey
from huey.registry import Message
from huey.serializer import Serializer

log = logging.getLogger(__name__)


class SignedJson(Serializer):  # type: ignore[misc]
    """Tasks as JSON under a signature: whoever can write to the queue can run nothing on a worker.

    Only what this desk signed is read; nothing is unpickled.
    """

    def __init__(self) -> None:
        super().__init__()
        self.signer = Signer(key=settings.QUEUE_KEY, salt="heron queue")

    def _serialize(self, data: Any) -> bytes:
        return self.signer.sign(json.dumps(list(data))).encode()

    def _deserialize(self, data: bytes) -> Any:
        try:
            return Message(*json.loads(self.signer.unsign(data.decode())))
        except (BadSignature, ValueError, TypeError) as error:
            raise ValueError("This is not a task of this desk.") from error


def _queue(name: str) -> Any:
    if settings.QUEUE:
        return RedisHuey(f"heron-{name}", url=settings.QUEUE, results=False, serializer=SignedJson())
    return SqliteHuey(
        f"heron-{name}", filename=str(settings.VAR / "queue.sqlite3"), results=False, serializer=SignedJson()
    )


#: Drawing needs a browser, and the desk's address; packing needs the media folder and the database.
DRAWING, PACKING = _queue("drawing"), _queue("packing")


def put(task: Any, *args: Any) -> bool:
    """Have a task done by whoever is free. Whether the queue took it."""
    try:
        task(*args)
    except Exception:  # Whatever a storage that cannot be reached raises: it has many.
        log.warning("The queue does not answer", exc_info=True)
        return False
    return True
