"""A figure's body: a turned wooden lay figure, dressed just enough to be recognised."""

from dataclasses import replace

import numpy as np

from heron.stage.figure import Figure
from heron.stage.shapes.face import face
from heron.stage.shapes.mesh import Floats, Mesh, Profile, about_x, egg, join, lathe, rounded, shade, slab
from heron.stage.skeleton import ANKLE, FOREARM, HAND, HIP_HALF, INDEX, REST, UPPER_ARM

_WOOD, _SEAM = "#cda876", "#9c7748"
_BUILD = {"slight": 0.9, "middling": 1.0, "broad": 1.16}
_THIGH, _SHANK = 0.245, 0.246


def _limb(length: float, top: float, belly: float, end: float, colour: str, sides: int = 10) -> Mesh:
    """A turned limb hanging from the origin, thickest a third of the way down."""
    return lathe(
        [(0, 0.012), (top * 0.7, 0.006), (top, -0.1 * length), (belly, -0.33 * length), (end * 1.05, -0.75 * length),
         (end, -0.93 * length), (end * 0.6, -0.985 * length), (0, -length)],
        colour, sides,
    )  # fmt: skip


def _ball(radius: float, colour: str = _SEAM, sides: int = 10) -> Mesh:
    return egg((radius, radius, radius), colour, sides)


def lay_figure(figure: Figure) -> Mesh:
    """The body with every joint at rest, metres; each point carries its joint."""
    look = figure.look
    b = _BUILD[look.build]
    coat, legs = look.coat, shade(look.coat, 0.62)
    parts: list[Mesh] = []

    def put(joint: str, mesh: Mesh, at: tuple[float, float, float] = (0.0, 0.0, 0.0)) -> None:
        i = INDEX[joint]
        parts.append(mesh.moved(at).moved(tuple(REST[i]), i))

    put("pelvis", egg((0.088 * b, 0.060, 0.062 * b), legs, 14), (0, 0.012, 0))
    put("spine", egg((0.072 * b, 0.075, 0.055 * b), coat, 14), (0, 0.02, 0))
    put("chest", egg((0.104 * b, 0.098, 0.068 * b), coat, 44, 0.16), (0, 0.045, 0))
    put(
        "chest",
        lathe([(0.030, 0.140), (0.043, 0.137), (0.050, 0.126), (0.052, 0.085)], look.trim, 44, (1.0, 0.92)),
    )
    put("neck", lathe([(0.027, 0.052), (0.026, 0.02), (0.032, -0.012)], _WOOD, 10))
    parts += face(_WOOD, shade(coat, 0.42))
    _headwear(put, look.headwear, look.trim, coat)
    _garment(put, look.garment, coat, look.trim, b)

    for side, sign in (("r", 1), ("l", -1)):
        put(f"shoulder_{side}", _ball(0.034 * b, coat, 18))
        put(f"shoulder_{side}", _limb(UPPER_ARM, 0.029 * b, 0.031 * b, 0.023, coat, 18))
        put(f"elbow_{side}", _ball(0.0235))
        put(f"elbow_{side}", _limb(FOREARM, 0.022, 0.0245 * b, 0.0165, coat))
        put(f"elbow_{side}", lathe([(0.0195, -0.112), (0.0215, -0.118), (0.0205, -0.138)], look.trim, 10))
        put(f"wrist_{side}", _ball(0.0155))
        put(f"wrist_{side}", egg((0.012, 0.031, 0.022), _WOOD, 10), (0, -0.028, 0))
        put(f"wrist_{side}", egg((0.007, 0.019, 0.008), _WOOD, 8), (-sign * 0.002, -0.026, -0.022))
        put(f"knuckle_{side}", egg((0.010, 0.030, 0.019), shade(_WOOD, 0.97), 10), (0, -HAND / 4 + 0.003, 0))
        put(f"hip_{side}", _ball(0.046 * b, legs))
        put(f"hip_{side}", _limb(_THIGH, 0.046 * b, 0.048 * b, 0.032, legs, 12))
        put(f"knee_{side}", _ball(0.0315))
        put(f"knee_{side}", _limb(_SHANK, 0.029, 0.034 * b, 0.020, legs, 12))
        put(f"ankle_{side}", _ball(0.0205))
        put(f"ankle_{side}", egg((0.025, 0.024, 0.064), "#4a3b2e", 12), (0, -ANKLE + 0.022, -0.030))
        put(f"ankle_{side}", slab(0.046, 0.009, 0.100, "#33291f"), (0, -ANKLE, -0.030))
        put(f"ball_{side}", egg((0.026, 0.016, 0.034), "#4a3b2e", 10), (0, 0.006, -0.012))
        put(f"ball_{side}", slab(0.046, 0.009, 0.050, "#33291f"), (0, -0.010, -0.014))
    body = join(*parts)
    return body.scaled(figure.stature)


