"""Commands on anything that stands on the stage: put somewhere, moved, copied, deleted."""

import math
from collections.abc import Callable
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from heron.bake import Bake, draft
from heron.bake.cameras import rig_context
from heron.commands.base import (
    Command,
    Outcome,
    all_called,
    find_any,
    listed,
    title,
    unlocked,
)
from heron.commands.deletion import delete
from heron.commands.keys import check_frame
from heron.commands.local_pose import local_pose, local_shift
from heron.commands.pacing import check_pace
from heron.curves import Channel, Key, evaluate
from heron.errors import BadInput, Refused
from heron.model import Degrees, Id, Metres, Model, Name, changed
from heron.rigs.inverse import Values, solve_channels
from heron.rigs.rigged import Rigged
from heron.rigs.stack import run
from heron.scene import POSE, Camera, Scene, find, replace
from heron.scene.document import called, spot_called
from heron.scene.layers import STAGES, Aim
from heron.stage.acts.body import Run, Walk
from heron.stage.body.carry import carried, moved_end
from heron.stage.figure import Figure
from heron.stage.floors import support
from heron.stage.mover import Mover
from heron.stage.piece import Piece
from heron.stage.reference import Tables
from heron.timebase.frames import FrameNumber

Ids = Annotated[tuple[Id, ...], Field(min_length=1, max_length=5000)]
#: A piece this near to what is under it stands on it, metres.
_STANDS = 0.01
#: What a hand can take hold of.
ON_STAGE: tuple[Tables, ...] = ("figures", "movers", "pieces", "cameras")


class PutAfter(Model):
    """A second step of putting a camera somewhere: metres on the stage, and roll in degrees."""

    x: Metres | None = None
    y: Metres | None = None
    z: Metres | None = None
    roll: Degrees | None = None


