"""`manage.py demo`: prepare the database, put the demo in, and serve the desk."""

import os
import socket
import subprocess
import sys
import threading
from collections.abc import Callable
from typing import Any

import numpy as np
import uvicorn
from django.core.management import BaseCommand, call_command

from heron.commands.registry import parse
from heron.demo import CUT_LIVE, slack_tide_film
from heron.demo.far_bank import far_bank
from heron.demo.first_try import first_try
from heron.demo.sounds import demo_sounds
from heron.film.document import FilmDoc, ReelOf
from heron.sound.files import SoundFile, packed
from mellow.actors import Actor
from mellow.films import rows as films
from mellow.productions import log, models, rows, sounds
from mellow.productions.api.scenes import production

#: Seconds after which a worker that ended is started again.
_AGAIN_S = 1.0


class Command(BaseCommand):
    """Serves on the loopback address only."""

    help = "Prepare the database, put the demo scene in, and serve the desk."

    def add_arguments(self, parser: Any) -> None:
        parser.add_argument("--port", type=int, default=8014)
        parser.add_argument("--no-serve", action="store_true", help="prepare only")
        parser.add_argument(
            "--without-files",
            action="store_true",
            help="leave out the scene that plays in a set that was brought in",
        )
        parser.add_argument("--no-worker", action="store_true", help="begin no worker beside the server")

    def handle(self, *args: Any, **options: Any) -> None:
        call_command("migrate", verbosity=0)
        if not models.Scene.objects.exists():
            first = rows.create(production(), slack_tide_film())
            second = rows.create(production(), far_bank())
            rows.create(production(), first_try())
            log.do(first.pk, parse([CUT_LIVE])[0], 0, Actor("artist"))
            self._sounds(first)
            if not options["without_files"]:
                # What it reads files with takes seconds to load.
                from mellow.library.demo import keep_boathouse

                keep_boathouse()
            # The newest stands first in the list.
            first.save()
            reels = tuple(ReelOf(id=f"reel-{n}", scene=row.pk) for n, row in enumerate((first, second), 1))
            films.create(production(), FilmDoc(name="The Crossing", reels=reels))
        if options["no_serve"]:
            return
        port = self._free(options["port"])
        self.stdout.write(
            self.style.SUCCESS(f"\nMellow Heron is at http://127.0.0.1:{port}/   (Ctrl+C stops it)\n")
        )
        self.stdout.flush()
        worker = None if options["no_worker"] else Kept(lambda: self._worker(port))
        sys.setswitchinterval(0.0005)
        uvicorn.run(
            "mellow.asgi:application", host="127.0.0.1", port=port, log_level="warning", lifespan="off",
            timeout_graceful_shutdown=2,
        )  # fmt: skip
        if worker:
            worker.stop()
        # Something may still be baking for an answer nobody waits for; what was acknowledged is on the disk.
        os._exit(0)

    @staticmethod
    def _sounds(row: models.Scene) -> None:
        """Keep what the demo sounds like, and lay it."""
        row.refresh_from_db()
        for revision, sound in enumerate(demo_sounds(rows.load(row), "fig-odile"), 1):
            kept = sounds.keep(
                production(),
                packed(SoundFile(sound.data.reshape(len(sound.data), -1).astype(np.float32))),
                sound.name,
            )
            command = {
                "kind": "sound.add",
                "name": sound.name,
                "file": kept.key,
                "samples": kept.samples,
                **sound.laid,
            }
            log.do(row.pk, parse([command])[0], revision, Actor("artist"))
        row.refresh_from_db()

    @staticmethod
    def _worker(port: int) -> "subprocess.Popen[bytes]":
        """Whoever draws and packs renders, beside the server; it ends with it, however that ends."""
        command = [
            sys.executable,
            sys.argv[0],
            "worker",
            "--with-parent",
            str(os.getpid()),
            "--desk",
            f"http://127.0.0.1:{port}",
        ]
        # Who works at the desk comes first.
        return subprocess.Popen(command, preexec_fn=lambda: os.nice(5))

    @staticmethod
    def _free(port: int) -> int:
        for candidate in range(port, port + 20):
            with socket.socket() as probe:
                probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
                try:
                    probe.bind(("127.0.0.1", candidate))
                except OSError:
                    continue
                return candidate
        raise SystemExit(f"Ports {port} to {port + 19} are all in use. Give another: --port N.")


class Kept:
    """A process that is started again whenever it ends, until it is to stop."""

    def __init__(self, start: Callable[[], "subprocess.Popen[bytes]"]) -> None:
        self._start, self._over = start, threading.Event()
        self.process = start()
        threading.Thread(target=self._watch, daemon=True).start()

    def _watch(self) -> None:
        while not self._over.is_set():
            self.process.wait()
            # One that cannot begin does not begin over and over.
            if self._over.wait(_AGAIN_S):
                return
            self.process = self._start()

    def stop(self) -> None:
        """End it for good."""
        self._over.set()
        self.process.terminate()
