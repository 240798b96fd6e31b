"""“Slack Tide”: a salt-marsh boathouse at dawn. All of it is invented."""

from functools import cache
from typing import Any

from heron.assembling import Wishes
from heron.commands import AnyCommand, run
from heron.commands.acts import AddAct
from heron.commands.assembling import AssembleCut
from heron.commands.binding import Hang
from heron.commands.cameras import AddCamera, Pose, SetCamera
from heron.commands.covering import TakeCoverage
from heron.commands.cut_edits import AddVersion, Dissolve, Fade, MoveEdges
from heron.commands.cutting import EditCut
from heron.commands.figures import AddFigure
from heron.commands.focusing import RackFocus, SetFocus
from heron.commands.glass import MountLens, SetGlass
from heron.commands.kept_cuts import UseCut
from heron.commands.keys import KeyAt, ShapeKeys
from heron.commands.lines import AddLine
from heron.commands.movers import AddMover
from heron.commands.moving_parts import LightMover, MakeMover
from heron.commands.numbers import SetNumber
from heron.commands.perches import SavePerch
from heron.commands.registry import DressShot
from heron.commands.rigs import AddLayer
from heron.commands.shots import AddShot
from heron.commands.starts import StartRig
from heron.commands.things import PutThing
from heron.commands.view import View
from heron.curves import Channel, Key
from heron.curves.feel import Feel
from heron.demo.looked_over import looked_over
from heron.demo.operated import operated
from heron.demo.set_pieces import set_pieces
from heron.optics import FIRST_KIT
from heron.scene import Scene, Surround, find
from heron.scene.layers import Aim, Breath, Carrier, Flight, Leg, Level, Rail, Trail
from heron.stage.acts.body import Laugh, Talk, Turn, Walk
from heron.stage.acts.face import Express, Expression
from heron.stage.acts.hands import FoldArms, HandOver, Hold, PointAt
from heron.stage.acts.look import LookAt, Nod
from heron.stage.acts.pose import Pose as ActPose
from heron.stage.figure import Look
from heron.stage.reference import AtPoint, OnFigure, OnMover, OnPerch, Spot
from heron.timebase import Frames

FIRST, LAST = 1001, 1320


def _f(first: int, last: int) -> Frames:
    return Frames(first=first, last=last)


def _people() -> list[AnyCommand]:
    odile = Look(coat="#2f6b78", trim="#d9b85f", build="slight", headwear="scarf", garment="skirt")
    bram = Look(coat="#8a4a34", trim="#e0d3b8", build="broad", headwear="cap", garment="coat")
    walk = Walk(frames=_f(1009, 1186), points=((0.15, -1.5), (-0.1, -5.0), (0.0, -8.5)))
    return [
        AddFigure(id="fig-odile", name="Odile", stature=1.68, look=odile, x=0.1, z=1.6),
        AddFigure(id="fig-bram", name="Bram", stature=1.86, look=bram, x=0.15, z=-9.7, heading=-25),
        AddAct(figure="fig-odile", act=walk),
        AddAct(figure="fig-odile", act=Talk(frames=_f(1192, 1238))),
        AddAct(figure="fig-odile", act=Turn(frames=_f(1288, 1312), heading=-42)),
        AddAct(figure="fig-bram", act=Turn(frames=_f(1118, 1150), heading=-185)),
        AddAct(figure="fig-bram", act=Talk(frames=_f(1236, 1266))),
        AddAct(figure="fig-bram", act=PointAt(frames=_f(1268, 1318), at=AtPoint(x=6.5, y=2.3, z=-14.4))),
    ]


def _oar() -> list[AnyCommand]:
    """He leans on the oar until he hears her, hands it to her while she talks, and folds his arms."""
    stands = Pose(x=0.4, y=0.5, z=-9.7, pan=-25, tilt=0, roll=0)
    numbers = {"bend": 11.0, "side_bend": -4.0, "head_raise": -9.0, "hips_across": -0.03}
    bent = ActPose.model_validate({"name": "Bent by the wait", "frames": _f(FIRST, 1128), **numbers})
    return [
        AddMover(id="mov-oar", name="Oar", shape="oar", pose=stands),
        *(
            AddAct(figure="fig-bram", act=act)
            for act in (
                bent,
                Hold(what="mov-oar", hand="left", frames=_f(FIRST, 1012)),
                HandOver(what="mov-oar", to="fig-odile", hand="left", frames=_f(1186, 1232)),
                FoldArms(frames=_f(1236, 1267)),
            )
        ),
    ]


