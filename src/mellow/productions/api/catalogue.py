"""What there is to choose from, and shapes every scene shares."""

from dataclasses import asdict
from typing import get_args

from django.http import HttpResponse
from ninja import Router

from heron.bake import CAMERA_COLUMNS, figures, movers
from heron.commands.acting import kind_name
from heron.commands.key_edits import ERRORS
from heron.commands.move_kinds import KINDS
from heron.commands.posing import HELD_BY
from heron.commands.shot_sizes import ShotSize
from heron.commands.starts import LABELS, SIZES, Shot
from heron.curves.drawing import BITS, KEY_NUMBERS
from heron.curves.feel import FEELS
from heron.formats.gltf import write_body, write_unit_pieces
from heron.hand.working import FEEL, WORKING
from heron.model import changed
from heron.optics import DELIVERIES, FILM_BACKS, parse_delivery
from heron.optics.delivery import Delivery
from heron.rigs.describe import FOLLOWERS, HANDS
from heron.scene import Camera
from heron.scene.focus import Focus
from heron.scene.layers import LAYERS, Layer
from heron.scene.links import subject_field
from heron.stage.acts import KINDS as KINDS_OF_ACT
from heron.stage.acts import LANES, Act, choices_of, flags_of, names_of, numbers_of
from heron.stage.figure import Figure
from heron.stage.fresh import MOVERS
from heron.stage.light import Light
from heron.stage.mover import Hinge, Mover, Slide
from heron.stage.piece import DrawnKind
from heron.timebase.rate import RATES, rate_name, show_rate
from mellow.actors import Request
from mellow.productions import baking
from mellow.productions.api.catalogue_shapes import (
    ActOut,
    Catalogue,
    ChoiceOut,
    Columns,
    DrawnKeyOut,
    HandOut,
    IdleOut,
    LayerOut,
    MoveOut,
    NumberOut,
    PlainOut,
    StartOut,
    WorkingOut,
)
from mellow.productions.api.shapes import Problem

router = Router()
_CAMERA = [*Camera.CHANNELS, *(changed(spec, name=f"focus.{spec.name}") for spec in Focus.CHANNELS)]


@router.get("catalogue", response=Catalogue)
def catalogue(request: Request) -> Catalogue:
    """Film backs, deliveries, rates, places on a body, and the table of channels."""
    return everything()


def everything() -> Catalogue:
    """What there is to choose from; the desk is built with it."""
    return Catalogue(
        film_backs=list(FILM_BACKS), deliveries=list(DELIVERIES),
        rates=[show_rate(rate) for rate in RATES], rate_names={show_rate(r): rate_name(r) for r in RATES}, landmarks=baking.landmark_names(),
        channels={"camera": _CAMERA, "mover": list(Mover.CHANNELS), "hinge": list(Hinge.CHANNELS), "slide": list(Slide.CHANNELS), "light": list(Light.CHANNELS)},
        layers={kind.model_fields["kind"].default: _layer(kind) for kind in LAYERS}, hands=HANDS, followers=FOLLOWERS,
        simplified_within=dict(ERRORS), shot_sizes=list(get_args(ShotSize)), piece_kinds=list(get_args(DrawnKind)), feels=FEELS,
        starts=[
            StartOut(shot=shot, label=LABELS[shot][0], figures=list(LABELS[shot][1]), size=SIZES[shot]) for shot in get_args(Shot)
        ],
        moves=[MoveOut(what=what, **asdict(kind)) for what, kind in KINDS.items()],
        working={
            table: [WorkingOut(works=one.works, label=one.label, channels=list(one.channels)) for one in ways]
            for table, ways in WORKING.items()
        },
        mover_shapes={shape: label for shape, (label, _) in MOVERS.items()},
        acts=[_act(kind) for kind in KINDS_OF_ACT], lanes=list(LANES), pose_parts=dict(HELD_BY),
        hand=HandOut(**asdict(FEEL), limits={spec.name: spec.new_span for spec in _CAMERA}), drawn_key=DrawnKeyOut(numbers=list(KEY_NUMBERS), bits=BITS),
        columns=Columns(camera=list(CAMERA_COLUMNS), mover=list(movers.COLUMNS), figure=list(figures.COLUMNS)),
    )  # fmt: skip


def _act(kind: type[Act]) -> ActOut:
    return ActOut(
        kind=kind_name(kind), label=kind.LABEL, lane=kind.LANE, timed=kind.TIMED, seconds=kind.USUAL_S,
        numbers=[NumberOut(**one) for one in numbers_of(kind)], choices=choices_of(kind), flags=flags_of(kind), at="at" in kind.model_fields,
        points="points" in kind.model_fields, names=names_of(kind),
    )  # fmt: skip


def _layer(kind: type[Layer]) -> LayerOut:
    names = subject_field(kind)
    return LayerOut(
        label=kind.LABEL or str(kind.model_fields["kind"].default).capitalize(), channels=list(kind.CHANNELS),
        subject=names and names.name, several=names is not None and names.several,
        choices=[ChoiceOut(field=one.field, label=one.label, values=list(one.values.items())) for one in kind.CHOICES],
        numbers=[PlainOut(**asdict(one)) for one in kind.NUMBERS],
        idle=[IdleOut(field=field, value=value, channels=list(names)) for field, value, names in kind.IDLE],
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


@router.get("shapes/person.glb")
def person(request: Request) -> HttpResponse:
    """Somebody of usual height, to judge the size of things by."""
    response = HttpResponse(
        write_body(Figure(id="person", name="Person", x=0, z=0)), content_type="model/gltf-binary"
    )
    response.headers["Cache-Control"] = "max-age=3600"
    return response
