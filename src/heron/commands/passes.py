"""Commands on passes: what a hand did is kept, turned into few keys, tried again, and chosen."""

from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field, ValidationError

from heron.bake import Bake
from heron.bake.cameras import COLUMNS
from heron.commands.base import Command, Outcome, capital, find_any, free_name, refuse_taken, unlocked
from heron.commands.fitting import fitted
from heron.commands.focusing import with_curve
from heron.commands.key_edits import ERRORS
from heron.commands.keys import put_between
from heron.commands.pacing import check_pace
from heron.commands.things import rig_of
from heron.curves import Channel, Key
from heron.curves.edits import with_key_on_curve
from heron.curves.simplify import simplified
from heron.curves.spec import Measure
from heron.errors import BadInput, HeronError, Refused, from_validation
from heron.hand.course import stretches
from heron.hand.smoothing import on_frames, smoothed
from heron.model import Id, Model, Name, changed, new_id
from heron.rigs.inverse import Values, solve_channels
from heron.scene import POSE, Camera, Scene, find, replace
from heron.scene.document import called
from heron.scene.focus import FocusMark, Pulled
from heron.scene.passes import MOST_FRAMES, PULL, ZOOM, OfCamera, OfFigure, OfMover, Pass, Track
from heron.stage.acts.base import Act
from heron.stage.acts.body import Run, Turn, Walk
from heron.stage.figure import Figure
from heron.stage.mover import Mover
from heron.stage.reference import Tables
from heron.timebase import Frames, parse_rate

Floats = np.ndarray[Any, np.dtype[np.float64]]
_WORKED: tuple[Tables, ...] = ("cameras", "movers", "figures")
#: What a hand can change of each.
_NUMBERS: dict[str, tuple[str, ...]] = {"cameras": (*POSE, ZOOM, PULL), "movers": POSE, "figures": ("x", "z")}
#: A hand looked at a thousand times a second, for as long as a pass may be.
_MOST_LOOKS = 200_000


class Sampled(Model):
    """What a hand added to a number, at each of the moments at which it was looked at; in stage terms, as it is kept."""

    channel: Annotated[str, Field(min_length=1, max_length=40)]
    by: Annotated[tuple[float, ...], Field(min_length=2, max_length=_MOST_LOOKS)]


class RecordPass(Command):
    """Keep what a hand did with a camera, mover or figure, and have it move so; where that cannot be, it is kept all the same."""

    kind: Literal["pass.record"] = "pass.record"
    id: Id = Field(default_factory=lambda: new_id("pas"))
    thing: Id
    #: Stage frames, with fractions, at which the hand was looked at.
    at: tuple[float, ...] = Field(min_length=2, max_length=_MOST_LOOKS)
    hand: tuple[Sampled, ...] = Field(min_length=1, max_length=12)
    #: The hand is added to what the thing does by itself; else it goes from where the thing stands at the first frame.
    on_top: bool = False
    smooth_s: float = Field(default=0.25, ge=0.0, le=5.0)
    within: dict[Measure, float] = Field(default_factory=dict)

    def apply(self, scene: Scene) -> Outcome:
        table, thing = find_any(scene, self.thing, _WORKED)
        unlocked(thing)
        first = max(int(np.ceil(min(self.at))), scene.frames.first)
        last = min(int(np.floor(max(self.at))), scene.frames.last)
        if not 2 <= last - first + 1 <= MOST_FRAMES:
            raise Refused(
                f"A pass is of 2 to {MOST_FRAMES:,} frames; this one was of {max(last - first + 1, 0):,}.",
                "Record again, for longer." if last - first < 2 else "Record it in parts.",
                field="at",
            )
        frames = np.arange(first, last + 1)
        there = _numbers(scene, thing, frames if self.on_top else frames[:1])
        tracks = tuple(self._track(table, thing, one, frames, there) for one in self.hand)
        number = free_name("Pass", {one.name for one in scene.passes})
        kept = Pass(
            id=self.id,
            name=number,
            of=_of(table, self.thing),
            first=first,
            tracks=tracks,
            smooth_s=self.smooth_s,
        )
        said = f"Recorded {number.lower()} of {called(thing)} from {first} to {last}"
        scene = scene.having(passes=(*scene.passes, kept))
        try:
            after, does = UsePass(id=self.id, smooth_s=self.smooth_s, within=self.within).done(scene)
        except (HeronError, ValidationError) as problem:
            error = problem if isinstance(problem, HeronError) else from_validation(problem, "Its keys")
            return scene, f"{said}; it is kept, but does not move it: {error.reason}"
        return after, f"{said}: {does}"

    def _track(self, table: Tables, thing: Any, one: Sampled, frames: Any, there: dict[str, Floats]) -> Track:
        if one.channel not in _NUMBERS[table]:
            raise BadInput(
                f"A hand does not work the {one.channel} of {called(thing)}.",
                f"It works: {', '.join(_NUMBERS[table])}.",
                field="hand",
            )
        if len(one.by) != len(self.at):
            raise BadInput(
                f"There are {len(self.at)} moments and {len(one.by)} values of the {one.channel}.",
                "Send a value for each moment.",
                field="hand",
            )
        by, base = on_frames(np.array(self.at), np.array(one.by), frames), there[one.channel]
        if not isinstance(thing, Figure):
            spec = thing.spec(one.channel)
            values = base + by
            for value in (float(values.min()), float(values.max())):
                if wrong := spec.complaint(spec.shown(value)):
                    raise BadInput(f"{wrong}.", "Record it again within that.", field="hand")
        return Track(channel=one.channel, hand=tuple(map(float, by)), base=tuple(map(float, base)))


