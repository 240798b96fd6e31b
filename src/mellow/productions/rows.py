"""The scene document from rows, and back by what changed."""

from typing import Any

from django.db import transaction
from django.db.models import Model
from django.dispatch import Signal
from django.utils import timezone
from pydantic import ValidationError

from heron.errors import NotFound, from_validation
from heron.scene import Patch, Scene, diff
from heron.scene.document import TABLES
from heron.scene.repairs import repaired
from heron.scene.upgrades import SETTINGS, VERSION, upgrade
from mellow.productions import models
from mellow.productions.open_scenes import forget, opened

#: Sent with a scene that is about to be deleted for good; whoever needs it refuses.
deleting = Signal()
_ROWS: dict[str, type[Any]] = {
    "figures": models.Figure, "movers": models.Mover, "pieces": models.Piece, "perches": models.Perch,
    "lenses": models.Lens, "cameras": models.Camera, "shots": models.Shot, "cues": models.Cue,
    "passes": models.Pass, "lines": models.Line, "sounds": models.Sound,
}  # fmt: skip
#: Columns of a scene's row that follow from its settings.
_OWN = ("name", "rate", "first", "last", "settings", "version")


def scene_row(scene_id: int) -> models.Scene:
    """A scene's row.

    Raises:
        NotFound: there is none.
    """
    row = models.Scene.objects.filter(pk=scene_id).first() if scene_id < 2**63 else None
    if row is None:
        raise NotFound(f"There is no scene {scene_id}.", "Open one from the list.", field="scene")
    return row


def load(row: models.Scene) -> Scene:
    """The document of a scene."""
    kept = opened(row.pk).kept
    if kept and kept[0] == row.revision:
        return kept[1]
    tables = {
        table: [
            upgrade(table, params, version)
            for params, version in kind.objects.filter(scene=row)
            .order_by("order")
            .values_list("params", "version")
        ]
        for table, kind in _ROWS.items()
    }
    settings = {**upgrade(SETTINGS, row.settings, row.version), "version": VERSION}
    try:
        scene = Scene.model_validate({**settings, **tables})
    except ValidationError as error:
        scene = _repaired(row, settings, tables, error)
    remember(row, scene)
    return scene


def _repaired(row: models.Scene, settings: Any, tables: Any, error: ValidationError) -> Scene:
    """A scene that an earlier version could write and today's rules refuse, brought within them; what was done is kept.

    Raises:
        BadInput: naming what is wrong with it, when that cannot be mended.
    """
    told: list[str] = []
    mended = {}
    for table, items in tables.items():
        both = [repaired(item) for item in items]
        mended[table] = [item for item, _ in both]
        told += [sentence for _, said in both for sentence in said]
    try:
        scene = Scene.model_validate({**settings, **mended})
    except ValidationError:
        raise from_validation(error, f"The stored scene “{row.name}”") from None
    opened(row.pk).repairs = told
    return scene


def remember(row: models.Scene, scene: Scene) -> None:
    """Keep a document for the row's revision."""
    opened(row.pk).kept = (row.revision, scene)


@transaction.atomic
def create(production: models.Production, scene: Scene) -> models.Scene:
    """Store a document as a new scene."""
    row = models.Scene(production=production, settings={})
    _fill(row, scene)
    row.save()
    forget(row.pk)
    _write_items(row, scene, diff(scene.having(**dict.fromkeys(TABLES, ())), scene))
    return row


@transaction.atomic
def freeze(row: models.Scene) -> models.Scene:
    """A copy of a scene as it is now that nobody changes; asked again at the same revision, the same."""
    found = models.Scene.objects.filter(frozen_of=row, frozen_at=row.revision).first()
    if found:
        return found
    copy = create(row.production, load(row))
    copy.frozen_of, copy.frozen_at = row, row.revision
    copy.save()
    return copy


@transaction.atomic
def delete(row: models.Scene) -> None:
    """Delete a scene with all that is in it, or nothing of it.

    Raises:
        Refused: something shows it.
    """
    # Asked first: files of takes go with their rows, and would not come back with them.
    deleting.send(models.Scene, scene=row)
    for frozen in row.frozen.all():
        delete(frozen)
    # Shots hold on to their cameras, so that no camera goes from under one.
    models.Shot.objects.filter(scene=row).delete()
    row.delete()


def save(row: models.Scene, scene: Scene, patch: Patch) -> bool:
    """Write what a patch changed, under the row's next revision; False if someone else has written it."""
    if patch.settings:
        _fill(row, scene)
    own = {name: getattr(row, name) for name in _OWN} if patch.settings else {}
    mine = models.Scene.objects.filter(pk=row.pk, revision=row.revision)
    if not mine.update(revision=row.revision + 1, changed=timezone.now(), **own):
        return False
    row.revision += 1
    _write_items(row, scene, patch)
    return True


def _fill(row: models.Scene, scene: Scene) -> None:
    row.name, row.rate = scene.name, scene.rate
    row.first, row.last = scene.frames.first, scene.frames.last
    row.settings, row.version = (
        scene.model_dump(mode="json", exclude={str(table) for table in TABLES}),
        VERSION,
    )


def _write_items(row: models.Scene, scene: Scene, patch: Patch) -> None:
    # Shots before the cameras they are on.
    for table in reversed(TABLES):
        gone = [id_ for id_, content in patch.items.get(table, {}).items() if content is None]
        for some in range(0, len(gone), _AT_ONCE):
            _ROWS[table].objects.filter(scene=row, uid__in=gone[some : some + _AT_ONCE]).delete()
    for table in TABLES:
        changed = {id_: c for id_, c in patch.items.get(table, {}).items() if c is not None}
        if table in patch.order or changed:
            _write_table(row, scene, table, changed, reorder=table in patch.order)


#: Ids named in one statement; SQLite takes a limited number of values.
_AT_ONCE = 500


def _write_table(
    row: models.Scene, scene: Scene, table: str, changed: dict[str, Any], *, reorder: bool
) -> None:
    """Changed rows are put in or replaced whole, many in a statement; of the others at most the order changes."""
    kind: type[Any] = _ROWS[table]
    place = {item.id: i for i, item in enumerate(getattr(scene, table))}
    cameras = (
        dict(models.Camera.objects.filter(scene=row).values_list("uid", "pk")) if table == "shots" else {}
    )
    items = []
    for id_, content in changed.items():
        item = kind(
            scene=row,
            uid=id_,
            order=place[id_],
            name=content.get("name") or content["text"][:80],
            revision=row.revision,
            params=content,
        )
        _columns(item, content, cameras)
        items.append(item)
    fields = [
        f.name for f in kind._meta.concrete_fields if not f.primary_key and f.name not in ("scene", "uid")
    ]
    kind.objects.bulk_create(
        items, update_conflicts=True, unique_fields=["scene", "uid"], update_fields=fields
    )
    if reorder:
        there = kind.objects.filter(scene=row).only("uid", "order", "scene_id")
        moved = [item for item in there if item.order != place[item.uid]]
        for item in moved:
            item.order = place[item.uid]
        kind.objects.bulk_update(moved, ["order"], batch_size=_AT_ONCE)


def _columns(item: Model, content: dict[str, Any], cameras: dict[str, int]) -> None:
    if isinstance(item, models.Camera):
        item.letter = content["letter"]
    elif isinstance(item, models.Piece | models.Perch):
        item.group = content["group"]
    elif isinstance(item, models.Shot):
        item.camera_id = cameras[content["camera"]] if content["camera"] else None
