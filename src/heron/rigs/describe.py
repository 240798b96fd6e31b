"""A camera's layers as one sentence in plain words: who follows whom, and how."""

from collections.abc import Callable
from typing import Any

from heron.curves import Channel
from heron.rigs.rail import curve
from heron.scene.layers import (
    Aim,
    Arm,
    Breath,
    Carrier,
    Flight,
    Layer,
    Level,
    Rail,
    SizeHold,
    Trail,
    in_order,
)
from heron.stage.reference import OnFigure, Spot, joint_word

#: How a subject is called.
Called = Callable[[Spot], str]
#: An operator's hand, by millimetres, degrees and hertz: common practice, from tripod to running.
HANDS: dict[str, tuple[float, float, float]] = {
    "on a tripod": (0.3, 0.02, 0.4), "like a calm operator": (4.0, 0.3, 0.6), "like a walking operator": (14.0, 0.7, 1.1),
    "like a running operator": (40.0, 2.2, 2.2),
}  # fmt: skip
#: How an operator follows, by metres behind, seconds late on the floor and in height: close and steady is a
#: professional, far behind and loose is home footage (common practice; the numbers are ours).
FOLLOWERS: dict[str, tuple[float, float, float]] = {
    "close and steady": (1.8, 0.2, 0.3), "like an operator": (3.0, 0.4, 0.4), "at ease": (4.0, 0.7, 0.6),
    "far and loose": (6.5, 1.3, 0.9),
}  # fmt: skip
#: How near a third or the middle counts as on it.
_ON = 0.02


def sentence(layers: tuple[Any, ...], called: Called) -> str:
    """The whole stack, from top to bottom as it runs; without layers nothing moves the camera but its keys."""
    parts = [clause(layer, called) for layer in in_order(layers) if not layer.off]
    text = " · ".join(parts)
    return text[:1].upper() + text[1:] if text else "Moved by its keys alone"


def clause(layer: Layer, called: Called) -> str:
    """One layer, as a part of the sentence."""
    return _WORDS[type(layer)](layer, called) + _when(layer)


def _when(layer: Layer) -> str:
    if layer.first is not None and layer.last is not None:
        return f", from {layer.first} to {layer.last}"
    if layer.first is not None:
        return f", from {layer.first} on"
    return "" if layer.last is None else f", until {layer.last}"


def _value(channel: Channel, unit: str) -> str:
    if len({key.value for key in channel.keys}) > 1:
        return f"{channel.keys[0].value:.3g} to {channel.keys[-1].value:.3g}{unit}"
    return f"{channel.keys[0].value if channel.keys else channel.rest:.3g}{unit}"


def _late(channel: Channel) -> str:
    return f", {_value(channel, ' s')} late" if channel.span[1] > 0 else ""


def listed(names: list[str]) -> str:
    """Names as a person would list them: `a, b and c`."""
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def _carrier(layer: Carrier, called: Called) -> str:
    if layer.eyes and isinstance(layer.on, OnFigure):
        return f"looks through the eyes of {called(OnFigure(figure=layer.on.figure, joint='root'))}"
    return f"rides on {called(layer.on)}" + (", turning with it" if layer.how == "all" else "")


def side(angle: float) -> str:
    """Where round somebody: 0 in front, positive to their left."""
    off = (angle + 180.0) % 360.0 - 180.0
    for at, word in (
        (0, "in front"),
        (90, "on its left"),
        (-90, "on its right"),
        (180, "behind"),
        (-180, "behind"),
    ):
        if abs(off - at) < 12:
            return word
    return f"{'front' if abs(off) < 90 else 'back'} {'left' if off > 0 else 'right'}"


def _trail(layer: Trail, called: Called) -> str:
    if layer.how == "distance":
        return f"follows {called(layer.of)}'s path {_value(layer.behind_m, ' m')} behind"
    angle = layer.angle_deg
    where = "moving round it" if len({k.value for k in angle.keys}) > 1 else side(angle.span[0])
    return f"follows {called(layer.of)} {_value(layer.distance_m, ' m')} {where}{_late(layer.lag_s)}"


def _arm(layer: Arm, called: Called) -> str:
    round_ = listed([called(spot) for spot in layer.round]) if layer.round else "where it would be"
    return (
        f"swings round {round_} at {_value(layer.reach_m, ' m')}"
        + (", turning with it" if layer.turns_with else "")
        + (", the sun with it" if layer.sun_rides else "")
    )


def _rail(layer: Rail, called: Called) -> str:
    return f"runs along a rail of {curve(layer.points).length:.1f} m" + (
        ", facing the way it runs" if layer.faces == "along" else ""
    )


def _flight(layer: Flight, called: Called) -> str:
    names = [called(leg.to) for leg in layer.legs]
    return (
        f"flies from {names[0]} by {listed(names[1:-1])} to {names[-1]}"
        if len(names) > 2
        else (f"flies from {names[0]} to {names[-1]}")
    )


def _level(layer: Level, called: Called) -> str:
    return "keeps level" if layer.what == "roll" else "keeps level, neither up nor down"


def put(x: float, y: float) -> str:
    """A placement in the frame in words."""
    across = {0: "in the middle", 1: "on the right third", -1: "on the left third"}
    up = {0: "", 1: "upper", -1: "lower"}
    near = [
        round(3 * v) if abs(v - round(3 * v) / 3) < _ON and abs(round(3 * v)) <= 1 else None for v in (x, y)
    ]
    if near[0] is None or near[1] is None:
        return f"at {x:.2f} across, {y:.2f} up"
    if near[1] == 0:
        return across[near[0]]
    if near[0] == 0:
        return f"on the {up[near[1]]} third"
    return f"{across[near[0]]}, {up[near[1]]} third"


def _aim(layer: Aim, called: Called) -> str:
    who = listed([called(spot) for spot in layer.at])
    moving = any(len({k.value for k in c.keys}) > 1 for c in (layer.x, layer.y))
    if layer.how == "calm":
        where = "within a calm zone"
    elif moving:
        where = "moving in the frame"
    else:
        where = put(layer.x.span[0], layer.y.span[0])
    return f"watches {who} {where}{_late(layer.lag_s)}"


def _size(layer: SizeHold, called: Called) -> str:
    who = called(OnFigure(figure=layer.of.figure, joint="root"))
    share = (
        f"{100 * layer.share.span[0]:.3g}"
        if not layer.share.keys
        else _value(layer.share.mapped(lambda v: 100 * v), "")
    )
    how = "its lens" if layer.answers == "lens" else "its reach"
    return f"keeps {who} from {joint_word(layer.of.joint)} to {joint_word(layer.to)} {share} % of the frame by {how}"


def _breath(layer: Breath, called: Called) -> str:
    for name, (mm, degrees, hertz) in HANDS.items():
        if (
            not layer.place_mm.keys
            and not layer.turn_deg.keys
            and not layer.hertz.keys
            and (layer.place_mm.rest, layer.turn_deg.rest, layer.hertz.rest) == (mm, degrees, hertz)
        ):
            return f"breathes {name}"
    return f"breathes by {_value(layer.place_mm, ' mm')} and {_value(layer.turn_deg, '°')}"


_WORDS: dict[type, Callable[[Any, Called], str]] = {
    Carrier: _carrier, Trail: _trail, Arm: _arm, Rail: _rail, Flight: _flight, Level: _level, Aim: _aim, SizeHold: _size, Breath: _breath,
}  # fmt: skip
