"""Curves of what is keyed."""

import math
from typing import Literal

import numpy as np
from django.http import HttpResponse
from ninja import Router

from heron.commands.base import find_any
from heron.curves import Channel, ChannelSpec, Keyed
from heron.curves.drawing import drawn_curve
from heron.curves.handles import HELD
from heron.optics.focus import FOCUS_RING
from heron.scene import Scene
from mellow.actors import Request
from mellow.productions.api.opened import looked_at
from mellow.productions.api.shapes import REFUSALS, CurveOut, CurvesOut, answered, sealed

router = Router()
_TABLES: tuple[Literal["cameras", "movers", "figures"], ...] = ("cameras", "movers", "figures")


@router.get("{int:scene_id}/curves/{thing}", response={200: CurvesOut, **REFUSALS})
def curves(request: Request, scene_id: int, thing: str) -> HttpResponse:
    """Every channel of a camera, a mover or a figure, its parts' too, and its curve."""
    found: Keyed = find_any(looked_at(request, scene_id), thing, _TABLES)[1]
    parts = {id_: str(getattr(part, "kind", "")) for id_, part in found.parts().items() if part.CHANNELS}
    specs = list(found.specs())
    return answered(CurvesOut(
        specs=specs, parts=parts, idle=[spec.name for spec in specs if found.why_idle(spec.name)],
        curves={spec.name: _drawn(spec, found.channel(spec.name)) for spec in specs},
        marks={spec.name: _marks(spec) for spec in specs if spec.shown_as != "itself"},
    ))  # fmt: skip


def looked_curves(before: Scene, after: Scene, things: tuple[str, ...]) -> dict[str, dict[str, CurveOut]]:
    """By thing and channel, the curves of what is looked at that a change makes others."""
    return {thing: found for thing in things if (found := _changed(before, after, thing))}


def _changed(before: Scene, after: Scene, thing: str) -> dict[str, CurveOut]:
    old, new = (_of(scene, thing) for scene in (before, after))
    if old is None or new is None or old is new:
        return {}
    was = {spec.name: old.channel(spec.name) for spec in old.specs()}
    now = {spec: new.channel(spec.name) for spec in new.specs()}
    return {spec.name: _drawn(spec, one) for spec, one in now.items() if was.get(spec.name) != one}


def _of(scene: Scene, thing: str) -> Keyed | None:
    return next((one for table in _TABLES for one in getattr(scene, table) if one.id == thing), None)


def _marks(spec: ChannelSpec) -> list[tuple[float, float]]:
    """As a lens is engraved, kept and shown: thirds of a stop, and the distances of a focus ring."""
    if spec.shown_as == "distance":
        return sorted((spec.kept(metres), metres) for metres in FOCUS_RING)
    low, high = (math.ceil(3 * edge) for edge in spec.span)
    return [(n / 3, spec.shown(n / 3)) for n in range(low, high + 1)]


def _drawn(spec: ChannelSpec, channel: Channel) -> CurveOut:
    drawn = drawn_curve(channel)
    held = np.array([HELD * (key.after == "held") for key in channel.keys])
    keys = np.array([(key.frame, key.value) for key in channel.keys]).reshape(-1, 2)
    shown = np.array([spec.shown(key.value) for key in channel.keys])
    content = np.column_stack([keys, drawn.handles[:, :4], drawn.handles[:, 4] + held, shown])
    return CurveOut(keys=sealed(content.astype("<f4").tobytes()), low=drawn.low, high=drawn.high)
