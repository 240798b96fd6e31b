"""Django's name for this part."""

from django.apps import AppConfig


class Films(AppConfig):
    """Films, and their history; scenes know nothing of them."""

    name = "mellow.films"
    default_auto_field = "django.db.models.BigAutoField"
