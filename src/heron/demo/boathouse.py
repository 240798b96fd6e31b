"""“Boathouse”: a scene of “Slack Tide” that plays in a set that was brought in, to a walk that was recorded. All of it is invented."""

import hashlib
import tempfile
from dataclasses import dataclass
from pathlib import Path

from heron.commands import AnyCommand, run
from heron.commands.acts import AddAct
from heron.commands.bringing import BringCharacter, BringMotion, BringSet
from heron.commands.cameras import AddCamera, Pose
from heron.commands.conforming import ConformCut
from heron.commands.figures import AddFigure
from heron.commands.focusing import SetFocus
from heron.commands.glass import MountLens, SetGlass
from heron.commands.movers import AddMover
from heron.commands.moving_parts import LightMover
from heron.commands.numbers import SetNumber
from heron.commands.reference_movie import TakeReference
from heron.commands.rigs import AddLayer
from heron.commands.shots import AddShot
from heron.curves import Channel
from heron.demo.made.boathouse import boathouse
from heron.demo.made.edit import cut_otherwise
from heron.demo.made.oarsman import oarsman
from heron.demo.made.reel import reel
from heron.demo.made.walk import recorded_walk
from heron.formats.bringing.kept import (
    KeptCharacter,
    KeptModel,
    KeptMotion,
    keep_character,
    keep_model,
    keep_motion,
)
from heron.formats.bringing.motion import skeleton_of
from heron.formats.bringing.movie_in import MovieFile, keep_movie
from heron.formats.bringing.recognise import read_found
from heron.formats.edit_in import read_edit
from heron.optics import FIRST_KIT
from heron.scene import Scene, Surround
from heron.scene.layers import Aim
from heron.scene.reference_movie import ReferenceMovie
from heron.stage.acts.body import Turn
from heron.stage.acts.face import Express
from heron.stage.acts.look import LookAt
from heron.stage.figure import Look
from heron.stage.reference import OnFigure
from heron.timebase import Frames

FIRST, LAST = 1001, 1184
SET, WALK, OARSMAN, REEL = "boathouse.glb", "walk.bvh", "oarsman.glb", "reel.mp4"


@dataclass(frozen=True)
class Brought:
    """What the scene is made of besides itself: each file as it came, and as it is kept."""

    set_came: bytes
    set_kept: KeptModel
    walk_came: bytes
    walk_kept: KeptMotion
    oarsman_came: bytes
    oarsman_kept: KeptCharacter
    reel_came: bytes
    reel_kept: bytes
    reel_key: str
    reel: MovieFile


def brought() -> Brought:
    """All files, made and read."""
    house, walk, man = boathouse(), recorded_walk(), oarsman()
    kept = keep_model(read_found(house, SET, lambda name: None), SET)
    skeleton, _ = skeleton_of(walk, WALK, lambda name: None)
    body = keep_character(read_found(man, OARSMAN, lambda name: None), OARSMAN)
    story = reel()
    with tempfile.TemporaryDirectory() as folder:
        came, out = Path(folder) / REEL, Path(folder) / "kept.mp4"
        came.write_bytes(story)
        told = keep_movie(came, out, REEL, lambda share: None)
        movie = out.read_bytes()
    return Brought(
        house,
        kept,
        walk,
        keep_motion(skeleton, WALK),
        man,
        body,
        story,
        movie,
        hashlib.sha256(movie).hexdigest(),
        told,
    )


def _f(first: int, last: int) -> Frames:
    return Frames(first=first, last=last)


