"""Scenes and their changes."""

from contextlib import suppress
from datetime import timedelta

from django.http import HttpResponse
from django.utils import timezone
from ninja import Router

from heron.commands.base import copy_name
from heron.errors import NotFound, Refused
from heron.optics import FIRST_KIT, KitLens, parse_delivery
from heron.scene import Scene, empty_scene
from heron.timebase import parse_rate
from mellow.actors import Request, permit
from mellow.pictures import as_jpeg
from mellow.productions import baking, cuts, log, models, rows
from mellow.productions.api.opened import row_for
from mellow.productions.api.shapes import REFUSALS, Head, NewScene, Pictured, SceneLine, SceneOut, answered
from mellow.productions.open_scenes import opened

router = Router()
#: So long a scene lies in the trash.
TRASH_DAYS = 30
#: The longer side of a scene's picture, pixels.
_PICTURE = 480


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
    scenes = models.Scene.objects.filter(frozen_of=None, put_away__isnull=not put_away).order_by("-changed")
    pictures = dict(models.ScenePicture.objects.values_list("scene", "revision"))
    known = cuts.known(row.pk for row in scenes)
    return [_line(row, known[row.pk], pictures.get(row.pk)) for row in scenes if row.pk in known]


def _line(row: models.Scene, known: cuts.KnownScene, picture: int | None) -> SceneLine:
    camera, frame = known.pictured or ("", 0)
    return SceneLine(
        id=row.pk, name=row.name, rate=row.rate, first=row.first, last=row.last, changed=row.changed,
        revision=row.revision, cameras=len(known.letters), shots=len(known.shots), cut=known.cut.length,
        seconds=known.cut.length / float(parse_rate(row.rate)),
        picture=picture, pictured=Pictured(camera=camera, frame=frame, aspect=known.aspect) if camera else None,
    )  # fmt: skip


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


@router.put("{int:scene_id}/picture", response={200: Head, **REFUSALS})
def keep_picture(request: Request, scene_id: int, of: int) -> Head:
    """Keep a small picture of a scene, sent as the body, as it was at a revision; an older one than is kept is let go."""
    row = row_for(request, scene_id)
    permit(request.auth, "edit")
    content = as_jpeg(request.body, _PICTURE)
    if not models.ScenePicture.objects.filter(scene=row, revision__gte=of).exists() and of <= row.revision:
        models.ScenePicture.objects.update_or_create(scene=row, defaults={"revision": of, "content": content})
    return Head(revision=row.revision)


@router.get("{int:scene_id}/picture", response={200: bytes, **REFUSALS})
def picture(request: Request, scene_id: int, of: int) -> HttpResponse:
    """The small picture of a scene."""
    found = models.ScenePicture.objects.filter(scene=row_for(request, scene_id), revision=of).first()
    if found is None:
        raise NotFound("There is no such picture of this scene.", "Look at the list again.")
    response = HttpResponse(bytes(found.content), content_type="image/jpeg")
    response.headers["Cache-Control"] = "private, max-age=60"
    return response


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
