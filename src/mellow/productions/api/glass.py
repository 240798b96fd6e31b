"""What a lens does to the picture: sharpness in words, clipping, comparisons, lines over the frame."""

from typing import Annotated

import numpy as np
from ninja import Router
from pydantic import Field

from heron.curves import evaluate
from heron.errors import BadInput
from heron.framing import (
    FrameLine,
    SafeArea,
    clipping,
    compare,
    figures_in_focus,
    frame_lines,
    in_words,
    shot_size,
    usual_lenses,
)
from heron.model import Model
from heron.optics import KitLens, aperture_points, parse_deliveries, parse_delivery
from heron.optics.aperture import MOST_POINTS
from heron.scene import find
from heron.timebase import Frames
from heron.timebase.frames import FrameNumber
from mellow.actors import Request, permit
from mellow.productions import baking, models
from mellow.productions.api.opened import looked_at
from mellow.productions.api.scenes import kit_of, production
from mellow.productions.api.shapes import REFUSALS, ComparedOut, CompareIn, GlassOut

router = Router()


class Opening(Model):
    """Points spread over a lens's opening, x and y in turn; its corners lie on the unit circle."""

    points: list[float]


@router.get("opening", response=Opening)
def opening(
    request: Request,
    blades: Annotated[int, Field(ge=0, le=20)] = 0,
    count: Annotated[int, Field(ge=1, le=MOST_POINTS)] = 64,
) -> Opening:
    """Where to draw from so that many pictures add up to one through a lens."""
    return Opening(points=aperture_points(0 if blades < 3 else blades, count).ravel().tolist())


@router.get("lines", response={200: list[FrameLine], 400: REFUSALS[400]})
def lines(
    request: Request, aspect: float, safe: SafeArea = "smpte", protect: str = "", follow: float = 0.0
) -> list[FrameLine]:
    """Lines over a frame of an aspect."""
    frame = parse_delivery(str(aspect)).aspect
    return frame_lines(frame, safe, parse_deliveries(protect), follow)


@router.get("kit", response=list[KitLens])
def kit(request: Request) -> list[KitLens]:
    """The production's own lens kit."""
    return list(kit_of(production()))


@router.put("scenes/{int:scene_id}/kit", response={200: list[KitLens], **REFUSALS})
def keep_kit(request: Request, scene_id: int) -> list[KitLens]:
    """Make a scene's kit the production's: new scenes begin with it."""
    scene = looked_at(request, scene_id)
    permit(request.auth, "manage")
    if not scene.lenses:
        raise BadInput("This scene's lens kit is empty.", "Put a lens into it first.", field="lenses")
    owner: models.Production = production()
    owner.kit = [lens.model_dump(mode="json") for lens in scene.lenses]
    owner.save(update_fields=["kit"])
    return list(scene.lenses)


@router.get("scenes/{int:scene_id}/glass/{camera}", response={200: GlassOut, **REFUSALS})
def glass(
    request: Request,
    scene_id: int,
    camera: str,
    frame: FrameNumber,
    longer: Annotated[int, Field(ge=16, le=16_384)] = 1920,
) -> GlassOut:
    """What is sharp and what is clipped at a frame; pixels are of a picture with that longer side."""
    scene = looked_at(request, scene_id)
    one = find(scene, "cameras", camera)
    _inside(scene.frames, frame)
    width = round(longer * min(scene.delivery.aspect, 1.0))
    bake = baking.bake_of(scene)
    found = figures_in_focus(bake, one, frame, width)
    at = np.array([frame])
    layers = {
        layer.id: {spec.name: float(evaluate(layer.channel(spec.name), at)[0]) for spec in layer.CHANNELS}
        for layer in one.layers
    }
    size = shot_size(bake, one, frame)
    return GlassOut(
        size=", ".join(size) if size else "",
        size_of=next((f.id for f in scene.figures if size and f.name == size[0]), ""),
        figures=found,
        words=in_words(found),
        clipped=clipping(bake, one, frame),
        layers=layers,
    )


@router.post("scenes/{int:scene_id}/compare", response={200: list[ComparedOut], **REFUSALS})
def comparison(request: Request, scene_id: int, payload: CompareIn) -> list[ComparedOut]:
    """The same figure at the same size through several lenses."""
    scene = looked_at(request, scene_id)
    _inside(scene.frames, payload.frame)
    camera = find(scene, "cameras", payload.camera)
    done = compare(
        baking.bake_of(scene), camera, payload.focals or usual_lenses(scene), payload.frame, payload.figure
    )
    return [ComparedOut.model_validate(one, from_attributes=True) for one in done]


def _inside(frames: Frames, frame: int) -> None:
    if frame not in frames:
        raise BadInput(f"Frame {frame} is outside {frames}.", "Ask for one inside.", field="frame")
