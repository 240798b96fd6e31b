"""Scenes and their changes."""

from contextlib import suppress
from datetime import timedelta

from django.db.models import Count
from django.http import HttpResponse
from django.utils import timezone
from ninja import Router

from heron.commands.base import copy_name
from heron.errors import Refused
from heron.optics import FIRST_KIT, KitLens, parse_delivery
from heron.scene import Scene, empty_scene
from mellow.actors import Request, permit
from mellow.productions import baking, log, models, rows
from mellow.productions.api.opened import row_for
from mellow.productions.api.shapes import REFUSALS, Head, NewScene, SceneLine, SceneOut, answered
from mellow.productions.open_scenes import opened

router = Router()
#: So long a scene lies in the trash.
TRASH_DAYS = 30


def production() -> models.Production:
    """The production scenes belong to until there are several."""
    return models.Production.objects.get_or_create(name="Production")[0]


def kit_of(owner: models.Production) -> tuple[KitLens, ...]:
    """The lens kit a production's new scenes begin with."""
    return FIRST_KIT if owner.kit is None else tuple(KitLens.model_validate(lens) for lens in owner.kit)


@router.get("", response=list[SceneLine])
def listing(request: Request, put_away: bool = False) -> list[SceneLine]:
    """All scenes, the newest change first; or those in the trash."""
    _empty_trash()
    scenes = (
        models.Scene.objects.filter(frozen_of=None, put_away__isnull=not put_away)
        .order_by("-changed")
        .annotate(cameras=Count("camera", distinct=True), shots=Count("shot", distinct=True))
    )
    return [SceneLine.model_validate(row, from_attributes=True) for row in scenes]


def _empty_trash() -> None:
    """What has lain in the trash for long goes for good, unless a film shows it."""
    before = timezone.now() - timedelta(days=TRASH_DAYS)
    for row in models.Scene.objects.filter(put_away__lt=before):
        with suppress(Refused):
            rows.delete(row)


@router.post("", response={200: SceneOut, **REFUSALS})
def create(request: Request, payload: NewScene) -> HttpResponse:
    """Make an empty scene."""
    permit(request.auth, "manage")
    owner = production()
    scene = empty_scene(payload.name, payload.rate, parse_delivery(payload.delivery), kit_of(owner))
    return _opened(request, rows.create(owner, scene))


@router.post("import", response={200: SceneOut, **REFUSALS})
def bring_in(request: Request, payload: Scene) -> HttpResponse:
    """Store a scene document as a new scene."""
    permit(request.auth, "manage")
    return _opened(request, rows.create(production(), payload))


@router.get("{int:scene_id}", response={200: SceneOut, **REFUSALS})
def read(request: Request, scene_id: int, at: int | None = None) -> HttpResponse:
    """A whole scene, as it is or as it was at a revision."""
    row = row_for(request, scene_id)
    return _opened(request, row, None if at is None else log.as_of(row, at))


@router.delete("{int:scene_id}", response={200: Head, **REFUSALS})
def put_away(request: Request, scene_id: int, for_good: bool = False) -> Head:
    """Put a scene in the trash, from which it comes back for 30 days; or delete it for good, with its history."""
    row = row_for(request, scene_id)
    permit(request.auth, "manage")
    if row.frozen_at is not None:
        raise Refused("This scene belongs to a take.", "Delete the take instead.")
    if for_good:
        rows.delete(row)
    else:
        models.Scene.objects.filter(pk=row.pk).update(put_away=timezone.now())
    return Head(revision=row.revision)


@router.post("{int:scene_id}/bring-back", response={200: Head, **REFUSALS})
def bring_back(request: Request, scene_id: int) -> Head:
    """Take a scene out of the trash."""
    row = row_for(request, scene_id)
    permit(request.auth, "manage")
    models.Scene.objects.filter(pk=row.pk).update(put_away=None)
    return Head(revision=row.revision)


@router.post("{int:scene_id}/copy", response={200: Head, **REFUSALS})
def copy(request: Request, scene_id: int) -> Head:
    """Make a copy of a scene, under a name of its own, without its history."""
    row = row_for(request, scene_id)
    permit(request.auth, "manage")
    scene = rows.load(row)
    taken = set(models.Scene.objects.filter(frozen_of=None).values_list("name", flat=True))
    rows.create(row.production, scene.having(name=copy_name(scene.name, taken, says=True)))
    return Head(revision=0)


def _opened(request: Request, row: models.Scene, past: Scene | None = None) -> HttpResponse:
    scene = past or rows.load(row)
    can_undo, can_redo = log.turns(row, request.auth)
    return answered(
        SceneOut(
            id=row.pk,
            revision=row.revision,
            scene=scene,
            keys=baking.keys(scene),
            can_undo=can_undo,
            can_redo=can_redo,
            repairs=opened(row.pk).repairs,
        )
    )
