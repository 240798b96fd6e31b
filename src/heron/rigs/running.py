"""One run of a camera's keys and layers over frames, stage by stage: what each stage needs of the others.

Everything that has a past runs from its layer's own first frame and is indexed into, so that any frame asked for
alone is the frame of the whole, to the bit.
"""

from typing import Any

import numpy as np

from heron.curves import evaluate
from heron.curves import jumps as channel_jumps
from heron.rigs.aiming import directions, middle, middle_of_box, turn_to
from heron.rigs.breath import breath
from heron.rigs.calm import calm
from heron.rigs.context import RigContext
from heron.rigs.lag import lagged
from heron.rigs.place import Given, Placed, place
from heron.rigs.pose import Floats, Pose, difference, smooth
from heron.rigs.rigged import LEAST_WEIGHT, Step, Watched, acting
from heron.rigs.track import Track
from heron.scene.camera import POSE, Camera
from heron.scene.layers import STAGES, Aim, Arm, Breath, Layer, Level
from heron.stage.reference import Spot
from heron.stage.turning import pan_tilt_roll


class Run:
    """One run: what each stage needs of the others, computed once."""

    def __init__(self, camera: Camera, context: RigContext, layers: list[Any]) -> None:
        self.camera, self.context = camera, context
        self.t = context.frames.array().astype(np.float64)
        self.base: Pose = [evaluate(getattr(camera, name), self.t) for name in POSE]
        self.base_focal = evaluate(camera.focal, self.t)
        #: By the stage that says them: each run of a stage says its own again.
        self.said: dict[str, list[tuple[int, str]]] = {"range": [], "place": [], "aim": [], "size": []}
        self.steps: dict[str, Step] = {}
        self.tracks: dict[Spot, Track] = {}
        self.values: dict[tuple[str, str], Floats] = {}
        self.sights: dict[str, tuple[Any, list[tuple[Floats, Floats, Floats]]]] = {}
        self.ends: dict[str, Floats] = {}
        self.by_kind: dict[int, list[tuple[Any, slice]]] = {}
        for layer in layers:
            frames = acting(layer, context.frames)
            if frames is None:
                if not layer.off:
                    self.said["range"].append(
                        (context.frames.first, f"the {layer.kind} lies outside the scene and does nothing")
                    )
                continue
            self.by_kind.setdefault(STAGES[layer.kind], []).append((layer, frames))
        self.cuts = sorted({frame for name in POSE for frame in channel_jumps(getattr(camera, name))})

    def sun(self) -> Floats:
        out = np.zeros(len(self.t))
        for layer, frames in self.by_kind.get(0, []):
            if isinstance(layer, Arm) and layer.sun_rides:
                step = self.steps[layer.id]
                assert step.placed is not None
                gone = step.weight * (step.placed.by["round"] - step.placed.by["round"][0])
                out[frames] += gone
                out[frames.stop :] += 0.0 if layer.blend_out else gone[-1]
        return out

    # Each stage.

    def placed(self, reaches: dict[str, Floats]) -> Pose:
        pose = self.base
        self.said["place"] = []
        for layer, frames in self.by_kind.get(0, []):
            below = [v[frames] for v in pose]
            given = Given(
                self.t[frames], below, lambda spot, part=frames: self._track(spot).part(part),  # type: ignore[misc]
                1 / self.context.fps, reaches.get(layer.id), self.said["place"],
            )  # fmt: skip
            placed = place(layer, given)
            pose = self._mixed(layer, frames, pose, placed.pose, range(6), placed)
        for layer, frames in self.by_kind.get(1, []):
            pose = self._levelled(layer, frames, pose)
        return pose

    def _levelled(self, layer: Level, frames: slice, pose: Pose) -> Pose:
        made = [v[frames] for v in pose]
        axes = (4, 5) if layer.what == "both" else (5,)
        for axis in axes:
            made[axis] = np.zeros(len(made[axis]))
        return self._mixed(layer, frames, pose, made, axes, stays=False)

    def aimed(self, pose: Pose, focal: Floats) -> Pose:
        self.said["aim"] = []
        for layer, frames in self.by_kind.get(2, []):
            below = [v[frames] for v in pose]
            made = list(below)
            made[3], made[4] = self._turned(layer, frames, below, focal[frames])
            pose = self._mixed(layer, frames, pose, made, (3, 4))
        return pose

    def _turned(self, layer: Aim, frames: slice, below: Pose, focal: Floats) -> tuple[Floats, Floats]:
        t, half = self.t[frames], self.half(focal)
        v = self._sight(layer, frames, below, half)
        x, y, late, pan_by, tilt_by = (
            self._value(layer, frames, name) for name in ("x", "y", "lag_s", "pan_deg", "tilt_deg")
        )
        if layer.how == "calm":
            wide, high = evaluate(layer.wide, t) / 2, evaluate(layer.high, t) / 2
            zone = (x - wide, x + wide, y - high, y + high)
            pan, tilt = calm(v, zone, half, float(below[3][0]), float(below[4][0]), below[5])
        else:
            pan, tilt, missed = turn_to(v, x, y, below[5], half)
            self._missed(layer, t, missed)
        if late.any():
            pan, tilt = (self._followed(angle, late, t) for angle in (pan, tilt))
        return pan + pan_by, tilt + tilt_by

    def _followed(self, angle: Floats, late: Floats, t: Floats) -> Floats:
        """Late, but never across a cut made by the camera's own held keys."""
        edges = [0, *(int(np.searchsorted(t, cut)) for cut in self.cuts if t[0] < cut <= t[-1]), len(t)]
        parts = [
            lagged(angle[a:b], late[a:b], 1 / self.context.fps)
            for a, b in zip(edges, edges[1:], strict=False)
            if b > a
        ]
        return np.concatenate(parts)

    def breathed(self, pose: Pose) -> Pose:
        for layer, frames in self.by_kind.get(4, []):
            pose = self._shaken(layer, frames, pose)
        return pose

    def _shaken(self, layer: Breath, frames: slice, pose: Pose) -> Pose:
        t = self.t[frames]
        noise = breath(layer.seed, self._cycles(layer)[frames]) * np.array(layer.times)[:, None]
        weight = self.weight(layer, frames)
        place_m = weight * evaluate(layer.place_mm, t) / 1000
        turn = weight * evaluate(layer.turn_deg, t)
        out = [v.copy() for v in pose]
        own = np.stack([place_m * noise[i] for i in range(3)], axis=-1)
        moved = pan_tilt_roll(*(v[frames] for v in pose[3:])).apply(own)
        for i in range(3):
            out[i][frames] += moved[:, i]
            out[3 + i][frames] += turn * noise[3 + i]
        self.steps[layer.id] = Step(
            layer, frames, [v[frames] for v in pose], [v[frames] for v in out], weight
        )
        return out

    def _cycles(self, layer: Breath) -> Floats:
        """(n,) how often it has breathed since the scene's first frame."""
        pace = evaluate(layer.hertz, self.t)
        steps = (
            np.diff(self.t) * (pace[1:] + pace[:-1]) / 2 if layer.hertz.keys else pace[1:] * np.diff(self.t)
        )
        return np.asarray(np.r_[0.0, np.cumsum(steps)] / self.context.fps)

    # What they share.

    def half(self, focal: Floats) -> tuple[Floats, Floats]:
        wide, high = self.context.gate_mm
        return wide / (2 * focal), high / (2 * focal)

    def _track(self, spot: Spot) -> Track:
        found = self.tracks.get(spot)
        if found is None:
            found = self.tracks[spot] = self.context.track(spot)
        return found

    def _sight(
        self, layer: Aim, frames: slice, below: Pose, half: tuple[Floats, Floats]
    ) -> tuple[Floats, Floats, Floats]:
        # Where it is does not change while direction and lens are settled.
        kept = self.sights.get(layer.id)
        if kept is None or kept[0] is not below[0].base:
            found = [directions(self._track(spot).place[frames], below)[:3] for spot in layer.at]
            kept = self.sights[layer.id] = (below[0].base, found)
        many = kept[1]
        if len(many) == 1:
            return many[0]
        if layer.together == "middle":
            return middle(many)
        t = self.t[frames]
        return middle_of_box(many, evaluate(layer.x, t), evaluate(layer.y, t), below[5], half)

    def _value(self, layer: Any, frames: slice, name: str) -> Floats:
        """(n,) a layer's channel over its frames; computed once."""
        slot = (layer.id, name)
        found = self.values.get(slot)
        if found is None:
            found = self.values[slot] = evaluate(getattr(layer, name), self.t[frames])
        return found

    def weight(self, layer: Layer, frames: slice) -> Floats:
        t = self.t[frames]
        weight = self._value(layer, frames, "weight")
        first = self.context.frames.first if layer.first is None else layer.first
        last = self.context.frames.last if layer.last is None else layer.last
        if layer.blend_in:
            weight = weight * smooth((t - first) / layer.blend_in)
        if layer.blend_out:
            weight = weight * smooth((last - t) / layer.blend_out)
        return weight

    def _mixed(
        self, layer: Layer, frames: slice, pose: Pose, made: Pose, axes: Any, placed: Placed | None = None,
        *, stays: bool = True,
    ) -> Pose:  # fmt: skip
        """A layer's pose laid over what is below by its weight; where it ends without a blend, the camera stays."""
        weight = self.weight(layer, frames)
        out = list(pose)
        for axis in axes:
            below = pose[axis][frames]
            delta = made[axis] - below if axis < 3 else difference(made[axis], below)
            added = weight * delta
            new = pose[axis].copy()
            new[frames] = below + added
            if stays and not layer.blend_out:
                new[frames.stop :] += added[-1]
            out[axis] = new
        self.steps[layer.id] = Step(layer, frames, [v[frames] for v in pose], made, weight, placed)
        return out

    def subject(self, focal: Floats) -> tuple[Floats, np.ndarray[Any, np.dtype[np.bool_]]]:
        """(n, 3) metres: what the last aim that counts watches on each frame, and (n,) whether one does."""
        point, watches = np.zeros((len(self.t), 3)), np.zeros(len(self.t), dtype=bool)
        for layer, frames in self.by_kind.get(2, []):
            acts = self.steps[layer.id].weight > LEAST_WEIGHT
            there = self._watched_point(layer, frames, self.half(focal[frames]))
            point[frames] = np.where(acts[:, None], there, point[frames])
            watches[frames] |= acts
        return point, watches

    def _watched_point(self, layer: Aim, frames: slice, half: tuple[Floats, Floats]) -> Floats:
        """(n, 3) metres: the subject; of several, as far away as they are on average."""
        if len(layer.at) == 1:
            return self._track(layer.at[0]).place[frames]
        below = self.steps[layer.id].below
        v = self._sight(layer, frames, below, half)
        far = np.mean([directions(self._track(s).place[frames], below)[3] for s in layer.at], axis=0)
        return np.stack([below[i] + v[i] * far for i in range(3)], axis=-1)

    def _missed(self, layer: Aim, t: Floats, missed: np.ndarray[Any, np.dtype[np.bool_]]) -> None:
        if missed.any():
            who = self._track(layer.at[0]).name
            self.said["aim"].append((
                int(t[int(np.argmax(missed))]),
                f"{who} cannot be put there from here; the camera turns as near as it can",
            ))  # fmt: skip

    def watched(self, focal: Floats) -> list[Watched]:
        """Frames on which a placement is kept exactly: full weight, no lag, no nudge, no breath, nothing after it."""
        breathing = np.zeros(len(self.t), dtype=bool)
        for _, frames in self.by_kind.get(4, []):
            breathing[frames] = True
        aims = self.by_kind.get(2, [])
        out: list[Watched] = []
        for k, (layer, frames) in enumerate(aims):
            if layer.how == "calm":
                continue
            t, step = self.t[frames], self.steps[layer.id]
            still = not any(evaluate(getattr(layer, n), t).any() for n in ("lag_s", "pan_deg", "tilt_deg"))
            exact = np.zeros(len(self.t), dtype=bool)
            half = self.half(focal[frames])
            v = self._sight(layer, frames, step.below, half)
            x, y = evaluate(layer.x, t), evaluate(layer.y, t)
            missed = turn_to(v, x, y, step.below[5], half)[2]
            exact[frames] = (step.weight == 1.0) & ~missed & still
            exact &= ~breathing
            for _, later in aims[k + 1 :]:
                exact[later] = False
            point, across, up = np.zeros((len(self.t), 3)), np.zeros(len(self.t)), np.zeros(len(self.t))
            point[frames] = self._watched_point(layer, frames, half)
            across[frames], up[frames] = x, y
            out.append(Watched(exact, point, across, up))
        return out
