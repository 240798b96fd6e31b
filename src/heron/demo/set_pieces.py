"""The set of “Slack Tide”: jetty, boathouse, posts, reeds and what is far off."""

from typing import Any

from heron.commands import AnyCommand
from heron.commands.pieces import AddPiece

#: How high the jetty's deck stands, metres.
DECK = 0.55


def set_pieces() -> list[AnyCommand]:
    out: list[AnyCommand] = []

    def put(
        shape: Any, name: str, x: float, z: float, w: float, d: float, h: float, colour: str, **more: Any
    ) -> None:
        id_ = f"set-{len(out) + 1:02d}"
        out.append(
            AddPiece(
                id=id_, shape=shape, name=name, x=x, z=z, width=w, depth=d, height=h, colour=colour, **more
            )
        )

    wood, tarred, pale = "#a58a66", "#5b5148", "#c4b08c"
    put("platform", "Shore", 0, 9.9, 30, 10.2, 0.7, "#857a5d", group="Shore")
    put(
        "ramp",
        "Gangway",
        0,
        3.5,
        2.2,
        2.6,
        0.15,
        wood,
        base=DECK,
        heading=180,
        finish="boards",
        group="Jetty",
    )
    put("platform", "Jetty", 0, -3.9, 2.2, 12.2, 0.14, wood, base=DECK - 0.14, finish="boards", group="Jetty")
    put(
        "platform",
        "Jetty head",
        0,
        -10.9,
        5.2,
        3.6,
        0.14,
        wood,
        base=DECK - 0.14,
        finish="boards",
        group="Jetty",
    )
    for i, z in enumerate((1.6, -1.2, -4.0, -6.8)):
        for side in (-1, 1):
            put(
                "post",
                f"Pile {2 * i + (side > 0) + 1}",
                side * 1.02,
                z,
                0.2,
                0.2,
                0.95,
                tarred,
                group="Jetty",
            )
    for i, (x, z, h) in enumerate(
        ((-2.45, -9.3, 1.5), (2.45, -9.3, 1.5), (-2.45, -12.5, 1.75), (2.45, -12.5, 1.5))
    ):
        put("post", f"Mooring post {i + 1}", x, z, 0.26, 0.26, h, tarred, group="Mooring")
    put("post", "Lamp post", -1.9, -12.3, 0.13, 0.13, 2.75, tarred, base=DECK, group="Mooring")
    put(
        "box",
        "Lamp",
        -1.9,
        -12.3,
        0.26,
        0.26,
        0.36,
        "#ffdf94",
        base=DECK + 2.75,
        group="Mooring",
        finish="lit",
    )
    put("post", "Heron's post", 6.5, -14.4, 0.34, 0.34, 1.55, "#6a5f52", group="Mooring")
    put("box", "Crate", 1.75, -11.9, 0.7, 0.5, 0.45, pale, base=DECK, heading=14, group="Jetty head things")
    put(
        "box",
        "Crate on crate",
        1.8,
        -11.88,
        0.42,
        0.4,
        0.32,
        "#b99a68",
        base=DECK + 0.45,
        heading=-9,
        group="Jetty head things",
    )
    # The boathouse: four walls, an open door, a roof of two slopes.
    put(
        "wall",
        "Boathouse back",
        -6.2,
        12.2,
        6.4,
        0.16,
        2.5,
        "#8f4f3c",
        base=0.7,
        finish="boards",
        group="Boathouse",
    )
    put(
        "wall",
        "Boathouse west",
        -9.32,
        9.5,
        0.16,
        5.4,
        2.5,
        "#86493a",
        base=0.7,
        finish="boards",
        group="Boathouse",
    )
    put(
        "wall",
        "Boathouse east",
        -3.08,
        9.5,
        0.16,
        5.4,
        2.5,
        "#86493a",
        base=0.7,
        finish="boards",
        group="Boathouse",
    )
    put(
        "wall",
        "Boathouse front left",
        -8.3,
        6.85,
        2.2,
        0.16,
        2.5,
        "#94543f",
        base=0.7,
        finish="boards",
        group="Boathouse",
    )
    put(
        "wall",
        "Boathouse front right",
        -4.1,
        6.85,
        2.2,
        0.16,
        2.5,
        "#94543f",
        base=0.7,
        finish="boards",
        group="Boathouse",
    )
    put("ramp", "Roof south", -6.2, 8.05, 7.2, 2.9, 1.5, "#54575a", base=3.2, heading=180, group="Boathouse")
    put("ramp", "Roof north", -6.2, 10.95, 7.2, 2.9, 1.5, "#4b4e52", base=3.2, group="Boathouse")
    put("box", "Upturned skiff", 8.4, 8.6, 1.0, 2.6, 0.45, "#6f5a44", base=0.7, heading=24, group="Shore")
    reeds = ("#8f8450", "#a3945c", "#7f7a4c", "#b0a06a")
    spots = (
        (-13, -17, 3.6), (-9.5, -20.5, 4.2), (-4.5, -22.5, 3.4), (0.5, -21, 2.8), (4.6, -23.5, 4.4), (9.2, -20, 3.2),
        (12.5, -16.5, 4.0), (15.5, -11, 3.4), (-16, -11, 3.8), (13, -24, 5.2), (-14, -25, 5.0), (18, -19, 4.6),
        (-17.5, -3.5, 4.0), (17, -3, 3.4), (8.2, -27, 5.5), (-7.5, -28, 6.0),
    )  # fmt: skip
    for i, (x, z, w) in enumerate(spots):
        tall = 1.15 + 0.23 * (i * 7 % 5)
        put(
            "reeds",
            f"Reeds {i + 1}",
            x,
            z,
            w,
            1.3,
            tall,
            reeds[i % 4],
            heading=(i * 37) % 50 - 25,
            group="Reeds",
        )
    put("backdrop", "Far bank", 0, -62, 170, 0.4, 3.4, "#8d9a8f", finish="trees", group="Far")
    put("backdrop", "Far trees", 18, -66, 90, 0.4, 6.8, "#9daaa4", finish="trees", group="Far")
    put("backdrop", "East bank", 74, -12, 110, 0.4, 3.0, "#96a196", heading=90, finish="trees", group="Far")
    put("backdrop", "West bank", -74, -12, 110, 0.4, 4.2, "#919d93", heading=90, finish="trees", group="Far")
    put("backdrop", "Landward trees", 0, 44, 170, 0.4, 8.0, "#87917d", finish="trees", group="Far")
    # The bank, and nets hung to dry.
    put("ramp", "Mud", 0, 3.6, 30, 2.4, 0.8, "#6d6450", base=-0.1, heading=180, group="Shore")
    for name, x in (("Net pole west", 9.6), ("Net pole east", 11.8)):
        put("post", name, x, 6.4, 0.11, 0.11, 1.5, tarred, base=0.7, group="Shore")
    put("box", "Net rail", 10.7, 6.4, 2.5, 0.07, 0.07, tarred, base=2.1, group="Shore")
    # Close to where the film begins, so that its camera rises out of them.
    for name, x, z, w, tall in (
        ("Reeds at the lens", -9.5, -1.0, 1.5, 1.45), ("Reeds to the left", -10.6, -1.9, 1.8, 1.6),
        ("Reeds to the right", -9.0, 0.3, 1.4, 1.3),
    ):  # fmt: skip
        put("reeds", name, x, z, w, 0.9, tall, reeds[len(out) % 4], heading=-44, group="Reeds")
    return out
