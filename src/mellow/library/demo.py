"""The demo's scene that plays in a set that was brought in, with its files in the library."""

import io
import zipfile
from typing import Any

from heron.demo.boathouse import OARSMAN, REEL, SET, WALK, as_it_came_back, boathouse_scene, brought
from heron.handover.plan import HandOverRequest, written
from heron.scene import Scene
from mellow.actors import Actor
from mellow.handover.jobs import zip_of
from mellow.handover.models import HandedOver
from mellow.handover.source import source_of
from mellow.keeping import write
from mellow.library import store
from mellow.library.models import BroughtFile
from mellow.productions import log, models, rows
from mellow.productions.api.scenes import production


def keep_boathouse() -> None:
    """Keep its files as if they had been brought in, and make the scene."""
    files = brought()
    house, walk = files.set_kept, files.walk_kept
    report: dict[str, Any] = {
        "kind": "set", "key": house.key, "triangles": house.triangles, "unit": "m", "up": "y", "height_m": house.height_m,
        "size_m": list(house.size_m), "parts": [one.model_dump() for one in house.parts],
    }  # fmt: skip
    _keep(SET, files.set_came, house.content, report)
    report = {
        "kind": "motion", "key": walk.key, "seconds": walk.seconds, "rate": 24.0, "joints": walk.joints, "names": sorted(walk.joints.values()),
    }  # fmt: skip
    _keep(WALK, files.walk_came, walk.content, report)
    man = files.oarsman_kept
    report = {
        "kind": "character", "key": man.key, "triangles": man.triangles, "unit": "m", "height_m": man.stature_m, "joints": man.joints,
        "names": man.names, "clips": [{"name": "Haul", "frames": 61}],
    }  # fmt: skip
    _keep(OARSMAN, files.oarsman_came, man.content, report)
    report = {
        "kind": "movie",
        "key": files.reel_key,
        "seconds": files.reel.seconds,
        "rate": files.reel.fps,
    }
    _keep(REEL, files.reel_came, files.reel_kept, report)
    scene = boathouse_scene(files)
    row = rows.create(production(), scene)
    timeline = _hand_over(row, scene)
    log.do(row.pk, as_it_came_back(scene, timeline), 0, Actor("artist"))


def _hand_over(row: models.Scene, scene: Scene) -> str:
    """Hand the scene over to animation and to the edit; the timeline that the edit has."""
    for number, asked in enumerate(
        (
            HandOverRequest(recipient="animation", parts=("usd", "csv", "bvh")),
            HandOverRequest(parts=("otio", "edl", "shots")),
        ),
        1,
    ):
        found = dict(written(asked, source_of(row, scene)))
        record = HandedOver.objects.create(
            scene=row, number=number, revision=row.revision, recipient=asked.recipient, asked=asked.model_dump(mode="json"),
            files=[{"path": path, "bytes": len(content)} for path, content in found.items()],
        )  # fmt: skip
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as sheet:
            for path, content in found.items():
                sheet.writestr(path, content)
        write(zip_of(record.pk), out.getvalue(), "The hand-over")
    return found["Boathouse.otio"].decode()


def _keep(name: str, came: bytes, kept: bytes, report: dict[str, Any]) -> None:
    source = store.keep(came, ".came")
    store.keep(kept)
    BroughtFile.objects.get_or_create(
        key=report["key"],
        defaults={
            "production": production(), "source": source, "name": name, "kind": report["kind"], "size": len(came), "report": report,
        },
    )  # fmt: skip