def _lamp() -> list[AnyCommand]:
    """The lamp on its post is lit: a warm pool of light on the boards about it."""
    return [
        MakeMover(id="mov-lamp", ids=("set-18",)),
        LightMover(mover="mov-lamp", spread="round", colour="#ffcf8a", reach_m=9.0),
        SetNumber(thing="mov-lamp", channel="light.stops", value=2.2, frame=FIRST),
    ]


def _gazes() -> list[AnyCommand]:
    """They look at each other while they talk, and after the bird as it rises."""
    odile, bram, heron = OnFigure(figure="fig-odile"), OnFigure(figure="fig-bram"), OnMover(mover="mov-heron")

    def looks(figure: str, at: Spot, first: int, last: int) -> AnyCommand:
        return AddAct(
            figure=figure, act=LookAt(id=f"gaz-{figure[4:]}-{first}", at=at, frames=_f(first, last))
        )

    def shows(
        figure: str, expression: Expression, amount: float | Channel, first: int, last: int
    ) -> AnyCommand:
        return AddAct(
            figure=figure,
            act=Express(expression=expression, amount=Channel.model_validate(amount), frames=_f(first, last)),
        )

    return [
        # He has missed the crossing and doubts that she will take him; she laughs at what he says.
        shows("fig-bram", "tired", 0.5, FIRST, 1112), shows("fig-bram", "doubt", 0.9, 1150, 1235),
        shows("fig-bram", "tender", 0.9, 1244, 1290), shows("fig-bram", "surprise", 0.55, 1291, LAST),
        shows("fig-odile", "joy", _keyed((1184, 0.3), (1226, 0.75)), 1176, 1236), shows("fig-odile", "laugh", 0.85, 1241, 1282),
        shows("fig-odile", "surprise", 0.5, 1288, LAST),
        AddAct(figure="fig-odile", act=Laugh(frames=_f(1241, 1282), energy=0.8)),
        AddAct(figure="fig-odile", act=Nod(frames=_f(1206, 1236))),
        AddAct(figure="fig-bram", act=Nod(frames=_f(1186, 1216), energy=0.7)),
        looks("fig-odile", bram, 1136, 1283), looks("fig-bram", odile, 1146, 1267),
        looks("fig-odile", heron, 1286, LAST), looks("fig-bram", heron, 1288, LAST),
    ]  # fmt: skip


def _keyed(*keys: tuple[int, float]) -> Channel:
    return Channel(rest=keys[0][1], keys=tuple(Key(frame=f, value=v) for f, v in keys))


def _key(thing: str, frame: int, pose: Pose) -> AnyCommand:
    return PutThing(thing=thing, frame=frame, keep="key", **pose.model_dump())


def _movers() -> list[AnyCommand]:
    def at(x: float, y: float, z: float, pan: float, tilt: float = 0.0, roll: float = 0.0) -> Pose:
        return Pose(x=x, y=y, z=z, pan=pan, tilt=tilt, roll=roll)

    perched = at(6.5, 1.55, -14.4, 35)
    out: list[AnyCommand] = [
        AddMover(id="mov-heron", name="Heron", shape="heron", colour="#7d8a96", pose=perched),
        AddMover(
            id="mov-boat", name="Rowing boat", shape="boat", colour="#4f6f8a", pose=at(-3.6, 0.02, -7.2, 12)
        ),
        _key("mov-heron", 1001, perched),
        _key("mov-heron", 1284, perched),
        _key("mov-heron", 1294, at(6.65, 2.0, -14.8, 20, -14)),
        _key("mov-heron", 1320, at(8.5, 5.4, -19.7, 8, 12, 6)),
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
    wide = Pose(x=-8.0, y=1.75, z=1.5, pan=-48, tilt=-3.5)
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

    lead = Trail(
        of=root, angle_deg=_keyed((1001, 12), (1110, 14), (1180, 52)), distance_m=_keyed((1001, 3.2), (1180, 2.6)),
        height_m=Channel(rest=1.5), lag_s=Channel(rest=0.35), lag_height_s=Channel(rest=0.35),
    )  # fmt: skip
    side = Rail(
        points=((-4.6, 1.9, 2.2), (-4.9, 1.9, -2.0), (-4.4, 1.95, -5.4)),
        metres=_keyed((1009, 0.4), (1186, 6.9)),
    )
    afloat = Carrier(
        on=OnMover(mover="mov-boat"),
        how="all",
        x_m=Channel(rest=0.1),
        y_m=Channel(rest=0.95),
        z_m=Channel(rest=0.7),
    )

    def watches(spot: Spot, x: float, y: float, late: float = 0.0) -> Aim:
        return Aim(at=(spot,), x=Channel(rest=x), y=Channel(rest=y), lag_s=Channel(rest=late))

    rise = Aim(at=(OnMover(mover="mov-heron"),), x=Channel(rest=0.02), y=_keyed((1286, -0.12), (1318, 0.2)))
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
        ("cam-h", "Over Odile to Bram", 50.0),
        ("cam-i", "Odile from the boat", 65.0, afloat, watches(head, 0.15, 1 / 3), Level()),
    )
    stands = Pose(x=-2.0, y=2.0, z=0.0, pan=0, tilt=0)
    out: list[AnyCommand] = [AddLayer(camera="cam-d", layer=rise)]
    for id_, name, focal, *layers in rigs:
        out.append(AddCamera(id=id_, name=name, pose=stands, focal=focal))
        out += [AddLayer(camera=id_, layer=layer) for layer in layers]
        out.append(SetCamera(camera=id_, group="On the walk"))
    over = StartRig(camera="cam-h", shot="over the shoulder", figures=("fig-odile", "fig-bram"), frame=1200)
    return [*out, over]


