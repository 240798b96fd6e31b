"""Who asks, and what they may: the one place where permission is asked."""

from dataclasses import dataclass
from functools import cached_property
from typing import Any, Literal

from django.contrib.auth import get_user_model
from django.http import HttpRequest

from heron.errors import Refused

#: Look at a scene; change it; make or delete whole scenes and what belongs to the production.
Action = Literal["look", "edit", "manage"]


@dataclass(frozen=True)
class Actor:
    """Somebody who asks for something, by the name of the row that their changes are kept under."""

    name: str
    may: frozenset[Action] = frozenset({"look", "edit", "manage"})

    @cached_property
    def user(self) -> Any:
        """The row; looked for only when it is needed."""
        return get_user_model().objects.get_or_create(username=self.name)[0]


class Request(HttpRequest):
    """A request to a route, with who asks."""

    auth: Actor


def local_person(request: HttpRequest) -> Actor:
    """The one person who works here until there is sign-in; each route is given them as `request.auth`."""
    return Actor("artist")


def permit(actor: Actor, action: Action) -> None:
    """Let it pass, or not.

    Raises:
        Refused: the actor may not.
    """
    if action not in actor.may:
        raise Refused("You may look at this, but not change it.", "Ask whoever runs this desk.")
