"""Each request runs in a thread of its own, and opening SQLite again takes longer than most requests.

Django looks for `DatabaseWrapper` in a module of this name.
"""

import threading
from typing import Any

from django.db.backends.sqlite3 import base

_IDLE: dict[str, list[Any]] = {}
_LOCK = threading.Lock()
#: Connections kept for the next request.
KEEP = 24


class DatabaseWrapper(base.DatabaseWrapper):
    """SQLite whose closed connections wait for the next request, with nothing under way in them."""

    def get_new_connection(self, conn_params: dict[str, Any]) -> Any:
        """One that waits, or a new one."""
        with _LOCK:
            waiting = _IDLE.get(str(conn_params["database"]))
            if waiting:
                return waiting.pop()
        return super().get_new_connection(conn_params)

    def _close(self) -> None:
        connection = self.connection
        if connection is None or self.is_in_memory_db() or self.errors_occurred:
            super()._close()  # type: ignore[misc]
            return
        connection.rollback()
        name = str(self.settings_dict["NAME"])
        with _LOCK:
            waiting = _IDLE.setdefault(name, [])
            if len(waiting) < KEEP:
                waiting.append(connection)
                return
        super()._close()  # type: ignore[misc]
