"""What a scene's hand-overs are written from: its files in the database and the media folder."""

from collections.abc import Iterator
from pathlib import Path

from django.db.models import QuerySet

from heron.formats.span import whole
from heron.handover.package import write_package
from heron.handover.parts import Source
from heron.handover.plan import plain
from heron.scene import Scene
from mellow.dailies import media
from mellow.dailies.models import Take
from mellow.library import store
from mellow.productions import baking, boards, models, sounds


def source_of(row: models.Scene, scene: Scene) -> Source:
    """A source of a scene as it is in a row."""
    take = _render(row)
    root = None if take is None else media.folder(take.pk)
    frames = None if root is None else root / "pictures"
    return Source(
        whole(baking.bake_of(scene)), row.revision, sounds=sounds.handed, boards=_boards,
        pictures=lambda scene: _pictures(take, scene), movie=_movie(row),
        frames=frames if frames is not None and frames.is_dir() else None, package=lambda: write_package(scene, content_of),
    )  # fmt: skip


def content_of(folder: str, key: str) -> bytes | None:
    """A file that a scene is made of, by the folder of a package that it is in, and its key."""
    if folder == "files":
        return store.content_of(key)
    if folder == "boards":
        return boards.contents([key]).get(key)
    return sounds.stored(key)


def _boards(scene: Scene) -> Iterator[tuple[str, bytes]]:
    found = boards.contents(shot.board for shot in scene.shots)
    for shot in scene.shots:
        if shot.board in found:
            yield f"{plain(shot.name)}.jpg", found[shot.board]


def _render(row: models.Scene) -> Take | None:
    """The last finished render of the cut."""
    return _renders(row).first()


def _renders(row: models.Scene) -> QuerySet[Take]:
    """Finished renders of the cut, the last one first."""
    return Take.objects.filter(scene=row, state=Take.State.DONE, render__of="cut")


def _pictures(take: Take | None, scene: Scene) -> dict[str, bytes]:
    """By shots' ids, the middle one of its frames in a render, else its board."""
    found = boards.contents(shot.board for shot in scene.shots)
    out = {shot.id: found[shot.board] for shot in scene.shots if shot.board in found}
    drawn: dict[str, list[str]] = {}
    for name, key in take.frames.order_by("place").values_list("shot", "key") if take is not None else ():
        drawn.setdefault(name, []).append(key)
    for shot in scene.shots:
        keys = drawn.get(shot.name, [])
        path = media.proof(keys[len(keys) // 2]) if keys else None
        if path is not None and path.is_file():
            out[shot.id] = path.read_bytes()
    return out


def _movie(row: models.Scene) -> Path | None:
    """The movie of the last finished render of the cut that has one."""
    for take in _renders(row):
        found: Path | None = next(iter(sorted(media.folder(take.pk).glob("*.mp4"))), None)
        if found is not None:
            return found
    return None
