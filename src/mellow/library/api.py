"""The library: files sent, read, looked at, and where they are used."""

import json
from typing import Any

import numpy as np
from django.db.models import Count
from django.db.models.fields.json import KT
from django.http import HttpResponse
from ninja import Router

from heron.commands.bringing import NewVersion, PartIn
from heron.commands.own_rigs import kept_look, kept_rig
from heron.commands.own_things import kept_things
from heron.errors import BadInput, HeronError, NotFound, Refused
from heron.formats.bringing.limits import MOST_BYTES
from heron.scene import write_scene
from heron.stage.floors import part_in
from heron.stage.models.meeting import solid_of
from mellow.actors import Request, permit
from mellow.library import reading, store
from mellow.library.models import BroughtFile
from mellow.library.shapes import (
    BroughtOut,
    KeepIn,
    ProblemOut,
    ReadIn,
    ReadingOut,
    RenewedOut,
    RenewIn,
    SentOut,
    UsedOut,
)
from mellow.pictures import as_jpeg
from mellow.productions import log
from mellow.productions.api.opened import looked_at
from mellow.productions.api.scenes import production
from mellow.productions.api.shapes import REFUSALS
from mellow.productions.models import Figure, Piece, Scene
from mellow.streaming import FileStream, send_file

router = Router()
_PICTURE_PX = 480
#: A level plane cuts a set so high over the floor, as a ground plan does (common practice), metres.
CUT_M = 1.2
#: What was not brought in, but kept from a scene.
OWN = ("things", "rig", "look")


@router.post("files", response={200: SentOut, **REFUSALS})
def send(request: Request, name: str) -> SentOut:
    """Keep a file as it came, sent as the body."""
    permit(request.auth, "edit")
    content = request.body
    if not content:
        raise BadInput(f"{name} is empty.", "Copy it again.")
    if len(content) > MOST_BYTES:
        raise BadInput(
            f"{name} is larger than {MOST_BYTES // 2**20} MB.", "Make it lighter where it was made."
        )
    return SentOut(source=store.keep(content, ".came"), size=len(content))


@router.post("files/readings", response={200: ReadingOut, **REFUSALS})
def read(request: Request, payload: ReadIn) -> ReadingOut:
    """Begin to read a sent file."""
    permit(request.auth, "edit")
    how = payload.model_dump(exclude={"source", "name", "along"})
    return _told(reading.begin(production(), payload.source, payload.name, payload.along, how))


@router.get("files/readings/{reading_id}", response={200: ReadingOut, **REFUSALS})
def how_far(request: Request, reading_id: str) -> ReadingOut:
    """How far it is."""
    permit(request.auth, "look")
    return _told(reading.UNDER_WAY.found(reading_id))


@router.delete("files/readings/{reading_id}", response={200: ReadingOut, **REFUSALS})
def stop(request: Request, reading_id: str) -> ReadingOut:
    """Read no further."""
    permit(request.auth, "edit")
    one = reading.UNDER_WAY.found(reading_id)
    reading.stop(one)
    return _told(one)


@router.get("files", response=list[BroughtOut])
def listing(request: Request) -> list[BroughtOut]:
    """Everything that was brought in, the newest first."""
    permit(request.auth, "look")
    rows = list(BroughtFile.objects.filter(production=production()).defer("picture"))
    used = _used([row.key for row in rows])
    pictured = set(BroughtFile.objects.filter(picture__isnull=False).values_list("pk", flat=True))
    return [_brought(row, used.get(row.key, []), row.pk in pictured) for row in rows]


@router.get("files/{int:file_id}/picture.jpg", response={200: bytes, **REFUSALS})
def picture(request: Request, file_id: int) -> HttpResponse:
    """A small picture of it."""
    permit(request.auth, "look")
    row = _row(file_id)
    if row.picture is None:
        raise NotFound("It has no picture yet.", "Look at it once.")
    return HttpResponse(bytes(row.picture), content_type="image/jpeg")


@router.put("files/{int:file_id}/picture", response={200: BroughtOut, **REFUSALS})
def put_picture(request: Request, file_id: int) -> BroughtOut:
    """Give it a small picture, sent as the body."""
    permit(request.auth, "edit")
    row = _row(file_id)
    row.picture = as_jpeg(request.body, _PICTURE_PX)
    row.save(update_fields=["picture"])
    return _brought(row, _used([row.key]).get(row.key, []), True)


