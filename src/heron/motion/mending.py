"""The smallest change of keys that takes a hitch away.

Least squares on the values of the keys in and about the hitch: what is left of the third differences of the camera's signals
there, plus so much of the change itself; that much is lowered until the hitch is gone.
"""

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.optimize import least_squares

from heron.bake import draft
from heron.curves import Channel, evaluate
from heron.model import changed
from heron.motion.hitches import FLOORS, Hitch, hitches
from heron.motion.signals import Signals, signals
from heron.scene import Camera, Scene, replace
from heron.stage.reference import Spot

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Keys this near to a hitch may be moved, frames; how far round about it is looked.
NEAR, ROUND = 2, 14
#: As much of a channel's range as a key may be moved by; for a kick.
MOST, MOST_KICK = 0.08, 0.16
#: What a change is weighed by against what is left, from the most down: the first that does is taken.
WEIGHTS = (10.0, 3.0, 1.0, 0.3, 0.1, 0.03, 0.01, 0.001)
#: Keys that are so many of the frames about a hitch stand close; a bridge goes so far beyond it on both sides, frames.
CLOSE, BRIDGES = 0.6, (2, 4, 6, 9, 12, 16, 20)
#: More keys than this are not moved at once.
MOST_KEYS = 24


@dataclass(frozen=True)
class Moved:
    """A key whose value a mend changes, in the measure its channel is kept in; taken away, it has none now."""

    channel: str
    frame: int
    was: float
    now: float | None


@dataclass(frozen=True)
class Mend:
    """A hitch, the camera without it, and what was changed."""

    hitch: Hitch
    camera: Camera
    moved: tuple[Moved, ...]


def mend(scene: Scene, camera: Camera, spot: Spot, hit: Hitch) -> Mend | None:
    """The smallest change that takes a hitch away and makes no other; None where there is none within bounds.

    Where keys stand close, those about the hitch are taken away, and the curve bridges the gap as it came and goes on.
    Else keys of what hitches are moved first, then keys of anything; and where that is not enough, one of them is taken away.
    """
    try_ = _Try(scene, camera, spot, hit)
    own = [key for key in try_.keys if key[0].rpartition(".")[2] in _OWN.get(hit.measure, ())]
    if (close := _close(own or try_.keys, hit)) and (found := try_.bridged(close)):
        return found
    found = try_.moved(own) if own else None
    return found or (try_.moved(try_.keys) if len(own) < len(try_.keys) else None) or try_.without()


#: The channels that a measure is of.
_OWN = {
    "own": ("x", "y", "z"),
    "pan": ("pan", "pan_deg"),
    "tilt": ("tilt", "tilt_deg"),
    "zoom": ("focal", "share"),
}


class _Try:
    """Changes of a camera's keys about a hitch, and what each leaves of it."""

    def __init__(self, scene: Scene, camera: Camera, spot: Spot, hit: Hitch) -> None:
        self.scene, self.camera, self.spot, self.hit = scene, camera, spot, hit
        self.keys = _keys(camera, hit)
        before = self.signals(camera)
        self.look = slice(max(hit.first - ROUND - before.first, 0), hit.last + ROUND + 1 - before.first)
        self.others = [other for other in hitches(before) if other != hit]

    def signals(self, camera: Camera) -> Signals:
        scene = replace(self.scene, "cameras", camera)
        return signals(draft(scene), camera, self.spot)

    def left(self, camera: Camera) -> Floats:
        """What is left of the third differences round about the hitch, in floors of each signal."""
        s = self.signals(camera)
        parts = [
            np.diff(v[self.look], 3) / floor
            for v, floor in (
                (s.size, FLOORS["size"]), (s.x, FLOORS["place"]), (s.y, FLOORS["place"]), (s.pan, FLOORS["pan"]),
                (s.tilt, FLOORS["tilt"]), (s.focal, FLOORS["zoom"]), *((s.place[:, k], FLOORS["own"]) for k in range(3)),
            )
        ]  # fmt: skip
        return np.nan_to_num(np.concatenate(parts))

    def clean(self, camera: Camera) -> bool:
        return _clean(hitches(self.signals(camera)), self.hit, self.others)

    def moved(self, keys: list[tuple[str, int]]) -> Mend | None:
        """With the values of some keys changed within their bounds."""
        if not keys or len(keys) > MOST_KEYS:
            return None
        bounds = np.array([_most(self.camera, name, self.hit) for name, _ in keys])
        was = np.array([self.camera.channel(name).by_frame[frame].value for name, frame in keys])

        def put(change: Floats) -> Camera:
            return _with(self.camera, keys, was + change * bounds)

        scale = float(np.linalg.norm(self.left(self.camera))) or 1.0
        start = np.zeros(len(keys))
        for weight in WEIGHTS:
            found = least_squares(
                _weighed(lambda change: self.left(put(change)), weight, scale),
                start, bounds=(-1, 1), diff_step=1e-3, max_nfev=8,
            )  # fmt: skip
            start = np.clip(found.x, -0.999, 0.999)
            after = put(found.x)
            if self.clean(after):
                moved = tuple(
                    Moved(name, frame, float(a), float(after.channel(name).by_frame[frame].value))
                    for (name, frame), a, by in zip(keys, was, found.x, strict=True)
                    if abs(by) > 1e-4
                )
                return Mend(self.hit, after, moved)
        return None

    def bridged(self, names: list[str]) -> Mend | None:
        """Without all keys about the hitch: each curve goes on over the gap at the speed it had on both sides of it."""
        for beyond in BRIDGES:
            first, last = self.hit.first - beyond, self.hit.last + beyond
            new = {name: _bridge(self.camera.channel(name), first, last) for name in names}
            after = self.camera.with_channels({name: channel for name, channel in new.items() if channel})
            inside = np.arange(first, last + 1)
            moved = [
                (
                    np.abs(
                        evaluate(after.channel(n), inside) - evaluate(self.camera.channel(n), inside)
                    ).max(),
                    n,
                )
                for n in names
            ]
            if any(by > _most(self.camera, name, self.hit) for by, name in moved):
                return None
            if any(new.values()) and self.clean(after):
                gone = [
                    Moved(name, key.frame, key.value, None)
                    for name in names
                    for key in self.camera.channel(name).keys
                    if key.frame not in after.channel(name).by_frame
                ]
                return Mend(self.hit, after, tuple(gone))
        return None

    def without(self) -> Mend | None:
        """With one key taken away: the one without which what is left is least."""
        tries = []
        for name, frame in self.keys:
            channel = self.camera.channel(name)
            if len(channel.keys) < 3 or frame in (channel.keys[0].frame, channel.keys[-1].frame):
                continue
            after = self.camera.with_channels({name: channel.without_keys(frame)})
            if self.clean(after):
                key = Moved(name, frame, channel.by_frame[frame].value, None)
                tries.append((float(np.linalg.norm(self.left(after))), key, after))
        if not tries:
            return None
        _, key, after = min(tries, key=lambda one: one[0])
        return Mend(self.hit, after, (key,))


