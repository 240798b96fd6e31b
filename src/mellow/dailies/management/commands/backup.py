"""`manage.py backup FILE`: all that the desk keeps, in one file."""

from pathlib import Path
from typing import Any

from django.core.management import BaseCommand

from mellow.backups import write_backup


class Command(BaseCommand):
    """The desk may be running."""

    help = "Write all scenes, takes and settings to one file; the desk may be running."

    def add_arguments(self, parser: Any) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        write_backup(options["file"])
        size = options["file"].stat().st_size / 1e6
        self.stdout.write(f"Backed up to {options['file']} ({size:.1f} MB).")