class PutThing(Command):
    """Be here at this frame: only what is named is changed, in stage terms, metres and degrees.

    A camera that watches something goes on watching it: put elsewhere it turns as its aim answers, and a direction
    that is named moves the subject's placement in the frame. `after` is a further step, with the new
    placement kept: so a look and a move after it are one command.

    keep: `key` sets keys on what is named; `pose` on all of place and direction, the rest where it is;
    `path` moves its whole path so that it is there at the frame; `rest` is for what has no keys.
    `end` moves the nearer end of a figure's walks: its start before and while it first walks, where it
    walks to after; the other ends stay.
    """

    kind: Literal["thing.put"] = "thing.put"
    thing: Id
    frame: FrameNumber
    keep: Literal["key", "pose", "path", "rest", "end"]
    x: Metres | None = None
    y: Metres | None = None
    z: Metres | None = None
    pan: Degrees | None = None
    tilt: Degrees | None = None
    roll: Degrees | None = None
    after: PutAfter | None = None

    def apply(self, scene: Scene) -> Outcome:
        if self.after is not None:
            more = {name: v for name, v in self.after if v is not None}
            first = changed(self, after=None)
            scene, said = first.apply(scene)
            if not more:
                return scene, said
            return PutThing(thing=self.thing, frame=self.frame, keep=self.keep, **more).apply(scene)
        table, thing = find_any(scene, self.thing, ("cameras", "movers", "figures"))
        unlocked(thing)
        wanted = {name: v for name in POSE if (v := getattr(self, name)) is not None}
        if not wanted:
            raise BadInput("No place or direction was named.", "Give x, y, z, pan, tilt or roll.")
        if isinstance(thing, Figure):
            new, said = self._figure(scene, thing, wanted)
            return replace(scene, table, new), said
        if self.keep == "end":
            raise BadInput("Only a figure's walk has ends to move.", "Move its whole path, or set a key.")
        check_frame(scene, self.frame)
        new, verb = self._keyed(scene, thing, wanted)
        placed = self._placement(scene, thing, new)
        return replace(scene, table, new), placed or f"{verb} {called(thing)}{self._when()}"

    def _placement(self, scene: Scene, was: Any, now: Any) -> str:
        """What is said of a look that moved the subject in the frame; empty when none did."""
        if not isinstance(now, Camera):
            return ""
        for old, layer in zip(was.layers, now.layers, strict=True):
            if isinstance(layer, Aim) and (layer.x, layer.y) != (old.x, old.y):
                x, y = (float(evaluate(one, np.array([self.frame]))[0]) for one in (layer.x, layer.y))
                who = listed([spot_called(scene, spot) for spot in layer.at])
                return (
                    f"Moved {who} in the frame of {called(now)} to {x:.2f} across, {y:.2f} up{self._when()}"
                )
        return ""

    def _when(self) -> str:
        return f" at {self.frame}" if self.keep in ("key", "pose") else ""

    def _keyed(self, scene: Scene, thing: Camera | Mover, wanted: dict[str, float]) -> tuple[Any, str]:
        for name, value in wanted.items():
            wrong = thing.spec(name).complaint(value)
            if wrong:
                raise BadInput(f"{wrong}.", "Correct it and send it again.", field=name)
        if isinstance(thing, Mover):
            wanted = local_pose(scene, thing, self.frame, wanted)
        values = solve_channels(
            thing,
            np.array([self.frame]),
            {name: np.array([value]) for name, value in wanted.items()},
            rig_of(scene, self.frame),
            lambda found: thing.with_channels(self._channels(thing, found)),
            whole=self.keep in ("path", "rest"),
            keeps_subject=True,
        )
        channels = self._channels(thing, values)
        # Under layers a key goes where the hand was turned back to; the rest of the pose is theirs.
        if self.keep == "pose" and not (isinstance(thing, Camera) and thing.layers):
            for name in POSE:
                channel = thing.channel(name)
                if name not in channels and channel.key_at(self.frame) is None:
                    here = float(evaluate(channel, np.array([self.frame]))[0])
                    channels[name] = channel.with_keys(Key(frame=self.frame, value=here))
        again = any(thing.channel(name).key_at(self.frame) for name in values)
        verb = {
            "key": "Changed the key of" if again else "Set a key on",
            "pose": "Changed the key of" if again else "Set a key on",
            "path": "Moved the whole path of",
            "rest": "Placed",
        }[self.keep]
        return thing.with_channels(channels), verb

    def _channels(self, thing: Camera | Mover, values: Values) -> dict[str, Channel]:
        """Channels with a value at the frame, in the way that is asked for."""
        channels = {}
        for name, both in values.items():
            was, value = (float(one[0]) for one in both)
            channel = thing.channel(name)
            if self.keep in ("key", "pose"):
                old = channel.key_at(self.frame)
                key = changed(old, value=value) if old else Key(frame=self.frame, value=value)
                channels[name] = channel.with_keys(key)
            elif self.keep == "path":
                channels[name] = channel.shifted(value - was)
            elif channel.keys:
                who = title(thing) if isinstance(thing, Camera) else thing.name
                raise Refused(
                    f"{who} is moved by its keys.",
                    "Set a key at this frame, or move its whole path.",
                    field="pose",
                )
            else:
                channels[name] = channel.at_rest(value)
        return channels

    def _figure(self, scene: Scene, figure: Figure, wanted: dict[str, float]) -> tuple[Figure, str]:
        if self.keep in ("key", "pose"):
            raise Refused(
                f"{figure.name} has no keys: it goes where its acts take it.",
                "Move it, or give it a walk.",
                field="keep",
            )
        if not {"x", "z", "pan"} >= wanted.keys():
            raise Refused(
                f"{figure.name} stands upright on the floor.", "Give x, z or the way it faces.", field="pose"
            )
        if self.keep == "rest":
            now = (figure.x, figure.z, figure.heading)
        else:
            check_frame(scene, self.frame)
            row = Bake(scene).rows(figure, np.array([self.frame]))[0]
            now = (float(row[0]), float(row[2]), float(row[3]))
        there = (wanted.get("x", now[0]), wanted.get("z", now[1]), wanted.get("pan", now[2]))
        if self.keep == "end":
            moved, said = moved_end(figure, self.frame, there)
            for act in moved.acts:
                if isinstance(act, Walk | Run):
                    check_pace(scene, moved, act)
            return moved, said
        return carried(figure, now, there), f"Moved {figure.name}"