def _weighed(left: Callable[[Floats], Floats], weight: float, scale: float) -> Callable[[Floats], Floats]:
    return lambda change: np.concatenate([left(change) / scale, np.sqrt(weight) * change * 0.1])


def _clean(now: list[Hitch], hit: Hitch, others: list[Hitch]) -> bool:
    """Whether the hitch is gone, and none is there that was not."""
    for one in now:
        if one.first <= hit.last + NEAR and one.last >= hit.first - NEAR:
            return False
        if not any(one.first <= o.last + NEAR and one.last >= o.first - NEAR for o in others):
            return False
    return True


def _keys(camera: Camera, hit: Hitch) -> list[tuple[str, int]]:
    """Keys in and about a hitch, of what moves the camera or its lens."""
    return [
        (spec.name, key.frame)
        for spec, channel in zip(camera.specs(), _channels(camera), strict=True)
        if spec.group in ("pose", "layer") or spec.name == "focal"
        for key in channel.keys
        if hit.first - NEAR <= key.frame <= hit.last + NEAR and len(channel.keys) > 1
    ]


def _channels(camera: Camera) -> list[Any]:
    return [camera.channel(spec.name) for spec in camera.specs()]


def _most(camera: Camera, name: str, hit: Hitch) -> float:
    low, high = camera.channel(name).span
    values = [key.value for key in camera.channel(name).keys]
    reach = max(values) - min(values)
    return max(reach, 1e-6) * (MOST_KICK if hit.kind == "kick" else MOST) if high > low else 1e-6


def _close(keys: list[tuple[str, int]], hit: Hitch) -> list[str]:
    """Channels whose keys stand close about a hitch."""
    frames = hit.last - hit.first + 1 + 2 * NEAR
    return [name for name, count in Counter(name for name, _ in keys).items() if count >= CLOSE * frames]


def _bridge(channel: Channel, first: int, last: int) -> Channel | None:
    """A channel without its keys between the two that stand around a range; None where there are none between."""
    before = [key.frame for key in channel.keys if key.frame <= first]
    after = [key.frame for key in channel.keys if key.frame >= last]
    if len(before) < 2 or len(after) < 2:
        return None
    a, b = before[-1], after[0]
    third = (b - a) / 3
    v = evaluate(channel, np.array([before[-2], a, b, after[1]]))
    into, out = (v[1] - v[0]) / (a - before[-2]), (v[3] - v[2]) / (after[1] - b)
    start = changed(
        channel.by_frame[a], after="shaped", handle_after=(third, float(into * third)), tied=False
    )
    end = changed(
        channel.by_frame[b], before="shaped", handle_before=(-third, float(-out * third)), tied=False
    )
    kept = [key for key in channel.keys if not a <= key.frame <= b]
    return changed(channel, keys=tuple(sorted((*kept, start, end), key=lambda key: key.frame)))


def _with(camera: Camera, keys: list[tuple[str, int]], values: Floats) -> Camera:
    new: dict[str, Any] = {}
    for (name, frame), value in zip(keys, values, strict=True):
        channel = new.get(name) or camera.channel(name)
        low, high = camera.spec(name).span
        key = changed(channel.by_frame[frame], value=float(min(max(value, low), high)))
        new[name] = channel.with_keys(key)
    return camera.with_channels(new)
