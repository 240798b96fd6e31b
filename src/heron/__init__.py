"""Mellow Heron's core: the document of a scene, its commands, and what they compute to.

Units: metres and seconds on the stage, millimetres for lens and film back, degrees at
the edges, radians inside, frames as integers. Right-handed, Y up; a camera looks along
its −Z. Nothing here knows of a server, a browser or a database.

The names below are the API of the package; each is loaded when it is first asked for.
"""

from importlib import import_module, metadata
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from heron.bake import Bake
    from heron.commands import parse_commands, run
    from heron.errors import HeronError
    from heron.framing import project
    from heron.scene import Scene, find_named, read_scene, write_scene
    from heron.stage.reference import OnFigure

_WHERE = {
    "Bake": "heron.bake", "HeronError": "heron.errors", "OnFigure": "heron.stage.reference", "Scene": "heron.scene",
    "find_named": "heron.scene", "parse_commands": "heron.commands", "project": "heron.framing",
    "read_scene": "heron.scene", "run": "heron.commands", "write_scene": "heron.scene",
}  # fmt: skip
__all__ = [
    "Bake",
    "HeronError",
    "OnFigure",
    "Scene",
    "find_named",
    "parse_commands",
    "project",
    "read_scene",
    "run",
    "write_scene",
]


def __getattr__(name: str) -> Any:
    if name == "__version__":
        return metadata.version("mellow-heron")
    if name in _WHERE:
        return getattr(import_module(_WHERE[name]), name)
    raise AttributeError(f"module 'heron' has no attribute {name!r}")
