"""Commands that make set pieces movable: made into a mover, put on another one, hung on a hinge, opened, and taken apart."""

from typing import Any, Literal

import numpy as np
from pydantic import Field

from heron.bake import Bake
from heron.bake.standing import stood
from heron.commands.base import Command, Outcome, copy_name, find_any, listed, refuse_taken, unlocked
from heron.commands.deletion import delete
from heron.commands.keys import check_frame
from heron.commands.rigs import refuse_loops
from heron.commands.things import Ids, chosen_things, things_called
from heron.curves import Channel, evaluate
from heron.errors import BadInput, Refused
from heron.model import Colour, Id, Name, changed, new_id
from heron.scene import POSE, Scene, find, replace
from heron.scene.document import called
from heron.stage.light import MOST_LAMPS, Light
from heron.stage.mover import Axis, Hinge, Mover, Slide
from heron.stage.piece import Piece, corners_of, into
from heron.stage.turning import Turns, about, angles_of, pan_tilt_roll
from heron.timebase.frames import FrameNumber

Pivot = Literal["middle", "left", "right", "front", "back"]
#: Which way of the middle an edge lies, across and along.
_EDGE: dict[Pivot, tuple[int, int]] = {
    "middle": (0, 0), "left": (-1, 0), "right": (1, 0), "front": (0, -1), "back": (0, 1),
}  # fmt: skip


class MakeMover(Command):
    """Make one mover of set pieces: from then on they are keyed, ridden on, held or put on a turntable as one thing.

    Its origin is on the floor of what it is made of: in the middle, or at one edge, so that it can turn about that. `front`
    is the way the first piece faces.
    """

    kind: Literal["mover.make"] = "mover.make"
    id: Id = Field(default_factory=lambda: new_id("mov"))
    ids: Ids
    name: Name | None = None
    pivot: Pivot = "middle"

    def apply(self, scene: Scene) -> Outcome:
        pieces: list[Piece] = [unlocked(item) for _, item in chosen_things(scene, self.ids, ("pieces",))]
        for piece in pieces:
            if piece.part_of is not None:
                whole: Mover = find(scene, "movers", piece.part_of)
                raise Refused(
                    f"{piece.name} is part of {whole.name} already.", f"Move {whole.name}, or take it apart first.", field="ids"
                )  # fmt: skip
        taken = {one.name for one in scene.movers}
        usual = pieces[0].group if len(pieces) > 1 and pieces[0].group else pieces[0].name
        name = self.name or (usual if usual not in taken else copy_name(usual, taken))
        refuse_taken(scene, "movers", name)
        heading = pieces[0].heading
        origin = _origin(pieces, heading, self.pivot)
        rest = dict(zip(POSE, (*origin, heading, 0.0, 0.0), strict=True))
        mover = Mover(
            id=self.id, name=name, shape="pieces", colour=pieces[0].colour,
            **{n: Channel(rest=round(float(v), 6)) for n, v in rest.items()},
        )  # fmt: skip
        parts = [changed(_from(piece, origin, heading), part_of=mover.id) for piece in pieces]
        after = replace(scene.having(movers=(*scene.movers, mover)), "pieces", *parts)
        what = things_called(list(pieces)) if len(pieces) > 1 else pieces[0].name
        return after, f"Made {what} movable" + ("" if name == what else f" as {name}")


class ReleaseMover(Command):
    """Take a mover apart: what it was made of stands on the stage again, where it is at a frame."""

    kind: Literal["mover.release"] = "mover.release"
    mover: Id
    frame: FrameNumber

    def apply(self, scene: Scene) -> Outcome:
        mover: Mover = find(scene, "movers", self.mover)
        check_frame(scene, self.frame)
        bake = Bake(scene)
        parts = bake.parts(mover)
        if mover.shape != "pieces" and not parts:
            raise Refused(f"{mover.name} isn't made of set pieces.", "Delete it instead.", field="mover")
        standing = [bake.piece_at(piece, self.frame) for piece in parts]
        after = replace(scene, "pieces", *standing)
        if mover.shape != "pieces":
            return after, f"Took everything off {mover.name} at {self.frame}"
        after, tail = delete(after, [mover])
        return after, f"Took {mover.name} apart at {self.frame}{tail}"