class UsePass(Command):
    """Have a thing move as a pass has it: smoothed, and turned into as few keys as stay within an error at every frame.

    The keys that were there between its frames are replaced on what the hand changed; the rest stays. A figure walks
    where it was led, from where it set off to where it stood again.
    """

    kind: Literal["pass.use"] = "pass.use"
    id: Id
    #: Standard deviation of the Gaussian that smooths it, seconds of the stage.
    smooth_s: float = Field(default=0.25, ge=0.0, le=5.0)
    #: What the keys may be off by, for each measure.
    within: dict[Measure, float] = Field(default_factory=dict)
    #: It is the one: all passes of the same thing that changed the same numbers go.
    choose: bool = False
    force: bool = False

    def apply(self, scene: Scene) -> Outcome:
        one: Pass = find(scene, "passes", self.id)
        after, does = self.done(scene)
        _, thing = find_any(scene, one.of.id, _WORKED)
        return after, f"{capital(called(thing))} moves as in {one.name.lower()}: {does}"

    def done(self, scene: Scene) -> Outcome:
        """The scene with its keys, and what they are, as the end of a sentence."""
        one: Pass = find(scene, "passes", self.id)
        table, thing = find_any(scene, one.of.id, _WORKED)
        unlocked(thing)
        for measure, error in self.within.items():
            if error <= 0:
                raise BadInput(
                    f"An error of {error:g} {measure} cannot be kept.", "Give one above 0.", field="within"
                )
        if one.first not in scene.frames or one.last not in scene.frames:
            raise Refused(
                f"{one.name} goes from {one.first} to {one.last}, outside the scene's range {scene.frames}.",
                "Lengthen the scene again, or record another pass.",
                field="id",
            )
        fps = float(parse_rate(scene.rate))
        # What the thing does by itself stays as it is: only the hand is smoothed.
        hand = {
            t.channel: np.array(t.base) + smoothed(np.array(t.hand), self.smooth_s * fps) for t in one.tracks
        }
        if isinstance(thing, Figure):
            after, does = _led(scene, thing, one, hand, fps)
            scene = replace(scene, table, after)
        else:
            new, does = self._keyed(scene, thing, one, hand)
            if isinstance(new, Camera) and isinstance(thing, Camera):
                scene = fitted(scene, thing, new, "", force=self.force)[0]
            else:
                scene = replace(scene, table, new)
        return self._marked(scene, one), does

    def _keyed(
        self, scene: Scene, thing: Camera | Mover, one: Pass, hand: dict[str, Floats]
    ) -> tuple[Any, str]:
        frames = np.arange(one.first, one.last + 1)
        wanted = {name: values for name, values in hand.items() if name in POSE}

        def dense(found: Values) -> Any:
            return thing.with_channels({
                name: put_between(thing.channel(name), _straight(one.first, now)) for name, (_, now) in found.items()
            })  # fmt: skip

        found = solve_channels(thing, frames, wanted, rig_of(scene, one.first), dense) if wanted else {}
        # What answers by less than the keys may be off by is left alone: a breath that sways in turned directions, say.
        values = {
            name: now
            for name, (was, now) in found.items()
            if np.abs(now - was).max() > self._error(thing, name)
        }
        values |= {name: hand[name] for name in (ZOOM, PULL) if name in hand}
        if isinstance(thing, Camera) and PULL in hand:
            thing = _pulled(scene, thing, one)
        channels, said = {}, []
        for name, now in values.items():
            spec = thing.spec(name)
            keys = _few(one.first, now, self._error(thing, name))
            channels[name] = put_between(_pinned(thing.channel(name), one.first), keys)
            said.append(f"{len(keys)} keys on the {spec.label.lower()}")
        return thing.with_channels(channels), ", ".join(said) or "it stays where it was"

    def _error(self, thing: Any, name: str) -> float:
        measure = thing.spec(name).measure
        return self.within.get(measure, ERRORS[measure])

    def _marked(self, scene: Scene, one: Pass) -> Scene:
        """The passes of the thing that changed the same numbers are not in use any more, or go."""

        def rivals(other: Pass) -> bool:
            return other.of == one.of and bool(other.numbers & one.numbers)

        if self.choose:
            return scene.having(passes=tuple(other for other in scene.passes if not rivals(other)))
        return scene.having(passes=tuple(
            changed(one, in_use=True, smooth_s=self.smooth_s) if other.id == one.id
            else changed(other, in_use=False) if other.in_use and rivals(other) else other
            for other in scene.passes
        ))  # fmt: skip


