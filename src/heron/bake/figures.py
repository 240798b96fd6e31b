"""Figures: a performance runs through all its acts, so it is computed from the scene's first frame."""

from collections.abc import Mapping
from functools import partial
from typing import Any

import numpy as np

from heron.bake.handling import handled_by, misses, tasks_of
from heron.bake.kind import Baking
from heron.bake.samples import Floats, between
from heron.curves import evaluate
from heron.lines.mouth import mouth, spoken
from heron.model import changed
from heron.scene.links import links
from heron.stage.acts.body import Recorded, Sit
from heron.stage.acts.face import FaceAct
from heron.stage.body import INDEX, JOINTS, Performance, gaze, perform
from heron.stage.body.perform import rooted
from heron.stage.body.steps import Steps
from heron.stage.body.travel import Travel, travel
from heron.stage.characters import character_of
from heron.stage.face import NUMBERS, face_numbers
from heron.stage.figure import Figure
from heron.stage.floors import Ground, ground_along, walkable_height
from heron.stage.lanes import BLENDED, blends
from heron.stage.motions import recording_of
from heron.stage.piece import Piece
from heron.stage.reference import OnFigure, Spot
from heron.stage.skeleton import LANDMARKS
from heron.stage.turning import Turns
from heron.timebase import Frames, parse_rate

COLUMNS = (
    "x", "y", "z", "heading", "aside", "lift", "back", *(f"{j.name}.{c}" for j in JOINTS for c in "xyzw"),
    *(f"face.{n}" for n in NUMBERS), *(f"{n}.{c}" for n in ("eyes", "sight") for c in "xyz"),
)  # fmt: skip
_FIRST_TURN = 7
#: An eye line is drawn so far, metres.
_SEEN_M = 2.5
_TURNS = slice(_FIRST_TURN, _FIRST_TURN + 4 * len(JOINTS))


def content(figure: Figure, aspect: str) -> str:
    """The fingerprint of its own content; of where it is, without its looks, which turn it where it stands; of how it is
    posed, without its face.
    """
    if aspect == "root":
        kept = figure.rooted_by
    elif aspect == "place":
        kept = figure.placed_by
    else:
        kept = tuple(act for act in figure.acts if aspect != "pose" or not isinstance(act, FaceAct))
    return figure.digest if len(kept) == len(figure.acts) else figure.digest_with(acts=kept)


def reads(bake: Baking, figure: Figure, aspect: str) -> tuple[Any, ...]:
    """What of the scene it depends on: what lies where it goes, and through whose hands things come to it."""
    here = [
        act.file for act in figure.body if isinstance(act, Recorded) and recording_of(act.file) is not None
    ]
    if figure.character is not None and character_of(figure.character) is not None:
        here.append(figure.character)
    own = (bake.scene.frames, bake.scene.rate, [p.digest for p in _ground(bake, figure)], here)
    if aspect == "root":
        return own
    return (*own, handled_by(bake, figure), *(spoken(bake.scene, figure.id) if aspect == "whole" else ()))


def _ground(bake: Baking, figure: Figure) -> tuple[Piece, ...]:
    """All it could set foot on: a piece elsewhere on the stage is none of its business."""
    return bake.floor().within(np.array(figure.reach))


def _seats(bake: Baking, figure: Figure) -> dict[str, Piece]:
    """The pieces it sits on, as they stand then."""
    found: dict[str, Piece] = {}
    for act in figure.acts:
        piece = bake.item(links(act)[0]) if isinstance(act, Sit) and act.on else None
        if isinstance(piece, Piece):
            found[piece.id] = bake.piece_at(
                piece, min(max(act.frames.last, bake.scene.frames.first), bake.scene.frames.last)
            )
    return found


