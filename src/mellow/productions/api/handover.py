"""Open files for the people down the line."""

import io
import re
import zipfile
from typing import Literal

from django.http import HttpResponse
from ninja import Router

from heron.dailies.shot_list import as_csv, shot_list
from heron.errors import NotFound
from heron.formats.dialogue import scene_fountain, scene_vtt
from heron.formats.edl import write_edl
from heron.formats.gltf import write_stage
from heron.formats.otio import write_otio
from heron.formats.otio_sound import FOLDER
from heron.scene import Scene, write_scene
from mellow.actors import Request
from mellow.productions import baking, sounds
from mellow.productions.api.opened import looked_at
from mellow.productions.rows import scene_row

router = Router()
_KINDS = {
    "otio": "application/json",
    "glb": "model/gltf-binary",
    "json": "application/json",
    "csv": "text/csv; charset=utf-8",
    "vtt": "text/vtt; charset=utf-8",
    "fountain": "text/plain; charset=utf-8",
    "sounds": "application/zip",
    "edl": "text/plain; charset=utf-8",
    "usdz": "model/vnd.usdz+zip",
}


@router.get("{int:scene_id}/export/{kind}")
def export(
    request: Request,
    scene_id: int,
    kind: Literal["otio", "glb", "json", "csv", "vtt", "fountain", "sounds", "edl", "usdz"],
) -> HttpResponse:
    """The cut, the stage, the document, the list of shots, the dialogue or the sound files of the cut as a file."""
    scene = looked_at(request, scene_id)
    if kind == "otio":
        content = write_otio(scene, revision=scene_row(scene_id).revision).encode()
    elif kind == "edl":
        content = write_edl(scene).encode()
    elif kind == "usdz":
        # Its library takes seconds to load; a desk begins without it.
        from heron.formats.usd import write_usd

        content = write_usd(baking.bake_of(scene), ".usdz")
    elif kind == "glb":
        content = write_stage(baking.bake_of(scene))
    elif kind == "csv":
        content = as_csv(shot_list(scene, notes=True)).encode()
    elif kind == "vtt":
        content = scene_vtt(scene).encode()
    elif kind == "fountain":
        content = scene_fountain(scene).encode()
    elif kind == "sounds":
        content = _zipped(scene)
    else:
        content = write_scene(scene).encode()
    response = HttpResponse(content, content_type=_KINDS[kind])
    stem = re.sub(r"[^A-Za-z0-9]+", "-", scene.name).strip("-").lower() or "scene"
    name = f"{stem}-sounds.zip" if kind == "sounds" else f"{stem}.{kind}"
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


def _zipped(scene: Scene) -> bytes:
    """The sound files that the cut's timeline names, where it looks for them.

    Raises:
        NotFound: the cut has none.
    """
    out, some = io.BytesIO(), False
    # FLAC is packed already.
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as sheet:
        for name, content in sounds.handed(scene):
            sheet.writestr(f"{FOLDER}/{name}", content)
            some = True
    if not some:
        raise NotFound("There is no sound in the cut.", "Bring in a sound, or write lines.")
    return out.getvalue()
