"""Scenes and their changes."""

from django.db.models import Count
from django.http import HttpRequest
from ninja import Router

from heron.optics import FIRST_KIT, KitLens, parse_delivery
from heron.scene import Scene, empty_scene
from mellow.productions import baking, edits, models, rows
from mellow.productions.api.shapes import (
    ChangedOut,
    CommandIn,
    EditLine,
    Head,
    NewScene,
    Problem,
    SceneLine,
    SceneOut,
)

router = Router()
REFUSALS = {400: Problem, 404: Problem, 409: Problem, 422: Problem}
HISTORY_SHOWN = 300


def production() -> models.Production:
    """The production scenes belong to until there are several."""
    return models.Production.objects.get_or_create(name="Production")[0]


def kit_of(owner: models.Production) -> tuple[KitLens, ...]:
    """The lens kit a production's new scenes begin with."""
    return FIRST_KIT if owner.kit is None else tuple(KitLens.model_validate(lens) for lens in owner.kit)


@router.get("", response=list[SceneLine])
def listing(request: HttpRequest) -> list[SceneLine]:
    """All scenes, the newest change first."""
    scenes = models.Scene.objects.order_by("-changed").annotate(
        cameras=Count("camera", distinct=True), shots=Count("shot", distinct=True)
    )
    return [SceneLine.model_validate(row, from_attributes=True) for row in scenes]


@router.post("", response={200: SceneOut, **REFUSALS})
def create(request: HttpRequest, payload: NewScene) -> SceneOut:
    """Make an empty scene."""
    owner = production()
    scene = empty_scene(payload.name, payload.rate, parse_delivery(payload.delivery), kit_of(owner))
    return _opened(rows.create(owner, scene))


@router.post("import", response={200: SceneOut, **REFUSALS})
def bring_in(request: HttpRequest, payload: Scene) -> SceneOut:
    """Store a scene document as a new scene."""
    return _opened(rows.create(production(), payload))


@router.get("{int:scene_id}", response={200: SceneOut, **REFUSALS})
def read(request: HttpRequest, scene_id: int) -> SceneOut:
    """A whole scene."""
    return _opened(rows.scene_row(scene_id))


@router.delete("{int:scene_id}", response={200: Head, **REFUSALS})
def delete(request: HttpRequest, scene_id: int) -> Head:
    """Delete a scene for good, with its history."""
    row = rows.scene_row(scene_id)
    models.Shot.objects.filter(scene=row).delete()
    row.delete()
    return Head(revision=row.revision)


@router.get("{int:scene_id}/head", response={200: Head, **REFUSALS})
def head(request: HttpRequest, scene_id: int) -> Head:
    """The newest revision, to see whether anything changed."""
    return Head(revision=rows.scene_row(scene_id).revision)


@router.post("{int:scene_id}/commands", response={200: ChangedOut, **REFUSALS})
def command(request: HttpRequest, scene_id: int, payload: CommandIn) -> ChangedOut:
    """Do a command."""
    return _changed(edits.do(scene_id, payload.command, payload.seen, edits.local_person()))


@router.post("{int:scene_id}/undo", response={200: ChangedOut, **REFUSALS})
def undo(request: HttpRequest, scene_id: int) -> ChangedOut:
    """Take back one's own newest edit."""
    return _changed(edits.undo(scene_id, edits.local_person()))


@router.post("{int:scene_id}/redo", response={200: ChangedOut, **REFUSALS})
def redo(request: HttpRequest, scene_id: int) -> ChangedOut:
    """Do one's last undone edit again."""
    return _changed(edits.redo(scene_id, edits.local_person()))


@router.get("{int:scene_id}/history", response={200: list[EditLine], **REFUSALS})
def history(request: HttpRequest, scene_id: int) -> list[EditLine]:
    """What was done, the newest first."""
    row = rows.scene_row(scene_id)
    shown = row.edits.exclude(state=edits.State.DROPPED).select_related("author").order_by("-revision")
    return [
        EditLine(revision=e.revision, sentence=e.sentence, author=e.author.username, state=e.state, at=e.at)
        for e in shown[:HISTORY_SHOWN]
    ]


def _turns(row: models.Scene) -> tuple[bool, bool]:
    states = set(row.edits.filter(author=edits.local_person()).values_list("state", flat=True).distinct())
    return edits.State.DONE in states, edits.State.UNDONE in states


def _opened(row: models.Scene) -> SceneOut:
    scene = rows.load(row)
    can_undo, can_redo = _turns(row)
    return SceneOut(
        id=row.pk,
        revision=row.revision,
        scene=scene,
        keys=baking.keys(scene),
        can_undo=can_undo,
        can_redo=can_redo,
    )


def _changed(done: edits.Done) -> ChangedOut:
    can_undo, can_redo = _turns(done.row)
    return ChangedOut(
        revision=done.row.revision, sentence=done.sentence, patch=done.patch, keys=baking.keys(done.scene),
        can_undo=can_undo, can_redo=can_redo,
    )  # fmt: skip
