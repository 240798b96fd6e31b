"""“Slack Tide”: a salt-marsh boathouse at dawn. All of it is invented."""

from functools import cache
from typing import Any

from heron.commands import AnyCommand, run
from heron.commands.cameras import AddCamera, Pose, SetCamera
from heron.commands.figures import AddAct, AddFigure
from heron.commands.focusing import RackFocus, SetFocus
from heron.commands.gazing import SetGaze
from heron.commands.glass import MountLens, SetGlass
from heron.commands.keys import KeyAt, ShapeKeys
from heron.commands.movers import AddMover
from heron.commands.pieces import AddPiece
from heron.commands.rigs import AddLayer
from heron.commands.shots import AddShot
from heron.commands.things import PutThing
from heron.curves import Channel, Key
from heron.optics import FIRST_KIT
from heron.scene import Scene, Surround
from heron.scene.layers import Aim, Breath, Carrier, Level, Rail, Trail
from heron.stage.figure import Gaze, Look, PointAt, Talk, Turn, Walk
from heron.stage.reference import AtPoint, OnFigure, OnMover, Spot
from heron.timebase import Frames

FIRST, LAST = 1001, 1320
_DECK = 0.55


def _f(first: int, last: int) -> Frames:
    return Frames(first=first, last=last)


def _set() -> list[AnyCommand]:
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
        base=_DECK,
        heading=180,
        finish="boards",
        group="Jetty",
    )
    put(
        "platform", "Jetty", 0, -3.9, 2.2, 12.2, 0.14, wood, base=_DECK - 0.14, finish="boards", group="Jetty"
    )
    put(
        "platform",
        "Jetty head",
        0,
        -10.9,
        5.2,
        3.6,
        0.14,
        wood,
        base=_DECK - 0.14,
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
    put("post", "Lamp post", -1.9, -12.3, 0.13, 0.13, 2.75, tarred, base=_DECK, group="Mooring")
    put("box", "Lamp", -1.9, -12.3, 0.26, 0.26, 0.36, "#d8b45a", base=_DECK + 2.75, group="Mooring")
    put("post", "Heron's post", 5.6, -15.2, 0.34, 0.34, 1.55, "#6a5f52", group="Mooring")
    put("box", "Crate", 1.75, -11.9, 0.7, 0.5, 0.45, pale, base=_DECK, heading=14, group="Jetty head things")
    put(
        "box",
        "Crate on crate",
        1.8,
        -11.88,
        0.42,
        0.4,
        0.32,
        "#b99a68",
        base=_DECK + 0.45,
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
    return out


def _people() -> list[AnyCommand]:
    odile = Look(coat="#2f6b78", trim="#d9b85f", build="slight", headwear="scarf", garment="skirt")
    bram = Look(coat="#8a4a34", trim="#e0d3b8", build="broad", headwear="cap", garment="coat")
    walk = Walk(frames=_f(1009, 1186), points=((0.15, -1.5), (-0.1, -5.0), (0.0, -8.5)))
    return [
        AddFigure(id="fig-odile", name="Odile", stature=1.68, look=odile, x=0.1, z=1.6),
        AddFigure(
            id="fig-bram", name="Bram", stature=1.86, look=bram, x=0.15, z=-10.2, heading=-25, holds="oar"
        ),
        AddAct(figure="fig-odile", act=walk),
        AddAct(figure="fig-odile", act=Talk(frames=_f(1192, 1238))),
        AddAct(figure="fig-odile", act=Turn(frames=_f(1288, 1312), heading=-42)),
        AddAct(figure="fig-bram", act=Turn(frames=_f(1118, 1150), heading=-185)),
        AddAct(figure="fig-bram", act=Talk(frames=_f(1236, 1266))),
        AddAct(figure="fig-bram", act=PointAt(frames=_f(1268, 1318), at=AtPoint(x=5.6, y=2.3, z=-15.2))),
    ]


def _gazes() -> list[AnyCommand]:
    """They look at each other while they talk, and after the bird as it rises."""
    odile, bram, heron = OnFigure(figure="fig-odile"), OnFigure(figure="fig-bram"), OnMover(mover="mov-heron")

    def looks(figure: str, at: Spot, first: int, last: int) -> AnyCommand:
        return SetGaze(
            figure=figure, gaze=Gaze(id=f"gaz-{figure[4:]}-{first}", at=at, frames=_f(first, last))
        )

    return [
        looks("fig-odile", bram, 1136, 1283), looks("fig-bram", odile, 1146, 1267),
        looks("fig-odile", heron, 1286, LAST), looks("fig-bram", heron, 1288, LAST),
    ]  # fmt: skip


def _key(thing: str, frame: int, pose: Pose) -> AnyCommand:
    return PutThing(thing=thing, frame=frame, keep="key", **pose.model_dump())


def _movers() -> list[AnyCommand]:
    def at(x: float, y: float, z: float, pan: float, tilt: float = 0.0, roll: float = 0.0) -> Pose:
        return Pose(x=x, y=y, z=z, pan=pan, tilt=tilt, roll=roll)

    perched = at(5.6, 1.55, -15.2, 35)
    out: list[AnyCommand] = [
        AddMover(id="mov-heron", name="Heron", shape="heron", colour="#7d8a96", pose=perched),
        AddMover(
            id="mov-boat", name="Rowing boat", shape="boat", colour="#4f6f8a", pose=at(-3.6, 0.02, -7.2, 12)
        ),
        _key("mov-heron", 1001, perched),
        _key("mov-heron", 1284, perched),
        _key("mov-heron", 1294, at(5.75, 2.0, -15.6, 20, -14)),
        _key("mov-heron", 1320, at(7.6, 5.4, -20.5, 8, 12, 6)),
        # It is still on its way at the end.
        ShapeKeys(keys=(KeyAt(thing="mov-heron", channel="pose", frame=1320),), before="straight"),
    ]
    drift = (
        (1001, -3.6, -7.2, 12),
        (1090, -3.45, -7.45, 17),
        (1180, -3.7, -7.6, 9),
        (1260, -3.5, -7.25, 14),
        (1320, -3.6, -7.1, 12),
    )
    for i, (frame, x, z, pan) in enumerate(drift):
        out.append(_key("mov-boat", frame, at(x, 0.02, z, pan, 0.4 * (-1) ** i, 1.2 * (-1) ** i)))
    return out


def _cameras() -> list[AnyCommand]:
    wide = Pose(x=-7.4, y=1.75, z=-3.4, pan=-58, tilt=-1.5)
    over_bram = Pose(x=-1.18, y=2.2, z=-11.8, pan=204.8, tilt=-1.8)
    nearer = Pose(x=-1.14, y=2.22, z=-11.62, pan=205.0, tilt=-1.3)
    over_odile = Pose(x=-1.0, y=2.2, z=-6.7, pan=-27.0, tilt=-1.0)
    post = Pose(x=1.9, y=1.75, z=-10.1, pan=-35.5, tilt=3.4)
    close = Pose(x=-0.78, y=2.03, z=-9.6, pan=-143, tilt=0)
    return [
        AddCamera(id="cam-a", name="Wide on the jetty", pose=wide, focal=32),
        AddCamera(id="cam-b", name="Odile over Bram", pose=over_bram, focal=50),
        AddCamera(id="cam-c", name="Bram and the post", pose=over_odile, focal=40),
        AddCamera(id="cam-d", name="Heron rises", pose=post, focal=85),
        AddCamera(id="cam-e", name="Odile, close", pose=close, focal=50),
        _key("cam-b", 1170, over_bram),
        _key("cam-b", 1236, nearer),
        *_carried(),
        *_glass(),
        AddShot(id="shot-010", camera="cam-a", stage=_f(1064, 1176), name="010"),
        AddShot(id="shot-020", camera="cam-b", stage=_f(1165, 1232), name="020"),
        AddShot(id="shot-030", camera="cam-c", stage=_f(1233, 1283), name="030"),
        AddShot(id="shot-040", camera="cam-d", stage=_f(1278, 1320), name="040"),
    ]


def _carried() -> list[AnyCommand]:
    """Cameras that carry themselves: the heron's rise is tipped up to, and four cover the walk however it is walked."""
    head = OnFigure(figure="fig-odile", joint="head")
    root = OnFigure(figure="fig-odile", joint="root")
    calm = {"place_mm": Channel(rest=4.0), "turn_deg": Channel(rest=0.3)}

    def at(*keys: tuple[int, float]) -> Channel:
        return Channel(rest=keys[0][1], keys=tuple(Key(frame=f, value=v) for f, v in keys))

    lead = Trail(
        of=root, angle_deg=at((1001, 12), (1110, 14), (1180, 52)), distance_m=at((1001, 3.2), (1180, 2.6)),
        height_m=Channel(rest=1.5), lag_s=Channel(rest=0.35), lag_height_s=Channel(rest=0.35),
    )  # fmt: skip
    side = Rail(
        points=((-4.6, 1.9, 2.2), (-4.9, 1.9, -2.0), (-4.4, 1.95, -5.4)), metres=at((1009, 0.4), (1186, 6.9))
    )
    over = Carrier(
        on=root, how="all", x_m=Channel(rest=0.4), y_m=Channel(rest=1.62), z_m=Channel(rest=1.35),
        pan_deg=Channel(rest=6.0), tilt_deg=Channel(rest=-1.0),
    )  # fmt: skip
    afloat = Carrier(
        on=OnMover(mover="mov-boat"),
        how="all",
        x_m=Channel(rest=0.1),
        y_m=Channel(rest=0.95),
        z_m=Channel(rest=0.7),
    )

    def watches(spot: Spot, x: float, y: float, late: float = 0.0) -> Aim:
        return Aim(at=(spot,), x=Channel(rest=x), y=Channel(rest=y), lag_s=Channel(rest=late))

    bram = OnFigure(figure="fig-bram", joint="head")
    rise = Aim(at=(OnMover(mover="mov-heron"),), x=Channel(rest=0.02), y=at((1286, -0.12), (1318, 0.2)))
    rigs: tuple[tuple[Any, ...], ...] = (
        (
            "cam-f",
            "Odile, leading her",
            40.0,
            lead,
            watches(head, -0.18, 1 / 3, 0.15),
            Breath(seed=2, **calm),
        ),
        ("cam-g", "Odile from the side", 50.0, side, watches(head, 1 / 3, 1 / 3)),
        ("cam-h", "Over Odile to Bram", 40.0, over, watches(bram, 0.3, 1 / 3)),
        ("cam-i", "Odile from the boat", 65.0, afloat, watches(head, 0.15, 1 / 3), Level()),
    )
    stands = Pose(x=-2.0, y=2.0, z=0.0, pan=0, tilt=0)
    out: list[AnyCommand] = [AddLayer(camera="cam-d", layer=rise)]
    for id_, name, focal, *layers in rigs:
        out.append(AddCamera(id=id_, name=name, pose=stands, focal=focal))
        out += [AddLayer(camera=id_, layer=layer) for layer in layers]
        out.append(SetCamera(camera=id_, group="On the walk"))
    return out


def _glass() -> list[AnyCommand]:
    """Each camera's lens, stop and focus; one rack, from the oar to the heron. Every one of them exposes alike."""
    odile, oar = OnFigure(figure="fig-odile"), OnFigure(figure="fig-bram", joint="wrist_l")
    heron = OnMover(mover="mov-heron")
    lenses = (
        ("cam-a", "zoom", 5.6, 800),
        ("cam-b", 50, 2.8, 200),
        ("cam-c", 40, 1.4, 50),
        ("cam-d", 85, 4.0, 400),
        ("cam-e", 50, 2.0, 100),
        ("cam-f", 40, 2.8, 200),
        ("cam-g", 50, 2.8, 200),
        ("cam-h", 40, 2.8, 200),
        ("cam-i", 65, 4.0, 400),
    )
    out: list[AnyCommand] = []
    for camera, lens, stop, iso in lenses:
        out += [
            MountLens(camera=camera, lens=f"lens-{lens}"),
            SetGlass(camera=camera, aperture=stop, iso=iso, far_m=120),
        ]
    return [
        *out,
        SetFocus(camera="cam-a", on=odile),
        SetFocus(camera="cam-b", on=odile),
        SetFocus(camera="cam-c", on=oar),
        RackFocus(camera="cam-c", frame=1266, over=14, on=heron),
        SetFocus(camera="cam-d", on=heron),
        SetFocus(camera="cam-e", on=odile),
        SetFocus(camera="cam-f", on=odile),
        SetFocus(camera="cam-g", on=odile),
        SetFocus(camera="cam-h", on=OnFigure(figure="fig-bram")),
        SetFocus(camera="cam-i", on=odile),
    ]


@cache
def slack_tide() -> Scene:
    """The demo scene: a walk, a talk, a thing far off, a rise, a thing afloat, cameras by hand and by layers, a cut."""
    surround = Surround(
        ground="#6f8386", sky_low="#f2ddc4", sky_high="#9fb4c6", sun_bearing=62, sun_height=22, light_ev=7.6,
        water=True, haze_m=42, fill=0.3, rim=0.2,
    )  # fmt: skip
    blank = Scene(name="Slack Tide", frames=_f(FIRST, LAST), surround=surround, lenses=FIRST_KIT)
    return run(blank, [*_set(), *_people(), *_movers(), *_gazes(), *_cameras()])[0]
