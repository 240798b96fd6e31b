"""The command line and the core."""

import json
import statistics
import subprocess
import sys
from pathlib import Path
from typing import Any

import numpy as np
from measure import milliseconds, say


def command_line() -> None:
    """`heron` as a whole process."""
    heron = str(Path(sys.executable).with_name("heron"))
    asks = (
        ["lens", "--back", "36x24", "--focal", "40", "--delivery", "16:9"],
        ["timecode", "17982", "--rate", "30000/1001", "--drop"],
        ["dof", "--back", "36x24", "--focal", "50", "--aperture", "2.8", "--focus", "3"],
    )
    for words in asks:
        took = milliseconds(
            lambda words=words: subprocess.run([heron, *words], check=True, capture_output=True), 7
        )
        say(f"`heron {words[0]}` as a whole process", 600, statistics.median(took))


def core() -> None:
    """Baking, without a server."""
    from heron.bake import Bake, ResultCache
    from heron.curves import Channel, Key
    from heron.demo import slack_tide
    from heron.model import changed
    from heron.scene.camera import POSE
    from heron.timebase import Frames

    frames = Frames(first=1001, last=3400)
    demo = changed(slack_tide(), frames=frames)
    rng = np.random.default_rng(1)

    def keyed() -> Channel:
        return Channel(keys=tuple(Key(frame=1001 + 200 * i, value=float(rng.normal())) for i in range(12)))

    cameras = [changed(demo.cameras[0], **{name: keyed() for name in POSE}) for _ in range(12)]
    figures = Bake(demo)
    figures.performance(demo.figures[0])
    took = milliseconds(lambda: [figures.rows(c, frames.array()) for c in cameras], 9)
    say("bake 12 keyed cameras over 2,400 frames, by keys alone", 150, statistics.median(took))
    took = milliseconds(lambda: Bake(demo, ResultCache()).performance(demo.figures[0]), 5)
    say("bake one figure over 2,400 frames", None, statistics.median(took))
    from heron.stage.acts.body import Talk, Walk
    from heron.stage.acts.face import Express
    from heron.stage.acts.hands import Wave
    from heron.stage.acts.look import LookAt
    from heron.stage.body import perform
    from heron.stage.figure import Figure
    from heron.stage.reference import AtPoint

    # A kilometre at 1.4 m/s takes 714 s.
    long = Frames(first=1001, last=1001 + 714 * 24)
    walker = Figure(id="w", name="W", acts=(Walk(frames=long, points=((600.0, 0.0), (600.0, -400.0))),))
    took = milliseconds(lambda: perform(walker, lambda p: np.zeros(len(p)), long, 24.0, None), 5)
    say(
        "a walk of a kilometre, 17,137 frames", 100, statistics.median(took),
        limit="poses of 17,137 frames as arrays of quaternions",
    )  # fmt: skip
    acts, first = [], 1001
    for i in range(10):
        acts.append(
            Walk(frames=Frames(first=first, last=first + 129), points=((0.5 * (i % 2), -4.0 * i - 4.0),))
        )
        acts.append(Talk(frames=Frames(first=first + 115, last=first + 229)))
        first += 220
    for i in range(5):
        span = Frames(first=1100 + 400 * i, last=1190 + 400 * i)
        acts += [Wave(frames=span), LookAt(frames=span, at=AtPoint(x=3.0, y=1.0, z=-20.0))]
        acts += [Express(frames=Frames(first=1100 + 400 * i, last=1300 + 400 * i))] if i else []
    busy = Figure(id="b", name="B", acts=tuple(acts[:30]))
    scene = changed(demo, figures=(busy,), cameras=(), shots=(), cues=())
    took = milliseconds(lambda: Bake(scene, ResultCache()).samples(busy), 7)
    say("a figure with 30 acts in four lanes over 2,400 frames", 150, statistics.median(took))


