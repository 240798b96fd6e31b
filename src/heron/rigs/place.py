"""Layers that say where a camera is: each gives a pose over its frames, and takes one back to its own numbers."""

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from scipy.ndimage import gaussian_filter1d

from heron.curves import evaluate
from heron.errors import Refused
from heron.rigs.flight import flown
from heron.rigs.lag import lagged
from heron.rigs.pose import Floats, Pose, ahead
from heron.rigs.rail import curve
from heron.rigs.track import Track
from heron.scene.layers import Arm, Carrier, Flight, Layer, Rail, Trail
from heron.stage.reference import Spot
from heron.stage.turning import Turns, angles_of, pan_tilt_roll

#: The offsets every layer that turns a camera has, in the order of a pose.
_TURNED = ("pan_deg", "tilt_deg", "roll_deg")
_SHIFTED = ("x_m", "y_m", "z_m")
#: A path is followed by steps of this, metres.
_STEP_M = 0.05


@dataclass
class Given:
    """What a layer is worked out from, over its own frames.

    Attributes:
        t: (n,) frames.
        below: the pose without it.
        track: what it goes by, over the same frames.
        frame_s: seconds from frame to frame.
        reach: an arm's reach, where a size hold overrules it.
        notes: (frame, what must be said).
    """

    t: Floats
    below: Pose
    track: Callable[[Spot], Track]
    frame_s: float
    reach: Floats | None = None
    notes: list[tuple[int, str]] = field(default_factory=list)

    def value(self, layer: Layer, name: str) -> Floats:
        """(n,) one of its channels."""
        return evaluate(getattr(layer, name), self.t)


@dataclass(frozen=True)
class Placed:
    """A layer's pose, whether it turns the camera too, and what it was hung on: (n,) arrays by name."""

    pose: Pose
    turns: bool
    by: dict[str, Any]


def place(layer: Layer, given: Given) -> Placed:
    """The pose a layer of place gives."""
    if isinstance(layer, Carrier):
        return _carried(layer, given)
    if isinstance(layer, Trail):
        return _late(layer, given) if layer.how == "lag" else _behind(layer, given)
    if isinstance(layer, Arm):
        return _swung(layer, given)
    if isinstance(layer, Flight):
        return _flown(layer, given)
    assert isinstance(layer, Rail)
    return _railed(layer, given)


def _carried(layer: Carrier, given: Given) -> Placed:
    on = given.track(layer.on)
    shift = np.stack([given.value(layer, name) for name in _SHIFTED], axis=-1)
    by = {"track": on}
    if layer.how == "place":
        at = on.place + shift
        return Placed([at[:, 0], at[:, 1], at[:, 2], *given.below[3:]], False, by)
    pan, tilt, roll = (given.value(layer, name) for name in _TURNED)
    if on.turn is None:
        c, s = np.cos(np.radians(on.heading)), np.sin(np.radians(on.heading))
        x, z = c * shift[:, 0] + s * shift[:, 2], -s * shift[:, 0] + c * shift[:, 2]
        at = on.place + np.stack([x, shift[:, 1], z], axis=-1)
        return Placed([at[:, 0], at[:, 1], at[:, 2], on.heading + pan, tilt, roll], True, by)
    turn = Turns(on.turn)
    at = on.place + turn.apply(shift)
    angles = angles_of((turn * pan_tilt_roll(pan, tilt, roll)).quat)
    return Placed([at[:, 0], at[:, 1], at[:, 2], *angles], True, by)


def _late(layer: Trail, given: Given) -> Placed:
    of = given.track(layer.of)
    late, late_up = given.value(layer, "lag_s"), given.value(layer, "lag_height_s")
    x, z = (lagged(of.place[:, i], late, given.frame_s, layer.begins) for i in (0, 2))
    y = lagged(of.place[:, 1], late_up, given.frame_s, layer.begins)
    heading = lagged(of.heading, late, given.frame_s, layer.begins)
    angle, distance = given.value(layer, "angle_deg"), given.value(layer, "distance_m")
    ax, az = ahead(heading + angle)
    pan, tilt, roll = (given.value(layer, name) for name in _TURNED)
    pose = [
        x + distance * ax, y + given.value(layer, "height_m"), z + distance * az,
        heading + angle + 180.0 + pan, tilt, roll,
    ]  # fmt: skip
    return Placed(pose, True, {"at": (x, y, z), "heading": heading})


