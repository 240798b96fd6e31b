"""`manage.py restore FILE`: a backup in place of all that the desk keeps."""

from pathlib import Path
from typing import Any

from django.core.management import BaseCommand, CommandError, call_command

from heron.errors import HeronError
from mellow.backups import read_backup


class Command(BaseCommand):
    """The desk may be running: reload its pages afterwards."""

    help = "Replace all scenes, takes and settings by a backup; the desk may be running."

    def add_arguments(self, parser: Any) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            read_backup(options["file"])
        except HeronError as error:
            raise CommandError(str(error)) from None
        # A backup may be of an earlier version.
        call_command("migrate", verbosity=0)
        self.stdout.write(f"Restored from {options['file']}. Reload the desk's pages.")
