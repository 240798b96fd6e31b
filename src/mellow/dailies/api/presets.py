"""Ways to render, kept under names."""

from ninja import Router

from heron.dailies.asked import Preset, Render
from heron.errors import NotFound
from mellow.actors import Request, permit
from mellow.dailies import models
from mellow.dailies.api.shapes import PresetOut
from mellow.productions.api.scenes import production
from mellow.productions.api.shapes import REFUSALS

router = Router()
#: What each desk begins with.
_FIRST = (
    Preset(name="Preview", render=Render()),
    Preset(name="Review", render=Render(high=1080, quality="fine")),
    Preset(
        name="For the editor",
        render=Render(
            high=1080, quality="fine", spare=8, pictures="png", movie=True, slate=False, leader=True
        ),
    ),
)


@router.get("presets", response=list[PresetOut])
def listing(request: Request) -> list[PresetOut]:
    """All of them, by name; first those that every desk has, under 0."""
    permit(request.auth, "look")
    own = models.Preset.objects.filter(production=production())
    kept = [
        PresetOut(id=row.pk, preset=Preset(name=row.name, render=Render.model_validate(row.render)))
        for row in own
    ]
    names = {one.preset.name for one in kept}
    return [PresetOut(id=0, preset=one) for one in _FIRST if one.name not in names] + kept


@router.post("presets", response={200: list[PresetOut], **REFUSALS})
def keep(request: Request, payload: Preset) -> list[PresetOut]:
    """Keep a way to render; under the same name it takes the other's place."""
    permit(request.auth, "edit")
    render = payload.render.model_dump(mode="json")
    # What is rendered is chosen each time.
    for name in ("of", "shots", "camera", "frames", "note"):
        render.pop(name)
    models.Preset.objects.update_or_create(
        production=production(), name=payload.name, defaults={"render": render}
    )
    return listing(request)


@router.delete("presets/{int:preset_id}", response={200: list[PresetOut], **REFUSALS})
def delete(request: Request, preset_id: int) -> list[PresetOut]:
    """Forget one."""
    permit(request.auth, "edit")
    if not models.Preset.objects.filter(pk=min(preset_id, 2**62)).delete()[0]:
        raise NotFound("That preset is gone.", "Choose another.")
    return listing(request)
