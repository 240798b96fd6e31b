"""From a pose on the stage, at a frame or at many in a row, back to the channels that give it."""

from collections.abc import Callable
from typing import Any

import numpy as np
from pydantic import ValidationError

from heron.curves import evaluate
from heron.errors import Refused
from heron.rigs.aiming import seen
from heron.rigs.place import numbers
from heron.rigs.rigged import LEAST_WEIGHT, Rigged, Step
from heron.scene.camera import POSE, Camera
from heron.scene.layers import STAGES, Aim, Layer
from heron.stage.mover import Mover

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ints = np.ndarray[Any, np.dtype[np.intp]]
#: A subject cannot be placed farther out than this, halves of the frame: the range of a placement's channels.
_FARTHEST = 10.0
#: Metres and degrees within which it is there, and rounds to come there: what has a past answers a little less.
_THERE, _ROUNDS, _MORE_ROUNDS = 1e-7, 16, 48
#: How much of a correction may be taken: less than the least would not arrive.
_LEAST, _MOST = 0.1, 2.0


Values = dict[str, tuple[Floats, Floats]]


class _BehindIt(Refused):
    """No placement has the subject where this way of solving puts it; another way may."""


def solve_channels(
    thing: Camera | Mover,
    frames: Ints,
    wanted: dict[str, Floats],
    rig: Callable[[Any], tuple[Rigged, int]],
    apply: Callable[[Values], Any],
    *,
    whole: bool = False,
    keeps_subject: bool = False,
) -> Values:
    """Which channels give some of a pose at frames: (n,) values now, and values that give it, by name.

    Only what is wanted changes on the stage, and only channels that must come back. Under layers it is the offsets
    of the layer that acts (a place layer's for place, the aim's for pan and tilt), else the camera's own keys.

    Args:
        frames: (n,) one or more in a row.
        wanted: stage terms, (n,) metres and degrees, by `POSE` name.
        rig: a camera run over the scene, and which of its rows the first frame is.
        apply: the thing with channels changed as they will be kept.
        whole: its whole path is moved: what a layer left it by when it ended goes with that layer.
        keeps_subject: a camera that watches goes on watching. A direction that is not wanted is the aim's own
            answer; one that is wanted moves the placement, so that the subject is on it afterwards too.
            Otherwise the aim's offsets take up the difference.

    Raises:
        Refused: no channel can give it.
    """
    if isinstance(thing, Mover) or not thing.layers:
        return {name: (evaluate(thing.channel(name), frames), value) for name, value in wanted.items()}
    # A key on a channel without keys moves all of it too: then what a layer left behind goes with that layer.
    beyond: _BehindIt | None = None
    for learns in (False, True):
        for with_ended in (whole, not whole):
            try:
                found, off = _settled(
                    thing,
                    frames,
                    wanted,
                    rig,
                    apply,
                    whole=with_ended,
                    keeps_subject=keeps_subject,
                    learns=learns,
                )
            except _BehindIt as refused:
                beyond = refused
                continue
            if off < 100 * _THERE:
                return found
    raise beyond or Refused(
        f"The camera's layers keep it from this position {'at this frame' if len(frames) == 1 else 'at all of these frames'}.",
        "Change the layer's own numbers, or switch it off here.",
        field="layer",
    )


