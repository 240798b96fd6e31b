"""Figures on the command line: what they do, how fast they walk, and where their joints are."""

import argparse
import json
from pathlib import Path
from typing import Any, get_args

from heron.bake import Bake
from heron.cli.rigs import subject
from heron.cli.scenes import read, within
from heron.cli.words import number, parse_int, say
from heron.commands.acting import kind_name
from heron.commands.acts import DeleteAct, act_of
from heron.commands.registry import parse_commands, run_one
from heron.commands.walking import PaceWalk
from heron.errors import BadInput
from heron.model import Model, new_id
from heron.scene import Scene, find_named, write_scene
from heron.stage.acts import KINDS, LANES, Act, Expression, names_of, numbers_of
from heron.stage.acts.face import Express
from heron.stage.face import NUMBERS
from heron.stage.figure import Figure
from heron.stage.lanes import blends
from heron.stage.skeleton import INDEX, JOINTS, LANDMARKS
from heron.timebase.frames import parse_frames


def do_act(args: argparse.Namespace) -> None:
    """`heron act`."""
    if args.kinds:
        return say(_kinds())
    for name in ("scene", "figure", "out"):
        if getattr(args, name) is None:
            raise BadInput(f"No {name} was named.", "See heron act --help.", field=name)
    scene = read(args.scene)
    figure: Figure = find_named(scene, "figures", args.figure)
    if args.id is None:
        id_ = new_id("act")
        command: Any = _added(scene, figure, args, id_)
    else:
        id_ = args.id
        command = DeleteAct(figure=figure.id, ids=(id_,)) if args.delete else _set(scene, figure, args)
    after, told = run_one(scene, _checked(command))
    Path(args.out).write_text(write_scene(after), encoding="utf-8")
    say({"id": id_, "said": told.split("; ")})


def _kinds() -> list[dict[str, Any]]:
    out = []
    for kind in KINDS:
        names = get_args(Expression) if kind is Express else (kind_name(kind),)
        numbers = [{k: v for k, v in one.items() if k != "label"} for one in numbers_of(kind)]
        out += [{"kind": name, "lane": kind.LANE, "numbers": numbers} for name in names]
    return out


def _added(scene: Scene, figure: Figure, args: argparse.Namespace, id_: str) -> dict[str, Any]:
    if args.kind is None or args.frames is None:
        raise BadInput("A new act needs its kind and its frames.", "Give --kind and --frames.", field="kind")
    kind, own = _kind(args.kind, args.lane)
    act = {**own, "id": id_, "frames": parse_frames(args.frames).model_dump(), **_timing(args)}
    return {
        "kind": "figure.act",
        "figure": figure.id,
        "act": {**act, **_content(scene, kind, args.set)},
        "follow": args.follow,
    }


def _kind(name: str, lane: str | None) -> tuple[type[Act], dict[str, Any]]:
    """A kind of act by its name, and by its lane where two lanes have one of that name."""
    if lane is not None and lane not in LANES:
        raise BadInput(f"There is no lane {lane!r:.40}.", f"Use one of {', '.join(LANES)}.", field="lane")
    if name in get_args(Expression) and (lane == "face" or (lane is None and name != "laugh")):
        return Express, {"kind": "express", "expression": name}
    found = next((kind for kind in KINDS if kind_name(kind) == name), None)
    if found is None or (lane is not None and lane != found.LANE):
        where = f" on the lane {lane}" if lane else ""
        raise BadInput(
            f"There is no kind of act {name!r:.40}{where}.", "heron act --kinds lists them.", field="kind"
        )
    return found, {"kind": name}


def _timing(args: argparse.Namespace) -> dict[str, Any]:
    out: dict[str, Any] = {}
    if args.slip is not None:
        out["slip"] = parse_int(args.slip, "slip")
    if args.speed is not None:
        out["speed"] = number(args.speed, "speed", 0.25, 4.0)
    if args.repeat is not None:
        out["repeat"] = parse_int(args.repeat, "repeat")
    return out