def _flight() -> list[AnyCommand]:
    """Four perches out of the reeds, and the camera that opens the film along them: it comes down on Bram."""
    views = (
        ("reeds", "In the reeds", (-10.2, 0.75, -0.2, -44, 4)), ("rise", "Over the reeds", (-9.6, 2.5, -1.2, -57, -5)),
        ("water", "Over the water", (-8.5, 2.7, -2.9, -60, -6)), ("wide", "On Bram", (-6.6, 2.0, -4.4, -52, -3)),
    )  # fmt: skip
    out: list[AnyCommand] = [
        SavePerch(
            id=f"per-{id_}", name=name, group="Opening", frame=FIRST,
            view=View(**dict(zip(("x", "y", "z", "pan", "tilt"), at, strict=True)), focal=32),
        )
        for id_, name, at in views
    ]  # fmt: skip
    feels: tuple[Feel, ...] = ("soft", "soft start", "constant", "soft end")
    legs = tuple(
        Leg(to=OnPerch(perch=f"per-{id_}"), frames=frames, feel=feel)
        for (id_, _, _), frames, feel in zip(views, (1, 26, 18, 18), feels, strict=True)
    )
    stands = Pose(x=-10.2, y=0.75, z=-0.2, pan=-44, tilt=4)
    return [
        *out,
        AddCamera(id="cam-j", name="Out of the reeds", pose=stands, focal=32),
        AddLayer(camera="cam-j", layer=Flight(id="lay-flight", first=FIRST, legs=legs)),
        MountLens(camera="cam-j", lens="lens-zoom"),
        SetGlass(camera="cam-j", aperture=5.6, iso=800, far_m=120),
        SetFocus(camera="cam-j", on=OnFigure(figure="fig-bram")),
        AddShot(id="shot-005", camera="cam-j", stage=_f(FIRST, 1063), name="005", before="shot-010"),
        # The fine cut: no action is seen twice.
        EditCut(do=MoveEdges(edit="trim_out", shots=("010",), by=1164 - 1176)),
        EditCut(do=MoveEdges(edit="trim_in", shots=("040",), by=1284 - 1278)),
        # Out of the reeds on to the jetty, and black after the heron; 030 was tried on her face as well.
        EditCut(do=Dissolve(edit="dissolve", shots=("010",), frames=(8, 8))),
        EditCut(do=Fade(edit="fade_out", shots=("040",), frames=16)),
        EditCut(do=AddVersion(edit="add_version", shots=("030",), name="On her face", camera="E")),
        # The pile beside her is cheated 20 cm away from her, for this shot alone.
        DressShot(shot="shot-020", command={"kind": "piece.set", "piece": "set-10", "x": 0.82}),
    ]


