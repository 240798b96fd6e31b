"""Errors to HTTP, in one place: problem+json with the sentence the desk shows (RFC 9457).

HeronError         400, 404, 422 as its kind says
├── Stale          409: it was changed since the sender saw it
├── NotWritten     507: a folder of files could not take it
└── NotKept        503, 507 or 500: the storage could not take it
"""

import json
import logging
from dataclasses import asdict
from typing import Any

from django.core.exceptions import RequestDataTooBig
from django.db import DatabaseError
from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import HttpError, ValidationError, ValidationErrorContext

from heron.errors import BadInput, HeronError, NotFound, Refused, from_complaint
from mellow.middleware import Middleware

KIND = "application/problem+json"
_SAFE = ("GET", "HEAD", "OPTIONS")
log = logging.getLogger(__name__)


class NotWritten(HeronError):
    """A folder of files could not take something."""


class Stale(Refused):
    """The thing was changed after the sender last saw it; `changes` says how."""

    def __init__(self, reason: str, remedy: str, changes: list[str]) -> None:
        self.changes = changes
        super().__init__(reason, remedy)


_STATUS: tuple[tuple[type[HeronError], int], ...] = (
    (Stale, 409), (NotWritten, 507), (NotFound, 404), (BadInput, 400), (Refused, 422), (HeronError, 400),
)  # fmt: skip
#: What SQLite says (by the beginning of its name for it), the status, why in words, and the remedy.
_STORAGE: tuple[tuple[str, int, str, str], ...] = (
    ("SQLITE_BUSY", 503, "the storage is busy with somebody else's change", "Try again in a moment."),
    ("SQLITE_LOCKED", 503, "the storage is busy with somebody else's change", "Try again in a moment."),
    ("SQLITE_FULL", 507, "the disk is full", "Make room on it, then try again."),
    (
        "SQLITE_READONLY",
        507,
        "the storage can only be read",
        "Allow the server to write to it, then try again.",
    ),
    (
        "SQLITE_CANTOPEN",
        507,
        "the storage cannot be opened",
        "Check that its folder exists and can be written to.",
    ),
    ("SQLITE_IOERR", 507, "the disk did not answer", "Check the disk, then try again."),
)
#: What a status means that comes from no route of ours.
_PLAIN = {
    400: ("The server could not read that.", "Send what the API describes."),
    403: ("That is not allowed here.", "Do it on the desk itself."),
    404: ("There is nothing at this address.", "Open a scene from the list."),
    405: ("This address does not take that.", "Use the method that the API describes."),
    413: ("That is more than the server takes at once.", "Send at most 200 MB."),
    500: (
        "The server failed; nothing was saved.",
        "Try again. Everything saved before is still there.",
    ),
}


def problem(status: int, reason: str, remedy: str = "", **more: Any) -> HttpResponse:
    """One refusal as an answer."""
    body = {
        "type": "about:blank", "title": reason, "status": status,
        "detail": f"{reason} {remedy}".strip(), "remedy": remedy, **more,
    }  # fmt: skip
    return HttpResponse(json.dumps(body), status=status, content_type=KIND)


def plain(status: int) -> HttpResponse:
    """A status that needs no explanation."""
    reason, remedy = _PLAIN.get(status, _PLAIN[400 if status < 500 else 500])
    return problem(status, reason, remedy)


def not_kept(error: DatabaseError, method: str) -> HttpResponse:
    """Storage that could not do it, in a sentence: what was not saved, why, and what to do."""
    name = getattr(error.__cause__, "sqlite_errorname", "")
    verb = "read" if method in _SAFE else "saved"
    for begins, status, why, remedy in _STORAGE:
        if name.startswith(begins):
            return problem(status, f"Not {verb}: {why}.", remedy, not_kept=verb == "saved")
    log.exception("The storage failed", exc_info=error)
    return problem(
        500,
        f"Not {verb}: the storage failed.",
        "Try again; everything saved before is still there.",
        not_kept=verb == "saved",
    )


class HeronAPI(NinjaAPI):
    """The API, whose refusals name the value that was sent."""

    def get_openapi_schema(self, **more: Any) -> Any:
        """The schema, made once; refusals are documented as they are sent."""
        found = self.__dict__.get("_schema")
        if found is None or more:
            found = super().get_openapi_schema(**more)
            for operations in found["paths"].values():
                for operation in operations.values():
                    for status, answer in operation["responses"].items():
                        content = answer.get("content", {})
                        if int(status) >= 400 and "application/json" in content:
                            content[KIND] = content.pop("application/json")
            if not more:
                self.__dict__["_schema"] = found
        return found

    def validation_error_from_error_contexts(
        self, error_contexts: list[ValidationErrorContext[Any]]
    ) -> ValidationError:
        """Pydantic's complaints as they are, with what they are about."""
        found: list[dict[str, Any]] = []
        for context in error_contexts:
            found += [dict(one) for one in context.pydantic_validation_error.errors(include_url=False)]
        return ValidationError(found)


def register(api: NinjaAPI) -> None:
    """Answer every refusal in the one form."""

    @api.exception_handler(HeronError)
    def _heron(request: HttpRequest, error: HeronError) -> HttpResponse:
        status = next(code for kind, code in _STATUS if isinstance(error, kind))
        more: dict[str, Any] = {"changes": error.changes} if isinstance(error, Stale) else {}
        if error.alternatives:
            more["alternatives"] = [asdict(one) for one in error.alternatives]
        return problem(status, error.reason, error.remedy, field=error.field, **more)

    @api.exception_handler(ValidationError)
    def _validation(request: HttpRequest, error: ValidationError) -> HttpResponse:
        return _heron(request, from_complaint(error.errors[0]))

    @api.exception_handler(HttpError)
    def _http(request: HttpRequest, error: HttpError) -> HttpResponse:
        return problem(error.status_code, f"{error}.", "Send what the API describes.")

    @api.exception_handler(RequestDataTooBig)
    def _large(request: HttpRequest, error: RequestDataTooBig) -> HttpResponse:
        return plain(413)

    @api.exception_handler(DatabaseError)
    def _storage(request: HttpRequest, error: DatabaseError) -> HttpResponse:
        return not_kept(error, request.method or "GET")


class PlainProblems(Middleware):
    """Whatever goes wrong, wherever: the answer is a problem in words, never a page."""

    def after(self, request: HttpRequest, response: Any) -> Any:
        """The answer, or its status in words."""
        if response.status_code < 400 or response.headers.get("Content-Type") == KIND:
            return response
        return plain(response.status_code)

    def process_exception(self, request: HttpRequest, error: Exception) -> HttpResponse:
        """What no route caught."""
        if isinstance(error, DatabaseError):
            return not_kept(error, request.method or "GET")
        log.exception("%s %s failed", request.method, request.path, exc_info=error)
        return plain(500)
