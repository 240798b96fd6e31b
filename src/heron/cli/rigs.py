"""Rig layers on the command line: put on a camera, told in words, and checked frame by frame."""

import argparse
import json
from pathlib import Path
from typing import Any

import numpy as np

from heron.bake import Bake
from heron.cli.scenes import picture_size, read, within
from heron.cli.words import number, parse_int, say
from heron.commands.registry import parse_commands, run, run_one
from heron.commands.rig_keys import RigToKeys
from heron.commands.rigs import SetLayer
from heron.commands.turntables import Turntable
from heron.errors import BadInput, NotFound
from heron.model import new_id
from heron.rigs.describe import clause, sentence
from heron.scene import Camera, Scene, find_named, write_scene
from heron.scene.document import spot_called
from heron.scene.layers import LAYERS, in_order
from heron.scene.links import subject_field
from heron.stage.reference import AtPoint, OnCamera, OnFigure, OnMover, OnPerch, OnPiece, Spot
from heron.stage.skeleton import INDEX, LANDMARKS
from heron.timebase.frames import parse_frames


def subject(scene: Scene, words: Any) -> Spot:
    """What people name: `Odile/head`, `Odile` (her root), `Rowing boat`, `camera B`, `[x, y, z]`.

    Raises:
        BadInput, NotFound: it names nothing.
    """
    if isinstance(words, list) and len(words) == 3 and all(isinstance(v, int | float) for v in words):
        return AtPoint(x=words[0], y=words[1], z=words[2])
    if not isinstance(words, str) or not words.strip():
        raise BadInput(
            f"{json.dumps(words)[:60]} names nothing on the stage.",
            'Write "Odile/head", "Odile", "Rowing boat", "camera B" or [x, y, z].',
            field="subject",
        )
    who, _, joint = words.strip().partition("/")
    low = who.lower()
    for figure in scene.figures:
        if low in (figure.name.lower(), figure.id.lower()):
            joint = joint or "root"
            if joint not in INDEX and joint not in LANDMARKS:
                raise NotFound(
                    f"{figure.name} has no joint {joint!r:.40}.",
                    f"Use one of {', '.join([*INDEX, *LANDMARKS])}.",
                )
            return OnFigure(figure=figure.id, joint=joint)
    for mover in scene.movers:
        if low in (mover.name.lower(), mover.id.lower()):
            return OnMover(mover=mover.id)
    for piece in scene.pieces:
        if low in (piece.name.lower(), piece.id.lower()):
            return OnPiece(piece=piece.id)
    if low.startswith("camera "):
        return OnCamera(camera=find_named(scene, "cameras", who[7:].strip()).id)
    if low.startswith("perch "):
        return OnPerch(perch=find_named(scene, "perches", who[6:].strip()).id)
    there = ", ".join([*(f.name for f in scene.figures), *(m.name for m in scene.movers)]) or "nothing"
    raise NotFound(
        f"There is no {who!r:.60} on this stage.", f"There is: {there}; or name a set piece, or camera B."
    )


def layer_from(scene: Scene, words: Any) -> dict[str, Any]:
    """A layer as it is written for the command line, as the command takes it.

    Raises:
        BadInput: it is not one.
    """
    kinds = {cls.model_fields["kind"].default: cls for cls in LAYERS}
    if not isinstance(words, dict) or words.get("kind") not in kinds:
        raise BadInput("A layer is an object with a kind.", f"Kinds are {', '.join(kinds)}.", field="kind")
    kind = kinds[words["kind"]]
    channels = {spec.name for spec in kind.CHANNELS}
    names = subject_field(kind)
    out: dict[str, Any] = {"id": new_id("lay")}
    for name, value in words.items():
        if name in channels:
            out[name] = _channel(name, value)
        elif kind.__name__ == "SizeHold" and name == "of":
            spot = subject(scene, value)
            if not isinstance(spot, OnFigure):
                raise BadInput("Only a figure has a size that can be kept.", "Name a figure.", field="of")
            out["of"] = {"kind": "figure", "figure": spot.figure, "joint": words.get("from", "chin")}
        elif name in ("from", "as") and kind.__name__ == "SizeHold":
            if name == "as":
                out["measured"] = value
        elif names is not None and name == names.name:
            many = names.several
            if many and value == "above":
                out[name] = []
                continue
            several = value if many and isinstance(value, list) and not _is_point(value) else [value]
            spots = [subject(scene, one).model_dump() for one in several]
            out[name] = spots if many else spots[0]
        elif name in kind.model_fields and name != "id":
            out[name] = value
        else:
            raise BadInput(
                f"A {words['kind']} has no {name!r:.40}.",
                f"It has {', '.join(sorted(channels))}.",
                field=name[:40],
            )
    return out


def _is_point(value: Any) -> bool:
    return isinstance(value, list) and len(value) == 3 and all(isinstance(v, int | float) for v in value)


def _channel(name: str, value: Any) -> dict[str, Any]:
    """A number, or keys `[[frame, value, "straight" | "eased" | "held"], …]`."""
    if isinstance(value, int | float) and not isinstance(value, bool):
        return {"rest": value}
    if isinstance(value, list) and value:
        keys = []
        for one in value:
            if not (
                isinstance(one, list)
                and len(one) in (2, 3)
                and all(isinstance(v, int | float) for v in one[:2])
            ):
                break
            kind = one[2] if len(one) == 3 else "eased"
            before = "straight" if kind == "held" else kind
            keys.append({"frame": one[0], "value": one[1], "before": before, "after": kind})
        else:
            return {"rest": keys[0]["value"], "keys": keys}
    raise BadInput(
        f"{json.dumps(value)[:60]} is not a number for {name}.",
        'Give a number, or keys: [[1001, 0.5, "eased"], [1050, 1]].', field=name,
    )  # fmt: skip


