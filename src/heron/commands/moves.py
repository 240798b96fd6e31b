"""Moves said in a sentence, made into ordinary keys: from this view to that one, over these frames, with this feel."""

from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from heron.bake import Bake, draft
from heron.commands.base import Command, Outcome, capital, open_camera
from heron.commands.fitting import fitted, with_value
from heron.commands.focusing import RackFocus, SetFocus
from heron.commands.keys import KeyHere, NewKey, SetKeys, check_frame, put_between
from heron.commands.matching import MatchZoom
from heron.commands.move_kinds import KINDS, VERBS, What
from heron.commands.things import PutThing
from heron.commands.view import View
from heron.curves import Channel, Key
from heron.curves.feel import Feel, feel_said, felt, progress
from heron.curves.simplify import simplified
from heron.errors import BadInput, Refused
from heron.model import Id
from heron.rigs import moves
from heron.scene import POSE, Camera, Scene, find, replace
from heron.scene.document import called, spot_called
from heron.scene.focus import AtDistance
from heron.scene.layers import STAGES
from heron.scene.links import links
from heron.stage.reference import AtPoint, OnFigure, Spot
from heron.timebase.frames import FrameNumber

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: What an arc's keys may be off by, metres and degrees: within this a picture does not show it.
_ARC_M, _ARC_DEG = 0.001, 0.01


