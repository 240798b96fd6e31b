"""Why a view is a good one, and what is to be given up for it, in sentences."""

from collections.abc import Iterator

import numpy as np

from heron.framing.shot_size import SIZES, with_article
from heron.lookouts.asked import Asked
from heron.lookouts.candidates import OVER, THROUGH, TWO, WAYS, WITH
from heron.lookouts.ground import Ground, Poses
from heron.lookouts.scoring import Judged, off_high, off_way
from heron.notes.kinds import KINDS
from heron.scene.document import spot_called

#: From so far over or under the eyes a view is high or low, degrees.
_HIGH_DEG, _LOW_DEG = 9.0, -8.0
#: A face is clear of which so much is seen.
_CLEAR = 0.98


def reasons(ground: Ground, asked: Asked, poses: Poses, judged: Judged, i: int) -> Iterator[str]:
    """What it is; how much of the face is seen; what would be said of it; which wish it does not meet."""
    figure = ground.figures[poses.who[i]]
    yield f"{_what(ground, asked, poses, judged, i)}, {poses.focal[i]:g} mm from {judged.far[i]:.1f} m, {_from(judged, i)}"
    frames = ground.frames.count
    if judged.seen[i] >= _CLEAR:
        clear = f"{figure.name}'s face clear" if judged.faces[i] else f"nothing before {figure.name}"
        yield f"{clear} for {'all ' if frames > 1 else ''}{frames} {'frames' if frames > 1 else 'frame'}"
    else:
        by = f", behind {', '.join(judged.by[i])}" if judged.by[i] else ""
        yield f"{judged.seen[i]:.0%} of {figure.name}'s {'face' if judged.faces[i] else 'head'} seen{by}"
    if judged.notes[i]:
        yield "but " + ", ".join(_small(KINDS[kind].label) for kind in judged.notes[i])
    if asked.size is not None and SIZES[judged.size[i]] != asked.size:
        yield f"give up “{asked.size}”: it is {with_article(SIZES[judged.size[i]])} from here"
    one = judged.round[i : i + 1]
    if off_way(asked, one)[0]:
        yield f"give up “{asked.way}”: it is {_way(float(one[0, 0]))} from here"
    if off_high(asked, one)[0]:
        yield f"give up “{asked.high}”: the set leaves no such place"


def _small(label: str) -> str:
    return label[0].lower() + label[1:]


def _what(ground: Ground, asked: Asked, poses: Poses, judged: Judged, i: int) -> str:
    figure = ground.figures[poses.who[i]]
    size = with_article(SIZES[judged.size[i]])
    size = size[0].upper() + size[1:]
    kind = poses.kind[i]
    others = [one.name for one in ground.figures if one.id in asked.figures and one.id != figure.id]
    if kind == OVER:
        near = next((one.name for one in ground.figures if one.id == asked.over), None)
        other = near or next((one.name for one in ground.figures if one.id != figure.id), "")
        return f"{size} of {figure.name} over {other}'s shoulder"
    if kind == TWO:
        other = others[0] if others else next((one.name for one in ground.figures if one.id != figure.id), "")
        return f"{size} of {figure.name} and {other}"
    if kind == WITH:
        more = [*others, *([spot_called(ground.bake.scene, asked.thing)] if asked.thing else [])]
        return f"{size} of {figure.name} with {', '.join(more)}" if more else f"{size} of {figure.name}"
    if kind == THROUGH:
        eyes = next((one.name for one in ground.figures if one.id == asked.through), "somebody")
        return f"{figure.name} as {eyes} sees them"
    return f"{size} of {figure.name}"


def _way(bearing: float) -> str:
    off = abs(bearing)
    for way, (low, high) in WAYS.items():
        if low <= off < high:
            return {
                "front": "from the front",
                "three-quarter": "three-quarter",
                "profile": "in profile",
                "behind": "from behind",
            }[way]
    return "nearly in profile" if off < 90 else "from three-quarter behind"


def _from(judged: Judged, i: int) -> str:
    bearing, up = judged.round[i]
    side = (
        "" if abs(bearing) < 12 or abs(bearing) > 165 else f" from their {'left' if bearing > 0 else 'right'}"
    )
    high = "high" if up > _HIGH_DEG else "low" if up < _LOW_DEG else "at eye level"
    return f"{_way(float(bearing))}{side}, {high}" if np.isfinite(up) else ""
