"""A recorded walk, as a BVH: made here by a figure that walks in, looks round and goes to the bench."""

from functools import lru_cache

from heron.bake import Bake
from heron.commands import run
from heron.commands.acts import AddAct
from heron.commands.figures import AddFigure
from heron.formats.bvh import write_bvh
from heron.scene import Scene
from heron.stage.acts.body import Turn, Walk
from heron.stage.acts.hands import Wave
from heron.timebase import Frames


@lru_cache(maxsize=1)
def recorded_walk() -> bytes:
    """The file: 150 frames at 24 a second."""
    frames = Frames(first=1, last=150)
    acts = (
        Walk(frames=Frames(first=4, last=108), points=((0.4, -2.2), (-0.9, -4.6))),
        Turn(frames=Frames(first=112, last=130), heading=75),
        Wave(frames=Frames(first=70, last=106)),
    )
    scene, _ = run(
        Scene(name="Recorded", frames=frames),
        [
            AddFigure(id="one", name="One", stature=1.74, x=0, z=0),
            *(AddAct(figure="one", act=act) for act in acts),
        ],
    )
    return write_bvh(Bake(scene), scene.figures[0])
