"""Keeps other sites and other hosts away from the local server."""

from typing import Any
from urllib.parse import urlsplit

from django.core.exceptions import DisallowedHost, RequestDataTooBig
from django.http import HttpRequest, HttpResponse

from mellow.middleware import Middleware
from mellow.problems import plain, problem

_SAFE = {"GET", "HEAD", "OPTIONS"}
#: What a form on another page cannot send.
_KINDS = ("application/json", "application/octet-stream", "image/png", "image/jpeg", "image/webp")
_POLICY = (
    "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; "
    "connect-src 'self' blob:; worker-src 'self' blob:; frame-ancestors 'self'; base-uri 'none'"
)


class SameOriginOnly(Middleware):
    """Refuses foreign Host headers, and changes asked for by any other site."""

    def before(self, request: HttpRequest) -> HttpResponse | None:
        """A refusal, or None."""
        try:
            host = request.get_host()
        except DisallowedHost:
            return problem(400, "This server answers on this machine only.", "Open it at 127.0.0.1.")
        try:
            foreign = request.method not in _SAFE and self._foreign(request, host)
        except RequestDataTooBig:
            return plain(413)
        if foreign:
            return problem(403, "Another site asked for this change.", "Make it on the desk itself.")
        return None

    def after(self, request: HttpRequest, response: Any) -> Any:
        """The answer, with what browsers are told of it."""
        response.headers.setdefault("Content-Security-Policy", _POLICY)
        response.headers.setdefault("X-Content-Type-Options", "nosniff")
        response.headers.setdefault("Referrer-Policy", "same-origin")
        return response

    @staticmethod
    def _site(origin: str) -> str:
        try:
            return urlsplit(origin).netloc
        except ValueError:
            return ""

    @staticmethod
    def _foreign(request: HttpRequest, host: str) -> bool:
        origin = request.headers.get("Origin")
        if origin is not None and SameOriginOnly._site(origin) != host:
            return True
        if request.headers.get("Sec-Fetch-Site", "same-origin") not in ("same-origin", "none"):
            return True
        kind = request.headers.get("Content-Type", "").split(";")[0].strip()
        return bool(request.body) and kind not in _KINDS
