"""A heron's shape, part by part on its joints."""

import itertools
import math

import numpy as np

from heron.stage.bird.joints import BIRD_INDEX, BIRD_REST, NECK, TARSUS, TIBIA, WING_IN, WING_OUT
from heron.stage.shapes.mesh import Mesh, about_x, egg, facets, join, lathe, shade, slab

_BEAK, _LEG, _DARK = "#d09a3a", "#8d7f4f", "#2b3038"
Fan = tuple[tuple[float, float], tuple[float, float], tuple[float, float]]
#: Feathers of the arm lie straight back; those of the hand spread to its tip.
_ARM_FAN: Fan = ((97.0, 91.0), (0.25, 0.28), (0.075, 0.075))
_HAND_FAN: Fan = ((91.0, 12.0), (0.28, 0.21), (0.085, 0.062))


def heron_shape(colour: str) -> Mesh:
    """The bird unturned, metres; each point carries its joint."""
    pale, dark = shade(colour, 1.42), shade(colour, 0.55)
    parts: list[Mesh] = []

    def put(joint: str, mesh: Mesh, at: tuple[float, float, float] = (0.0, 0.0, 0.0)) -> None:
        i = BIRD_INDEX[joint]
        parts.append(mesh.moved(at).moved(tuple(BIRD_REST[i]), i))

    # A drop lying down: the breast ahead, the tail behind.
    trunk = lathe(
        [(0.0, 0.30), (0.055, 0.27), (0.092, 0.18), (0.108, 0.06), (0.102, -0.06), (0.078, -0.18), (0.045, -0.28), (0.0, -0.34)],
        colour, 18, (1.0, 0.94),
    ).turned(about_x(-90))  # fmt: skip
    put("body", trunk, (0, 0, 0.02))
    put("body", egg((0.062, 0.06, 0.17), pale, 14, 0.1), (0, -0.045, -0.05))
    tail = _blade([(0.05, 0.0), (0.062, 0.12), (0.05, 0.24), (0.0, 0.27)], shade(colour, 0.8), 0.008)
    put("body", tail, (0, 0.01, 0.25))
    put("body", egg((0.05, 0.055, 0.075), pale, 12), (0, 0.03, -0.19))
    thick = (0.047, 0.039, 0.033, 0.029)
    for k, length in enumerate(NECK):
        a, b = thick[k], thick[k + 1]
        segment = lathe(
            [
                (0.0, length + b),
                (b * 0.8, length + b * 0.55),
                (b, length),
                (a, 0.0),
                (a * 0.8, -a * 0.55),
                (0.0, -a),
            ],
            pale,
            12,
        )
        put(f"neck{k + 1}", segment)
        put(f"neck{k + 1}", egg((0.008, length * 0.42, 0.006), _DARK, 6), (0, length * 0.5, -(a + b) / 2))
    put("head", egg((0.031, 0.034, 0.062), "#e9e6de", 14), (0, 0.022, -0.022))
    beak = lathe([(0.0, 0.165), (0.008, 0.09), (0.017, 0.0), (0.0, -0.01)], _BEAK, 8).turned(about_x(-92))
    put("head", beak, (0, 0.016, -0.070))
    for sign in (1.0, -1.0):
        put("head", egg((0.005, 0.006, 0.006), "#d9b12f", 8), (sign * 0.026, 0.027, -0.048))
        put("head", egg((0.003, 0.0035, 0.0035), "#16181b", 6), (sign * 0.0295, 0.027, -0.050))
        put("head", egg((0.006, 0.011, 0.044), _DARK, 8), (sign * 0.023, 0.041, -0.002))
    plume = lathe([(0.0, 0.15), (0.006, 0.07), (0.008, 0.0)], _DARK, 6).turned(about_x(104))
    put("head", plume, (0, 0.042, 0.02))
    for side, sign in (("r", 1.0), ("l", -1.0)):
        put(f"wing_{side}", _wing(sign, WING_IN, _ARM_FAN, (0.12, 0.17), colour, dark))
        put(f"wing_{side}", egg((0.05, 0.03, 0.06), colour, 10), (sign * 0.01, -0.008, 0.02))
        put(f"tip_{side}", _wing(sign, 0.6 * WING_OUT, _HAND_FAN, (0.17, 0.04), shade(colour, 0.85), _DARK))
        put(
            f"leg_{side}", lathe([(0.036, 0.02), (0.030, -0.06), (0.013, -0.17), (0.0105, -TIBIA)], colour, 8)
        )
        put(f"shin_{side}", egg((0.0145, 0.0145, 0.0145), _LEG, 8))
        put(f"shin_{side}", lathe([(0.0105, 0.0), (0.0085, -TARSUS / 2), (0.0105, -TARSUS)], _LEG, 8))
        for turn in (-26.0, 0.0, 26.0):
            toe = slab(0.012, 0.010, 0.13, _LEG).moved((0, -0.004, -0.060))
            put(f"toes_{side}", toe.turned(_about_y(turn)))
        put(f"toes_{side}", slab(0.010, 0.010, 0.06, _LEG).moved((0, -0.004, 0.028)))
    return join(*parts)


