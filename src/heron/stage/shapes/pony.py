"""A pony's shape, part by part on its joints."""

from heron.stage.jointed.pony import FALLS, HALF, HOOF, PONY
from heron.stage.shapes.mesh import Mesh, about_x, egg, join, lathe, rounded, shade


def pony_shape(colour: str) -> Mesh:
    """The pony unturned, metres; each point carries its joint."""
    rest, dark, pale = PONY.rest, shade(colour, 0.42), shade(colour, 1.15)
    at_joint = {joint.name: i for i, joint in enumerate(PONY.joints)}
    parts: list[Mesh] = []

    def put(joint: str, mesh: Mesh, at: tuple[float, float, float] = (0.0, 0.0, 0.0)) -> None:
        x, y, z = rest[at_joint[joint]]
        parts.append(mesh.moved(at).moved((x, y, z), at_joint[joint]))

    barrel = rounded([(0.0, 0.66), (0.13, 0.62), (0.22, 0.48), (0.235, 0.2), (0.25, -0.1), (0.225, -0.38), (0.15, -0.58), (0.0, -0.66)])  # fmt: skip
    put("body", lathe(barrel, colour, 20, (0.9, 1.0)).turned(about_x(90)), (0.0, 0.06, 0.0))
    put("neck", lathe(rounded([(0.0, 0.53), (0.09, 0.49), (0.118, 0.34), (0.165, 0.12), (0.21, -0.08), (0.15, -0.22), (0.0, -0.28)]), colour, 16, (0.66, 1.0)).turned(about_x(-26)), (0.0, 0.0, 0.02))  # fmt: skip
    put("neck", egg((0.03, 0.30, 0.07), dark, 10).turned(about_x(-26)), (0.0, 0.25, 0.03))
    put("head", lathe(rounded([(0.0, 0.19), (0.095, 0.15), (0.122, 0.05), (0.09, -0.11), (0.07, -0.23), (0.066, -0.29), (0.0, -0.33)]), colour, 16, (0.74, 1.0)).turned(about_x(58)), (0.0, 0.06, -0.03))  # fmt: skip
    put("head", egg((0.045, 0.05, 0.05), pale, 12), (0.0, -0.11, -0.31))
    for sign in (-1.0, 1.0):
        put("head", egg((0.022, 0.07, 0.03), colour, 8, 0.4), (sign * 0.052, 0.185, 0.06))
        put("head", egg((0.012, 0.016, 0.016), "#15120f", 8), (sign * 0.066, 0.075, -0.07))
    put("head", egg((0.022, 0.07, 0.035), dark, 8), (0.0, 0.15, -0.03))
    put(
        "tail",
        lathe(rounded([(0.0, 0.03), (0.035, 0.0), (0.05, -0.2), (0.055, -0.42), (0.0, -0.56)]), dark, 10),
    )
    for leg in FALLS:
        thick = 1.0 if leg[0] == "f" else 1.22
        put(f"leg_{leg}", lathe(rounded([(0.0, 0.16), (0.085 * thick, 0.1), (0.09 * thick, -0.02), (0.052 * thick, -0.22), (0.04, -HALF), (0.0, -HALF - 0.03)]), colour, 12))  # fmt: skip
        put(f"shin_{leg}", lathe([(0.0, 0.035), (0.042, 0.0), (0.030, -0.12), (0.027, -HALF + 0.08), (0.036, -HALF + 0.03), (0.034, -HALF)], shade(colour, 0.75), 12))  # fmt: skip
        put(f"shin_{leg}", lathe([(0.0, 0.0), (0.038, 0.0), (0.05, -HOOF), (0.0, -HOOF)], "#2c2722", 12), (0.0, -HALF, -0.005))  # fmt: skip
    return join(*parts)
