"""Doing, undoing and redoing commands: each in one transaction, checked and logged."""

from dataclasses import dataclass
from typing import Any

from django.contrib.auth import get_user_model
from django.db import transaction

from heron.commands import AnyCommand, run_one
from heron.errors import Refused
from heron.scene import Patch, Scene, apply_patch, as_now, diff
from heron.scene.lookup import whole
from mellow.problems import Stale
from mellow.productions import models, rows

State = models.Edit.State


@dataclass(frozen=True)
class Done:
    """What a change came to: the scene before and after, the patch between, and its sentence."""

    row: models.Scene
    before: Scene
    scene: Scene
    patch: Patch
    sentence: str


def local_person() -> Any:
    """The one person who works here until there is sign-in."""
    person, _ = get_user_model().objects.get_or_create(username="artist")
    return person


@transaction.atomic
def do(scene_id: int, command: AnyCommand, seen: int, author: Any) -> Done:
    """Apply a command for someone who last saw revision `seen`.

    Raises:
        Stale: a thing it changes was changed since.
        HeronError: it cannot be done.
    """
    row = rows.scene_row(scene_id)
    before = rows.load(row)
    after, sentence = run_one(before, command)
    patch = diff(before, after)
    if not (patch.settings or patch.items or patch.order):
        return Done(row, before, before, patch, sentence)
    _refuse_stale(row, patch, seen)
    _write(row, after, patch)
    models.Edit.objects.filter(scene=row, author=author, state=State.UNDONE).update(state=State.DROPPED)
    models.Edit.objects.create(
        scene=row, revision=row.revision, author=author, sentence=sentence,
        command=command.model_dump(mode="json", exclude_none=True),
        undo=diff(after, before).model_dump(mode="json"), redo=patch.model_dump(mode="json"),
    )  # fmt: skip
    return Done(row, before, after, patch, sentence)


@transaction.atomic
def undo(scene_id: int, author: Any) -> Done:
    """Take back the author's newest edit.

    Raises:
        Refused: there is none, or what it changed was changed again by someone else.
    """
    row = rows.scene_row(scene_id)
    edit = models.Edit.objects.filter(scene=row, author=author, state=State.DONE).order_by("revision").last()
    if edit is None:
        raise Refused("There is nothing to undo.", "Everything you did here has been undone.")
    done = _turn(row, edit, edit.undo, edit.redo, f"Undid: {edit.sentence}")
    edit.state = State.UNDONE
    edit.save(update_fields=["state"])
    return done


@transaction.atomic
def redo(scene_id: int, author: Any) -> Done:
    """Do the author's last undone edit again.

    Raises:
        Refused: there is none, or what it changed was changed again.
    """
    row = rows.scene_row(scene_id)
    edit = (
        models.Edit.objects.filter(scene=row, author=author, state=State.UNDONE).order_by("revision").first()
    )
    if edit is None:
        raise Refused("There is nothing to redo.", "Redo follows an undo, until something new is done.")
    done = _turn(row, edit, edit.redo, edit.undo, f"Redid: {edit.sentence}")
    edit.state = State.DONE
    edit.save(update_fields=["state"])
    return done


def preview(scene_id: int, command: AnyCommand) -> tuple[Scene, Scene]:
    """The scene as it is and as the command would leave it; nothing is written."""
    before = rows.load(rows.scene_row(scene_id))
    return before, run_one(before, command)[0]


def _turn(row: models.Scene, edit: models.Edit, forth: Any, back: Any, sentence: str) -> Done:
    before = rows.load(row)
    patch, expected = Patch.model_validate(forth), Patch.model_validate(back)
    for table, items in expected.items.items():
        now = {item.id: item.model_dump(mode="json") for item in getattr(before, table) if item.id in items}
        for id_, content in items.items():
            if now.get(id_) != as_now(table, content):
                name = (content or now.get(id_) or {}).get("name", id_)
                raise Refused(
                    f"“{edit.sentence}” cannot be taken back: {name} was changed since by someone else.",
                    "Change it by hand.",
                )
    after = whole(apply_patch(before, patch))
    change = diff(before, after)
    _write(row, after, change)
    return Done(row, before, after, change, sentence)


def _write(row: models.Scene, after: Scene, patch: Patch) -> None:
    rows.save(row, after, patch)
    # Only once it is on the disk: a rolled back change must not be remembered.
    transaction.on_commit(lambda: rows.remember(row, after))


def _refuse_stale(row: models.Scene, patch: Patch, seen: int) -> None:
    names = rows.stale(row, patch, seen)
    if not names:
        return
    later = models.Edit.objects.filter(scene=row, revision__gt=seen).order_by("-revision")[:5]
    changes = [f"{edit.sentence}." for edit in later]
    what = names[0] if len(names) == 1 else f"{names[0]} and {len(names) - 1} more"
    raise Stale(
        f"{what} was changed elsewhere after you last saw it{': ' + changes[0] if changes else '.'}",
        "Your input is kept; look at the change, then send it again.",
        changes,
    )