@router.delete("files/{int:file_id}", response={200: list[BroughtOut], **REFUSALS})
def delete(request: Request, file_id: int) -> list[BroughtOut]:
    """Clear a file that no scene uses."""
    permit(request.auth, "manage")
    row = _row(file_id)
    used = _used([row.key]).get(row.key, [])
    if used:
        where = ", ".join(f"“{one.name}”" for one in used[:3])
        raise Refused(f"{row.name} is used in {where}.", "Delete it from there first.")
    _drop(row)
    return listing(request)


@router.post("files/clear", response={200: list[BroughtOut], **REFUSALS})
def clear(request: Request) -> list[BroughtOut]:
    """Clear all files that no scene uses."""
    permit(request.auth, "manage")
    rows = list(BroughtFile.objects.filter(production=production()))
    used = _used([row.key for row in rows])
    for row in rows:
        # What was kept from a scene is nowhere else.
        if not used.get(row.key) and row.kind not in OWN:
            _drop(row)
    return listing(request)


@router.post("scenes/{int:scene_id}/keep", response={200: BroughtOut, **REFUSALS})
def keep_things(request: Request, scene_id: int, payload: KeepIn) -> BroughtOut:
    """Keep things of a scene in the library, for any scene."""
    permit(request.auth, "edit")
    scene = looked_at(request, scene_id)
    if payload.what == "things" or not payload.ids:
        kept = kept_things(scene, payload.ids)
    else:
        kept = (kept_rig if payload.what == "rig" else kept_look)(scene, payload.ids[0])
    content = write_scene(kept).encode()
    key = store.keep(content)
    parts = {
        "figures": len(kept.figures),
        "movers": len(kept.movers),
        "cameras": len(kept.cameras),
        "pieces": len(kept.pieces),
    }
    row, _ = BroughtFile.objects.update_or_create(
        key=key,
        defaults={
            "production": production(), "source": "", "name": kept.name, "kind": payload.what, "size": len(content),
            "report": {"things": parts, "files": list(kept.files)},
        },
    )  # fmt: skip
    return _brought(row, _used([row.key]).get(row.key, []), row.picture is not None)


@router.get("files/{int:file_id}/things", response={200: dict[str, Any], **REFUSALS})
def things(request: Request, file_id: int) -> dict[str, Any]:
    """Things that were kept, as `things.bring` takes them."""
    permit(request.auth, "look")
    content = store.content_of(_row(file_id).key)
    if content is None:
        raise NotFound("The file of these things is not here.", "Keep them again.")
    found: dict[str, Any] = json.loads(content)
    return found


@router.post("files/{int:file_id}/renew", response={200: list[RenewedOut], **REFUSALS})
def renew(request: Request, file_id: int, payload: RenewIn) -> list[RenewedOut]:
    """Have everything of a file be of another in every scene that uses it; one undo in each takes it back."""
    permit(request.auth, "edit")
    one, other = _row(file_id), _row(payload.to)
    before, parts = (
        tuple(PartIn.model_validate(part) for part in row.report.get("parts", [])) for row in (one, other)
    )
    if not before or not parts:
        raise BadInput("Only sets and props have versions.", "Choose one of these.")
    out = []
    for used in _used([one.key]).get(one.key, []):
        scene = Scene.objects.filter(pk=used.scene, frozen_of=None, put_away=None).first()
        if scene is None:
            continue
        command = NewVersion(
            name=one.name.rsplit(".", 1)[0][:80], file=one.key, to=other.key, before=before, parts=parts
        )
        try:
            done = log.do(scene.pk, command, scene.revision, request.auth)
            out.append(RenewedOut(scene=scene.pk, name=scene.name, sentence=done.sentence, refused=False))
        except HeronError as error:
            out.append(RenewedOut(scene=scene.pk, name=scene.name, sentence=str(error), refused=True))
    return out


@router.get("files/{key}.glb", response={200: bytes, **REFUSALS})
def content(request: Request, key: str) -> HttpResponse:
    """A set or prop as it is kept; under its key it never changes."""
    permit(request.auth, "look")
    there = store.path_of(key)
    if not there.exists():
        raise NotFound("The file of this set is not here.", "Bring it in again.")
    response = HttpResponse(there.read_bytes(), content_type="model/gltf-binary")
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


@router.get("files/{key}.mp4", response={200: bytes, **REFUSALS})
def movie(request: Request, key: str) -> HttpResponse | FileStream:
    """A movie as it is kept, whole or in part."""
    permit(request.auth, "look")
    there = store.path_of(key)
    if not there.exists():
        raise NotFound("The file of this movie is not here.", "Bring it in again.")
    response = send_file(request, there.open("rb"), there.stat().st_size, f"{key[:12]}.mp4", "video/mp4")
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


