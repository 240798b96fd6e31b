"""The built desk's files, by WhiteNoise, from where the request is."""

from collections.abc import Callable
from typing import Any

from asgiref.sync import iscoroutinefunction, markcoroutinefunction
from django.http import HttpRequest, HttpResponse
from whitenoise.middleware import WhiteNoiseMiddleware


class Files(WhiteNoiseMiddleware):  # type: ignore[misc]
    """Files are small and on this disk: each is read and sent whole."""

    sync_capable = True
    async_capable = True

    def __init__(self, get_response: Callable[[HttpRequest], Any]) -> None:
        super().__init__(get_response)
        self.waits = iscoroutinefunction(get_response)
        if self.waits:
            markcoroutinefunction(self)

    def __call__(self, request: HttpRequest) -> Any:
        found = self.files.get(request.path_info)
        if found is None:
            return self.get_response(request)
        served = self.serve(found, request)
        content = b"".join(served.streaming_content) if served.streaming else served.content
        answer = HttpResponse(content, status=served.status_code, headers=dict(served.headers))
        served.close()
        return self._at_once(answer) if self.waits else answer

    @staticmethod
    async def _at_once(answer: HttpResponse) -> HttpResponse:
        return answer
