"""What there is to choose from, and shapes every scene shares."""

from dataclasses import asdict
from typing import get_args

from django.http import HttpResponse
from ninja import Router

from heron.bake import CAMERA_COLUMNS, figures, movers
from heron.commands.key_edits import ERRORS
from heron.commands.shot_sizes import ShotSize
from heron.commands.starts import SIZES
from heron.formats.gltf import write_unit_pieces
from heron.model import changed
from heron.optics import DELIVERIES, FILM_BACKS, parse_delivery
from heron.optics.delivery import Delivery
from heron.rigs.describe import FOLLOWERS, HANDS
from heron.scene import Camera
from heron.scene.focus import Focus
from heron.scene.layers import LAYERS
from heron.stage.mover import Mover
from heron.timebase.rate import RATES, rate_name, show_rate
from mellow.actors import Request
from mellow.productions import baking
from mellow.productions.api.shapes import Catalogue, ChoiceOut, Columns, IdleOut, PlainOut, Problem

router = Router()
_FOCUS = [changed(spec, name=f"focus.{spec.name}") for spec in Focus.CHANNELS]


@router.get("catalogue", response=Catalogue)
def catalogue(request: Request) -> Catalogue:
    """Film backs, deliveries, rates, places on a body, and the table of channels."""
    return Catalogue(
        film_backs=list(FILM_BACKS), deliveries=list(DELIVERIES),
        rates=[show_rate(rate) for rate in RATES], rate_names={show_rate(r): rate_name(r) for r in RATES}, landmarks=baking.landmark_names(),
        channels={"camera": [*Camera.CHANNELS, *_FOCUS], "mover": list(Mover.CHANNELS)},
        layers={kind.model_fields["kind"].default: list(kind.CHANNELS) for kind in LAYERS}, hands=HANDS, followers=FOLLOWERS, simplified_within=dict(ERRORS),
        layer_choices={
            kind.model_fields["kind"].default: [
                ChoiceOut(field=one.field, label=one.label, values=list(one.values.items())) for one in kind.CHOICES
            ]
            for kind in LAYERS
        },
        layer_numbers={
            kind.model_fields["kind"].default: [PlainOut(**asdict(one)) for one in kind.NUMBERS] for kind in LAYERS
        },
        layer_idle={
            kind.model_fields["kind"].default: [
                IdleOut(field=field, value=value, channels=list(names)) for field, value, names in kind.IDLE
            ]
            for kind in LAYERS
        },
        shot_sizes=list(get_args(ShotSize)), start_sizes=SIZES,
        columns=Columns(camera=list(CAMERA_COLUMNS), mover=list(movers.COLUMNS), figure=list(figures.COLUMNS)),
    )  # fmt: skip


@router.get("delivery", response={200: Delivery, 400: Problem})
def delivery(request: Request, text: str) -> Delivery:
    """Read a typed delivery aspect."""
    return parse_delivery(text)


@router.get("shapes/pieces.glb")
def pieces(request: Request) -> HttpResponse:
    """A unit piece of each kind."""
    response = HttpResponse(write_unit_pieces(), content_type="model/gltf-binary")
    response.headers["Cache-Control"] = "max-age=3600"
    return response
