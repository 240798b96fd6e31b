"""Scenes larger than any film needs."""

import json
from typing import Any

import numpy as np


def large_scene() -> Any:
    """The demo grown to 300 shots, 100 cameras and 30,000 frames."""
    from heron.commands import parse_commands, run
    from heron.demo import slack_tide
    from heron.scene import Scene

    cameras = [{"kind": "things.duplicate", "ids": ["cam-a"], "copies": [f"c{i}"]} for i in range(95)]
    shots = [
        {
            "kind": "shot.add",
            "camera": f"c{i % 95}",
            "stage": {"first": 1001 + 100 * i, "last": 1100 + 100 * i},
        }
        for i in range(296)
    ]
    long = Scene.model_validate({**slack_tide().model_dump(), "frames": {"first": 1001, "last": 31_000}})
    return run(long, parse_commands(json.dumps(cameras + shots)))[0]


def many_keys() -> Any:
    """The demo with 100 cameras, each with 100 keys on every channel, over 2,400 frames."""
    from heron.curves import Channel, Key
    from heron.demo import slack_tide
    from heron.model import changed
    from heron.timebase import Frames

    demo = changed(slack_tide(), frames=Frames(first=1001, last=3400), shots=())
    rng = np.random.default_rng(2)

    def channel(low: float, high: float) -> Channel:
        values = rng.uniform(low, high, 100)
        keys = tuple(Key(frame=1001 + 24 * i, value=float(v)) for i, v in enumerate(values))
        return Channel(rest=float(values[0]), keys=keys)

    cameras = []
    for i in range(100):
        channels = {spec.name: channel(-5, 5) for spec in demo.cameras[0].CHANNELS}
        channels |= {"focal": channel(24, 90), "aperture": channel(1, 8)}
        letter = chr(65 + i // 26) + chr(65 + i % 26)
        cameras.append(
            changed(demo.cameras[0], id=f"c{i}", letter=letter, name=f"C {i}", mounted=None, **channels)
        )
    return changed(demo, cameras=tuple(cameras))


def thousand_shots() -> Any:
    """The demo with a cut of 1,000 shots."""
    from heron.demo import slack_tide
    from heron.model import changed
    from heron.scene import Shot
    from heron.timebase import Frames

    demo = slack_tide()
    return changed(
        demo,
        shots=tuple(
            Shot(
                id=f"s{i}",
                name=f"{i:04d}",
                camera=demo.cameras[i % len(demo.cameras)].id,
                stage=Frames(first=1010 + i % 200, last=1050 + i % 200),
            )
            for i in range(1000)
        ),
    )


def empty_handed(scene: Any) -> Any:
    """A scene in which nobody hands anything over."""
    from heron.model import changed
    from heron.stage.acts.hands import HandOver

    figures = (
        changed(one, acts=tuple(act for act in one.acts if not isinstance(act, HandOver)))
        for one in scene.figures
    )
    return scene.having(figures=tuple(figures))


def twelve_cameras() -> Any:
    """The demo with copies of three of its nine cameras; four are in the cut."""
    from heron.commands import parse_commands, run
    from heron.demo import slack_tide

    copies = [{"kind": "things.duplicate", "ids": [f"cam-{one}"], "copies": [f"{one}2"]} for one in "abc"]
    return run(slack_tide(), parse_commands(json.dumps(copies)))[0]


def long_talk() -> Any:
    """Three minutes of talk on the demo's set, by two who stand still, with eight cameras: those of their coverage and a wide."""
    from heron.commands import parse_commands, run
    from heron.demo import slack_tide_film
    from heron.model import changed
    from heron.timebase import Frames

    film = slack_tide_film()
    odile, bram = (changed(one, acts=()) for one in film.figures)
    odile = changed(odile, x=0.15, z=-8.2, heading=0)
    scene = film.having(
        figures=(odile, changed(bram, heading=180)), shots=(), cuts=(), cut_name="", cues=(), passes=(), sounds=(),
        lines=(), cameras=film.cameras[:1], frames=Frames(first=1001, last=5320),
    )  # fmt: skip
    said = (
        "You came back.",
        "I said I would, and nobody has touched the boat since the spring.",
        "I know.",
        "What was there to say?",
    )
    lines = [
        {"kind": "line.add", "id": f"l{i}", "figure": (odile.id, bram.id)[i % 2], "text": said[i % 4], **({"pause": 7 * i % 40} if i else {"first": 1040})}
        for i in range(52)
    ]  # fmt: skip
    cover = {"kind": "coverage.take", "id": "c", "frame": 1040}
    return run(scene, parse_commands(json.dumps([*lines, cover])))[0]
