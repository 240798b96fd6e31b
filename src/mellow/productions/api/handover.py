"""Open files for the people down the line."""

import re
from typing import Literal

from django.http import HttpResponse
from ninja import Router

from heron.dailies.shot_list import as_csv, shot_list
from heron.formats.dialogue import scene_fountain, scene_vtt
from heron.formats.gltf import write_stage
from heron.formats.otio import write_otio
from heron.scene import write_scene
from mellow.actors import Request
from mellow.productions import baking
from mellow.productions.api.opened import looked_at

router = Router()
_KINDS = {
    "otio": "application/json",
    "glb": "model/gltf-binary",
    "json": "application/json",
    "csv": "text/csv; charset=utf-8",
    "vtt": "text/vtt; charset=utf-8",
    "fountain": "text/plain; charset=utf-8",
}


@router.get("{int:scene_id}/export/{kind}")
def export(
    request: Request, scene_id: int, kind: Literal["otio", "glb", "json", "csv", "vtt", "fountain"]
) -> HttpResponse:
    """The cut, the stage, the document, the list of shots or the dialogue as a file."""
    scene = looked_at(request, scene_id)
    if kind == "otio":
        content = write_otio(scene).encode()
    elif kind == "glb":
        content = write_stage(baking.bake_of(scene))
    elif kind == "csv":
        content = as_csv(shot_list(scene)).encode()
    elif kind == "vtt":
        content = scene_vtt(scene).encode()
    elif kind == "fountain":
        content = scene_fountain(scene).encode()
    else:
        content = write_scene(scene).encode()
    response = HttpResponse(content, content_type=_KINDS[kind])
    stem = re.sub(r"[^A-Za-z0-9]+", "-", scene.name).strip("-").lower() or "scene"
    response.headers["Content-Disposition"] = f'attachment; filename="{stem}.{kind}"'
    return response
