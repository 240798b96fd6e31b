"""Remarks on frames of a take."""

from ninja import Router

from heron.errors import BadInput, NotFound
from mellow.actors import Request, permit
from mellow.dailies import work
from mellow.dailies.api.shapes import RemarkIn, RemarkOut, RemarkSet
from mellow.dailies.api.summaries import remark
from mellow.dailies.models import Remark
from mellow.productions.api.shapes import REFUSALS

router = Router()


@router.post("takes/{int:take_id}/remarks", response={200: RemarkOut, **REFUSALS})
def say(request: Request, take_id: int, payload: RemarkIn) -> RemarkOut:
    """Pin a remark to a frame."""
    permit(request.auth, "edit")
    take = work.take_row(take_id)
    if payload.frame >= len(take.movie):
        raise BadInput(
            f"Take {take.number} has {len(take.movie)} frames.", "Pin it to one of them.", field="frame"
        )
    made = Remark.objects.create(
        take=take, frame=payload.frame, text=payload.text.strip(), author=request.auth.user
    )
    return remark(made)


@router.post("remarks/{int:remark_id}", response={200: RemarkOut, **REFUSALS})
def set_remark(request: Request, remark_id: int, payload: RemarkSet) -> RemarkOut:
    """Tick it off, or word it otherwise."""
    permit(request.auth, "edit")
    row = _row(remark_id)
    for name, value in payload.model_dump(exclude_none=True).items():
        setattr(row, name, value)
    row.save()
    return remark(row)


@router.delete("remarks/{int:remark_id}", response={200: RemarkOut, **REFUSALS})
def delete(request: Request, remark_id: int) -> RemarkOut:
    """Take a remark away."""
    permit(request.auth, "edit")
    row = _row(remark_id)
    out = remark(row)
    row.delete()
    return out


def _row(remark_id: int) -> Remark:
    found = (
        Remark.objects.select_related("author").filter(pk=remark_id).first() if remark_id < 2**63 else None
    )
    if found is None:
        raise NotFound("That remark is gone.", "Look at the take again.")
    return found
