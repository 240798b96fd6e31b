"""`manage.py openapi`: the API's schema as JSON, from which the desk's types are made."""

import json
from pathlib import Path
from typing import Any

from django.core.management import BaseCommand

from mellow.api import api


class Command(BaseCommand):
    """Writes the schema to a file."""

    help = "Write the API's OpenAPI schema."

    def add_arguments(self, parser: Any) -> None:
        parser.add_argument("out", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        text = json.dumps(api.get_openapi_schema(), indent=1, sort_keys=True, default=str)
        options["out"].write_text(text + "\n", encoding="utf-8")