def _way(bake: Baking, figure: Figure) -> Travel:
    """Where its root goes, and its feet."""

    def go() -> Travel:
        frames, ground = bake.scene.frames, _ground(bake, figure)
        fps = float(parse_rate(bake.scene.rate))

        def where(spot: Spot) -> Floats:
            # Whoever turns to somebody turns to where that one stands.
            at = changed(spot, joint="root") if isinstance(spot, OnFigure) else spot
            return bake.place(at, frames.array(), bare=True)

        def feet(spot: Spot) -> Mapping[str, Steps] | None:
            leads = bake.item(links(spot)[0]) if isinstance(spot, OnFigure) else None
            return _way(bake, leads).feet if isinstance(leads, Figure) else None

        return travel(
            figure, frames, fps, where, lambda p: walkable_height(ground, p), _seats(bake, figure), feet
        )

    found: Travel = bake.cache.get("way", bake.key(figure, "root"), go)
    return found


def _floor_of(bake: Baking, figure: Figure) -> Ground:
    """How high the ground is where it goes."""
    return ground_along(_ground(bake, figure), _way(bake, figure).place)


def root(bake: Baking, figure: Figure) -> tuple[Floats, Floats]:
    """Where it stands over the scene's frames, (n, 3) metres, and (n,) degrees: the way it faces, unwrapped."""
    frames = bake.scene.frames
    found: tuple[Floats, Floats] = bake.cache.get(
        "root", bake.key(figure, "root"),
        lambda: rooted(
            figure, _way(bake, figure), _floor_of(bake, figure), frames.array().astype(np.float64),
            float(parse_rate(bake.scene.rate)),
        ),
    )  # fmt: skip
    return found


def make(bake: Baking, figure: Figure) -> Performance:
    """The whole performance."""
    done = _bare(bake, figure)
    if not figure.gazes:
        return done
    frames, fps = bake.scene.frames, float(parse_rate(bake.scene.rate))
    where = partial(bake.place, bare=True)
    return gaze(done, figure, frames.array().astype(np.float64), fps, where)


def _bare(bake: Baking, figure: Figure) -> Performance:
    """The performance without its gazes: where it is, and what two who look at each other go by."""

    def perform_it() -> Performance:
        frames = bake.scene.frames
        where = partial(bake.place, t=frames.array(), bare=True)
        fps = float(parse_rate(bake.scene.rate))
        return perform(
            figure, _floor_of(bake, figure), frames, fps, where, _seats(bake, figure),
            way=_way(bake, figure), tasks=tasks_of(bake, figure),
        )  # fmt: skip

    return bake.cache.get("bare", bake.key(figure, "place"), perform_it)


def rows(bake: Baking, figure: Figure, t: np.ndarray[Any, Any]) -> Floats:
    """(n, columns): the root, its heading unwrapped, and each joint's rotation in its parent's frame."""
    first = bake.scene.frames.first
    whole = bake.cache.get("rows", bake.key(figure), lambda: _rows(bake, figure))
    out = between(whole, first, t, jumps(bake, figure))
    moments = np.asarray(t, dtype=np.float64)
    inner = np.flatnonzero(moments != np.floor(moments))
    if len(inner):
        turns = out[inner, _TURNS].reshape(len(inner), -1, 4)
        turns /= np.linalg.norm(turns, axis=-1, keepdims=True)
        out[inner, _TURNS] = turns.reshape(len(inner), -1)
    return out


def face(bake: Baking, figure: Figure) -> Floats:
    """(n, 10) the numbers of its face over the scene's frames."""
    frames, fps = bake.scene.frames, float(parse_rate(bake.scene.rate))
    eyes = bake.performance(figure).poses[:, INDEX["eye_r"]]
    t = frames.array().astype(np.float64)
    return face_numbers(figure, t, fps, eyes, mouth(bake.scene, figure.id, t))


def _rows(bake: Baking, figure: Figure) -> Floats:
    done = bake.performance(figure)
    # Neighbours' quaternions on one side, so that halfway between two is the turn between them.
    flips = np.where(np.sum(done.turns[1:] * done.turns[:-1], axis=-1) < 0, -1.0, 1.0)
    signs = np.cumprod(np.concatenate([np.ones((1, flips.shape[1])), flips]), axis=0)
    turns = (done.turns * signs[..., None]).reshape(len(done.turns), -1)
    t = bake.scene.frames.array()
    told = (turns, face(bake, figure), *_sight(done, figure, t))
    return np.column_stack([done.root, _heading(done), done.pelvis, *told])