def curves() -> None:
    """Curves over many frames, keys simplified, and the strip under them."""
    from heron.bake import Bake
    from heron.curves import Channel, Key, evaluate
    from heron.curves.simplify import simplified
    from heron.demo import slack_tide
    from heron.model import changed
    from heron.motion.found import found_in
    from heron.motion.strip import strip
    from heron.stage.reference import OnFigure
    from heron.timebase import Frames

    rng = np.random.default_rng(3)
    frames = np.arange(10_000)

    def channel(kinds: list[str]) -> Channel:
        keys = []
        for i in range(30):
            kind = str(rng.choice(kinds))
            handles: dict[str, Any] = {
                "handle_before": (-rng.uniform(1, 340), rng.normal()),
                "handle_after": (rng.uniform(1, 340), rng.normal()),
            }
            more = handles if kind == "shaped" else {}
            before = "eased" if kind == "held" else kind
            keys.append(Key(frame=340 * i, value=float(rng.normal()), before=before, after=kind, **more))
        return Channel(keys=tuple(keys))

    usual = ["held", "straight", "eased", "eased", "eased", "shaped"]
    for says, kinds, budget in (
        ("in a usual mix of kinds", usual, 45),
        ("with every handle free", ["shaped"], 65),
    ):
        channels = [channel(kinds) for _ in range(100)]
        took = milliseconds(lambda all_=channels: [evaluate(one, frames) for one in all_], 9)  # type: ignore[misc]
        say(f"100 channels × 10,000 frames, {says}", budget, statistics.median(took))
    dense = np.sin(np.arange(100_000) / 200) + 0.3 * np.sin(np.arange(100_000) / 37)
    took = milliseconds(lambda: simplified(0, dense, 0.01), 3)
    say("100,000 keys simplified within 0.01", None, statistics.median(took))
    long = Bake(changed(slack_tide(), frames=Frames(first=1001, last=3400)))
    spot = OnFigure(figure="fig-odile", joint="head")
    for camera in long.scene.cameras:
        strip(long, camera, spot)
    took = [statistics.median(milliseconds(lambda c=c: strip(long, c, spot), 5)) for c in long.scene.cameras]  # type: ignore[misc]
    say("the strip of a subject in a camera over 2,400 frames, the dearest of the demo's", 40, max(took))
    took = [
        statistics.median(milliseconds(lambda c=c: found_in(long, c, spot), 3)) for c in long.scene.cameras
    ]  # type: ignore[misc]
    say("its hitches, the same", None, max(took))


def rigs() -> None:
    """Twelve cameras of five layers each, and what each kind costs."""
    from scipy.spatial.transform import Rotation

    from heron.bake import Bake, ResultCache
    from heron.bake.cameras import rig_context
    from heron.cli.rigs import layer_from
    from heron.commands import parse_commands, run
    from heron.demo import slack_tide
    from heron.model import changed
    from heron.rigs.stack import run as run_rig
    from heron.timebase import Frames

    demo = changed(slack_tide(), frames=Frames(first=1001, last=3400))
    turns = [[1001, 180], [2000, 90], [3000, 20]]
    layers = [
        {"kind": "trail", "of": "Odile", "angle_deg": turns, "distance_m": 3, "height_m": 1.6, "lag_s": 0.4},
        {
            "kind": "arm",
            "round": "above",
            "bearing_deg": 10,
            "height_deg": 5,
            "reach_m": 1,
            "turns_with": True,
        },
        {"kind": "aim", "at": ["Odile/head"], "x": 0.333, "y": 0.333, "lag_s": 0.3},
        {"kind": "size", "of": "Odile", "share": 0.15},
        {"kind": "breath"},
    ]
    commands = [{"kind": "rig.add", "camera": "cam-a", "layer": layer_from(demo, one)} for one in layers]
    scene = run(demo, parse_commands(json.dumps(commands)))[0]
    bake = Bake(scene, ResultCache())

    def cost(camera: Any) -> float:
        around = rig_context(bake, camera)
        return statistics.median(milliseconds(lambda: run_rig(camera, around), 9))

    camera = scene.cameras[0]
    whole = cost(camera)
    say("bake 12 cameras × 5 layers × 2,400 frames", 150, 12 * whole)
    for layer in camera.layers:
        without = tuple(one for one in camera.layers if one.id != layer.id)
        say(
            f"of that, {layer.kind} of one camera",
            None,
            max(whole - cost(changed(camera, layers=without)), 0.0),
        )
    half = changed(scene, frames=Frames(first=1001, last=2200))
    around = rig_context(Bake(half, ResultCache()), camera)
    shorter = statistics.median(milliseconds(lambda: run_rig(camera, around), 9))
    say("2,400 frames over 1,200 (2 is linear)", None, whole / shorter, "times")

    def loop() -> None:
        for i in range(2400):
            Rotation.from_euler("YXZ", [i, i, i], degrees=True).inv().apply([0.0, 0.0, -1.0])

    plain = statistics.median(milliseconds(loop, 3)) * len(layers)
    say(
        "that, over a plain loop of one scipy Rotation a layer and frame", 1 / 100, whole / plain, "of it",
        limit="aims done over until lens and direction agree",
    )  # fmt: skip


