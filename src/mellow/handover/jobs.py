"""Hand-overs under way: one at a time, told of by how far they are, written whole or not at all."""

import contextlib
import shutil
import threading
import time
import uuid
import zipfile
from dataclasses import dataclass, field
from itertools import count
from pathlib import Path
from typing import Literal

from django.conf import settings
from django.db import connection, transaction
from django.db.models import Max

from heron.errors import BadInput, HeronError, NotFound
from heron.handover.plan import HandOverRequest, plain, written
from heron.scene import Scene
from mellow.handover.models import HandedOver
from mellow.handover.source import source_of
from mellow.keeping import writing
from mellow.productions import models, rows
from mellow.under_way import UnderWay

State = Literal["waiting", "writing", "done", "refused", "stopped"]
#: So many downloads stay; and what is told of so many hand-overs.
KEEP, _TOLD = 10, 40
#: What was being written that long ago is written by nobody any more, seconds.
_LEFT_S = 6 * 3600
_TURN = threading.Lock()


class _Stopped(Exception):
    pass


@dataclass
class Job:
    """A hand-over that is written, or was.

    Attributes:
        done, of: files; path: which is being written.
        record: the row that came of it.
    """

    scene: int
    asked: HandOverRequest
    folder: bool
    id: str = field(default_factory=lambda: uuid.uuid4().hex[:12])
    state: State = "waiting"
    done: int = 0
    of: int = 0
    path: str = ""
    problem: HeronError | None = None
    record: int | None = None

    def tell(self, done: int, of: int, path: str) -> None:
        """How far it is."""
        if self.state == "stopped":
            raise _Stopped
        self.done, self.of, self.path = done, of, path


UNDER_WAY: UnderWay[Job] = UnderWay(
    _TOLD, "Nothing is known of that hand-over any more.", "Hand it over again."
)


def begin(scene: int, asked: HandOverRequest, folder: bool) -> Job:
    """Begin to hand over.

    Raises:
        BadInput: a folder is meant, and the server has none to hand over into.
    """
    if folder and not settings.OUT:
        raise BadInput(
            "This server has no folder to hand over into.", "Set MELLOW_OUT to one, or take a download."
        )
    job = Job(scene, asked, folder)
    UNDER_WAY.add(job)
    threading.Thread(target=_run, args=(job,), daemon=True).start()
    return job


def stop(job: Job) -> None:
    """Write no further; nothing of it stays."""
    if job.state in ("waiting", "writing"):
        job.state = "stopped"


def zip_of(record: int) -> Path:
    """Where the download of a hand-over lies."""
    return Path(settings.MEDIA) / "handed" / f"{record}.zip"


def _run(job: Job) -> None:
    with _TURN:
        if job.state != "waiting":
            return
        job.state = "writing"
        root = Path(settings.OUT if job.folder else settings.MEDIA)
        _sweep(root)
        making = root / f".handover-{job.id}"
        try:
            row = rows.scene_row(job.scene)
            scene = rows.load(row)
            with writing("The hand-over"):
                making.mkdir(parents=True)
                files = _write(job, row, scene, making)
                job.record = _keep(job, row, scene, files, making)
            job.done, job.state = job.of, "done"
        except _Stopped:
            pass
        except HeronError as error:
            job.problem, job.state = error, "refused"
        except Exception:
            job.problem, job.state = BadInput("It could not be handed over.", "Try again."), "refused"
            raise
        finally:
            shutil.rmtree(making, ignore_errors=True)
            connection.close()


def _sweep(root: Path) -> None:
    """Take away what was being written when a server ended."""
    for left in root.glob(".handover-*"):
        with contextlib.suppress(OSError):
            if time.time() - left.stat().st_mtime > _LEFT_S:
                shutil.rmtree(left, ignore_errors=True)


def _write(job: Job, row: models.Scene, scene: Scene, making: Path) -> list[dict[str, object]]:
    files: list[dict[str, object]] = []
    for path, content in written(job.asked, source_of(row, scene), job.tell):
        there = making / path
        there.parent.mkdir(parents=True, exist_ok=True)
        there.write_bytes(content)
        files.append({"path": path, "bytes": len(content)})
    if not files:
        raise NotFound("There is nothing to hand over yet.", "Add a camera and a shot first.")
    return files


def _keep(job: Job, row: models.Scene, scene: Scene, files: list[dict[str, object]], making: Path) -> int:
    """Put what was written where it goes, whole, and remember it."""
    with transaction.atomic():
        last = HandedOver.objects.filter(scene=row).aggregate(Max("number"))["number__max"] or 0
        record = HandedOver.objects.create(
            scene=row, number=last + 1, revision=row.revision, recipient=job.asked.recipient, asked=job.asked.model_dump(mode="json"), files=files
        )  # fmt: skip
        if job.folder:
            name = f"{plain(scene.name)}_{job.asked.recipient}_{record.number:03d}"
            there = _free(Path(settings.OUT), name)
            making.replace(there)
            record.where = there.name
            record.save(update_fields=["where"])
            return int(record.pk)
        there = zip_of(record.pk)
        there.parent.mkdir(parents=True, exist_ok=True)
        packed = making / ".packed.zip"
        with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as out:
            for one in files:
                out.write(making / str(one["path"]), str(one["path"]))
        packed.replace(there)
    kept = sorted(there.parent.glob("*.zip"), key=lambda path: path.stat().st_mtime, reverse=True)
    for old in kept[KEEP:]:
        old.unlink(missing_ok=True)
    return int(record.pk)


def _free(folder: Path, name: str) -> Path:
    """A place for a new folder: another database may have handed over into the same one."""
    names = (name if k == 1 else f"{name}_{k}" for k in count(1))
    return next(there for one in names if not (there := folder / one).exists())