class MoveCamera(Command):
    """Move a camera as it is said; without frames it is placed so, with a key only where it has keys.

    The keys that were there between are replaced on what the move changes; what comes later stays.
    """

    kind: Literal["camera.move"] = "camera.move"
    camera: Id
    what: What
    #: In the move's own unit; less than nothing goes the other way.
    amount: float = Field(default=0.0, ge=-36_000.0, le=36_000.0)
    #: What it goes round, towards, on to, or looks as.
    of: Spot | None = None
    #: Whose directions a dolly and a truck go by: the camera's own, where nothing is named.
    by: Spot | None = None
    to: View | None = None
    #: In place of a view, a perch: where it is at the last frame.
    perch: Id | None = None
    first: FrameNumber
    last: FrameNumber | None = None
    feel: Feel = "soft"
    over: float = Field(default=0.0, ge=0.0, le=1.0)
    settle: Annotated[int, Field(ge=0, le=1000)] = 7
    force: bool = False

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        self._check(scene, camera)
        bake = draft(scene)
        at = self.first if self.last is None else self.last
        begin = bake.rows(camera, np.array([self.first]))[0]
        pose, focal = begin[:6].copy(), float(begin[6])
        goal = self._view(scene, bake, at) if self.what == "view" else None
        if self.what == "zoom" or (goal is not None and goal.focal):
            to = focal + self.amount if goal is None or goal.focal is None else goal.focal
            zoomed = self._zoomed(scene, camera, focal, to)
            if self.what == "zoom":
                return zoomed, self._said(scene, focal, to)
            scene = zoomed
        if self.what == "dolly zoom":
            return self._dolly_zoomed(scene, camera, focal), self._said(scene, focal, focal + self.amount)
        if goal is not None and goal.focus_m:
            scene = self._focused(scene, goal.focus_m)
        camera = find(scene, "cameras", self.camera)
        target = self._target(scene, bake, pose, at, goal)
        if self.last is None:
            scene = self._placed(scene, camera, pose, target)
        elif self.what == "arc" and not _placing(camera):
            scene = self._round(scene, bake, pose)
        else:
            scene = self.keyed(scene, pose, target)
        return scene, self._said(scene, focal, focal)

    def reads(self) -> frozenset[str]:
        named = frozenset(link.id for spot in (self.of, self.by) if spot for link in links(spot))
        return named | ({self.perch} if self.perch else frozenset())

    def _view(self, scene: Scene, bake: Bake, frame: int) -> View:
        if self.perch is None:
            assert self.to is not None
            return self.to
        perch = find(scene, "perches", self.perch)
        pose = bake.rows(perch, np.array([frame]))[0, :6]
        return View(
            **dict(zip(POSE, map(float, pose), strict=True)), focal=perch.focal, focus_m=perch.focus_m
        )

    def _focused(self, scene: Scene, metres: float) -> Scene:
        """The focus comes along: at once, or racked over the move."""
        on = AtDistance(metres=metres)
        if self.last is None:
            return SetFocus(camera=self.camera, on=on, frame=self.first, force=self.force).apply(scene)[0]
        over, shape = self.last - self.first, "straight" if self.feel == "constant" else "eased"
        rack = RackFocus(camera=self.camera, frame=self.last, on=on, over=over, shape=shape, force=self.force)
        return rack.apply(scene)[0]

    def _check(self, scene: Scene, camera: Camera) -> None:
        check_frame(scene, self.first)
        if self.last is not None:
            check_frame(scene, self.last + (self.settle if self.over else 0))
            if self.last <= self.first:
                raise BadInput(
                    f"A move from {self.first} to {self.last} takes no time.", "Give it a later last frame.", field="last"
                )  # fmt: skip
            if self.over and self.settle < 2:
                raise BadInput("An overshoot settles in two frames or more.", "Give it more.", field="settle")
        if KINDS[self.what].of and self.of is None:
            raise BadInput(f"To {self.what} takes a subject.", "Name it.", field="of")
        if self.what == "view" and self.to is None and self.perch is None:
            raise BadInput("Choose a view to go to.", "Name a place or a perch.", field="to")
        if KINDS[self.what].unit and self.amount == 0:
            raise BadInput("This moves nothing.", "Give it an amount.", field="amount")
        if self.what == "arc" and self.last is not None and _placing(camera):
            kinds = [k for k in _placing(camera) if k not in ("arm", "trail")]
            if kinds:
                raise Refused(
                    f"{capital(called(camera))} is carried by its {kinds[-1]} here, which would make a chord of it.",
                    "Put an arm on the camera instead.",
                    field="what",
                )

    def _target(self, scene: Scene, bake: Bake, pose: Floats, frame: int, goal: View | None) -> Floats:
        if self.what in ("pan", "tilt", "roll"):
            return moves.turned(pose, self.what, self.amount)
        if self.what in ("dolly", "truck", "boom"):
            heading = float(pose[3]) if self.by is None else _heading(bake, self.by, self.first)
            return moves.shifted(pose, self.what, self.amount, heading)
        if self.what in ("straighten", "upright"):
            out = pose.copy()
            out[5] = 0.0
            out[4] = 0.0 if self.what == "upright" else out[4]
            return out
        if goal is not None:
            to = [float(getattr(goal, name)) for name in POSE]
            # The short way round.
            to[3:] = [p + (v - p + 180.0) % 360.0 - 180.0 for p, v in zip(pose[3:], to[3:], strict=True)]
            return np.array(to)
        assert self.of is not None
        at = bake.place(self.of, np.array([frame]))[0]
        if self.what == "swing onto":
            return moves.looking_at(pose, at)
        if self.what == "look as":
            return moves.looking_as(pose, _turn(bake, self.of, frame))
        if self.what == "arc":
            return np.asarray(moves.round_it(pose, at, np.array([self.amount]))[0])
        try:
            return moves.nearer(pose, at, self.amount)
        except ValueError as error:
            raise Refused(
                f"{error}: the camera would go through {spot_called(scene, self.of)}.",
                "Close in by less.",
                field="amount",
            ) from None

    def _placed(self, scene: Scene, camera: Camera, pose: Floats, target: Floats) -> Scene:
        keyed = bool(camera.key_frames("pose")) or any(
            channel.keys for one in camera.layers for _, channel in one.each()
        )
        put = _put(self.camera, self.first, pose, target, "key" if keyed else "rest")
        return put.apply(scene)[0] if put else scene

    def keyed(self, scene: Scene, pose: Floats, target: Floats) -> Scene:
        """Keys on the channels that bring the camera from one pose to the other, whoever's they are."""
        assert self.last is not None
        camera = find(scene, "cameras", self.camera)
        put = _put(self.camera, self.last, pose, target, "key")
        if put is None:
            return scene
        tried: Camera = find(put.apply(scene)[0], "cameras", self.camera)
        names = [
            spec.name for spec in camera.specs() if tried.channel(spec.name) != camera.channel(spec.name)
        ]
        # The present view is kept at the first frame before anything comes after it.
        missing = [name for name in names if camera.channel(name).key_at(self.first) is None]
        if missing:
            here = KeyHere(thing=self.camera, frame=self.first, channels=tuple(missing), keep=True)
            scene = here.apply(scene)[0]
        camera = find(scene, "cameras", self.camera)
        new = {}
        for name in names:
            channel = camera.channel(name)
            a, b = channel.by_frame[self.first].value, tried.channel(name).by_frame[self.last].value
            new[name] = self._between(channel, a, b)
        return replace(scene, "cameras", camera.with_channels(new))

    def _between(self, channel: Channel, a: float, b: float) -> Channel:
        """A channel that goes from a to b over the move's frames, as it was before and after them."""
        assert self.last is not None
        return put_between(
            channel, felt(self.first, self.last, a, b, self.feel, over=self.over, settle=self.settle)
        )

    def _round(self, scene: Scene, bake: Bake, pose: Floats) -> Scene:
        """Keys along a circle, so that no chord is made of it."""
        assert self.last is not None and self.of is not None
        camera = find(scene, "cameras", self.camera)
        done = progress(self.last - self.first + 1, self.feel, over=self.over, settle=self.settle)
        frames = np.arange(self.first, self.first + len(done))
        # Round where it is at each frame: a subject that walks is gone round as it walks, at one height. By its root: a
        # head would have the camera bob.
        of = self.of
        if isinstance(of, OnFigure):
            of = OnFigure(figure=of.figure, joint="root")
        centre = bake.place(of, frames)
        went = np.column_stack(
            [centre[:, 0] - centre[0, 0], np.zeros(len(frames)), centre[:, 2] - centre[0, 2]]
        )
        poses = np.array(
            [
                moves.round_it(_moved(pose, went[i]), centre[i], np.array([self.amount * s]))[0]
                for i, s in enumerate(done)
            ]
        )
        new = {}
        for k, name in enumerate(POSE):
            values = poses[:, k]
            if np.ptp(values) < 1e-9 and not camera.channel(name).keys:
                continue
            made = simplified(self.first, values, _ARC_M if k < 3 else _ARC_DEG)
            keys = list(made.keys) or [
                Key(frame=f, value=made.rest, before="straight", after="straight")
                for f in (int(frames[0]), int(frames[-1]))
            ]
            new[name] = put_between(camera.channel(name), keys)
        return replace(scene, "cameras", camera.with_channels(new))

    def _zoomed(self, scene: Scene, camera: Camera, focal: float, to: float) -> Scene:
        if to <= 0:
            raise Refused(
                f"There are only {focal:.3g} mm to zoom out from.", "Zoom out by less.", field="amount"
            )
        if self.last is None:
            if camera.focal.keys:
                key = NewKey(thing=self.camera, channel="focal", frame=self.first, value=to)
                return SetKeys(keys=(key,), force=self.force).apply(scene)[0]
            set_ = camera.with_channels({"focal": with_value(camera, "focal", to)})
            return fitted(scene, camera, set_, "", force=self.force)[0]
        keys = felt(self.first, self.last, focal, to, self.feel, over=self.over, settle=self.settle)
        after = camera.with_channels({"focal": put_between(camera.focal, keys)})
        return fitted(scene, camera, after, "", force=self.force)[0]

    def _dolly_zoomed(self, scene: Scene, camera: Camera, focal: float) -> Scene:
        """The lens changes by the amount, and the camera goes back or nearer so that the subject keeps its size."""
        if self.last is None:
            raise BadInput("A dolly zoom takes time.", "Give it a last frame.", field="last")
        assert self.of is not None
        zoomed = self._zoomed(scene, camera, focal, focal + self.amount)
        match = MatchZoom(
            camera=self.camera, subject=self.of, first=self.first, last=self.last, answers="distance", force=self.force,
        )  # fmt: skip
        return match.apply(zoomed)[0]

    def _said(self, scene: Scene, focal: float, to: float) -> str:
        who = capital(called(find(scene, "cameras", self.camera)))
        of = spot_called(scene, self.of) if self.of is not None else ""
        kind = KINDS[self.what]
        if kind.unit:
            size = f"{abs(self.amount):.4g}{'' if kind.unit == '°' else ' '}{kind.unit}"
            verb, way = VERBS[self.what], kind.ways[self.amount < 0]
            if self.what == "close in":
                does = f"{verb if self.amount > 0 else 'backs off from'} {of} by {size}"
            elif self.what == "arc":
                does = f"{verb} {size} round {of} {way}"
            elif self.what == "dolly zoom":
                does = f"{verb} {size} {'in' if self.amount > 0 else 'out'}, keeping {of} as large"
            else:
                by = f" in {spot_called(scene, self.by)}'s directions" if self.by is not None else ""
                does = f"{verb} {size} {way}{by}"
            if self.what in ("zoom", "dolly zoom"):
                does += f", {focal:.4g} to {to:.4g} mm"
        else:
            does = {
                "swing onto": f"swings onto {of}", "look as": f"looks the way {of} looks", "straighten": "is level, without roll",
                "upright": "is upright, without roll or tilt",
                "view": f"goes to the perch “{find(scene, 'perches', self.perch).name}”" if self.perch else "goes to another view",
            }[self.what]  # fmt: skip
        if self.last is None:
            return f"{who} {does}"
        return f"{who} {does} from {self.first} to {self.last}{feel_said(self.feel, self.over, self.settle)}"


