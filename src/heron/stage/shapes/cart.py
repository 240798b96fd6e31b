"""A cart's shape: a bed with shafts on two wheels."""

from heron.stage.jointed.cart import CART, TRACK_M, WHEEL_M
from heron.stage.shapes.mesh import Mesh, about_x, about_z, join, lathe, shade, slab


def cart_shape(colour: str) -> Mesh:
    """The cart unturned, metres; each point carries its joint."""
    rest, dark = CART.rest, shade(colour, 0.6)
    parts: list[Mesh] = []

    def put(joint: int, mesh: Mesh, at: tuple[float, float, float] = (0.0, 0.0, 0.0)) -> None:
        x, y, z = rest[joint]
        parts.append(mesh.moved(at).moved((x, y, z), joint))

    put(1, slab(1.0, 0.06, 1.5, colour))
    for sign in (-1.0, 1.0):
        put(1, slab(0.04, 0.34, 1.5, shade(colour, 0.9)), (sign * 0.5, 0.04, 0.0))
        put(1, slab(0.05, 0.05, 1.5, dark), (sign * 0.34, -0.02, -1.4))
        rim = [(0.0, 0.035), (WHEEL_M - 0.06, 0.035), (WHEEL_M, 0.03), (WHEEL_M, -0.03), (WHEEL_M - 0.06, -0.035), (0.0, -0.035)]  # fmt: skip
        hoop = lathe([p for p in rim if p[0] > 0.3] + [(WHEEL_M - 0.06, 0.035)], dark, 28)
        put(2, hoop.turned(about_z(90)), (sign * TRACK_M, 0.0, 0.0))
        put(2, lathe([(0.0, 0.07), (0.07, 0.06), (0.07, -0.06), (0.0, -0.07)], dark, 10).turned(about_z(90)), (sign * TRACK_M, 0.0, 0.0))  # fmt: skip
        for k in range(5):
            spoke = slab(0.03, 2 * (WHEEL_M - 0.05), 0.035, colour).moved((0.0, -(WHEEL_M - 0.05), 0.0))
            put(2, spoke.turned(about_x(36.0 * k)), (sign * TRACK_M, 0.0, 0.0))
    put(1, slab(1.0, 0.34, 0.04, shade(colour, 0.9)), (0.0, 0.04, 0.73))
    put(
        2,
        lathe([(0.0, TRACK_M), (0.03, TRACK_M), (0.03, -TRACK_M), (0.0, -TRACK_M)], dark, 8).turned(
            about_z(90)
        ),
    )
    return join(*parts)
