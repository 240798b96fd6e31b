from django.apps import AppConfig


class LibraryConfig(AppConfig):
    """Files that were brought in."""

    name = "mellow.library"

    def ready(self) -> None:
        """Have the core find files where this server keeps them."""
        from heron.stage.models import find_files
        from mellow.library.store import content_of

        find_files(content_of)
