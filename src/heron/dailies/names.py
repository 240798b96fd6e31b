"""What rendered files are called: a folder for each shot, numbered by stage frame."""

import re
from functools import lru_cache

from heron.scene import Scene


@lru_cache(maxsize=64)
def plain(text: str) -> str:
    """A name that any file system takes: letters, digits, `-` and `_`."""
    return re.sub(r"[^A-Za-z0-9_-]+", "_", text).strip("_") or "unnamed"


def folders(names: list[str]) -> list[str]:
    """A folder for each name in order, no two alike even where letters are one to the file system."""
    out: list[str] = []
    taken: set[str] = set()
    for name in names:
        made, n = plain(name), 1
        while made.lower() in taken:
            n += 1
            made = f"{plain(name)}-{n}"
        taken.add(made.lower())
        out.append(made)
    return out


def picture(scene: Scene, folder: str, stage: int) -> str:
    """A frame's path below the folder of the render, without its kind: `020/Slack_Tide_020.1165`."""
    return f"{folder}/{plain(scene.name)}_{folder}.{stage:04d}"
