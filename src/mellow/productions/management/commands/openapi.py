"""`manage.py openapi`: the API's schema, and what there is to choose from, as JSON the desk is built from."""

from pathlib import Path
from typing import Any

from django.core.management import BaseCommand

from mellow.made import made


class Command(BaseCommand):
    """Writes them into a folder."""

    help = "Write the API's OpenAPI schema and its catalogue."

    def add_arguments(self, parser: Any) -> None:
        parser.add_argument("folder", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        for name, text in made().items():
            (options["folder"] / name).write_text(text, encoding="utf-8")