def assembling() -> None:
    """A conversation covered, and its first assembly."""
    from scenes import long_talk

    from heron.assembling import Wishes, assemble
    from heron.bake import Bake
    from heron.commands.covering import proposed

    scene = long_talk()
    bake = Bake(scene)
    took = milliseconds(lambda: proposed(scene, (), 1040), 5)
    say("a coverage of two people on the demo's set", 2000, statistics.median(took))
    took = milliseconds(lambda: assemble(bake, scene.cameras, scene.frames, Wishes()), 5)
    shots = len(assemble(bake, scene.cameras, scene.frames, Wishes()).shots)
    say(
        "a first assembly of three minutes with eight cameras",
        500,
        statistics.median(took),
        more=f" ({shots} shots)",
    )


def noting() -> None:
    """Notes of many cameras, and a view that is searched for."""
    from scenes import twelve_cameras

    from heron.bake import Bake, ResultCache
    from heron.commands.note_remedies import remedies_of
    from heron.framing.hidden import Hiding
    from heron.lookouts import lookouts, read_asked
    from heron.model import changed
    from heron.notes import notes_of_camera
    from heron.timebase import Frames

    scene = changed(twelve_cameras(), frames=Frames(first=1001, last=3400))
    scene = changed(scene, cameras=scene.cameras[:12])

    def fresh() -> Bake:
        """Baked, and nothing judged yet."""
        bake = Bake(scene, ResultCache())
        for figure in scene.figures:
            bake.performance(figure)
        for camera in scene.cameras:
            bake.samples(camera)
        # Shapes are kept for as long as they are what they are.
        Hiding(bake, np.array([1001]))
        return bake

    bakes = [fresh() for _ in range(4)]
    took = milliseconds(
        lambda: [notes_of_camera(bake, c, scene.frames) for bake in [bakes.pop()] for c in scene.cameras], 3
    )
    say(
        f"notes of {len(scene.cameras)} cameras over 2,400 frames, from nothing",
        1500,
        statistics.median(took),
    )
    bakes = [fresh() for _ in range(6)]
    took = milliseconds(lambda: notes_of_camera(bakes.pop(), scene.cameras[1], scene.frames), 5)
    say("the same of one camera, after an edit of it", 150, statistics.median(took))
    here = Frames(first=1200, last=1200)
    bakes = [fresh() for _ in range(6)]
    took = milliseconds(lambda: notes_of_camera(bakes.pop(), scene.cameras[1], here), 5)
    say("the same at the playhead", 30, statistics.median(took))
    note = next(
        one for one in notes_of_camera(fresh(), scene.cameras[1], scene.frames) if one.kind == "joint-cut"
    )
    took = milliseconds(lambda: remedies_of(scene, note), 3)
    say("what takes a note away, tried over all its frames", None, statistics.median(took))
    bake, asked = fresh(), read_asked(scene, "Odile; medium; over Bram")
    span = Frames(first=1180, last=1230)
    took = milliseconds(lambda: lookouts(bake, asked, span, rounds=0), 5)
    say("a lookout's first pictures", 1000, statistics.median(took))
    took = milliseconds(lambda: lookouts(bake, asked, span), 5)
    say("the same, settled", 3000, statistics.median(took))
