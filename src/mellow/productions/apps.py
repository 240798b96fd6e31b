from django.apps import AppConfig


class ProductionsConfig(AppConfig):
    """Scenes, their rows and their history."""

    name = "mellow.productions"