def _headwear(put, kind: str, trim: str, coat: str) -> None:  # type: ignore[no-untyped-def]
    if kind == "cap":
        put(
            "head",
            lathe(
                [(0, 0.137), (0.035, 0.134), (0.066, 0.116), (0.069, 0.098), (0.055, 0.085)],
                trim,
                16,
                (1, 1.1),
            ),
        )
        put("head", slab(0.075, 0.007, 0.05, shade(trim, 0.7)), (0, 0.086, -0.075))
    elif kind == "scarf":
        # A hood turned about the line of sight, so that its edge round the face is one clean curve.
        hood = lathe(
            [(0.0, 0.068), (0.028, 0.0645), (0.045, 0.050), (0.0545, 0.028), (0.0575, 0.006), (0.0565, -0.010),
             (0.0525, -0.0165), (0.0485, -0.012), (0.047, 0.0)],
            trim, 30, (1.0, 1.20),
        )  # fmt: skip
        put("head", hood.turned(about_x(90)), (0, 0.060, 0.0))
        put("head", egg((0.020, 0.045, 0.018), shade(trim, 0.85), 10, 0.4), (0, 0.005, 0.058))
        put(
            "neck",
            lathe(
                rounded([(0.030, 0.046), (0.041, 0.038), (0.048, 0.022), (0.046, 0.008), (0.036, -0.006)]),
                trim,
                30,
            ),
        )
    elif kind == "bun":
        put("head", egg((0.051, 0.055, 0.058), shade(coat, 0.45), 14), (0, 0.076, 0.007))
        put("head", egg((0.025, 0.025, 0.025), shade(coat, 0.45), 12), (0, 0.105, 0.056))


def _smooth(u: Floats) -> Floats:
    u = np.clip(u, 0.0, 1.0)
    return np.asarray(u * u * (3 - 2 * u))


#: How far cloth goes with a thigh: less than all the way, so that it comes down on it when somebody sits.
_FRONT, _BACK = 0.87, 0.90


def _cloth(mesh: Mesh, top: float, bottom: float) -> Mesh:
    """Cloth hung from the pelvis that goes with both thighs, the more the lower it hangs; in the pelvis's frame."""
    x, y, z = mesh.points.T
    low = _smooth((top - y) / (top - bottom))
    right = _smooth((x + 0.055) / 0.11)
    follows = _FRONT + (_BACK - _FRONT) * _smooth((z + 0.02) / 0.08)
    legs = np.array([INDEX["hip_r"], INDEX["hip_l"]])
    shares = (low * follows)[:, None] * np.stack([right, 1 - right], axis=-1)
    return replace(mesh, others=np.tile(legs, (len(low), 1)), shares=shares)


def _girth(radius: float, y: float, b: float) -> float:
    apart = HIP_HALF * min(max((0.06 - y) / 0.06, 0.0), 1.0)
    return apart + (radius - apart) * b


def _garment(put, kind: str, coat: str, trim: str, b: float) -> None:  # type: ignore[no-untyped-def]
    def turned(profile: Profile, colour: str, sides: int, deep: float) -> Mesh:
        # Hips are as far apart in every build: below the waist only what is round them is wider or narrower.
        return lathe([(_girth(r, y, b), y) for r, y in profile], colour, sides, (1, deep))

    if kind == "skirt":
        outside = rounded(
            [(0.080, 0.062), (0.099, 0.034), (0.110, 0.0), (0.114, -0.055), (0.120, -0.11), (0.127, -0.16), (0.136, -0.215), (0.144, -0.268)], 2
        )  # fmt: skip
        # Its inside, which shows where it swings.
        inside = rounded([(0.140, -0.268), (0.113, -0.16), (0.095, -0.06), (0.070, 0.02)], 4)
        cloth = join(
            turned(outside, shade(coat, 0.85), 36, 0.79), turned(inside, shade(coat, 0.45), 36, 0.79)
        )
        belt = [
            (0.050, 0.080),
            (0.074, 0.078),
            (0.083, 0.071),
            (0.0885, 0.060),
            (0.090, 0.053),
            (0.086, 0.049),
        ]
        put("pelvis", _cloth(cloth, 0.02, -0.065))
        put("pelvis", turned(rounded(belt, 2), trim, 36, 0.82))
    elif kind == "coat":
        skirts = rounded(
            [(0.050, 0.098), (0.076, 0.092), (0.088, 0.078), (0.102, 0.03), (0.108, -0.02), (0.112, -0.085), (0.117, -0.145), (0.107, -0.147), (0.090, -0.06)], 2
        )  # fmt: skip
        belt = [(0.088, 0.066), (0.100, 0.062), (0.106, 0.05), (0.106, 0.040), (0.098, 0.036)]
        put("pelvis", _cloth(turned(skirts, coat, 36, 0.86), 0.02, -0.06))
        put("pelvis", turned(belt, trim, 36, 0.88))
