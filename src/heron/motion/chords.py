"""Two keys of a round move, which go straight across where the camera was to swing."""

from typing import Any

import numpy as np

from heron.motion.hitches import CHORD, Hitch
from heron.motion.signals import Signals
from heron.scene.camera import Camera
from heron.scene.layers import STAGES

#: It is a round move when it turns at least so far about the subject, degrees, its two ends are this near in distance, and
#: the subject stays in the frame.
TURN_DEG, ENDS = 20.0, 0.12


def chords(camera: Camera, s: Signals, aspect: float) -> list[Hitch]:
    """Moves from one key of place to the next that come nearer to the subject in between than at either end."""
    if any(STAGES[layer.kind] == 0 and not layer.off for layer in camera.layers):
        return []
    frames = sorted({key.frame for name in ("x", "z") for key in camera.channel(name).keys})
    found = []
    for first, last in zip(frames, frames[1:], strict=False):
        a, b = first - s.first, last - s.first
        if a < 0 or b >= len(s.away) or b - a < 8 or any(first < f <= last for f in s.breaks):
            continue
        far = s.away[a : b + 1]
        gap: Any = s.place[a : b + 1] - s.subject[a : b + 1]
        bearing = np.degrees(np.unwrap(np.arctan2(gap[:, 0], gap[:, 2])))
        if abs(bearing[-1] - bearing[0]) < TURN_DEG or abs(far[-1] / far[0] - 1) > ENDS:
            continue
        with np.errstate(invalid="ignore"):
            seen = (np.abs(s.x[a : b + 1]) < 540 * aspect * 1.2) & (np.abs(s.y[a : b + 1]) < 540 * 1.6)
        if not seen.all():
            continue
        # Against the distance going evenly with the turn.
        share = (bearing - bearing[0]) / (bearing[-1] - bearing[0])
        nearer = 1 - far / (far[0] + (far[-1] - far[0]) * share)
        if nearer.max() > CHORD:
            found.append(Hitch(first, last, "chord", "distance", float(nearer.max())))
    return found
