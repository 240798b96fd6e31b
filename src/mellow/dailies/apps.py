"""Django's name for this part."""

from typing import Any

from django.apps import AppConfig
from django.db.models.signals import post_delete


class Dailies(AppConfig):
    """Renders: takes, the pictures of their frames, and what is packed of them."""

    name = "mellow.dailies"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        """What a take handed over goes with it, also when its whole scene goes."""
        from mellow.dailies import media
        from mellow.dailies.models import Take

        def gone(sender: type[Take], instance: Take, **_: Any) -> None:
            media.drop(instance.pk)

        post_delete.connect(gone, sender=Take, weak=False)
