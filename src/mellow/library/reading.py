"""Files that are being read: a process for each, at most two at once, told of by how far they are."""

import contextlib
import json
import os
import signal
import subprocess
import sys
import tempfile
import threading
import uuid
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, Literal

from django.db import connection

from heron.errors import NotFound
from heron.formats.bringing.limits import seconds_for
from heron.formats.bringing.names import alike
from mellow.library import store
from mellow.library.models import BroughtFile
from mellow.problems import NotWritten
from mellow.productions.models import Production
from mellow.under_way import UnderWay

State = Literal["waiting", "reading", "done", "refused", "stopped"]
#: What is told of the last of them stays so long.
_KEEP = 60
_TURNS = threading.Semaphore(2)


@dataclass
class Reading:
    """A file that is read, or was.

    Attributes:
        problem: why it was refused: reason, remedy and field.
        row: of the library, where a set or a prop came of it.
    """

    name: str
    job: dict[str, Any]
    production: int
    source: str
    size: int
    id: str = field(default_factory=lambda: uuid.uuid4().hex[:12])
    state: State = "waiting"
    share: float = 0.0
    report: dict[str, Any] = field(default_factory=dict)
    problem: dict[str, str] | None = None
    row: int | None = None
    process: "subprocess.Popen[str] | None" = None


UNDER_WAY: UnderWay[Reading] = UnderWay(
    _KEEP, "Nothing is known of that file any more.", "Bring it in again."
)


def begin(
    production: Production,
    source: str,
    name: str,
    along: dict[str, str],
    how: dict[str, Any],
) -> Reading:
    """Begin to read a file that was sent.

    Args:
        source: its key; along: keys of files it names, by name; how: unit, up, lighter, rigid, and of motion motion, clip, map.

    Raises:
        NotFound: it, or one of those, was not sent.
    """
    paths = {called: store.path_of(key, ".came") for called, key in {**along, "": source}.items()}
    for called, path in paths.items():
        if not path.exists():
            raise NotFound(f"{called or name} is not here any more.", "Bring it in again.")
    whole = paths.pop("")
    job = {
        "known": _corrected(production),
        "path": str(whole),
        "name": name,
        "along": {k: str(v) for k, v in paths.items()},
        **how,
    }
    one = Reading(name, job, production.pk, source, whole.stat().st_size)
    UNDER_WAY.add(one)
    threading.Thread(target=_read, args=(one,), daemon=True).start()
    return one


def _corrected(production: Production) -> dict[str, dict[str, str]]:
    """Joints that were corrected by hand, by the names of all joints of their files; the last word counts."""
    rows = BroughtFile.objects.filter(production=production, kind__in=("character", "motion")).order_by(
        "created"
    )
    reports = (one.report for one in rows.only("report"))
    return {alike(report["names"]): report["map"] for report in reports if report.get("map")}


def stop(one: Reading) -> None:
    """Read no further."""
    if one.state in ("waiting", "reading"):
        one.state = "stopped"
        if one.process is not None:
            _end(one.process)


def _end(process: "subprocess.Popen[str]") -> None:
    """End a process with those that it has begun."""
    with contextlib.suppress(ProcessLookupError):
        os.killpg(process.pid, signal.SIGKILL)


def _read(one: Reading) -> None:
    with _TURNS:
        if one.state != "waiting":
            return
        one.state = "reading"
        try:
            with tempfile.TemporaryDirectory() as folder:
                _run(one, Path(folder) / "model.glb")
        except NotWritten as error:
            _refuse(one, error.reason, error.remedy)
        except Exception:
            _refuse(one, f"{one.name} could not be read.", "Try again.")
            raise
        finally:
            connection.close()


def _run(one: Reading, out: Path) -> None:
    command = [sys.executable, "-m", "heron.formats.bringing.worker"]
    with subprocess.Popen(
        command,
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
        text=True,
        start_new_session=True,
    ) as process:
        one.process = process
        # Longer than its share of a processor, for a machine that is busy.
        late = threading.Timer(2 * seconds_for(one.name, bool(one.job.get("lighter"))), _end, [process])
        late.start()
        assert process.stdin is not None and process.stdout is not None
        try:
            process.stdin.write(json.dumps({**one.job, "out": str(out)}))
            process.stdin.close()
            for line in process.stdout:
                said = json.loads(line)
                one.share = said.get("share", one.share)
                one.report = said.get("report", one.report)
                one.problem = said.get("problem", one.problem)
        except (OSError, ValueError):
            pass
        finally:
            late.cancel()
    if one.state == "stopped":
        return
    if one.problem is not None:
        one.state = "refused"
    elif not one.report:
        _refuse(
            one,
            f"{one.name} takes too long, or too much memory, to read.",
            "Make it lighter where it was made.",
        )
    else:
        _keep(one, out)
        one.share, one.state = 1.0, "done"


def _keep(one: Reading, out: Path) -> None:
    """Put what came of it in the library."""
    key = one.report.get("key")
    if not key:
        return
    store.keep(out.read_bytes())
    row, _ = BroughtFile.objects.update_or_create(
        key=key,
        defaults={
            "production_id": one.production, "source": one.source, "name": one.report.get("called", one.name)[:120], "kind": one.report["kind"], "size": one.size,
            # What there is to look at is made again with the next reading.
            "report": {name: told for name, told in one.report.items() if name != "beside"},
        },
    )  # fmt: skip
    one.row = row.pk


def _refuse(one: Reading, reason: str, remedy: str) -> None:
    if one.state != "stopped":
        one.problem = {"reason": reason, "remedy": remedy, "field": ""}
        one.state = "refused"