class MoveThings(Command):
    """Move things, and turn them about their common middle; what has a path goes with all of it."""

    kind: Literal["things.move"] = "things.move"
    ids: Ids
    dx: Metres = 0.0
    dy: Metres = 0.0
    dz: Metres = 0.0
    turn: Degrees = 0.0
    #: Set pieces that stand on something stand on what is there when they arrive.
    climb: bool = False

    def apply(self, scene: Scene) -> Outcome:
        chosen = _wholes(scene, chosen_things(scene, self.ids))
        if self.turn and any(
            isinstance(item, Camera) or (isinstance(item, Mover) and _keyed_on_the_floor(item))
            for _, item in chosen
        ):
            raise Refused(
                "What is moved by keys is not turned with the rest.",
                "Turn it at a frame of its own.",
                field="turn",
            )
        middle = self._middle([item for _, item in chosen])
        new: dict[Tables, list[Any]] = {}
        for table, item in chosen:
            new.setdefault(table, []).append(self._moved(scene, unlocked(item), middle))
        if self.climb and "pieces" in new:
            rise = self._rise(scene, [item for table, item in chosen if table == "pieces"], new["pieces"])
            new["pieces"] = [changed(piece, base=round(piece.base + rise, 4)) for piece in new["pieces"]]
        for table, items in new.items():
            scene = replace(scene, table, *items)
        word = "Turned" if self.turn and not (self.dx or self.dy or self.dz) else "Moved"
        return scene, f"{word} {things_called([item for _, item in chosen])}"

    def _rise(self, scene: Scene, was: list[Piece], now: list[Piece]) -> float:
        """How much higher what the pieces stand on is now; what stands on one of them goes with it."""
        these = frozenset(piece.id for piece in was)
        for old, new in zip(was, now, strict=True):
            under = support(scene.pieces, old.x, old.z, these)
            if abs(old.base - under) < _STANDS:
                return support(scene.pieces, new.x, new.z, these) - under
        return 0.0

    @staticmethod
    def _middle(items: list[Any]) -> tuple[float, float]:
        places = [(i.x, i.z) for i in items if isinstance(i, Piece | Figure)]
        places += [(i.x.rest, i.z.rest) for i in items if isinstance(i, Mover) and not _keyed_on_the_floor(i)]
        n = max(len(places), 1)
        return sum(x for x, _ in places) / n, sum(z for _, z in places) / n

    def _turned(self, x: float, z: float, middle: tuple[float, float]) -> tuple[float, float]:
        """A place turned about the middle and moved."""
        mx, mz = middle
        cos, sin = math.cos(math.radians(self.turn)), math.sin(math.radians(self.turn))
        return mx + (x - mx) * cos + (z - mz) * sin + self.dx, mz - (x - mx) * sin + (z - mz) * cos + self.dz

    def _moved(self, scene: Scene, item: Any, middle: tuple[float, float]) -> Any:
        moves = self.dx or self.dy or self.dz
        if (
            moves
            and isinstance(item, Camera)
            and any(STAGES[one.kind] == 0 and not one.off for one in item.layers)
        ):
            raise Refused(
                f"{title(item)} is carried by its layers.",
                "Put it somewhere at a frame instead: its layers' numbers answer.",
                field="ids",
            )
        if isinstance(item, Camera | Mover):
            by = {"x": self.dx, "y": self.dy, "z": self.dz}
            if isinstance(item, Mover) and self.turn and item.on is None:
                px, pz = item.x.rest, item.z.rest
                x, z = self._turned(px, pz, middle)
                by |= {"x": x - px, "z": z - pz, "pan": self.turn}
            elif isinstance(item, Mover):
                by = local_shift(scene, item, by)
            return item.with_channels({n: item.channel(n).shifted(d) for n, d in by.items() if d})
        x, z = self._turned(item.x, item.z, middle)
        if isinstance(item, Figure):
            if self.dy:
                raise Refused(f"{item.name} stands on the floor.", "Move it across or along.", field="dy")
            return carried(item, (item.x, item.z, item.heading), (x, z, item.heading + self.turn))
        return changed(item, x=x, z=z, base=item.base + self.dy, heading=item.heading + self.turn)


def _wholes(scene: Scene, chosen: list[tuple[Tables, Any]]) -> list[tuple[Tables, Any]]:
    """The things, with what pieces are part of in place of those."""
    out: dict[str, tuple[Tables, Any]] = {}
    for table, item in chosen:
        if isinstance(item, Piece) and item.part_of is not None:
            out[item.part_of] = ("movers", find(scene, "movers", item.part_of))
        else:
            out.setdefault(item.id, (table, item))
    return list(out.values())