def do_rig(args: argparse.Namespace) -> None:
    """`heron rig`."""
    scene = read(args.scene)
    camera: Camera = find_named(scene, "cameras", args.camera)
    done: list[str] = []
    if args.add:
        text = _json(Path(args.add).read_text(encoding="utf-8"))
        layers = text if isinstance(text, list) else [text]
        commands = [
            {"kind": "rig.add", "camera": camera.id, "layer": layer_from(scene, one)} for one in layers
        ]
        scene, said = run(scene, parse_commands(json.dumps(commands)))
        done += said
    if args.turntable:
        asked = _json(args.turntable)
        if not isinstance(asked, dict) or "round" not in asked or "seconds" not in asked:
            raise BadInput(
                "A turntable needs what it goes round, and seconds.",
                'As {"round": "Bram", "seconds": 4}.',
                field="turntable",
            )
        fields = {k: v for k, v in asked.items() if k in ("seconds", "direction", "first", "turns", "sun")}
        spot = subject(scene, asked["round"]).model_dump()
        (command,) = parse_commands(
            json.dumps({"kind": "rig.turntable", "camera": camera.id, "round": spot, **fields})
        )
        assert isinstance(command, Turntable)
        scene, told = run_one(scene, command)
        done.append(told)
    if args.off:
        n = parse_int(args.off, "layer's number")
        there = in_order(find_named(scene, "cameras", args.camera).layers)
        if not 1 <= n <= len(there):
            raise BadInput(
                f"Camera {camera.letter} has {len(there)} layers; there is no layer {n}.",
                "Count from 1, as `explain` lists them.",
                field="off",
            )
        scene, told = run_one(scene, SetLayer(camera=camera.id, layer=there[n - 1].id, fields={"off": True}))
        done.append(told)
    if args.to_keys:
        error = number(args.error, "error", 0.0, 1.0) if args.error else 0.001
        scene, told = run_one(scene, RigToKeys(camera=camera.id, error=error, **_range(args.frames)))
        done.append(told)
    if not done:
        raise BadInput("Nothing to do was named.", "Give --add, --turntable, --off or --to-keys.")
    Path(args.out).write_text(write_scene(scene), encoding="utf-8")
    say({"out": args.out, "done": done})


def _range(text: str | None) -> dict[str, int]:
    """`1010-1060` as the first and last frame of a range; nothing where nothing was given."""
    if not text:
        return {}
    frames = parse_frames(text)
    return {"first": frames.first, "last": frames.last}


def _json(text: str) -> Any:
    try:
        return json.loads(text)
    except (ValueError, RecursionError):
        raise BadInput("This is not JSON.", 'As {"kind": "aim", "at": ["Odile/head"]}.') from None


def do_explain(args: argparse.Namespace) -> None:
    """`heron explain`."""
    scene = read(args.scene)
    camera: Camera = find_named(scene, "cameras", args.camera)

    def called(spot: Spot) -> str:
        return spot_called(scene, spot)

    notes = Bake(scene).made(camera).notes if camera.layers else []
    say(
        {
            "sentence": sentence(camera.layers, called),
            "layers": [
                {
                    "kind": layer.kind, "name": clause(layer, called),
                    "first": scene.frames.first if layer.first is None else layer.first,
                    "last": scene.frames.last if layer.last is None else layer.last, "on": not layer.off,
                }
                for layer in in_order(camera.layers)
            ],
            "notes": [{"frame": frame, "text": text} for frame, text in notes],
        }
    )  # fmt: skip


def do_watch(args: argparse.Namespace) -> None:
    """`heron watch`."""
    scene = read(args.scene)
    camera: Camera = find_named(scene, "cameras", args.camera)
    wide, high = picture_size(args.size, scene.delivery.aspect)
    out = []
    if camera.layers:
        from heron.bake.cameras import rig_context
        from heron.framing import project
        from heron.rigs.stack import run as run_rig

        bake = Bake(scene)
        samples, rigged = bake.samples(camera), run_rig(camera, rig_context(bake, camera), watched=True)
        focal = samples.column("focal_mm")
        for watched in rigged.watched:
            seen = project(samples, watched.point)
            for i in np.flatnonzero(watched.exact):
                out.append(
                    {
                        "frame": scene.frames.first + int(i),
                        "asked_px": [
                            float((watched.x[i] + 1) / 2 * wide),
                            float((1 - watched.y[i]) / 2 * high),
                        ],
                        "found_px": [float((seen.x[i] + 1) / 2 * wide), float((1 - seen.y[i]) / 2 * high)],
                        "point": [float(v) for v in watched.point[i]],
                        "focal_mm": float(focal[i]),
                    }
                )
    say(out)


def do_seen(args: argparse.Namespace) -> None:
    """`heron seen`."""
    from heron.framing.seen import seen_strip

    scene = read(args.scene)
    camera: Camera = find_named(scene, "cameras", args.camera)
    _, high = picture_size(args.size, scene.delivery.aspect)
    frames = within(scene, parse_frames(args.frames)) if args.frames else scene.frames
    strip = seen_strip(Bake(scene), camera, subject(scene, args.subject))

    def told(value: float) -> float | None:
        return float(value) if np.isfinite(value) else None

    out = []
    for frame in frames.each():
        i = frame - scene.frames.first
        height = None if strip.height is None else told(strip.height[i] * high)
        out.append(
            {
                "frame": frame, "height_px": height, "x": told(strip.x[i]), "y": told(strip.y[i]),
                "speed_px": told(strip.speed[i] * high),
            }
        )  # fmt: skip
    say(out)


__all__ = ["do_explain", "do_rig", "do_seen", "do_watch", "subject"]
