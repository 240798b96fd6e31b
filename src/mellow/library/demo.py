"""The demo's scene that plays in a set that was brought in, with its files in the library."""

from typing import Any

from heron.demo.boathouse import OARSMAN, SET, WALK, boathouse_scene, brought
from mellow.library import store
from mellow.library.models import BroughtFile
from mellow.productions import rows
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
    rows.create(production(), boathouse_scene(files))


def _keep(name: str, came: bytes, kept: bytes, report: dict[str, Any]) -> None:
    source = store.keep(came, ".came")
    store.keep(kept)
    BroughtFile.objects.get_or_create(
        key=report["key"],
        defaults={
            "production": production(), "source": source, "name": name, "kind": report["kind"], "size": len(came), "report": report,
        },
    )  # fmt: skip
