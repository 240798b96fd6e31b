"""What stands round every route.

Django takes a request to another thread for each middleware that is not asynchronous, and back again.
These are quick and wait for nothing, so they run where the request is.
"""

from collections.abc import Callable
from typing import Any

from asgiref.sync import iscoroutinefunction, markcoroutinefunction
from django.http import HttpRequest


class Middleware:
    """A middleware for both kinds of server: `before` may answer at once, `after` may change the answer."""

    sync_capable = True
    async_capable = True

    def __init__(self, get_response: Callable[[HttpRequest], Any]) -> None:
        self.get_response = get_response
        self.waits = iscoroutinefunction(get_response)
        if self.waits:
            markcoroutinefunction(self)

    def __call__(self, request: HttpRequest) -> Any:
        if self.waits:
            return self._awaited(request)
        answer = self.before(request)
        return self.after(request, self.get_response(request)) if answer is None else answer

    async def _awaited(self, request: HttpRequest) -> Any:
        answer = self.before(request)
        return self.after(request, await self.get_response(request)) if answer is None else answer

    def before(self, request: HttpRequest) -> Any:
        """An answer, or None to go on."""
        return None

    def after(self, request: HttpRequest, response: Any) -> Any:
        """The answer to give."""
        return response
