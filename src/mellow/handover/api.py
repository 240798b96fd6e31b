"""Files for the people down the line: one at a time, or all that somebody is meant to have, with a record of it."""

import re
import tempfile
import zipfile
from datetime import datetime
from typing import Any, Literal

from django.conf import settings
from django.http import FileResponse, HttpResponse
from ninja import Router
from pydantic import BaseModel

from heron.errors import BadInput, NotFound
from heron.handover.package import read_package
from heron.handover.parts import ALL, BY_NAME, RECIPIENTS, REFER, content_of
from heron.handover.plan import SCENE_NAMES, SHOT_NAMES, TOKENS, HandOverRequest, plain, plan, usual_parts
from heron.model import Model
from mellow.actors import Request, permit
from mellow.handover import jobs
from mellow.handover.models import HandedOver
from mellow.handover.source import source_of
from mellow.library import store
from mellow.productions import boards, models, rows, sounds
from mellow.productions.api.opened import looked_at, row_for
from mellow.productions.api.scenes import production
from mellow.productions.api.shapes import REFUSALS
from mellow.streaming import FileStream, send_file

router = Router()
#: So many sentences of what changed since are told of a hand-over.
_SENTENCES = 5


class HandedPart(BaseModel):
    """A thing that can be handed over, and for whom it is meant."""

    name: str
    label: str
    note: str
    recipients: list[Literal["edit", "animation", "everybody"]]
    #: It can be written shot by shot.
    by_shot: bool
    #: It can refer to a set that is a file of its own.
    refers: bool
    #: To whom it is handed over unless somebody says otherwise.
    usual: list[Literal["edit", "animation", "everybody"]]
    #: Why it cannot be handed over now, and what to do about it; empty where it can.
    lacks: str


class HandedFile(BaseModel):
    """A file that was handed over."""

    path: str
    bytes: int


class RecordOut(BaseModel):
    """A hand-over: what, for whom, of which revision, where it is, and what changed in the scene since."""

    id: int
    number: int
    recipient: Literal["edit", "animation", "everybody"]
    revision: int
    at: datetime
    asked: HandOverRequest
    files: list[HandedFile]
    where: str
    here: bool
    changes: int
    since: list[str]


class HandOversOut(BaseModel):
    """What can be handed over, what was, and the folder that the server hands over into."""

    folder: str
    #: How files are called where nobody says otherwise, and what may stand in a pattern.
    scene_names: str
    shot_names: str
    tokens: list[str]
    parts: list[HandedPart]
    records: list[RecordOut]


class PlannedOut(BaseModel):
    """A file that would be written."""

    path: str
    part: str
    folder: bool


class AskedIn(Model):
    """What is handed over, and into the server's folder or as a download."""

    what: HandOverRequest = HandOverRequest()
    folder: bool = False


class WhyOut(BaseModel):
    """Why it was refused."""

    reason: str
    remedy: str


class HandOverJobOut(BaseModel):
    """How far a hand-over is, and the record of it once it is done."""

    id: str
    state: Literal["waiting", "writing", "done", "refused", "stopped"]
    done: int
    of: int
    path: str
    problem: WhyOut | None
    record: RecordOut | None


class ImportedOut(BaseModel):
    """The scene that a package became, and the files that were missing when it was made."""

    scene: int
    name: str
    files: int
    lost: list[str]


@router.get("scenes/{int:scene_id}/export/{kind}")
def export(request: Request, scene_id: int, kind: str) -> HttpResponse | FileStream:
    """One of the things that can be handed over as a file; a folder of them as a zip."""
    scene = looked_at(request, scene_id)
    part = BY_NAME.get(kind)
    if part is None:
        raise BadInput(
            f"There is nothing called {kind!r:.40} to hand over.", f"There are: {', '.join(BY_NAME)}."
        )
    content = content_of(part, source_of(rows.scene_row(scene_id), scene))
    stem = re.sub(r"[^A-Za-z0-9]+", "-", scene.name).strip("-").lower() or "scene"
    tail = f"-{part.tail}" if part.tail else ""
    called = f"{stem}{tail}{part.ending or '.zip'}"
    if not isinstance(content, bytes):
        out = tempfile.TemporaryFile()  # noqa: SIM115 - it is closed once it is sent
        # FLAC, JPEG and PNG are packed already.
        with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as sheet:
            for name, each in content:
                sheet.writestr(f"{part.tail}/{name}", each)
        return send_file(request, out, out.tell(), called, part.kind)
    response = HttpResponse(content, content_type=part.kind)
    response.headers["Content-Disposition"] = f'attachment; filename="{called}"'
    return response


