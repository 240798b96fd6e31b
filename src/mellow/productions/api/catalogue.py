"""What there is to choose from, and shapes every scene shares."""

from django.http import HttpRequest, HttpResponse
from ninja import Router

from heron.formats.gltf import write_unit_pieces
from heron.optics import DELIVERIES, FILM_BACKS, parse_delivery
from heron.optics.delivery import Delivery
from heron.timebase.rate import RATES, show_rate
from mellow.productions import baking
from mellow.productions.api.shapes import Catalogue, Problem

router = Router()


@router.get("catalogue", response=Catalogue)
def catalogue(request: HttpRequest) -> Catalogue:
    """Film backs, deliveries, rates and places on a body."""
    return Catalogue(
        film_backs=list(FILM_BACKS), deliveries=list(DELIVERIES),
        rates=[show_rate(rate) for rate in RATES], landmarks=baking.landmark_names(),
    )  # fmt: skip


@router.get("delivery", response={200: Delivery, 400: Problem})
def delivery(request: HttpRequest, text: str) -> Delivery:
    """Read a typed delivery aspect."""
    return parse_delivery(text)


@router.get("shapes/pieces.glb")
def pieces(request: HttpRequest) -> HttpResponse:
    """A unit piece of each kind."""
    response = HttpResponse(write_unit_pieces(), content_type="model/gltf-binary")
    response.headers["Cache-Control"] = "max-age=3600"
    return response