def _glass() -> list[AnyCommand]:
    """Each camera's lens, stop and focus; one rack, from Bram to the heron. Every one of them exposes alike."""
    odile, bram = OnFigure(figure="fig-odile"), OnFigure(figure="fig-bram")
    heron = OnMover(mover="mov-heron")
    lenses = (
        ("cam-a", "zoom", 5.6, 800),
        ("cam-b", 50, 2.8, 200),
        ("cam-c", 40, 1.4, 50),
        ("cam-d", 85, 4.0, 400),
        ("cam-e", 50, 2.0, 100),
        ("cam-f", 40, 2.8, 200),
        ("cam-g", 50, 2.8, 200),
        ("cam-h", 50, 2.8, 200),
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
        SetFocus(camera="cam-c", on=bram),
        RackFocus(camera="cam-c", frame=1266, over=14, on=heron),
        SetFocus(camera="cam-d", on=heron),
        SetFocus(camera="cam-e", on=odile),
        SetFocus(camera="cam-f", on=odile),
        SetFocus(camera="cam-g", on=odile),
        SetFocus(camera="cam-h", on=bram),
        SetFocus(camera="cam-i", on=odile),
    ]


def _lines() -> list[AnyCommand]:
    """She calls him from the walk; he has missed the tide, and so will wait, until the heron leaves on his last line."""
    odile, bram = "fig-odile", "fig-bram"
    return [
        AddLine(id="line-1", figure=odile, text="Bram!", first=1100),
        AddLine(id="line-2", figure=bram, text="Still here.", first=1124),
        AddLine(id="line-3", figure=odile, text="You've missed the tide.", first=1192),
        AddLine(id="line-4", figure=bram, text="Then I'll wait.", pause=2),
        AddLine(id="line-5", figure=odile, text="Like the heron?", pause=0),
        AddLine(id="line-6", figure=bram, text="She's leaving.", pause=-8),
    ]


def _hung(scene: Scene) -> list[AnyCommand]:
    """His nod hangs on her *missed*, the cut to both of them on her *tide*, and his surprise on his own *leaving*."""
    acts = {act.called: act.id or "" for act in find(scene, "figures", "fig-bram").acts}
    return [
        Hang(line="line-3", word=1, acts=(("fig-bram", acts["nod"]),)),
        Hang(line="line-3", word=3, shots=("shot-030",)),
        Hang(line="line-6", word=1, acts=(("fig-bram", acts["surprise"]),)),
    ]


def _covered() -> list[AnyCommand]:
    """Two cameras of the coverage that is proposed where they talk, changed by hand: hers looks up
    from lower down, his looks past the oar."""
    return [
        TakeCoverage(
            id="cover",
            figures=("fig-odile", "fig-bram"),
            frame=1220,
            keys=("single-fig-odile", "close-fig-bram"),
        ),
        SetNumber(thing="cover-3", channel="y", frame=1220, value=2.02),
        SetNumber(thing="cover-3", channel="tilt", frame=1220, value=0.4),
        *(
            SetNumber(thing="cover-6", channel=channel, frame=1220, value=value)
            for channel, value in (("x", -0.55), ("z", -8.1), ("pan", -28.4), ("focal", 75))
        ),
    ]


def _assembled(scene: Scene) -> Scene:
    """The first assembly is kept beside the cut that plays."""
    named = scene.having(cut_name="Final cut")
    return run(
        named,
        [AssembleCut(id="first", name="First assembly", wishes=Wishes(close=0.8)), UseCut(cut="first-was-0")],
    )[0]


@cache
def slack_tide() -> Scene:
    """The demo scene: a walk, a talk, a thing far off, a rise, a thing afloat, cameras by hand and by layers, a cut."""
    surround = Surround(
        ground="#6f8386", sky_low="#f2ddc4", sky_high="#9fb4c6", sun_bearing=62, sun_height=22, light_ev=7.6,
        water=True, haze_m=42, fill=0.3, rim=0.2,
    )  # fmt: skip
    blank = Scene(name="Slack Tide", frames=_f(FIRST, LAST), surround=surround, lenses=FIRST_KIT)
    return run(blank, [*set_pieces(), *_people(), *_movers(), *_oar(), *_lamp(), *_gazes(), *_cameras()])[0]


#: 010 of it, cut live: letters, and seconds since its first frame of the cut.
CUT_LIVE = {
    "kind": "cut.edit",
    "do": {"edit": "live", "start": 63, "to": 163, "presses": [[0, "A"], [1.95, "F"], [3.3, "A"]]},
}


@cache
def slack_tide_film() -> Scene:
    """The demo as it is shown: the same, cut finely and opened by a flight along four perches, with a camera worked by hand."""
    scene = run(slack_tide(), [*_flight(), *_lines()])[0]
    scene = run(scene, [*_hung(scene), *_covered()])[0]
    return run(_assembled(run(scene, operated(scene))[0]), looked_over())[0]
