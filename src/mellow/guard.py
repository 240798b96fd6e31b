"""Keeps other sites and other hosts away from the local server."""

from collections.abc import Callable
from urllib.parse import urlsplit

from django.core.exceptions import DisallowedHost
from django.http import HttpRequest, HttpResponse

from mellow.problems import problem

_SAFE = {"GET", "HEAD", "OPTIONS"}
_POLICY = (
    "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; "
    "connect-src 'self' blob:; worker-src 'self' blob:; frame-ancestors 'none'; base-uri 'none'"
)


class SameOriginOnly:
    """Refuses foreign Host headers, and changes asked for by any other site."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        try:
            host = request.get_host()
        except DisallowedHost:
            return problem(400, "This server answers on this machine only.", "Open it at 127.0.0.1.")
        if request.method not in _SAFE and self._foreign(request, host):
            return problem(403, "Another site asked for this change.", "Make it on the desk itself.")
        response = self.get_response(request)
        response.headers.setdefault("Content-Security-Policy", _POLICY)
        response.headers.setdefault("X-Content-Type-Options", "nosniff")
        response.headers.setdefault("Referrer-Policy", "same-origin")
        return response

    @staticmethod
    def _foreign(request: HttpRequest, host: str) -> bool:
        origin = request.headers.get("Origin")
        if origin is not None and urlsplit(origin).netloc != host:
            return True
        if request.headers.get("Sec-Fetch-Site", "same-origin") not in ("same-origin", "none"):
            return True
        # A form on another page can send anything but JSON.
        kind = request.headers.get("Content-Type", "").split(";")[0].strip()
        return bool(request.body) and kind != "application/json"