def _about_y(degrees: float) -> np.ndarray[tuple[int, int], np.dtype[np.float64]]:
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return np.array([[c, 0.0, s], [0.0, 1.0, 0.0], [-s, 0.0, c]])


def _both(points: np.ndarray[tuple[int, int], np.dtype[np.float64]], face: list[int], colour: str) -> Mesh:
    """A flat face that is seen from both sides."""
    return facets(points, [face, face[::-1]], colour)


def _blade(profile: list[tuple[float, float]], colour: str, thick: float) -> Mesh:
    """A flat feathered end: half widths at lengths behind its root."""
    left = [(-w, 0.0, z) for w, z in profile]
    right = [(w, thick * 0.0, z) for w, z in reversed(profile)]
    points = np.array([*left, *right])
    return _both(points, list(range(len(points))), colour)


def _wing(sign: float, arm: float, fan: Fan, cover: tuple[float, float], colour: str, edge: str) -> Mesh:
    """Half a wing, its arm along X: coverts along it, and feathers that lie over each other as a fan.

    arm: how far the feathers' roots go along it, metres.
    fan: (at the root, at the end) for direction, degrees back from the arm, and for length and width, metres.
    cover: how far back the coverts go there, metres.
    """
    lead, count = 0.045, 9
    parts = []
    for k in range(count):
        share = k / (count - 1)
        angle, length, wide = (a + (b - a) * share for a, b in fan)
        way = np.array([math.cos(math.radians(angle)), math.sin(math.radians(angle))])
        aside = np.array([-way[1], way[0]])
        outline = [
            share * np.array([arm, 0.0]) + along * length * way + side * wide / 2 * aside
            for along, side in (
                (0.0, -1),
                (0.72, -1),
                (0.93, -0.6),
                (1.0, 0),
                (0.93, 0.6),
                (0.72, 1),
                (0.0, 1),
            )
        ]
        points = np.array([(sign * x, -0.002 - 0.0012 * k, z) for x, z in outline])
        parts.append(_both(points, list(range(7)), edge if k % 2 else shade(edge, 1.1)))
    xs = np.linspace(0.0, arm, 5)
    ahead = -lead * (1 - 0.7 * (xs / arm) ** 2)
    behind = cover[0] + (cover[1] - cover[0]) * xs / arm
    for a, b in itertools.pairwise(range(5)):
        quad = np.array([
            (sign * xs[a], 0.012, ahead[a]), (sign * xs[b], 0.012, ahead[b]),
            (sign * xs[b], 0.0, behind[b]), (sign * xs[a], 0.0, behind[a]),
        ])  # fmt: skip
        parts.append(_both(quad, [0, 1, 2, 3], colour))
    return join(*parts)