def _keyed_on_the_floor(mover: Mover) -> bool:
    """Whether keys say where a mover is on the floor or which way it faces."""
    return any(mover.keyed(name) for name in ("x", "z", "pan"))


class LockThings(Command):
    """Have things not be touched, or let them be again: cameras, set pieces and perches, by their ids or a whole group."""

    kind: Literal["things.lock"] = "things.lock"
    ids: tuple[Id, ...] = Field(default=(), max_length=5000)
    group: Name | None = None
    locked: bool

    def apply(self, scene: Scene) -> Outcome:
        tables: tuple[Tables, ...] = ("pieces", "perches", "cameras")
        if self.group is not None:
            low = self.group.lower()
            chosen = [(t, i) for t in tables for i in getattr(scene, t) if i.group.lower() == low]
        else:
            chosen = chosen_things(scene, self.ids, tables)
        if not chosen:
            raise Refused(
                f"Nothing is in a group called {self.group}." if self.group else "Nothing was named.",
                "Name things, or a group that has some.",
                field="group",
            )
        for table in tables:
            scene = replace(scene, table, *(changed(i, locked=self.locked) for t, i in chosen if t == table))
        what = f"the group “{self.group}”" if self.group else things_called([item for _, item in chosen])
        return scene, f"{'Locked' if self.locked else 'Unlocked'} {what}"


class HideThings(Command):
    """Have set pieces, figures and movers not be seen in pictures, or be seen again: by their ids."""

    kind: Literal["things.hide"] = "things.hide"
    ids: Ids
    hidden: bool

    def apply(self, scene: Scene) -> Outcome:
        chosen = _wholes(scene, chosen_things(scene, self.ids, ("pieces", "figures", "movers")))
        for table in {table for table, _ in chosen}:
            scene = replace(scene, table, *(changed(i, hidden=self.hidden) for t, i in chosen if t == table))
        return scene, f"{'Hid' if self.hidden else 'Showed'} {things_called([item for _, item in chosen])}"


class DeleteThings(Command):
    """Delete things. What was focused on or pointed at them stays where they were; a camera's shots go with it."""

    kind: Literal["things.delete"] = "things.delete"
    ids: Ids

    def apply(self, scene: Scene) -> Outcome:
        chosen = chosen_things(
            scene, self.ids, (*ON_STAGE, "perches", "lenses", "cues", "passes", "lines", "sounds")
        )
        gone = [unlocked(item) for _, item in chosen]
        after, tail = delete(scene, gone)
        one_camera = len(gone) == 1 and isinstance(gone[0], Camera)
        what = f"camera {gone[0].letter} “{gone[0].name}”" if one_camera else things_called(gone)
        return after, f"Deleted {what}{tail}"


def rig_of(scene: Scene, frame: int) -> Callable[[Any], tuple[Rigged, int]]:
    """A camera of a scene run over it, changed or not, and the row of a frame."""
    bake = draft(scene)

    def rig(camera: Camera) -> tuple[Rigged, int]:
        return run(camera, rig_context(bake, camera)), frame - scene.frames.first

    return rig


def chosen_things(
    scene: Scene, ids: tuple[str, ...], tables: tuple[Tables, ...] = ON_STAGE
) -> list[tuple[Tables, Any]]:
    """(table, item) of each id, in the order of the ids.

    Raises:
        NotFound: one is not there.
        Refused: one is named twice.
    """
    if len(set(ids)) != len(ids):
        raise Refused("A thing is named twice.", "Name each once.", field="ids")
    where = {item.id: (table, item) for table in tables for item in getattr(scene, table)}
    return [where[id_] if id_ in where else find_any(scene, id_, tables) for id_ in ids]


def things_called(items: list[Any]) -> str:
    """Several things in a sentence: their group, their names, or how many there are."""
    pieces = [item for item in items if isinstance(item, Piece)]
    groups = {p.group for p in pieces}
    if len(items) > 1 and len(pieces) == len(items):
        one_group = len(groups) == 1 and "" not in groups
        return f"the group “{pieces[0].group}”" if one_group else f"{len(items)} set pieces"
    return all_called(items) if len(items) <= 6 else f"{len(items)} things"