@router.get("scenes/{int:scene_id}/outlines", response={200: dict[str, list[float]], **REFUSALS})
def outlines(request: Request, scene_id: int, height: float = CUT_M) -> dict[str, list[float]]:
    """Where a level plane cuts what was brought in, metres over the stage's floor: lines in shares of a piece's width and
    depth, x, z to x, z in turn, by piece.
    """
    permit(request.auth, "look")
    out: dict[str, list[float]] = {}
    for piece in looked_at(request, scene_id).pieces:
        part = part_in(piece)
        if part is not None:
            share = (height - piece.base) / piece.height
            cut = solid_of(part).outline(share) if 0 < share < 1 else np.zeros((0, 2, 2))
            out[piece.id] = cut.reshape(-1).round(4).tolist()
    return out


def _row(file_id: int) -> BroughtFile:
    row = BroughtFile.objects.filter(pk=min(file_id, 2**62)).first()
    if row is None:
        raise NotFound("That file is gone.", "Choose one of the list.")
    return row


def _drop(row: BroughtFile) -> None:
    store.drop(row.key)
    if row.source and not BroughtFile.objects.filter(source=row.source).exclude(pk=row.pk).exists():
        store.drop(row.source, ".came")
    row.delete()


def _used(keys: list[str]) -> dict[str, list[UsedOut]]:
    """Which scenes use which files; those in the trash too, since they can come back, and copies that renders show."""
    counted = (
        Piece.objects.annotate(file=KT("params__source__file"))
        .values("file", "scene_id", "scene__name")
        .annotate(many=Count("pk"))
        .order_by("scene_id")
    )
    out: dict[str, list[UsedOut]] = {}
    for key, scene_id, name in [*_acted(), *_bodies(), *_movies()]:
        if key in keys and all(used.scene != scene_id for used in out.get(key, [])):
            out.setdefault(key, []).append(UsedOut(scene=scene_id, name=name, pieces=0))
    for row in BroughtFile.objects.filter(kind__in=OWN).only("name", "report"):
        for key in row.report.get("files", []):
            if key in keys:
                out.setdefault(key, []).append(UsedOut(scene=0, name=f"{row.name} (library)", pieces=0))
    for one in counted:
        if one["file"] not in keys:
            continue
        used = UsedOut(scene=one["scene_id"], name=one["scene__name"], pieces=one["many"])
        out.setdefault(one["file"], []).append(used)
    return out


def _bodies() -> list[tuple[str, int, str]]:
    """The keys of characters whose bodies figures have, with the scenes in which they do."""
    found = Figure.objects.annotate(body=KT("params__character")).filter(body__isnull=False)
    return list(found.values_list("body", "scene_id", "scene__name"))


def _movies() -> list[tuple[str, int, str]]:
    """The keys of reference movies, with the scenes they belong to."""
    found = Scene.objects.annotate(file=KT("settings__reference__file")).filter(file__isnull=False)
    return list(found.values_list("file", "pk", "name"))


def _acted() -> list[tuple[str, int, str]]:
    """The keys of motions that figures act, with the scenes in which they do."""
    found = Figure.objects.values_list("params__acts", "scene_id", "scene__name")
    return [
        (act["file"], scene, name)
        for acts, scene, name in found
        for act in acts or []
        if act.get("kind") == "recorded"
    ]


#: What a report that does not say it leaves to be said.
_USUAL: dict[str, Any] = {
    "triangles": 0, "height_m": 0.0, "size_m": [], "unit": None, "up": "y", "told": True, "hints": [], "left_out": [], "parts": [],
    "seconds": 0.0, "rate": 0.0, "joints": {}, "names": [], "clips": [], "cameras": [], "things": {},
}  # fmt: skip


def _brought(row: BroughtFile, used: list[UsedOut], pictured: bool) -> BroughtOut:
    known = {name: row.report.get(name, usual) for name, usual in _USUAL.items()}
    return BroughtOut(
        **known, id=row.pk, name=row.name, kind=row.kind, key=row.key, source=row.source, size=row.size, pictured=pictured,
        here=store.path_of(row.key).exists(), used=used,
    )  # fmt: skip


def _told(one: reading.Reading) -> ReadingOut:
    row = _row(one.row) if one.row is not None else None
    return ReadingOut(
        id=one.id, name=one.name, state=one.state, share=one.share, kind=one.report.get("kind"),
        problem=None if one.problem is None else ProblemOut(**one.problem),
        tracks=one.report.get("tracks", []), beside=one.report.get("beside"),
        file=None if row is None else _brought(row, _used([row.key]).get(row.key, []), row.picture is not None),
    )  # fmt: skip