def _sight(done: Performance, figure: Figure, t: np.ndarray[Any, Any]) -> tuple[Floats, Floats]:
    """(n, 3) metres: between the eyes, and so far along the way they look; while it looks at nothing, the same place."""
    eyes = done.landmark("eyes")
    ahead = [Turns(done.poses[:, INDEX[f"eye_{side}"]]).apply([0.0, 0.0, -1.0]) for side in "rl"]
    looks = np.zeros(len(t), dtype=bool)
    for one in figure.gazes:
        looks |= (t >= one.frames.first) & (t <= one.frames.last)
    return eyes, eyes + _SEEN_M / 2 * looks[:, None] * (ahead[0] + ahead[1])


def _heading(done: Performance) -> Floats:
    """(n,) degrees, unwrapped."""
    pose = done.poses[:, INDEX["root"]]
    return np.asarray(np.degrees(np.unwrap(2 * np.arctan2(pose[:, 1], pose[:, 3]))))


def facts(bake: Baking, figure: Figure, frames: Frames, values: Floats) -> dict[str, Any]:
    """What it says about itself."""
    done = bake.performance(figure)
    # Of each act what it comes to; of a look and of a hand the first frame on which it does not reach.
    missed = {one.id: at for one, at in zip(figure.gazes, done.missed, strict=False) if at is not None}
    missed |= {one.act.id: one.frame for one in misses(bake, figure) if one.of == figure.id}
    acts: dict[str | None, dict[str, float]] = {}
    for act, fact in zip(figure.placed_by, done.facts, strict=True):
        into, out = blends(figure.acts, act) if act.LANE in BLENDED else (0, 0)
        over = {"blend_in": float(into), "blend_out": float(out)} if into or out else {}
        if fact or over:
            acts[act.id] = fact | over
    return {"acts": acts, "missed": missed, "keyed": _keyed(figure, frames)}


def _keyed(figure: Figure, frames: Frames) -> dict[str, list[float]]:
    """By their whole names, the numbers that have keys, over frames."""
    return {
        f"{id_}.{spec.name}": np.round(evaluate(channel, frames.array()), 4).tolist()
        for id_, act in figure.parts().items()
        for spec in act.CHANNELS
        if (channel := getattr(act, spec.name)).keys
    }


def place(
    bake: Baking, figure: Figure, spot: OnFigure, t: np.ndarray[Any, Any], *, bare: bool = False
) -> Floats:
    """(n, 3) metres: a joint or landmark of it."""
    if spot.joint == "root":
        return between(root(bake, figure)[0], bake.scene.frames.first, t, jumps(bake, figure))
    there = bake.cache.get(
        "landmark", f"{bake.key(figure, 'place' if bare else 'pose')}/{spot.joint}",
        lambda: np.ascontiguousarray(
            (_bare(bake, figure) if bare else bake.performance(figure)).landmark(spot.joint)
        ),
    )  # fmt: skip
    return between(there, bake.scene.frames.first, t, jumps(bake, figure))


def stance(bake: Baking, figure: Figure, spot: OnFigure) -> tuple[Floats, Floats | None]:
    """How it is turned over the scene: (n,) heading in degrees, and (n, 4) the joint's whole turn; none of its root."""
    heading = root(bake, figure)[1]
    if spot.joint == "root":
        return heading, None
    joint = spot.joint if spot.joint in INDEX else LANDMARKS[spot.joint][0]
    return heading, np.asarray(bake.performance(figure).poses[:, INDEX[joint]])


def jumps(bake: Baking, figure: Figure) -> list[int]:
    """Never: each act begins where the last one left the root."""
    return []