@router.get("scenes/{int:scene_id}/handovers", response={200: HandOversOut, **REFUSALS})
def listing(request: Request, scene_id: int) -> HandOversOut:
    """What can be handed over, and all that was."""
    row = row_for(request, scene_id)
    source = source_of(row, rows.load(row))
    usual = {recipient: usual_parts(source, recipient) for recipient in RECIPIENTS}
    parts = [
        HandedPart(
            name=one.name, label=one.label, note=one.note, recipients=list(one.recipients), by_shot=one.of == "stage", refers=one.name in REFER,
            usual=[recipient for recipient in RECIPIENTS if one in usual[recipient]], lacks=str(one.lacks(source) or ""),
        )
        for one in ALL
        if one.recipients
    ]  # fmt: skip
    records = [_record(one, row) for one in HandedOver.objects.filter(scene=row)]
    return HandOversOut(
        folder=str(settings.OUT),
        scene_names=SCENE_NAMES,
        shot_names=SHOT_NAMES,
        tokens=list(TOKENS),
        parts=parts,
        records=records,
    )


@router.post("scenes/{int:scene_id}/handovers/plan", response={200: list[PlannedOut], **REFUSALS})
def would_be(request: Request, scene_id: int, payload: HandOverRequest) -> list[PlannedOut]:
    """The files that a hand-over would write."""
    scene = looked_at(request, scene_id)
    files = plan(source_of(rows.scene_row(scene_id), scene), payload)
    return [PlannedOut(path=one.path, part=one.part.label, folder=not one.part.ending) for one in files]


@router.post("scenes/{int:scene_id}/handovers", response={200: HandOverJobOut, **REFUSALS})
def begin(request: Request, scene_id: int, payload: AskedIn) -> HandOverJobOut:
    """Begin to hand over."""
    permit(request.auth, "edit")
    scene = looked_at(request, scene_id)
    plan(source_of(rows.scene_row(scene_id), scene), payload.what)
    return _told(jobs.begin(scene_id, payload.what, payload.folder))


@router.get("handovers/jobs/{job_id}", response={200: HandOverJobOut, **REFUSALS})
def how_far(request: Request, job_id: str) -> HandOverJobOut:
    """How far it is."""
    permit(request.auth, "look")
    return _told(jobs.UNDER_WAY.found(job_id))


@router.delete("handovers/jobs/{job_id}", response={200: HandOverJobOut, **REFUSALS})
def stop(request: Request, job_id: str) -> HandOverJobOut:
    """Write no further; nothing of it stays."""
    permit(request.auth, "edit")
    job = jobs.UNDER_WAY.found(job_id)
    jobs.stop(job)
    return _told(job)


@router.get("handovers/{int:record_id}/download", response={200: bytes, **REFUSALS})
def download(request: Request, record_id: int) -> FileResponse:
    """All its files as a zip."""
    permit(request.auth, "look")
    record = HandedOver.objects.filter(pk=min(record_id, 2**62)).select_related("scene").first()
    there = jobs.zip_of(record_id)
    if record is None or not there.is_file():
        raise NotFound(
            f"The files of that hand-over are not kept any more: the last {jobs.KEEP} are.",
            "Hand it over again.",
        )
    name = f"{plain(record.scene.name)}_{record.recipient}_{record.number:03d}.zip"
    return FileResponse(there.open("rb"), as_attachment=True, filename=name, content_type="application/zip")


@router.post("scenes/import/package", response={200: ImportedOut, **REFUSALS})
def bring_in(request: Request, name: str = "The package") -> ImportedOut:
    """Make a new scene of a package, sent as the body, with all its files."""
    permit(request.auth, "manage")
    package = read_package(request.body, name)
    owner = production()
    for content in package.files.values():
        store.keep(content)
    for key, content in package.sounds.items():
        sounds.put(owner, key, content)
    for key, content in package.boards.items():
        boards.put(owner, key, content)
    row = rows.create(owner, package.scene)
    count = len(package.files) + len(package.sounds) + len(package.boards)
    return ImportedOut(scene=row.pk, name=row.name, files=count, lost=list(package.lost))


def _told(job: jobs.Job) -> HandOverJobOut:
    problem = None if job.problem is None else WhyOut(reason=job.problem.reason, remedy=job.problem.remedy)
    record = None
    if job.record is not None:
        kept = HandedOver.objects.filter(pk=job.record).select_related("scene").first()
        record = None if kept is None else _record(kept, kept.scene)
    return HandOverJobOut(
        id=job.id, state=job.state, done=job.done, of=job.of, path=job.path, problem=problem, record=record
    )


def _record(one: HandedOver, row: models.Scene) -> RecordOut:
    later = models.Change.objects.filter(scene=row, revision__gt=one.revision).order_by("-revision")
    since = list(dict.fromkeys(later.values_list("sentence", flat=True)[:40]))[:_SENTENCES]
    asked: dict[str, Any] = one.asked
    return RecordOut(
        id=one.pk, number=one.number, recipient=one.recipient, revision=one.revision, at=one.at, asked=HandOverRequest.model_validate(asked),
        files=[HandedFile(**each) for each in one.files], where=one.where, here=bool(one.where) or jobs.zip_of(one.pk).is_file(),
        changes=row.revision - one.revision, since=since,
    )  # fmt: skip
