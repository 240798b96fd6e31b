"""What a scene's hand-overs are written from: its files in the database and the media folder."""

from collections.abc import Iterator
from pathlib import Path

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
    return Source(
        whole(baking.bake_of(scene)), row.revision, sounds=sounds.handed, boards=_boards, movie=_movie(row),
        package=lambda: write_package(scene, content_of),
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


def _movie(row: models.Scene) -> Path | None:
    """The movie of the last finished render of the cut."""
    for take in Take.objects.filter(scene=row, state=Take.State.DONE, render__of="cut"):
        found: Path | None = next(iter(sorted(media.folder(take.pk).glob("*.mp4"))), None)
        if found is not None:
            return found
    return None