def _settled(
    thing: Camera,
    frames: Ints,
    wanted: dict[str, Floats],
    rig: Callable[[Any], tuple[Rigged, int]],
    apply: Callable[[Values], Any],
    *,
    whole: bool,
    keeps_subject: bool,
    learns: bool,
) -> tuple[Values, float]:
    """The channels, and by how much the pose is still off (metres or degrees).

    What answers to a new pose by itself, a calm aim above all, can turn each correction into one too much: with `learns`
    how much of the next one to take is learned from what came of the last (Aitken's relaxation of a vector; Irons and
    Tuck 1969), over more rounds.
    """
    run, first = rig(thing)
    rows = slice(first, first + len(frames))
    seen = np.array([v[rows] for v in run.pose])
    asked = np.array([wanted.get(name, seen[k]) for k, name in enumerate(POSE)])
    goal = np.array([v[rows] for v in run.steady]) + asked - seen
    directed = bool({"pan", "tilt"} & wanted.keys())
    watches = run.watches[rows] if keeps_subject else np.zeros(len(frames), dtype=bool)
    aims = ["own" if not now else "placement" if directed else "answers" for now in watches]
    found: Values = {}
    off = np.inf
    share, before = np.ones(len(frames)), np.zeros((6, len(frames)))
    for turn in range(_MORE_ROUNDS if learns else _ROUNDS):
        each = [
            _channels(
                thing, int(frame), run, first + k, [float(v) for v in goal[:, k]], whole=whole, aim=aims[k]
            )
            for k, frame in enumerate(frames)
        ]
        found = _together(thing, frames, each)
        try:
            there, j = rig(apply(found))
        except ValidationError:
            # Farther away than anything can be.
            return found, np.inf
        missing = asked - np.array([v[j : j + len(frames)] for v in there.pose])
        missing[3:] = (missing[3:] + 180.0) % 360.0 - 180.0
        if not directed:
            missing[3:5, watches] = 0.0
        off = float(np.abs(missing).max())
        if off < _THERE:
            break
        if turn and learns:
            came = missing - before
            size = np.maximum((came**2).sum(axis=0), 1e-18)
            share = np.clip(-share * (before * came).sum(axis=0) / size, _LEAST, _MOST)
        before = missing
        goal = goal + share * missing
    return found, off


def _together(thing: Camera, frames: Ints, each: list[dict[str, tuple[float, float]]]) -> Values:
    """What is found at each frame as values over all of them: a channel left out at one stays as it is there."""
    out: Values = {}
    for name in dict.fromkeys(name for one in each for name in one):
        now = evaluate(thing.channel(name), frames)
        out[name] = (now, np.array([one[name][1] if name in one else now[k] for k, one in enumerate(each)]))
    return out


def _acting(run: Rigged, i: int, kinds: set[int], *, whole: bool = False) -> list[tuple[Step, int, float]]:
    """Layers that count at a row, in the order in which they ran: (step, its own row, its weight).

    With `whole`, those too that ended before it and left the camera where it was.
    """
    out = []
    for step in run.steps.values():
        if STAGES[step.layer.kind] not in kinds or i < step.frames.start:  # type: ignore[attr-defined]
            continue
        if i < step.frames.stop or (whole and not step.layer.blend_out):
            row = min(i, step.frames.stop - 1) - step.frames.start
            if step.weight[row] > LEAST_WEIGHT:
                out.append((step, row, float(step.weight[row])))
    return out


def _open(layer: Layer) -> None:
    if layer.locked:
        raise Refused(f"The {layer.kind} is locked.", "Unlock it on the card first.", field="layer")  # type: ignore[attr-defined]


