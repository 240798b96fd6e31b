"""What the last change moved in cameras' pictures, and which keys it left behind."""

from ninja import Router
from pydantic import BaseModel

from heron.commands.left_behind import LeftBehind, left_behind
from heron.framing.moved import Moved, moved
from mellow.actors import Request
from mellow.productions import baking, log, rows
from mellow.productions.api.opened import row_for
from mellow.productions.api.shapes import REFUSALS

router = Router()


class News(BaseModel):
    """What the change that made a revision did beside what was asked of it."""

    revision: int
    sentence: str
    moved: list[Moved]
    left: list[LeftBehind]


@router.get("{int:scene_id}/news", response={200: News, **REFUSALS})
def news(request: Request, scene_id: int) -> News:
    """What moved when the last change was made: placement, size, focus, what is in the way."""
    row = row_for(request, scene_id)
    change = row.changes.filter(revision=row.revision).first()
    if change is None:
        return News(revision=row.revision, sentence="", moved=[], left=[])
    now = rows.load(row)
    before = log.as_of(row, row.revision - 1)
    return News(
        revision=row.revision,
        sentence=change.sentence,
        moved=moved(baking.bake_of(before), baking.bake_of(now)),
        left=left_behind(before, now),
    )