def boathouse_scene(files: Brought) -> Scene:
    """Bram comes in and waves, Odile turns round from the bench; seen from the back, through the window and close."""
    odile = Look(coat="#2f6b78", trim="#d9b85f", build="slight", headwear="scarf", garment="skirt")
    surround = Surround(
        ground="#6f8386", sky_low="#f0dcc6", sky_high="#a8bac8", sun_bearing=205, sun_height=24, light_ev=7.2, water=True, haze_m=60,
        fill=0.34, rim=0.15,
    )  # fmt: skip
    her, him = OnFigure(figure="fig-odile", joint="head"), OnFigure(figure="fig-bram", joint="head")
    glass = (("cam-a", "lens-zoom", 2.8, 160), ("cam-b", "lens-65", 2.8, 250), ("cam-c", "lens-65", 2.0, 100))
    commands: list[AnyCommand] = [
        BringSet(id="house", name="Boathouse", file=files.set_kept.key, parts=files.set_kept.parts),
        AddFigure(id="fig-bram", name="Bram", stature=1.79, x=1.95, z=3.9, heading=0),
        BringCharacter(figure="fig-bram", file=files.oarsman_kept.key, name="oarsman"),
        AddFigure(id="fig-odile", name="Odile", stature=1.68, look=odile, x=-1.75, z=-2.5, heading=92),
        BringMotion(
            figure="fig-bram",
            file=files.walk_kept.key,
            name="walk",
            seconds=files.walk_kept.seconds,
            frame=1009,
        ),
        AddAct(figure="fig-odile", act=Turn(frames=_f(1084, 1112), heading=-40)),
        AddAct(figure="fig-odile", act=LookAt(at=him, frames=_f(1078, LAST))),
        AddAct(figure="fig-bram", act=LookAt(at=her, frames=_f(1120, LAST))),
        AddAct(
            figure="fig-bram", act=Express(expression="joy", amount=0.9, frames=_f(1130, LAST), hold=True)
        ),
        AddMover(
            id="mov-lamp", name="Lamp", shape="lamp", pose=Pose(x=-1.2, y=2.35, z=-2.1, pan=0, tilt=0, roll=0)
        ),
        LightMover(mover="mov-lamp", spread="round", colour="#ffcf8a", reach_m=9.0),
        SetNumber(thing="mov-lamp", channel="light.stops", value=1.6, frame=FIRST),
        AddCamera(
            id="cam-a", name="From the bench", pose=Pose(x=-0.2, y=1.95, z=-4.5, pan=174, tilt=-5), focal=26
        ),
        AddCamera(
            id="cam-b", name="Through the window", pose=Pose(x=8.2, y=1.9, z=0.9, pan=84, tilt=-2), focal=50
        ),
        AddCamera(
            id="cam-c", name="Bram, close", pose=Pose(x=-1.2, y=1.85, z=-3.3, pan=-128, tilt=-1), focal=65
        ),
        AddLayer(camera="cam-b", layer=Aim(at=(him,), x=Channel(rest=0.0), y=Channel(rest=0.3))),
        AddLayer(camera="cam-c", layer=Aim(at=(him,), x=Channel(rest=0.2), y=Channel(rest=0.33))),
        *(MountLens(camera=camera, lens=lens) for camera, lens, _, _ in glass),
        *(SetGlass(camera=camera, aperture=stop, iso=iso, far_m=200) for camera, _, stop, iso in glass),
        SetFocus(camera="cam-a", on=OnFigure(figure="fig-bram")),
        SetFocus(camera="cam-b", on=OnFigure(figure="fig-odile")),
        SetFocus(camera="cam-c", on=OnFigure(figure="fig-bram")),
        TakeReference(
            movie=ReferenceMovie(
                file=files.reel_key,
                name="reel",
                seconds=files.reel.seconds,
                fps=files.reel.fps,
            )
        ),
        AddShot(id="shot-080", camera="cam-a", stage=_f(1009, 1083), name="080"),
        AddShot(id="shot-090", camera="cam-b", stage=_f(1084, 1121), name="090"),
        AddShot(id="shot-100", camera="cam-c", stage=_f(1122, 1180), name="100"),
    ]
    blank = Scene(name="Boathouse", frames=_f(FIRST, LAST), surround=surround, lenses=FIRST_KIT)
    return run(blank, commands)[0]


def as_it_came_back(scene: Scene, timeline: str) -> ConformCut:
    """What conforms the scene's cut to a timeline that was handed over, once the edit has cut it otherwise; ours is kept."""
    return ConformCut(
        id="cut-edit", clips=read_edit(cut_otherwise(timeline).encode(), "boathouse.otio", scene)
    )
