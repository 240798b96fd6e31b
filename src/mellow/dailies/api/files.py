"""Files of renders, each by a checked name; and the room they take."""

import io
import tempfile
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import IO, Literal

from django.conf import settings
from django.http import HttpResponse
from ninja import Router

from heron.errors import NotFound
from mellow.actors import Request, permit
from mellow.dailies import media, work
from mellow.dailies.api.shapes import MediaOut
from mellow.dailies.api.summaries import KINDS
from mellow.dailies.packing import stem_of
from mellow.pictures import looks_whole
from mellow.productions import rows
from mellow.productions.api.shapes import REFUSALS
from mellow.streaming import FileStream, send_file

router = Router()
_LASTS = "private, max-age=31536000, immutable"
_TYPES = {
    "movie": "video/mp4",
    "otio": "application/json",
    "manifest": "application/json",
    "sound": "audio/wav",
    "tone": "audio/wav",
}


@router.get("pictures/{key}.jpg")
def proof(request: Request, key: str) -> HttpResponse:
    """A frame's proof; under its name it never changes."""
    permit(request.auth, "look")
    found = media.proof(key)
    if not looks_whole(found):
        raise NotFound(
            "This picture is no longer cached.", "Render again; cached frames are not drawn again."
        )
    response = HttpResponse(found.read_bytes(), content_type="image/jpeg")
    response.headers["Cache-Control"] = _LASTS
    return response


@router.get("takes/{int:take_id}/files/{kind}")
def file(
    request: Request,
    take_id: int,
    kind: Literal["movie", "pictures", "otio", "manifest", "sound", "tone", "sounds"],
) -> HttpResponse | FileStream:
    """What a take hands over; its pictures and its sound files as zips of their folders."""
    permit(request.auth, "look")
    take = work.take_row(take_id)
    root = media.folder(take.pk)
    stem = stem_of(rows.load(take.frozen), take)
    if kind == "pictures":
        return _zipped(request, root / "pictures", f"{stem}_pictures.zip")
    if kind == "sounds":
        # Beside the timeline it is unpacked to where that looks for it.
        return _zipped(request, root / "sounds", f"{stem}_sounds.zip", inside="sounds")
    endings = [ending for ending, one in KINDS.items() if one == kind]
    path = root / "pictures" / "manifest.json" if kind == "manifest" else root / f"{stem}{endings[0]}"
    if not path.exists():
        raise NotFound(f"Take {take.number} has no {kind}.", "Render once more and ask for it.")
    return send_file(request, path.open("rb"), path.stat().st_size, path.name, _TYPES[kind])


def _zipped(request: Request, root: Path, name: str, inside: str = "") -> HttpResponse | FileStream:
    if not root.exists():
        raise NotFound(f"This take has no {root.name}.", "Render once more and ask for them.")
    made: IO[bytes] = tempfile.TemporaryFile()  # noqa: SIM115  The answer closes it.
    # Pictures are packed already.
    with media.writing("The pictures' zip"), zipfile.ZipFile(made, "w", zipfile.ZIP_STORED) as sheet:
        for one in _files(root):
            sheet.write(one, Path(inside) / one.relative_to(root))
    return send_file(request, made, made.seek(0, io.SEEK_END), name, "application/zip")


def _files(root: Path) -> Iterator[Path]:
    return (one for one in sorted(root.rglob("*")) if one.is_file())


@router.get("media", response=MediaOut)
def room(request: Request) -> MediaOut:
    """The room that renders take."""
    permit(request.auth, "look")
    return _room()


@router.post("media/clear", response={200: MediaOut, **REFUSALS})
def clear(request: Request) -> MediaOut:
    """Delete cached pictures; takes and their files stay."""
    permit(request.auth, "manage")
    freed = media.clear(work.wanted_keys(), work.shown_keys())
    out = _room()
    out.freed = freed
    return out


def _room() -> MediaOut:
    pictures, takes = media.used()
    return MediaOut(pictures=pictures, takes=takes, bound=int(settings.MEDIA_GB * work.GB))
