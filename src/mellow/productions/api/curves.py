"""Curves of what is keyed."""

from typing import Literal

import numpy as np
from django.http import HttpResponse
from ninja import Router

from heron.commands.base import find_any
from heron.curves import Channel, Keyed
from heron.curves.drawing import drawn_curve
from heron.scene import Scene
from mellow.actors import Request
from mellow.productions.api.opened import looked_at
from mellow.productions.api.shapes import REFUSALS, CurveOut, CurvesOut, answered, sealed

router = Router()
_HELD = 16
_TABLES: tuple[Literal["cameras", "movers"], ...] = ("cameras", "movers")


@router.get("{int:scene_id}/curves/{thing}", response={200: CurvesOut, **REFUSALS})
def curves(request: Request, scene_id: int, thing: str) -> HttpResponse:
    """Every channel of a camera or mover, its layers' too, and its curve."""
    found: Keyed = find_any(looked_at(request, scene_id), thing, _TABLES)[1]
    parts = {id_: str(getattr(part, "kind", "")) for id_, part in found.parts().items() if part.CHANNELS}
    return answered(CurvesOut(
        specs=list(found.specs()), parts=parts,
        curves={name: _drawn(channel) for name, channel in _channels(found).items()},
    ))  # fmt: skip


def looked_curves(before: Scene, after: Scene, things: tuple[str, ...]) -> dict[str, dict[str, CurveOut]]:
    """By thing and channel, the curves of what is looked at that a change makes others."""
    return {thing: found for thing in things if (found := _changed(before, after, thing))}


def _changed(before: Scene, after: Scene, thing: str) -> dict[str, CurveOut]:
    old, new = (_of(scene, thing) for scene in (before, after))
    if old is None or new is None or old is new:
        return {}
    was = _channels(old)
    return {
        name: _drawn(channel)
        for name, channel in _channels(new).items()
        if (known := was.get(name)) is not channel and known != channel
    }


def _of(scene: Scene, thing: str) -> Keyed | None:
    return next((one for table in _TABLES for one in getattr(scene, table) if one.id == thing), None)


def _channels(thing: Keyed) -> dict[str, Channel]:
    return {spec.name: thing.channel(spec.name) for spec in thing.specs()}


def _drawn(channel: Channel) -> CurveOut:
    drawn = drawn_curve(channel)
    held = np.array([_HELD * (key.after == "held") for key in channel.keys])
    keys = np.array([(key.frame, key.value) for key in channel.keys]).reshape(-1, 2)
    content = np.column_stack([keys, drawn.handles[:, :4], drawn.handles[:, 4] + held])
    return CurveOut(keys=sealed(content.astype("<f4").tobytes()), low=drawn.low, high=drawn.high)
