"""The log of changes: doing, undoing and redoing commands, and what changed since a revision.

Each change is one transaction. Commands are run before it begins, so that nothing is baked while
others wait for the storage; if somebody else has written meanwhile, it is run again on what they left.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.utils import timezone

from heron.commands import AnyCommand, run_one
from heron.commands.scenes import refuse_locked
from heron.errors import NotFound, Refused
from heron.scene import Patch, Scene, apply_patch, diff, read_patch, touched
from heron.scene.document import TABLES, called
from heron.scene.lookup import validate_scene
from mellow.actors import Actor, permit
from mellow.problems import Stale
from mellow.productions import models, rows, watching
from mellow.productions.open_scenes import opened

Kind, State = models.Change.Kind, models.Change.State
#: How often a change is tried again on what another process has just written.
TRIES = 20


@dataclass(frozen=True)
class Done:
    """What a change came to: the scene before and after, the patch between, and its sentence."""

    row: models.Scene
    before: Scene
    scene: Scene
    patch: Patch
    sentence: str


@dataclass(frozen=True)
class _Wanted:
    """A change worked out but not written: the scene after it, and what its row in the log says."""

    after: Scene
    sentence: str
    kind: str
    command: AnyCommand | None = None
    of: models.Change | None = None
    state: str = State.DONE


def do(scene_id: int, command: AnyCommand, seen: int, actor: Actor) -> Done:
    """Apply a command for someone who last saw revision `seen`.

    Raises:
        Stale: a thing it changes or depends on was changed since.
        HeronError: it cannot be done.
    """

    command = command.signed(actor.name, timezone.now().isoformat(timespec="minutes"))

    def work(row: models.Scene, before: Scene) -> _Wanted:
        if seen > row.revision:
            raise Stale(
                f"This scene has had {row.revision} changes; you have seen {seen}, which were not kept here.",
                "Look at the scene as it is, then do it again.",
                [],
            )
        after, sentence = run_one(before, command)
        _refuse_stale(row, before, after, command, seen)
        return _Wanted(after, sentence, Kind.DO, command=command)

    return _change(scene_id, actor, work)


def undo(scene_id: int, actor: Actor) -> Done:
    """Take back the actor's newest change.

    Raises:
        Refused: there is none, or what it changed was changed again by someone else.
    """

    def work(row: models.Scene, before: Scene) -> _Wanted:
        last = _own(row, actor, State.DONE).last()
        if last is None:
            raise Refused("There is nothing to undo.", "Everything you did here has been undone.")
        after = _turned(before, last, last.inverse, last.patch)
        return _Wanted(after, f"Undid: {last.sentence}", Kind.UNDO, of=last, state=State.UNDONE)

    return _change(scene_id, actor, work)


def redo(scene_id: int, actor: Actor) -> Done:
    """Do the actor's last undone change again.

    Raises:
        Refused: there is none, or what it changed was changed again.
    """

    def work(row: models.Scene, before: Scene) -> _Wanted:
        next_ = _own(row, actor, State.UNDONE).first()
        if next_ is None:
            raise Refused("There is nothing to redo.", "Redo follows an undo, until something new is done.")
        after = _turned(before, next_, next_.patch, next_.inverse)
        return _Wanted(after, f"Redid: {next_.sentence}", Kind.REDO, of=next_)

    return _change(scene_id, actor, work)


def preview(scene_id: int, command: AnyCommand, actor: Actor) -> tuple[Scene, Scene, str]:
    """The scene as it is, as the command would leave it, and its sentence; nothing is written."""
    permit(actor, "look")
    before = rows.load(rows.scene_row(scene_id))
    return before, *run_one(before, command)


def since(row: models.Scene, revision: int) -> list[models.Change]:
    """Every change after a revision, the oldest first."""
    return list(row.changes.filter(revision__gt=revision).select_related("author").order_by("revision"))


def as_of(row: models.Scene, revision: int) -> Scene:
    """The document as it was at a revision.

    Raises:
        NotFound: it has had no such revision.
    """
    if not 0 <= revision <= row.revision:
        raise NotFound(
            f"This scene has had {row.revision} changes, not {revision}.", "Ask for an earlier one."
        )
    scene = rows.load(row)
    for change in row.changes.filter(revision__gt=revision).order_by("-revision"):
        scene = apply_patch(scene, read_patch(change.inverse, change.version))
    return scene


def turns(row: models.Scene, actor: Actor) -> tuple[bool, bool]:
    """Whether the actor has something to undo, and to redo."""
    own = row.changes.filter(author=actor.user, kind=Kind.DO)
    states = set(own.values_list("state", flat=True).order_by().distinct())
    return State.DONE in states, State.UNDONE in states


def _own(row: models.Scene, actor: Actor, state: str) -> Any:
    return row.changes.filter(author=actor.user, kind=Kind.DO, state=state).order_by("revision")


def _change(scene_id: int, actor: Actor, work: Callable[[models.Scene, Scene], _Wanted]) -> Done:
    permit(actor, "edit")
    with opened(scene_id).turn:
        for _ in range(TRIES):
            row = rows.scene_row(scene_id)
            if row.frozen_at is not None:
                raise Refused(
                    "This is the frozen scene of a take, so it can't be changed.",
                    "Open the take as a copy to change it.",
                )
            before = rows.load(row)
            wanted = work(row, before)
            patch, inverse = diff(before, wanted.after), diff(wanted.after, before)
            if patch.empty and wanted.of is None:
                return Done(row, before, before, patch, wanted.sentence)
            if _write(row, actor, wanted, patch, inverse):
                rows.remember(row, wanted.after)
                watching.tell(row.pk)
                return Done(row, before, wanted.after, patch, wanted.sentence)
    raise Stale(
        "Others are changing this scene faster than this change can follow.",
        "Your input is kept; send it again in a moment.",
        [],
    )


@transaction.atomic
def _write(row: models.Scene, actor: Actor, wanted: _Wanted, patch: Patch, inverse: Patch) -> bool:
    """The whole change and its row in the log, or nothing of either; False if somebody else was first."""
    if not rows.save(row, wanted.after, patch):
        return False
    command = wanted.command
    models.Change.objects.create(
        scene=row, revision=row.revision, author=actor.user, kind=wanted.kind, of=wanted.of,
        sentence=wanted.sentence, patch=_content(patch), inverse=_content(inverse),
        command=command.model_dump(mode="json", exclude_none=True) if command else None,
        touched=sorted(touched(patch, inverse)),
    )  # fmt: skip
    if wanted.of is None:
        _own(row, actor, State.UNDONE).update(state=State.DROPPED)
    else:
        models.Change.objects.filter(pk=wanted.of.pk).update(state=wanted.state)
    return True


def _content(patch: Patch) -> dict[str, Any]:
    """A patch as it is stored: all of it is JSON already."""
    return {"settings": patch.settings, "items": patch.items, "order": patch.order}


def _turned(before: Scene, change: models.Change, forth: Any, back: Any) -> Scene:
    """The scene with a stored change taken back, or done again.

    Raises:
        Refused: what it left is no longer as it left it, or is of a part that is locked.
    """
    patch, expected = read_patch(forth, change.version), read_patch(back, change.version)
    gone = _changed_since(before, expected, patch)
    if gone:
        raise Refused(
            f"“{change.sentence}” cannot be taken back: {gone} changed since by someone else.",
            "Change it by hand.",
        )
    after = validate_scene(apply_patch(before, patch))
    refuse_locked(before, after)
    return after


def _changed_since(scene: Scene, expected: Patch, patch: Patch) -> str:
    """What is no longer as a change left it, with its verb; empty when all is."""
    settings = scene.model_dump(mode="json", include=set(expected.settings))
    for name, value in expected.settings.items():
        if settings[name] != value:
            return f"the scene's {name.replace('_', ' ')} was"
    for table, items in expected.items.items():
        now = {item.id: item.plain for item in getattr(scene, table) if item.id in items}
        for id_, content in items.items():
            if now.get(id_) != content:
                return f"{(content or now.get(id_) or {}).get('name', id_)} was"
    for name in touched(expected, patch):
        if name.startswith("order/"):
            table = name.removeprefix("order/")
            there = [item.id for item in getattr(scene, table)]
            named = set(expected.order[table])
            if [i for i in there if i in named] != [i for i in expected.order[table] if i in set(there)]:
                return f"the order of the {table} was"
    return ""


def _refuse_stale(row: models.Scene, before: Scene, after: Scene, command: AnyCommand, seen: int) -> None:
    if seen == row.revision:
        return
    mine = touched(diff(before, after), diff(after, before)) | command.reads()
    later = row.changes.filter(revision__gt=seen).order_by("-revision").values_list("touched", "sentence")
    hit = [(names, sentence) for names, sentence in later if mine.intersection(names)]
    if not hit:
        return
    both = [name for names, _ in hit for name in names if name in mine]
    raise Stale(
        f"{_named(before, after, both)} changed elsewhere after you last saw it: {hit[0][1]}.",
        "Your input is kept; look at the change, then send it again.",
        [f"{sentence}." for _, sentence in hit[:5]],
    )


def _named(before: Scene, after: Scene, touched_: list[str]) -> str:
    """What both changes touch, with its verb: `Camera A and 2 more were`."""
    items = {**after.items(), **before.items()}
    names = []
    for name in dict.fromkeys(touched_):
        where, _, what = name.partition("/")
        if where == "settings":
            names.append(f"the scene's {what.replace('_', ' ')}")
        elif where == "order" and what in TABLES:
            names.append(f"the order of the {what}")
        else:
            names.append(called(items[name]) if name in items else name)
    text = names[0] if len(names) == 1 else f"{names[0]} and {len(names) - 1} more"
    return f"{text[:1].upper()}{text[1:]} {'was' if len(names) == 1 else 'were'}"
