"""“Far Bank”: where the boat lands, and the second scene of “The Crossing”. All of it is invented."""

from functools import cache

from heron.commands import AnyCommand, run
from heron.commands.acts import AddAct
from heron.commands.cameras import AddCamera, Pose
from heron.commands.cut_edits import Fade
from heron.commands.cutting import EditCut
from heron.commands.figures import AddFigure
from heron.commands.focusing import SetFocus
from heron.commands.glass import MountLens, SetGlass
from heron.commands.movers import AddMover
from heron.commands.pieces import AddPiece
from heron.commands.rigs import AddLayer
from heron.commands.shots import AddShot
from heron.commands.starts import StartRig
from heron.commands.things import PutThing
from heron.curves import Channel
from heron.optics import FIRST_KIT
from heron.scene import Scene, Surround
from heron.scene.layers import Aim
from heron.stage.acts.body import Turn, Walk
from heron.stage.acts.hands import Beckon
from heron.stage.acts.look import LookAt
from heron.stage.figure import Look
from heron.stage.reference import OnFigure
from heron.timebase import Frames

FIRST, LAST = 1001, 1160


def _f(first: int, last: int) -> Frames:
    return Frames(first=first, last=last)


def _set() -> list[AnyCommand]:
    """A landing stage before a bank of mud, a hut, reeds to either side, and trees behind."""
    out: list[AnyCommand] = []

    def put(
        shape: str,
        name: str,
        at: tuple[float, float],
        size: tuple[float, float, float],
        colour: str,
        **more: object,
    ) -> None:
        out.append(
            AddPiece.model_validate(
                {
                    "id": f"far-{len(out) + 1:02d}", "shape": shape, "name": name, "x": at[0], "z": at[1],
                    "width": size[0], "depth": size[1], "height": size[2], "colour": colour, **more,
                }
            )
        )  # fmt: skip

    wood, tarred = "#a08664", "#564d45"
    put("platform", "Bank", (0, -14.0), (40, 12, 0.55), "#7b7357", group="Bank")
    put(
        "platform",
        "Landing stage",
        (0, -4.6),
        (2.0, 7.0, 0.14),
        wood,
        base=0.41,
        finish="boards",
        group="Landing",
    )
    for i, z in enumerate((-1.4, -4.2, -7.0)):
        for side in (-1, 1):
            put(
                "post",
                f"Pile {2 * i + (side > 0) + 1}",
                (side * 0.95, z),
                (0.22, 0.22, 1.15),
                tarred,
                group="Landing",
            )
    put(
        "box",
        "Hut",
        (4.6, -13.2),
        (3.2, 2.6, 2.3),
        "#8d7355",
        base=0.55,
        heading=-12,
        group="Hut",
        finish="boards",
    )
    put("box", "Hut roof", (4.6, -13.2), (3.7, 3.1, 0.25), "#5d4a3c", base=2.85, heading=-12, group="Hut")
    put("box", "Creel", (1.9, -9.4), (0.6, 0.5, 0.45), "#9a7d4f", base=0.55)
    put("post", "Bell post", (-1.8, -9.0), (0.16, 0.16, 2.6), tarred, base=0.55)
    put("box", "Bell", (-1.8, -9.0), (0.34, 0.34, 0.36), "#b98f45", base=2.9)
    for i, (x, z, wide) in enumerate(
        ((-5.6, -7.4, 4.2), (5.2, -7.2, 3.6), (-9.4, -8.0, 5.0), (9.6, -7.8, 5.2))
    ):
        put("reeds", f"Reeds {i + 1}", (x, z), (wide, 1.2, 1.9), "#8d8a58", group="Reeds")
    put("backdrop", "Trees", (0, -58), (160, 0.3, 8), "#66705f", finish="trees")
    return out


