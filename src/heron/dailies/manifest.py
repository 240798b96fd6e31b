"""What lies in a rendered folder, for whoever opens it without us."""

import json
from typing import Any

from heron.cut import Clocks
from heron.dailies.asked import Render
from heron.dailies.frames import Plan
from heron.scene import Scene

#: Raised when what is said changes its meaning.
MANIFEST = 1


def manifest(scene: Scene, render: Render, plan: Plan, take: int, kind: str) -> str:
    """The manifest as JSON text: the render, and each picture with what it shows.

    Args:
        kind: the pictures' file ending.
    """
    clocks = Clocks(scene)

    def line(i: int) -> dict[str, Any]:
        frame = plan.frames[i]
        timecode = clocks.timecode(frame.cut) if frame.cut is not None else None
        return {
            "file": f"{frame.name}.{kind}", "stage": frame.stage, "cut": frame.cut, "timecode": timecode, "shot": frame.shot,
            "camera": frame.camera, "shutter": list(frame.shutter), "fingerprint": frame.fingerprint,
        }  # fmt: skip

    said = {
        "manifest": MANIFEST, "scene": scene.name, "take": take, "rate": scene.rate, "delivery": scene.delivery.label,
        "size": [plan.wide, plan.high], "quality": render.drawn_as, "colour": "sRGB",
        "pictures": [line(i) for i, frame in enumerate(plan.frames) if frame.name],
    }  # fmt: skip
    return json.dumps(said, indent=1, ensure_ascii=False)
