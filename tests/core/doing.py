"""Commands done in turn, each of them undone again to see that its inverse is exact."""

from heron.commands.registry import parse, run_one
from heron.scene import diff
from heron.scene.patch import apply_patch


def do(scene, *commands):
    """The scene after some commands, and what was said of the last."""
    said = ""
    for one in parse(list(commands)):
        before = scene
        scene, said = run_one(scene, one)
        assert apply_patch(scene, diff(scene, before)) == before
    return scene, said
