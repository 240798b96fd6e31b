"""Changing a scene, and learning how others changed it."""

from typing import Annotated, Any

from django.http import HttpResponse, StreamingHttpResponse
from ninja import Router
from pydantic import Field

from heron.commands.cut_edits import Live
from heron.scene.parts import PART_CALLED, PARTS, Part, parts_of, seen_of
from heron.scene.patch import Patch, fine
from mellow.actors import Request
from mellow.productions import baking, log, models, rows, watching
from mellow.productions.api.curves import looked_curves
from mellow.productions.api.opened import row_for
from mellow.productions.api.shapes import (
    REFUSALS,
    ChangedOut,
    ChangeOut,
    ChangesOut,
    CommandIn,
    EditLine,
    PartLine,
    RunLine,
    TurnIn,
    answered,
    sealed,
)

router = Router()
HISTORY_SHOWN = 300
_RUNS_SHOWN = 12


@router.post("{int:scene_id}/commands", response={200: ChangedOut, **REFUSALS})
def command(request: Request, scene_id: int, payload: CommandIn) -> HttpResponse:
    """Do a command."""
    done = log.do(scene_id, payload.command, payload.seen, request.auth)
    return _changed(request, done, payload)


@router.post("{int:scene_id}/undo", response={200: ChangedOut, **REFUSALS})
def undo(request: Request, scene_id: int, payload: TurnIn | None = None) -> HttpResponse:
    """Take back one's own newest change."""
    done = log.undo(scene_id, request.auth)
    return _changed(request, done, payload or TurnIn())


@router.post("{int:scene_id}/redo", response={200: ChangedOut, **REFUSALS})
def redo(request: Request, scene_id: int, payload: TurnIn | None = None) -> HttpResponse:
    """Do one's last undone change again."""
    done = log.redo(scene_id, request.auth)
    return _changed(request, done, payload or TurnIn())


@router.get("{int:scene_id}/changes", response={200: ChangesOut, **REFUSALS})
def changes(request: Request, scene_id: int, since: Annotated[int, Field(ge=0, le=2**31)]) -> HttpResponse:
    """Every change after a revision, undo and redo among them, and what is to be fetched now."""
    row = row_for(request, scene_id)
    can_undo, can_redo = log.turns(row, request.auth)
    found = log.since(row, since)
    return answered(
        ChangesOut(
            revision=row.revision,
            changes=[
                ChangeOut(
                    revision=one.revision,
                    kind=one.kind,
                    sentence=one.sentence,
                    author=one.author.username,
                    patch=one.patch,
                )
                for one in found
            ],
            keys=baking.keys(rows.load(row)),
            can_undo=can_undo,
            can_redo=can_redo,
        )
    )


@router.get("{int:scene_id}/events")
async def events(
    request: Request, scene_id: int, seen: Annotated[int, Field(ge=0, le=2**31)] = 0
) -> StreamingHttpResponse:
    """Server-sent events: `change` with each newer revision, `gone` when the scene is deleted."""
    response = StreamingHttpResponse(watching.revisions(scene_id, seen), content_type="text/event-stream")
    response.headers["Cache-Control"] = "no-store"
    # Packing would hold lines back.
    response.headers["Content-Encoding"] = "identity"
    return response


@router.get("{int:scene_id}/history", response={200: list[EditLine], **REFUSALS})
def history(request: Request, scene_id: int) -> list[EditLine]:
    """What was done, the newest first."""
    return [_line(edit) for edit in _edits(row_for(request, scene_id))[:HISTORY_SHOWN]]


@router.get("{int:scene_id}/runs", response={200: list[RunLine], **REFUSALS})
def runs(request: Request, scene_id: int) -> list[RunLine]:
    """The runs that were cut live, the newest first, also those that were undone; the same run once."""
    made = row_for(request, scene_id).changes.filter(command__do__edit="live").select_related("author")
    found: dict[str, RunLine] = {}
    for edit in made.order_by("-revision"):
        run = Live.model_validate(edit.command["do"])
        # The rule by which it is laid is asked again each time.
        pressed = run.model_dump_json(include={"start", "to", "presses", "speed"})
        found[pressed] = RunLine(revision=edit.revision, author=edit.author.username, at=edit.at, run=run)
        if len(found) == _RUNS_SHOWN:
            break
    return list(found.values())


@router.get("{int:scene_id}/parts", response={200: list[PartLine], **REFUSALS})
def parts(request: Request, scene_id: int) -> list[PartLine]:
    """The parts of a scene: which are locked, and who changed each last, of the newest edits."""
    row = row_for(request, scene_id)
    last: dict[Part, EditLine] = {}
    for edit in _edits(row).filter(state=models.Change.State.DONE)[:HISTORY_SHOWN]:
        for part in parts_of(Patch.model_validate(edit.patch), Patch.model_validate(edit.inverse)):
            last.setdefault(part, _line(edit))
        if len(last) == len(PARTS):
            break
    scene = rows.load(row)
    lines = []
    for one in PARTS:
        seen = seen_of(scene, one)
        hidden = all(item.hidden for _, item in seen) if seen else None
        lines.append(
            PartLine(
                part=one,
                called=PART_CALLED[one],
                locked=one in scene.locked,
                hidden=hidden,
                last=last.get(one),
            )
        )
    return lines


def _edits(row: models.Scene) -> Any:
    done = row.changes.filter(kind=models.Change.Kind.DO).exclude(state=models.Change.State.DROPPED)
    return done.select_related("author").order_by("-revision")


def _line(edit: models.Change) -> EditLine:
    return EditLine(
        revision=edit.revision,
        sentence=edit.sentence,
        author=edit.author.username,
        state=edit.state,
        at=edit.at,
    )


def _changed(request: Request, done: log.Done, asked: CommandIn | TurnIn) -> HttpResponse:
    can_undo, can_redo = log.turns(done.row, request.auth)
    keys = baking.keys(done.scene)
    was = baking.keys(done.before)
    seen = [thing for thing in asked.look if thing in keys and keys[thing] != was.get(thing)]
    return answered(ChangedOut(
        revision=done.row.revision, sentence=done.sentence, patch=fine(done.patch, done.before), keys=keys,
        samples={
            thing: sealed(
                baking.samples_since(done.before, done.scene, thing) if thing in was
                else baking.samples(done.scene, thing)
            )
            for thing in seen
        },
        curves=looked_curves(done.before, done.scene, asked.curves),
        can_undo=can_undo, can_redo=can_redo,
    ))  # fmt: skip