def _behind(layer: Trail, given: Given) -> Placed:
    """So many metres back along the subject's own path, smoothed; before its first frame the path goes straight back."""
    of = given.track(layer.of)
    steps = np.hypot(np.diff(of.place[:, 0]), np.diff(of.place[:, 2]))
    gone = np.r_[0.0, np.cumsum(steps)]
    fx, fz = (float(v[0]) for v in ahead(of.heading[:1]))
    # Only frames on which it moved on: a path has each place once.
    moved = np.r_[True, np.diff(gone) > 1e-9]
    even = np.arange(0.0, gone[-1] + _STEP_M, _STEP_M)
    way = [np.interp(even, gone[moved], of.place[moved, i]) for i in range(3)]
    if layer.smooth_m > 0 and len(even) > 3:
        # The straight way back before the first place is part of what is smoothed; an end holds.
        pad = int(4 * layer.smooth_m / _STEP_M) + 1
        back = -_STEP_M * np.arange(pad, 0, -1)
        lead = [way[0][0] + fx * back, np.full(pad, way[1][0]), way[2][0] + fz * back]
        way = [
            gaussian_filter1d(np.r_[a, b], layer.smooth_m / _STEP_M, mode="nearest")[pad:]
            for a, b in zip(lead, way, strict=True)
        ]
    along = np.r_[0.0, np.cumsum(np.hypot(np.diff(way[0]), np.diff(way[2])))]
    at = np.interp(np.interp(gone, even, along), along, along) - given.value(layer, "behind_m")
    before = np.minimum(at, 0.0)
    x, y, z = (np.interp(at, along, w) for w in way)
    x, z = x + fx * before, z + fz * before
    if along[-1] > 1e-6:
        bearing = np.degrees(np.unwrap(np.arctan2(-np.gradient(way[0]), -np.gradient(way[2]))))
        near = np.interp(np.maximum(at, 0.0), along, bearing)
        first = float(of.heading[0]) + 360.0 * round((float(bearing[0]) - float(of.heading[0])) / 360.0)
        near = np.where(at < 0, first, near)
    else:
        near = np.full(len(given.t), float(of.heading[0]))
    if (np.diff(gone) <= 1e-9).all():
        given.notes.append((int(given.t[0]), f"{of.name} doesn't move here, so there is no path to follow"))
    pan, tilt, roll = (given.value(layer, name) for name in _TURNED)
    pose = [x, y + given.value(layer, "height_m"), z, near + pan, tilt, roll]
    return Placed(pose, True, {"at": (x, y, z), "heading": near})


def _swung(layer: Arm, given: Given) -> Placed:
    if layer.round:
        tracks = [given.track(spot) for spot in layer.round]
        pivot = np.asarray(np.mean([t.place for t in tracks], axis=0))
        facing = tracks[0].heading
    else:
        pivot, facing = np.stack(given.below[:3], axis=-1), given.below[3]
    zero = facing if layer.turns_with else np.full(len(given.t), facing[0])
    bearing, height = given.value(layer, "bearing_deg"), given.value(layer, "height_deg")
    reach = given.value(layer, "reach_m") if given.reach is None else given.reach
    ax, az = ahead(zero + bearing)
    c, s = np.cos(np.radians(height)), np.sin(np.radians(height))
    pan, tilt, roll = (given.value(layer, name) for name in _TURNED)
    pose = [
        pivot[:, 0] + reach * c * ax, pivot[:, 1] + reach * s, pivot[:, 2] + reach * c * az,
        zero + bearing + 180.0 + pan, tilt - height, roll,
    ]  # fmt: skip
    return Placed(
        pose,
        True,
        {"pivot": pivot, "zero": zero, "round": zero + bearing, "way": (c * ax, s, c * az), "reach": reach},
    )


def _railed(layer: Rail, given: Given) -> Placed:
    line, metres = curve(layer.points), given.value(layer, "metres")
    for end, beyond in (("begins", metres < -1e-9), ("ends", metres > line.length + 1e-9)):
        if beyond.any():
            from_frame = int(given.t[int(np.argmax(beyond))])
            given.notes.append((from_frame, f"the rail {end} here; the camera waits at its end"))
    on = line.place(metres)
    at = on + np.stack([given.value(layer, name) for name in _SHIFTED], axis=-1)
    pose = [at[:, 0], at[:, 1], at[:, 2], *given.below[3:]]
    if layer.faces == "along":
        way = line.way(metres)
        pan, tilt, roll = (given.value(layer, name) for name in _TURNED)
        bearing = np.degrees(np.unwrap(np.arctan2(-way[:, 0], -way[:, 2])))
        pose[3:] = [bearing + pan, np.degrees(np.arcsin(np.clip(way[:, 1], -1, 1))) + tilt, roll]
    return Placed(pose, layer.faces == "along", {"on": on, "line": line})


