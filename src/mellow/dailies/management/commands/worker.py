"""`manage.py worker`: draws frames, and packs takes where the media folder is."""

import contextlib
import logging
import os
import threading
import time
from typing import Any

from django.core.management import BaseCommand

from mellow.dailies import browser, desk, queue, tasks

#: How often it says that it is there.
_EVERY_S = 5.0
#: Beside a desk it runs at a lower priority than whoever works there.
_NICE = 10


class Command(BaseCommand):
    """Runs until it is stopped, or until whoever started it is gone."""

    help = "Draw frames of renders, and pack takes."

    def add_arguments(self, parser: Any) -> None:
        parser.add_argument("--desk", help="the address of the desk, such as http://127.0.0.1:8014")
        parser.add_argument("--name", help="the name it claims frames by; keep it when the worker restarts")
        parser.add_argument(
            "--draw-only", action="store_true", help="pack nothing: the media folder is on another machine"
        )
        parser.add_argument("--with-parent", type=int, metavar="PID", help="stop when that process is gone")

    def handle(self, *args: Any, **options: Any) -> None:
        if options["desk"]:
            os.environ["MELLOW_DESK"] = options["desk"]
        if options["name"]:
            os.environ["MELLOW_WORKER"] = options["name"]
        logging.getLogger("huey").setLevel(logging.ERROR)
        packs = not options["draw_only"]
        if options["with_parent"]:
            os.nice(_NICE)
            threading.Thread(target=_with_parent, args=(options["with_parent"],), daemon=True).start()
        threading.Thread(target=_be_there, args=(packs,), daemon=True).start()
        self._take_up(packs)
        consumers = [queue.DRAWING, queue.PACKING] if packs else [queue.DRAWING]
        run = [
            one.create_consumer(workers=1, periodic=False, initial_delay=0.05, backoff=1.2, max_delay=0.5)
            for one in consumers
        ]
        for one in run[1:]:
            one.start()
        run[0].run()

    def _take_up(self, packs: bool) -> None:
        """What was claimed under this name before, and what was left lying, is taken up again."""
        while True:
            try:
                left = desk.ask("POST", "workers/begin", {"name": desk.worker_name(), "packs": packs})
                break
            except OSError:
                time.sleep(0.5)
        for one in left:
            if one["state"] == "packing":
                if packs:
                    queue.put(tasks.pack, one["id"])
            else:
                queue.put(tasks.draw, one["id"], one["frozen"], one["wide"], one["high"])


def _be_there(packs: bool) -> None:
    while True:
        said = {"name": desk.worker_name(), "draws": browser.chromium() is not None, "packs": packs}
        # The desk may be on its way; it is told again in a moment.
        with contextlib.suppress(OSError):
            desk.ask("POST", "workers", said)
        time.sleep(_EVERY_S)


def _with_parent(parent: int) -> None:
    while os.getppid() == parent:
        time.sleep(0.5)
    # Whatever it was at is claimed by the next one.
    os._exit(0)
