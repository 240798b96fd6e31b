"""Errors to HTTP, in one place: problem+json with the sentence the desk shows (RFC 9457)."""

import json
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import HttpError, ValidationError

from heron.errors import BadInput, BeyondLens, HeronError, NotFound, Refused, from_complaint


class Stale(Refused):
    """The thing was changed after the sender last saw it; `changes` says how."""

    def __init__(self, reason: str, remedy: str, changes: list[str]) -> None:
        self.changes = changes
        super().__init__(reason, remedy)


_STATUS: tuple[tuple[type[HeronError], int], ...] = (
    (Stale, 409), (NotFound, 404), (BadInput, 400), (Refused, 422), (HeronError, 400),
)  # fmt: skip


def problem(status: int, reason: str, remedy: str = "", **more: Any) -> HttpResponse:
    """One refusal as an answer."""
    body = {
        "type": "about:blank", "title": reason, "status": status,
        "detail": f"{reason} {remedy}".strip(), "remedy": remedy, **more,
    }  # fmt: skip
    return HttpResponse(json.dumps(body), status=status, content_type="application/problem+json")


def register(api: NinjaAPI) -> None:
    """Answer every refusal in the one form."""

    @api.exception_handler(HeronError)
    def _heron(request: HttpRequest, error: HeronError) -> HttpResponse:
        status = next(code for kind, code in _STATUS if isinstance(error, kind))
        more: dict[str, Any] = {"changes": error.changes} if isinstance(error, Stale) else {}
        if isinstance(error, BeyondLens):
            more["can_force"] = True
        return problem(status, error.reason, error.remedy, field=error.field, **more)

    @api.exception_handler(ValidationError)
    def _validation(request: HttpRequest, error: ValidationError) -> HttpResponse:
        return _heron(request, from_complaint(error.errors[0]))

    @api.exception_handler(HttpError)
    def _http(request: HttpRequest, error: HttpError) -> HttpResponse:
        return problem(error.status_code, f"{error}.", "Send what the API describes.")