def _flown(layer: Flight, given: Given) -> Placed:
    own = flown(layer, len(given.t), given.track)
    by = [given.value(layer, name) for name in (*_SHIFTED, *_TURNED)]
    pose = [v + more for v, more in zip(own, by, strict=True)]
    return Placed(pose, True, {"on": np.stack(own[:3], axis=-1)})


def _near(angle: float, to: float) -> float:
    """The same direction, within half a turn of another."""
    return angle + 360.0 * round((to - angle) / 360.0)


def numbers(
    layer: Layer, placed: Placed, i: int, wanted: list[float], value: Callable[[str], float]
) -> dict[str, float]:
    """The channels of a layer that give a pose at one of its frames.

    Args:
        i: which of its frames.
        wanted: x, y, z, pan, tilt, roll.
        value: a channel as it is there now.

    Raises:
        Refused: it cannot be there on this layer.
    """
    x, y, z, pan, tilt, roll = wanted
    if isinstance(layer, Carrier):
        return _on(layer, placed.by["track"], i, wanted)
    if isinstance(layer, Trail):
        at, heading = [float(v[i]) for v in placed.by["at"]], float(placed.by["heading"][i])
        out = {"height_m": y - at[1], "tilt_deg": tilt, "roll_deg": roll}
        if layer.how == "distance":
            if math.hypot(x - at[0], z - at[2]) > 1e-6:
                raise Refused(
                    "This camera follows a path some metres behind.",
                    "Change how far behind it is, or let it follow late instead.",
                    field="x",
                )
            return {**out, "pan_deg": pan - heading}
        distance = math.hypot(x - at[0], z - at[2])
        angle = value("angle_deg")
        if distance > 1e-9:
            angle = _near(math.degrees(math.atan2(-(x - at[0]), -(z - at[2]))) - heading, angle)
        return {**out, "distance_m": distance, "angle_deg": angle, "pan_deg": pan - heading - angle - 180.0}
    if isinstance(layer, Arm):
        pivot, zero = placed.by["pivot"][i], float(placed.by["zero"][i])
        dx, dy, dz = x - float(pivot[0]), y - float(pivot[1]), z - float(pivot[2])
        reach = math.sqrt(dx * dx + dy * dy + dz * dz)
        if reach < 0.01:
            raise Refused(
                "The camera would stand on its own pivot.",
                "Keep a reach of at least 0.01 m.",
                field="reach_m",
            )
        bearing = value("bearing_deg")
        if math.hypot(dx, dz) > 1e-9:
            bearing = _near(math.degrees(math.atan2(-dx, -dz)) - zero, bearing)
        height = math.degrees(math.asin(max(-1.0, min(1.0, dy / reach))))
        return {
            "bearing_deg": bearing, "height_deg": height, "reach_m": reach,
            "pan_deg": pan - zero - bearing - 180.0, "tilt_deg": tilt + height, "roll_deg": roll,
        }  # fmt: skip
    on = placed.by["on"][i]
    shift = {name: w - float(o) for name, w, o in zip(_SHIFTED, (x, y, z), on, strict=True)}
    if not placed.turns:
        return shift
    own = [float(placed.pose[3 + k][i]) - value(name) for k, name in enumerate(_TURNED)]
    return {**shift, **{name: w - o for name, w, o in zip(_TURNED, (pan, tilt, roll), own, strict=True)}}


def _on(layer: Carrier, track: Track, i: int, wanted: list[float]) -> dict[str, float]:
    away = np.array(wanted[:3]) - track.place[i]
    if layer.how == "place":
        return dict(zip(_SHIFTED, (float(v) for v in away), strict=True))
    if track.turn is None:
        heading = float(track.heading[i])
        c, s = math.cos(math.radians(heading)), math.sin(math.radians(heading))
        shift = (c * away[0] - s * away[2], away[1], s * away[0] + c * away[2])
        turned = (wanted[3] - heading, wanted[4], wanted[5])
    else:
        back = Turns(track.turn[i : i + 1]).inv()
        own = back.apply(away)[0]
        shift = (own[0], own[1], own[2])
        found = angles_of((back * pan_tilt_roll(*(np.array([v]) for v in wanted[3:]))).quat)
        turned = (float(found[0][0]), float(found[1][0]), float(found[2][0]))
    return {
        **{n: float(v) for n, v in zip(_SHIFTED, shift, strict=True)},
        **dict(zip(_TURNED, turned, strict=True)),
    }


def pivot_line(placed: Placed) -> tuple[Floats, tuple[Floats, Floats, Floats], Floats]:
    """An arm's pivot (n, 3), the way it points, by component, and its reach."""
    return placed.by["pivot"], placed.by["way"], placed.by["reach"]
