"""A scene that a route is asked about, for somebody who may look at it."""

from heron.scene import Scene
from mellow.actors import Request, permit
from mellow.productions import log, models, rows


def row_for(request: Request, scene_id: int) -> models.Scene:
    """Its row.

    Raises:
        NotFound, Refused: there is none, or the actor may not look at it.
    """
    permit(request.auth, "look")
    return rows.scene_row(scene_id)


def looked_at(request: Request, scene_id: int, at: int | None = None) -> Scene:
    """Its document, as it is or as it was at a revision.

    Raises:
        NotFound, Refused: as `row_for`; it has had no such revision.
    """
    row = row_for(request, scene_id)
    return rows.load(row) if at is None else log.as_of(row, at)
