"""Takes: begun, listed, looked at, held against each other, cancelled, tried again, deleted."""

from typing import Literal

from ninja import Router

from heron.cut import Clocks
from heron.dailies.asked import Render
from heron.dailies.takes import Did, Shown, beside, different, done_between
from mellow.actors import Request, permit
from mellow.dailies import media, work, written
from mellow.dailies.api.shapes import (
    AgainstOut,
    CopyOut,
    FrameOut,
    NoteIn,
    PlanOut,
    TakeOut,
    TakeWhole,
)
from mellow.dailies.api.summaries import remark, take_summaries, take_summary
from mellow.dailies.models import Take, TakeFrame
from mellow.productions import rows
from mellow.productions.api.opened import looked_at, row_for
from mellow.productions.api.shapes import REFUSALS

router = Router()
#: How many takes that ended are told of beside those under way.
_ENDED = 12


@router.post("scenes/{int:scene_id}/takes/plan", response={200: PlanOut, **REFUSALS})
def would_be(request: Request, scene_id: int, payload: Render) -> PlanOut:
    """What a render would come to; nothing is begun."""
    plan, keys = work.planned(looked_at(request, scene_id), payload)
    wide, high = written.size_written(payload, plan.wide, plan.high)
    there = media.listed(keys)
    return PlanOut(
        frames=len(plan.frames), kept=sum(key in there for key in keys), shown=len(plan.movie),
        wide=plan.wide, high=plan.high, written_wide=wide, written_high=high, said=plan.said,
    )  # fmt: skip


@router.post("scenes/{int:scene_id}/takes", response={200: TakeOut, **REFUSALS})
def begin(request: Request, scene_id: int, payload: Render) -> TakeOut:
    """Render a scene as it is now."""
    take = work.begin(row_for(request, scene_id), payload, request.auth)
    return take_summary(work.take_row(take.pk))


@router.get("scenes/{int:scene_id}/takes", response={200: list[TakeOut], **REFUSALS})
def listing(request: Request, scene_id: int) -> list[TakeOut]:
    """The takes of a scene, the newest first."""
    found = row_for(request, scene_id).takes.select_related("author", "scene", "frozen")
    return take_summaries(list(found))


@router.get("takes", response=list[TakeOut])
def jobs(request: Request) -> list[TakeOut]:
    """Everything under way, the oldest first, and then what ended lately."""
    permit(request.auth, "look")
    found = Take.objects.select_related("author", "scene", "frozen")
    going = found.filter(state__in=Take.UNFINISHED).order_by("at")
    ended = found.exclude(state__in=Take.UNFINISHED).order_by("-ended")[:_ENDED]
    return take_summaries([*going, *ended])


@router.post("takes/cancel", response=list[TakeOut])
def cancel_all(request: Request) -> list[TakeOut]:
    """Cancel everything under way."""
    permit(request.auth, "edit")
    work.cancel(list(work.unfinished()))
    return jobs(request)


@router.get("takes/{int:take_id}", response={200: TakeWhole, **REFUSALS})
def whole(request: Request, take_id: int) -> TakeWhole:
    """A take with its frames."""
    permit(request.auth, "look")
    take = work.take_row(take_id)
    scene = rows.load(take.frozen)
    clocks = Clocks(scene)
    frames = list(take.frames.all())

    def clock(i: int, at: int | None) -> str:
        """A moment of the movie: its timecode in the cut, else the stage frame."""
        cut = i if at is None else frames[at].cut
        return clocks.timecode(cut) if cut is not None else f"stage {frames[at or 0].stage}"

    return TakeWhole(
        take=take_summary(take), frozen=take.frozen_id, frames=[_frame(one) for one in frames], movie=take.movie,
        timecodes=[clock(i, at) for i, at in enumerate(take.movie)],
        remarks=[remark(one) for one in take.remarks.select_related("author")],
    )  # fmt: skip


def _frame(one: TakeFrame) -> FrameOut:
    return FrameOut(
        place=one.place, cut=one.cut, shot=one.shot, camera=one.letter, stage=one.stage, slate=one.slate,
        state=one.state, reason=one.reason, proof=one.key if one.state == TakeFrame.State.DONE else "",
    )  # fmt: skip


@router.get("takes/{int:take_id}/against/{int:other_id}", response={200: AgainstOut, **REFUSALS})
def against(request: Request, take_id: int, other_id: int, by: Literal["cut", "stage"] = "cut") -> AgainstOut:
    """Another take beside this one, in step by the cut or by what happens on the stage."""
    permit(request.auth, "look")
    one, other = work.take_row(take_id), work.take_row(other_id)
    newer, older = (one, other) if one.at >= other.at else (other, one)
    done: list[str] = []
    if newer.scene_id == older.scene_id:
        log = newer.scene.changes.filter(revision__gt=older.revision, revision__lte=newer.revision)
        done = done_between(
            Did(row.revision, row.kind, row.sentence, row.of.revision if row.of else None)
            for row in log.select_related("of").order_by("revision")
        )
    return AgainstOut(
        beside=beside(_movie(one), _movie(other), by),
        different=different(_movie(newer), _movie(older)),
        done=done,
    )


def _movie(take: Take) -> list[Shown | None]:
    frames = {one.place: one for one in take.frames.all()}
    out: list[Shown | None] = []
    for at in take.movie:
        one = None if at is None else frames[at]
        out.append(None if one is None else Shown(one.shot, one.letter, one.stage, one.picture))
    return out


@router.post("takes/{int:take_id}/cancel", response={200: TakeOut, **REFUSALS})
def cancel(request: Request, take_id: int) -> TakeOut:
    """Have it no longer drawn; what was drawn stays."""
    permit(request.auth, "edit")
    work.cancel([work.take_row(take_id)])
    return take_summary(work.take_row(take_id))


@router.post("takes/{int:take_id}/again", response={200: TakeOut, **REFUSALS})
def again(request: Request, take_id: int) -> TakeOut:
    """Carry on with what is left of it; what failed is tried again."""
    permit(request.auth, "edit")
    work.again(work.take_row(take_id))
    return take_summary(work.take_row(take_id))


@router.post("takes/{int:take_id}/note", response={200: TakeOut, **REFUSALS})
def set_note(request: Request, take_id: int, payload: NoteIn) -> TakeOut:
    """Give it another line of note."""
    permit(request.auth, "edit")
    Take.objects.filter(pk=work.take_row(take_id).pk).update(note=payload.note)
    return take_summary(work.take_row(take_id))


@router.post("takes/{int:take_id}/copy", response={200: CopyOut, **REFUSALS})
def copy(request: Request, take_id: int) -> CopyOut:
    """Open the scene as it was rendered, as a scene of its own."""
    permit(request.auth, "manage")
    take = work.take_row(take_id)
    scene = rows.load(take.frozen)
    name = f"{scene.name[:64]}, take {take.number}"
    return CopyOut(scene=rows.create(take.scene.production, scene.having(name=name)).pk)


@router.delete("takes/{int:take_id}", response={200: list[TakeOut], **REFUSALS})
def delete(request: Request, take_id: int) -> list[TakeOut]:
    """Delete a take with its files and remarks."""
    permit(request.auth, "manage")
    take = work.take_row(take_id)
    scene = take.scene_id
    work.delete(take)
    return listing(request, scene)