def _put(camera: str, frame: int, pose: Floats, target: Floats, keep: Any) -> PutThing | None:
    wanted = {name: float(target[k]) for k, name in enumerate(POSE) if abs(target[k] - pose[k]) > 1e-9}
    return PutThing(thing=camera, frame=frame, keep=keep, **wanted) if wanted else None


def _placing(camera: Camera) -> list[str]:
    return [layer.kind for layer in camera.layers if STAGES[layer.kind] == 0 and not layer.off]


def _moved(pose: Floats, by: Floats) -> Floats:
    out = pose.copy()
    out[:3] += by
    return out


def _heading(bake: Bake, spot: Spot, frame: int) -> float:
    if isinstance(spot, AtPoint):
        return 0.0
    return float(bake.track(spot).heading[frame - bake.scene.frames.first])


def _turn(bake: Bake, spot: Spot, frame: int) -> Floats:
    """(4,) how something is turned: of a figure, its head."""
    where = OnFigure(figure=spot.figure, joint="head") if isinstance(spot, OnFigure) else spot
    if isinstance(where, AtPoint):
        raise Refused("A place looks nowhere.", "Name a figure, a mover or a camera.", field="of")
    track = bake.track(where)
    i = frame - bake.scene.frames.first
    if track.turn is None:
        h = np.radians(float(track.heading[i])) / 2
        return np.array([0.0, np.sin(h), 0.0, np.cos(h)])
    return np.asarray(track.turn[i])
