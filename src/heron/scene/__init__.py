"""The document of a scene, how two versions differ, and how it is read and written."""

from heron.scene.camera import POSE, Camera, letter_after
from heron.scene.document import Scene, Surround, empty_scene
from heron.scene.lookup import find, find_named, replace
from heron.scene.patch import FinePatch, Patch, apply_patch, diff, fine, read_patch, touched
from heron.scene.reading import read_scene, write_scene
from heron.scene.shot import Shot

__all__ = [
    "POSE",
    "Camera",
    "FinePatch",
    "Patch",
    "Scene",
    "Shot",
    "Surround",
    "apply_patch",
    "diff",
    "empty_scene",
    "find",
    "find_named",
    "fine",
    "letter_after",
    "read_patch",
    "read_scene",
    "replace",
    "touched",
    "write_scene",
]