class RideOnMover(Command):
    """Have movers and set pieces ride on a mover, or movers with a camera, or stand on the stage again.

    They stay where they are at the frame.

    A mover's keys keep their differences.
    """

    kind: Literal["mover.ride"] = "mover.ride"
    ids: Ids
    on: Id | None = None
    frame: FrameNumber

    def apply(self, scene: Scene) -> Outcome:
        chosen = chosen_things(scene, self.ids, ("movers", "pieces"))
        check_frame(scene, self.frame)
        bake = Bake(scene)
        table, found = find_any(scene, self.on, ("movers", "cameras")) if self.on else ("movers", None)
        if table == "cameras":
            return self._with_camera(scene, bake, chosen, found)
        under: Mover | None = found
        for _, item in chosen:
            if under is not None and item.id == under.id:
                raise Refused(f"{item.name} cannot ride on itself.", "Choose something else.", field="on")
        t = np.array([self.frame])
        place, turn = (
            stood(bake, under, t) if under else (np.zeros((1, 3)), Turns(np.array([[0.0, 0, 0, 1]])))
        )
        after = scene
        for table, item in chosen:
            unlocked(item)
            if isinstance(item, Piece):
                after = replace(
                    after, table, _piece_on(bake.piece_at(item, self.frame), under, place[0], turn)
                )
                continue
            moved = _put_in(bake, item, t, place, turn)
            after = replace(after, table, changed(moved, on=self.on, with_camera=None))
        refuse_loops(after)
        what = things_called([item for _, item in chosen])
        one = len(chosen) == 1
        if under is None:
            return after, f"{what} {'stands' if one else 'stand'} on the stage again from {self.frame}"
        return after, f"{what} {'rides' if one else 'ride'} on {under.name} as at {self.frame}"

    def _with_camera(self, scene: Scene, bake: Bake, chosen: list[Any], camera: Any) -> Outcome:
        t = np.array([self.frame])
        seen = bake.rows(camera, t)[:, :6]
        turn = pan_tilt_roll(seen[:, 3], seen[:, 4], seen[:, 5])
        after = scene
        for table, item in chosen:
            if isinstance(item, Piece):
                raise Refused(f"{item.name} is a set piece.", "Make it movable first.", field="ids")
            moved = _put_in(bake, unlocked(item), t, seen[:, :3], turn)
            after = replace(after, table, changed(moved, on=None, with_camera=camera.id))
        refuse_loops(after)
        return (
            after,
            f"{things_called([i for _, i in chosen])} rides with {called(camera)} as at {self.frame}",
        )


def _put_in(bake: Bake, mover: Mover, t: Any, place: Any, turn: Turns) -> Mover:
    """A mover whose pose at a moment is given in the frame of a place and a turn; its keys keep their differences."""
    was, way = stood(bake, changed(mover, hinge=None), t)
    own, local = turn.inv().apply(was - place)[0], turn.inv() * way
    pose = (*own, *(float(v[0]) for v in angles_of(local.quat)))
    return mover.with_channels(
        {
            name: mover.channel(name).shifted(float(value) - float(evaluate(mover.channel(name), t)[0]))
            for name, value in zip(POSE, pose, strict=True)
        }
    )


class HingeMover(Command):
    """Give a mover a hinge or a slide about its origin, or take it away; left out, what is there stays.

    With `pivot` the origin goes to that edge, and its parts stay where they are.
    """

    kind: Literal["mover.hinge"] = "mover.hinge"
    mover: Id
    how: Literal["hinge", "slide", "none"]
    axis: Axis | None = None
    least: float | None = None
    most: float | None = None
    pivot: Pivot | None = None

    def apply(self, scene: Scene) -> Outcome:
        mover: Mover = unlocked(find(scene, "movers", self.mover))
        if self.how == "none":
            if mover.hinge is None:
                raise Refused(f"{mover.name} has no hinge.", "Give it one first.", field="how")
            return replace(scene, "movers", changed(mover, hinge=None)), f"Took the hinge off {mover.name}"
        kind = Hinge if self.how == "hinge" else Slide
        same = isinstance(mover.hinge, kind)
        given = {n: getattr(self, n) for n in ("axis", "least", "most") if getattr(self, n) is not None}
        hinge = changed(mover.hinge, **given) if same and mover.hinge else kind(**given)
        after = changed(mover, hinge=hinge)
        scene_after = replace(scene, "movers", after)
        if self.pivot is not None:
            scene_after = _pivoted(scene_after, after, self.pivot)
        spec = hinge.CHANNELS[0]
        return scene_after, (
            f"{mover.name} {'turns' if self.how == 'hinge' else 'slides'} from {spec.said(hinge.least)} to "
            f"{spec.said(hinge.most)} {_ABOUT[hinge.axis]}"
        )


_ABOUT: dict[Axis, str] = {"upright": "about an upright", "across": "across", "along": "lengthways"}