def _content(scene: Scene, kind: type[Act], text: str | None) -> dict[str, Any]:
    """Fields of an act from JSON; what is named on the stage by its name."""
    if text is None:
        return {}
    try:
        given = json.loads(text)
    except ValueError:
        given = None
    if not isinstance(given, dict):
        raise BadInput("--set is not a JSON object.", 'Give it as {"speed": 1.2}.', field="set")
    if "at" in given and not (isinstance(given["at"], dict) and "kind" in given["at"]):
        given["at"] = subject(scene, given["at"]).model_dump()
    for name, table in names_of(kind).items():
        if name in given and given[name] not in {item.id for item in getattr(scene, table)}:
            given[name] = find_named(scene, table, str(given[name])).id
    return given


def _set(scene: Scene, figure: Figure, args: argparse.Namespace) -> dict[str, Any]:
    was = act_of(figure, args.id)
    frames = was.frames if args.frames is None else parse_frames(args.frames)
    act = {
        **was.model_dump(),
        "frames": frames.model_dump(),
        **_timing(args),
        **_content(scene, type(was), args.set),
    }
    return {"kind": "figure.act.set", "figure": figure.id, "act": act, "follow": args.follow}


def _checked(command: Any) -> Any:
    return command if isinstance(command, Model) else parse_commands(json.dumps(command))[0]


def do_acts(args: argparse.Namespace) -> None:
    """`heron acts`."""
    figure: Figure = find_named(read(args.scene), "figures", args.figure)
    out = []
    for act in figure.acts:
        into, away = blends(figure.acts, act)
        out.append(
            {
                "id": act.id, "lane": act.LANE, "kind": act.called, "first": act.frames.first, "last": act.frames.last,
                "slip": act.slip, "speed": act.speed, "repeat": act.repeat, "blend_in": into, "blend_out": away,
            }
        )  # fmt: skip
    say(out)


def do_joints(args: argparse.Namespace) -> None:
    """`heron joints`."""
    scene = read(args.scene)
    figure: Figure = find_named(scene, "figures", args.figure)
    frames = within(scene, parse_frames(args.frames))
    bake = Bake(scene)
    rows = bake.rows(figure, frames.array())
    done = bake.performance(figure)
    at = slice(frames.first - scene.frames.first, frames.last - scene.frames.first + 1)
    places = {joint.name: done.places[at, INDEX[joint.name]] for joint in JOINTS}
    places |= {name: done.landmark(name)[at] for name in LANDMARKS}
    planted = {side: done.feet[side[0]].planted[at] for side in ("left", "right")}
    say(
        [
            {
                "frame": frame, "root": [float(v) for v in rows[i, :3]], "heading_deg": float(rows[i, 3]),
                "joints": {name: [float(v) for v in place[i]] for name, place in places.items()},
                "planted": {side: bool(down[i]) for side, down in planted.items()},
            }
            for i, frame in enumerate(frames.each())
        ]
    )  # fmt: skip


def do_face(args: argparse.Namespace) -> None:
    """`heron face`."""
    scene = read(args.scene)
    figure: Figure = find_named(scene, "figures", args.figure)
    frames = within(scene, parse_frames(args.frames))
    numbers = Bake(scene).face(figure)[frames.first - scene.frames.first :]
    say(
        [
            {"frame": frame, **{name: float(v) for name, v in zip(NUMBERS, row, strict=True)}}
            for frame, row in zip(frames.each(), numbers, strict=False)
        ]
    )


def do_walk(args: argparse.Namespace) -> None:
    """`heron walk`."""
    scene = read(args.scene)
    figure: Figure = find_named(scene, "figures", args.figure)
    speed = None if args.speed is None else number(args.speed, "speed", 0.05, 10.0)
    arrive = None if args.arrive is None else parse_int(args.arrive, "frame")
    scene, told = run_one(scene, PaceWalk(figure=figure.id, speed=speed, arrive=arrive))
    Path(args.out).write_text(write_scene(scene), encoding="utf-8")
    say({"out": args.out, "done": [told]})
