"""Django's name for this part."""

from django.apps import AppConfig


class Dailies(AppConfig):
    """Renders: takes, the pictures of their frames, and what is packed of them."""

    name = "mellow.dailies"
    default_auto_field = "django.db.models.BigAutoField"