class LightMover(Command):
    """Make a mover a lamp, change its light, or put it out for good; left out, what is there stays."""

    kind: Literal["mover.light"] = "mover.light"
    mover: Id
    spread: Literal["round", "cone", "none"]
    colour: Colour | None = None
    reach_m: float | None = None
    soft: float | None = None
    casts: bool | None = None

    def apply(self, scene: Scene) -> Outcome:
        mover: Mover = unlocked(find(scene, "movers", self.mover))
        if self.spread == "none":
            if mover.light is None:
                raise Refused(f"{mover.name} isn't a lamp.", "Give it a light first.", field="spread")
            return replace(scene, "movers", changed(mover, light=None)), f"{mover.name} no longer gives light"
        if mover.light is None:
            check_lamps(scene)
        fields = ("colour", "reach_m", "soft", "casts")
        given = {n: getattr(self, n) for n in fields if getattr(self, n) is not None}
        light = changed(mover.light or Light(), spread=self.spread, **given)
        how = "all round" if self.spread == "round" else "in a cone"
        return replace(scene, "movers", changed(mover, light=light)), f"{mover.name} lights {how}"


def check_lamps(scene: Scene) -> None:
    """Whether there is room for one more lamp.

    Raises:
        Refused: there are as many as are drawn.
    """
    lamps = [mover.name for mover in scene.movers if mover.light is not None]
    if len(lamps) >= MOST_LAMPS:
        raise Refused(
            f"{listed(lamps)} light this scene already; {MOST_LAMPS} lamps are the most.",
            "Put one of them out on its card first.",
            field="mover",
        )


def check_opening(mover: Mover, value: float) -> None:
    """How far a thing is to be open.

    Raises:
        BadInput: it does not go so far.
    """
    assert mover.hinge is not None
    if not mover.hinge.least <= value <= mover.hinge.most:
        spec = mover.hinge.CHANNELS[0]
        raise BadInput(
            f"{mover.name} opens from {spec.said(mover.hinge.least)} to {spec.said(mover.hinge.most)}; "
            f"{spec.said(value)} is past that.",
            "Open it less far, or change how far its hinge goes.",
            field="open",
        )


def _origin(pieces: list[Piece], heading: float, pivot: Pivot) -> tuple[float, float, float]:
    """The middle of the foot of pieces, or of one edge of it, metres on the stage; front is the way of the heading."""
    corners = np.concatenate([corners_of(piece) for piece in pieces])
    turn = about("Y", np.array([heading]))
    own = turn.inv().apply(corners)
    low, high = own.min(axis=0), own.max(axis=0)
    across, along = _EDGE[pivot]
    middle = (low + high) / 2 + np.array([across, 0, along]) * (high - low) / 2
    middle[1] = low[1]
    x, y, z = turn.apply(middle)[0]
    return float(x), float(y), float(z)


def _from(piece: Piece, origin: tuple[float, float, float], heading: float) -> Piece:
    """A piece in the frame of something that stands at an origin, upright, and faces a heading."""
    x, y, z = origin
    here = changed(piece, x=0.0, z=0.0, heading=heading)
    across, along = into(here, piece.x - x, piece.z - z)
    place = {
        "x": float(across),
        "z": float(along),
        "base": piece.base - y,
        "heading": piece.heading - heading,
    }
    return changed(piece, **{name: round(value, 6) for name, value in place.items()})


def _piece_on(piece: Piece, under: Mover | None, place: Any, turn: Turns) -> Piece:
    if under is None:
        return piece
    pan, tilt, roll = (float(v[0]) for v in angles_of(turn.quat))
    if abs(tilt) > 1e-6 or abs(roll) > 1e-6:
        raise Refused(
            f"{under.name} does not stand upright there.", "Go to a frame at which it does.", field="frame"
        )
    x, y, z = (float(v) for v in place)
    return changed(_from(piece, (x, y, z), pan), part_of=under.id)


def _pivoted(scene: Scene, mover: Mover, pivot: Pivot) -> Scene:
    """A mover with its origin at an edge of its parts, which stay where they are."""
    parts = Bake(scene).parts(mover)
    if not parts:
        raise Refused(f"{mover.name} has no parts to find an edge of.", "Leave the pivot out.", field="pivot")
    x, y, z = _origin(list(parts), 0.0, pivot)
    by = pan_tilt_roll(*(np.array([mover.channel(n).rest]) for n in ("pan", "tilt", "roll"))).apply(
        [x, y, z]
    )[0]
    channels = {n: mover.channel(n).shifted(float(d)) for n, d in zip("xyz", by, strict=True)}
    moved = [_from(part, (x, y, z), 0.0) for part in parts]
    return replace(replace(scene, "movers", mover.with_channels(channels)), "pieces", *moved)
