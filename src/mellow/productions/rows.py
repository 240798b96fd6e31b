"""The scene document from rows, and back by what changed."""

from collections import OrderedDict
from typing import Any

from django.db import transaction
from django.db.models import Model, Q

from heron.errors import NotFound
from heron.scene import Patch, Scene
from heron.scene.document import TABLES
from mellow.productions import models

_ROWS: dict[str, type[models.Item]] = {
    "figures": models.Figure, "movers": models.Mover, "pieces": models.Piece,
    "lenses": models.Lens, "cameras": models.Camera, "shots": models.Shot,
}  # fmt: skip
#: Scenes as last read or written, by row and revision, so that an edit need not read all rows.
_SEEN: OrderedDict[int, tuple[int, Scene]] = OrderedDict()
_KEEP = 16


def scene_row(scene_id: int) -> models.Scene:
    """A scene's row.

    Raises:
        NotFound: there is none.
    """
    row = models.Scene.objects.filter(pk=scene_id).first()
    if row is None:
        raise NotFound(f"There is no scene {scene_id}.", "Open one from the list.", field="scene")
    return row


def load(row: models.Scene) -> Scene:
    """The document of a scene."""
    seen = _SEEN.get(row.pk)
    if seen and seen[0] == row.revision:
        return seen[1]
    tables = {
        table: list(kind.objects.filter(scene=row).order_by("order").values_list("params", flat=True))
        for table, kind in _ROWS.items()
    }
    scene = Scene.model_validate({**row.settings, **tables})
    remember(row, scene)
    return scene


def remember(row: models.Scene, scene: Scene) -> None:
    """Keep a document for the row's revision."""
    _SEEN[row.pk] = (row.revision, scene)
    _SEEN.move_to_end(row.pk)
    while len(_SEEN) > _KEEP:
        _SEEN.popitem(last=False)


@transaction.atomic
def create(production: models.Production, scene: Scene) -> models.Scene:
    """Store a document as a new scene."""
    row = models.Scene(production=production, settings={})
    _fill(row, scene)
    row.save()
    _SEEN.pop(row.pk, None)
    patch = Patch(
        items={t: {i.id: i.model_dump(mode="json") for i in getattr(scene, t)} for t in TABLES},
        order={t: [i.id for i in getattr(scene, t)] for t in TABLES},
    )
    _write_items(row, scene, patch)
    return row


def save(row: models.Scene, scene: Scene, patch: Patch) -> None:
    """Write what a patch changed, under the row's new revision."""
    row.revision += 1
    if patch.settings:
        _fill(row, scene)
        row.settings_revision = row.revision
    row.save()
    _write_items(row, scene, patch)


def stale(row: models.Scene, patch: Patch, seen: int) -> list[str]:
    """Names of things the patch touches that changed after revision `seen`."""
    names = []
    for table, items in patch.items.items():
        later = _ROWS[table].objects.filter(scene=row, uid__in=list(items), revision__gt=seen)
        for item in later:
            names.append(f"Camera {item.letter}" if isinstance(item, models.Camera) else item.name)
    if patch.settings and row.settings_revision > seen:
        names.append("The scene's settings")
    return names


def _fill(row: models.Scene, scene: Scene) -> None:
    row.name, row.rate = scene.name, scene.rate
    row.first, row.last = scene.frames.first, scene.frames.last
    row.settings = scene.model_dump(mode="json", exclude=set(TABLES))


def _write_items(row: models.Scene, scene: Scene, patch: Patch) -> None:
    # Shots before the cameras they are on.
    for table in reversed(TABLES):
        gone = [id_ for id_, content in patch.items.get(table, {}).items() if content is None]
        if gone:
            _ROWS[table].objects.filter(scene=row, uid__in=gone).delete()
    for table in TABLES:
        changed = {id_: c for id_, c in patch.items.get(table, {}).items() if c is not None}
        if table in patch.order or changed:
            _write_table(row, scene, table, changed, reorder=table in patch.order)


def _write_table(
    row: models.Scene, scene: Scene, table: str, changed: dict[str, Any], *, reorder: bool
) -> None:
    kind: type[Any] = _ROWS[table]
    place = {item.id: i for i, item in enumerate(getattr(scene, table))}
    wanted = Q() if reorder else Q(uid__in=list(changed))
    there = {item.uid: item for item in kind.objects.filter(wanted, scene=row)}
    cameras = (
        dict(models.Camera.objects.filter(scene=row).values_list("uid", "pk")) if table == "shots" else {}
    )
    new, old = [], []
    for id_, content in changed.items():
        item = there.get(id_)
        if item is None:
            item = kind(scene=row, uid=id_)
            new.append(item)
        else:
            old.append(item)
        item.order, item.name, item.revision, item.params = place[id_], content["name"], row.revision, content
        _columns(item, content, cameras)
    if reorder:
        for uid, item in there.items():
            if uid not in changed and uid in place and item.order != place[uid]:
                item.order = place[uid]
                old.append(item)
    fields = [
        f.name for f in kind._meta.concrete_fields if not f.primary_key and f.name not in ("scene", "uid")
    ]
    kind.objects.bulk_create(new)
    kind.objects.bulk_update(old, fields)


def _columns(item: Model, content: dict[str, Any], cameras: dict[str, int]) -> None:
    if isinstance(item, models.Camera):
        item.letter = content["letter"]
    elif isinstance(item, models.Piece):
        item.group = content["group"]
    elif isinstance(item, models.Shot):
        item.camera_id = cameras[content["camera"]]