def _channels(
    camera: Camera,
    frame: int,
    run: Rigged,
    i: int,
    goal: list[float],
    *,
    whole: bool,
    aim: str = "own",
) -> dict[str, tuple[float, float]]:
    """The channels of one frame that give a goal, (now, then) by name.

    `aim` says how the direction is solved where a camera watches: its `own` offsets give it, the `placement`
    does, or the aim just `answers` to the new place.
    """
    at = np.array([frame])

    def now(name: str) -> float:
        return float(evaluate(camera.channel(name), at)[0])

    steady = [float(v[i]) for v in run.steady]
    found: dict[str, float] = {}
    fixed: set[int] = set()
    for step, _, _ in _acting(run, i, {1}):
        fixed |= {4, 5} if step.layer.what == "both" else {5}  # type: ignore[attr-defined]
    aims = _acting(run, i, {2}, whole=whole)
    if aims and aim == "placement":
        found |= _placement(aims[-1], run, i, goal, steady, now)
    elif aims and aim == "own":
        step, row, weight = aims[-1]
        for axis, name in ((3, "pan_deg"), (4, "tilt_deg")):
            by = goal[axis] - steady[axis]
            if abs(by) > 1e-9:
                _open(step.layer)
                found[f"{step.layer.id}.{name}"] = now(f"{step.layer.id}.{name}") + by / weight
    if aims:
        goal = [*goal[:3], float(run.levelled[3][i]), float(run.levelled[4][i]), goal[5]]
        fixed |= {3, 4}
    levelled = [float(v[i]) for v in run.levelled]
    if 5 in fixed and abs(goal[5] - levelled[5]) > 1e-6:
        raise Refused(
            "The camera is kept level here.", "Switch the level layer off to roll it.", field="roll"
        )
    if 4 in fixed and not aims and abs(goal[4] - levelled[4]) > 1e-6:
        raise Refused(
            "The camera is kept from tilting here.", "Switch the level layer off to tilt it.", field="tilt"
        )
    places = _acting(run, i, {0}, whole=whole)
    moved = any(abs(g - v) > 1e-9 for g, v in zip(goal[:3], levelled[:3], strict=True))
    turned = any(abs(goal[k] - levelled[k]) > 1e-9 for k in (3, 4, 5) if k not in fixed)
    turning = [entry for entry in places if entry[0].placed is not None and entry[0].placed.turns]
    owner = places[-1] if places else None
    if owner and moved:
        found |= _layer_numbers(
            owner, goal if owner in turning[-1:] else [*goal[:3], *levelled[3:]], levelled, now
        )
    elif not owner:
        found |= {POSE[k]: now(POSE[k]) + goal[k] - levelled[k] for k in range(3)}
    # What turns the camera: the same layer, another one below it, or its keys.
    if turning and (turned or (moved and turning[-1] is not owner)):
        step, row, _ = turning[-1]
        if turning[-1] is not owner or not moved:
            own = [float(v[row]) for v in step.pose]
            found |= _layer_numbers(turning[-1], [*own[:3], *goal[3:]], [*own[:3], *levelled[3:]], now)
    elif not turning:
        found |= {POSE[k]: now(POSE[k]) + goal[k] - levelled[k] for k in (3, 4, 5) if k not in fixed}
    return {name: (now(name), value) for name, value in found.items() if abs(value - now(name)) > 1e-9}


def _placement(
    entry: tuple[Step, int, float],
    run: Rigged,
    i: int,
    goal: list[float],
    steady: list[float],
    now: Callable[[str], float],
) -> dict[str, float]:
    """Where in the frame the subject must sit so that the camera looks as the goal says."""
    step, row, weight = entry
    layer = step.layer
    _open(layer)
    turned = [goal[axis] - steady[axis] for axis in (3, 4)]
    if isinstance(layer, Aim) and layer.how == "calm":
        # Within its zone it does not answer to the placement: its offsets take it.
        names = [f"{layer.id}.{name}" for name in ("pan_deg", "tilt_deg")]
        return {n: now(n) + by / weight for n, by in zip(names, turned, strict=True) if abs(by) > 1e-9}
    offset = [now(f"{layer.id}.{name}") for name in ("pan_deg", "tilt_deg")]
    own = [
        float(step.pose[axis][row]) + by / weight - off
        for axis, by, off in zip((3, 4), turned, offset, strict=True)
    ]
    v = tuple(np.array([run.subject[i, axis] - goal[axis]]) for axis in range(3))
    pose = [np.array([value]) for value in (0.0, 0.0, 0.0, *own, float(step.below[5][row]))]
    x, y, ahead = seen(v, pose, (run.half[0][i : i + 1], run.half[1][i : i + 1]))  # type: ignore[arg-type]
    if ahead[0] <= 1e-6 or max(abs(x[0]), abs(y[0])) > _FARTHEST:
        raise _BehindIt(
            "Looking so far away would leave what the camera watches behind.",
            "Turn it less, or switch its aim off first.",
            field="layer",
        )
    return {f"{layer.id}.x": float(x[0]), f"{layer.id}.y": float(y[0])}


def _layer_numbers(
    entry: tuple[Step, int, float], goal: list[float], present: list[float], now: Callable[[str], float]
) -> dict[str, float]:
    """A layer's channels for a pose of the whole: what it weighs less must be asked for more."""
    step, row, weight = entry
    _open(step.layer)
    assert step.placed is not None
    own = [float(v[row]) for v in step.pose]
    wanted = [o + (g - p) / weight for o, g, p in zip(own, goal, present, strict=True)]
    id_ = step.layer.id
    given = numbers(step.layer, step.placed, row, wanted, lambda name: now(f"{id_}.{name}"))
    return {f"{id_}.{name}": value for name, value in given.items()}