def _people() -> list[AnyCommand]:
    """Odile comes up the landing stage; Marl, who has waited by the bell, turns, beckons, and both look at each other."""
    odile = Look(coat="#2f6b78", trim="#d9b85f", build="slight", headwear="scarf", garment="skirt")
    marl = Look(coat="#5c6b46", trim="#c9b48a", build="broad", headwear="cap", garment="coat")
    walk = Walk(frames=_f(1010, 1128), points=((0.05, -3.6), (-0.15, -8.0)))
    return [
        AddFigure(id="fig-odile", name="Odile", stature=1.68, look=odile, x=0.0, z=-1.9),
        AddFigure(id="fig-marl", name="Marl", stature=1.74, look=marl, x=-0.75, z=-10.4, heading=120),
        AddAct(figure="fig-odile", act=walk),
        AddAct(figure="fig-marl", act=Turn(frames=_f(1046, 1074), heading=196)),
        AddAct(figure="fig-marl", act=Beckon(frames=_f(1080, 1112))),
        AddAct(figure="fig-odile", act=LookAt(at=OnFigure(figure="fig-marl"), frames=_f(1060, LAST))),
        AddAct(figure="fig-marl", act=LookAt(at=OnFigure(figure="fig-odile"), frames=_f(1064, LAST))),
    ]


def _boat() -> list[AnyCommand]:
    """The boat, let go of, drifts along the landing stage."""

    def at(x: float, z: float, pan: float) -> Pose:
        return Pose(x=x, y=0.02, z=z, pan=pan, tilt=0, roll=0)

    keys = ((FIRST, at(1.75, -2.2, 6)), (1080, at(1.95, -2.6, 12)), (LAST, at(2.3, -3.2, 20)))
    return [
        AddMover(id="mov-boat", name="Rowing boat", shape="boat", colour="#4f6f8a", pose=keys[0][1]),
        *(PutThing(thing="mov-boat", frame=frame, keep="key", **pose.model_dump()) for frame, pose in keys),
    ]


def _cameras() -> list[AnyCommand]:
    wide = Pose(x=6.4, y=1.7, z=1.6, pan=38, tilt=-2.5)
    meets = Pose(x=1.15, y=2.0, z=-10.9, pan=-170, tilt=-2)
    head = OnFigure(figure="fig-odile", joint="head")
    watches = Aim(at=(head,), x=Channel(rest=-0.12), y=Channel(rest=0.3), lag_s=Channel(rest=0.2))
    glass = (("cam-a", 32, 5.6, 800), ("cam-b", 65, 2.8, 200), ("cam-c", 50, 2.8, 200))
    return [
        AddCamera(id="cam-a", name="The landing", pose=wide, focal=32),
        AddCamera(id="cam-b", name="Odile comes up", pose=meets, focal=65),
        AddLayer(camera="cam-b", layer=watches),
        AddCamera(id="cam-c", name="Over Odile to Marl", pose=meets, focal=50),
        StartRig(camera="cam-c", shot="over the shoulder", figures=("fig-odile", "fig-marl"), frame=1146),
        *(
            command
            for camera, lens, stop, iso in glass
            for command in (MountLens(camera=camera, lens=f"lens-{lens}"), SetGlass(camera=camera, aperture=stop, iso=iso, far_m=120))
        ),
        SetFocus(camera="cam-a", on=OnFigure(figure="fig-odile")),
        SetFocus(camera="cam-b", on=OnFigure(figure="fig-odile")),
        SetFocus(camera="cam-c", on=OnFigure(figure="fig-marl")),
        AddShot(id="shot-050", camera="cam-a", stage=_f(1001, 1058), name="050"),
        AddShot(id="shot-060", camera="cam-b", stage=_f(1059, 1126), name="060"),
        AddShot(id="shot-070", camera="cam-c", stage=_f(1127, LAST), name="070"),
        EditCut(do=Fade(edit="fade_in", shots=("050",), frames=12)),
        EditCut(do=Fade(edit="fade_out", shots=("070",), frames=16)),
    ]  # fmt: skip


@cache
def far_bank() -> Scene:
    """The second scene of the demo's film."""
    surround = Surround(
        ground="#6f8386", sky_low="#f2ddc4", sky_high="#9fb4c6", sun_bearing=118, sun_height=26, light_ev=7.9,
        water=True, haze_m=60, fill=0.3, rim=0.2,
    )  # fmt: skip
    blank = Scene(name="Far Bank", frames=_f(FIRST, LAST), surround=surround, lenses=FIRST_KIT)
    return run(blank, [*_set(), *_people(), *_boat(), *_cameras()])[0]
