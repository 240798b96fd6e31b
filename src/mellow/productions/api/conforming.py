"""Cuts that come back from the edit: read, and compared shot by shot with the one that plays."""

from typing import Literal

from ninja import Router
from pydantic import BaseModel, Field

from heron.cut.conforming import Came, compared
from heron.errors import Refused
from heron.formats.edit_in import read_edit
from heron.model import Model
from mellow.actors import Request, permit
from mellow.productions.api.opened import looked_at
from mellow.productions.api.shapes import REFUSALS

router = Router()


class EditLineOut(BaseModel):
    """What became of a clip, or of a shot that is gone; `key` names it where it is left out."""

    key: str
    clip: str | None
    shot: str | None
    match: Literal["id", "name", "range", "none"]
    what: list[str]
    stage: tuple[int, int] | None
    shown: bool
    sentence: str


class ClipsIn(Model):
    """The clips of a cut that came back."""

    clips: list[Came] = Field(max_length=2000)


@router.post("{int:scene_id}/conform", response={200: list[Came], **REFUSALS})
def read(request: Request, scene_id: int, name: str, by: Literal["frames", "time"] = "frames") -> list[Came]:
    """Read an `.otio` or an EDL, sent as the body."""
    permit(request.auth, "look")
    return list(read_edit(request.body, name, looked_at(request, scene_id), by=by))


@router.post("{int:scene_id}/conform/compared", response={200: list[EditLineOut], **REFUSALS})
def compare(request: Request, scene_id: int, payload: ClipsIn) -> list[EditLineOut]:
    """What it has otherwise than the cut as it is now; nothing changes."""
    scene = looked_at(request, scene_id)
    lines = compared(scene, payload.clips)
    if all(line.match == "none" for line in lines):
        raise Refused(
            "This list shows none of our shots: is it another scene?", "Open the scene it was made of."
        )
    return [
        EditLineOut(
            key=line.key, clip=None if line.clip is None else payload.clips[line.clip].name, shot=line.shot, match=line.match, what=list(line.what),
            stage=line.stage, shown=line.shown, sentence=line.sentence,
        )
        for line in lines
    ]  # fmt: skip
