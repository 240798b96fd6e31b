"""Django's name for this part."""

from typing import Any

from django.apps import AppConfig


class Films(AppConfig):
    """Films, and their history; scenes and takes know nothing of them."""

    name = "mellow.films"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        """A worker knows its task, a film goes on when a take of one of its scenes has ended, and keeps its scenes."""
        from mellow.dailies.work import ended, taking_up
        from mellow.films import tasks  # noqa: F401
        from mellow.films.renders import carry_on_with, take_up
        from mellow.films.rows import refuse_shown
        from mellow.productions.rows import deleting

        def on_end(take: Any, **_: Any) -> None:
            carry_on_with(take)

        def on_delete(scene: Any, **_: Any) -> None:
            refuse_shown(scene)

        def on_begin(name: str, **_: Any) -> None:
            take_up(name)

        ended.connect(on_end, weak=False)
        taking_up.connect(on_begin, weak=False)
        deleting.connect(on_delete, weak=False)