class NamePass(Command):
    """Call a pass something else."""

    kind: Literal["pass.name"] = "pass.name"
    id: Id
    name: Name

    def apply(self, scene: Scene) -> Outcome:
        one: Pass = find(scene, "passes", self.id)
        refuse_taken(scene, "passes", self.name, one.id)
        return replace(scene, "passes", changed(one, name=self.name)), f"Called “{one.name}” “{self.name}”"


def _of(table: Tables, id_: str) -> OfCamera | OfMover | OfFigure:
    if table == "cameras":
        return OfCamera(camera=id_)
    return OfMover(mover=id_) if table == "movers" else OfFigure(figure=id_)


def _numbers(scene: Scene, thing: Any, frames: Any) -> dict[str, Floats]:
    """Where the numbers that a hand can work are at frames, (n,) each."""
    rows = Bake(scene).rows(thing, frames)
    out = {name: rows[:, k] for k, name in enumerate(POSE[:4] if isinstance(thing, Figure) else POSE)}
    if isinstance(thing, Camera):
        spec = thing.focus.spec("distance")
        out[ZOOM] = rows[:, COLUMNS.index("focal_mm")]
        out[PULL] = np.clip(rows[:, COLUMNS.index("focus_per_m")], *spec.span)
    return out


def _straight(first: int, values: Floats) -> list[Key]:
    return [
        Key(frame=first + k, value=float(v), before="straight", after="straight")
        for k, v in enumerate(values)
    ]


def _few(first: int, values: Floats, error: float) -> list[Key]:
    """As few keys as will do: one at its first frame and one at its last at least."""
    made = simplified(first, values, error)
    if made.keys:
        return list(made.keys)
    ends = (first, first + len(values) - 1)
    return [Key(frame=f, value=made.rest, before="straight", after="straight") for f in ends]


def _pinned(channel: Channel, frame: int) -> Channel:
    """A channel that comes to a frame as it did, whatever its keys after it become."""
    if len(channel.keys) > 1 and channel.key_at(frame) is None:
        return with_key_on_curve(channel, frame)
    return channel


def _pulled(scene: Scene, camera: Camera, one: Pass) -> Camera:
    """A camera whose focus follows its curve over a pass; its marks in between go."""
    focus = with_curve(scene, camera, camera.focus, one.first)
    marks = [mark for mark in focus.marks if not one.first <= mark.frame - mark.over <= one.last]
    if isinstance(changed(focus, marks=tuple(marks)).in_force(one.first), Pulled):
        return changed(camera, focus=changed(focus, marks=tuple(marks)))
    if not marks and one.first == scene.frames.first:
        return changed(camera, focus=changed(focus, on=Pulled(), marks=()))
    # A rack that is under way when the hand takes over ends there.
    marks = [mark for mark in marks if mark.frame < one.first or mark.frame > one.last]
    put = sorted([*marks, FocusMark(frame=one.first, on=Pulled())], key=lambda mark: mark.frame)
    return changed(camera, focus=changed(focus, marks=tuple(put)))


def _led(scene: Scene, figure: Figure, one: Pass, hand: dict[str, Floats], fps: float) -> tuple[Figure, str]:
    """A figure that walks where it was led."""
    if not {"x", "z"} <= hand.keys():
        raise Refused(f"{one.name} does not say where {figure.name} goes.", "Record its way.", field="id")
    going = [a for a in figure.acts if isinstance(a, Walk | Run | Turn)]
    under_way = next((a for a in going if a.frames.first < one.first <= a.frames.last), None)
    if under_way is not None:
        raise Refused(
            f"{figure.name} is still under way at {one.first}: it walks or turns until {under_way.frames.last}.",
            f"Begin the pass at {under_way.frames.last + 1} or later, or delete that act.",
            field="id",
        )
    gone = {id(a) for a in going if one.first <= a.frames.first <= one.last}
    kept: list[Act] = [a for a in figure.acts if id(a) not in gone]
    found = stretches(np.column_stack([hand["x"], hand["z"]]), fps)
    if not found:
        raise Refused(f"In {one.name} {figure.name} doesn't move.", "Lead it at least one step.", field="id")
    for part in found:
        span = Frames(first=one.first + part.first, last=one.first + part.last)
        points = tuple((round(float(x), 3), round(float(z), 3)) for x, z in part.points)
        walk = Walk(frames=span, points=points)
        check_pace(scene, changed(figure, acts=tuple(kept)), walk, turning=False)
        kept = sorted([*kept, walk], key=lambda a: a.frames.first)
    walks = "1 walk" if len(found) == 1 else f"{len(found)} walks"
    return changed(figure, acts=tuple(kept)), f"{walks} from {one.first} to {one.last}"
