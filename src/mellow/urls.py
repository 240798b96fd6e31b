"""The API, and one page for every other address: the desk reads it from there."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.urls import path, re_path

from mellow.api import api
from mellow.problems import plain, problem


def desk(request: HttpRequest) -> HttpResponse:
    """The desk's page, at any address that is a place in it."""
    page = settings.WEB_BUILD / "index.html"
    if not page.exists():
        return problem(503, "The desk has not been built.", "Run `make demo`.")
    response = HttpResponse(page.read_bytes(), content_type="text/html; charset=utf-8")
    response.headers["Cache-Control"] = "no-cache"
    return response


def failed(request: HttpRequest) -> HttpResponse:
    """What nothing else caught."""
    return plain(500)


handler500 = failed
urlpatterns = [
    path("api/", api.urls),
    re_path(r"^(?:scene/.*|film/.*|draw/[0-9]+)?$", desk),
]
