"""Where work waits for workers: a file of its own beside the database, or a Redis server that many machines share.

Nothing is lost with it. What is to be drawn stands in the database; a task only sends a worker there.
"""

import logging
from typing import Any

from django.conf import settings
from huey import RedisHuey, SqliteHuey

log = logging.getLogger(__name__)


def _queue(name: str) -> Any:
    if settings.QUEUE:
        return RedisHuey(f"heron-{name}", url=settings.QUEUE, results=False)
    return SqliteHuey(f"heron-{name}", filename=str(settings.VAR / "queue.sqlite3"), results=False)


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
