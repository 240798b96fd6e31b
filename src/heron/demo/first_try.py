"""“Slack Tide, first try”: the same scene before anybody looked twice, with what a careful eye would say of it."""

from functools import cache

import numpy as np

from heron.bake import Bake
from heron.commands import AnyCommand, run
from heron.commands.cameras import AddCamera, Pose
from heron.commands.focusing import SetFocus
from heron.commands.glass import SetGlass
from heron.commands.noting import BringBack
from heron.commands.pieces import AddPiece
from heron.commands.shots import AddShot, DeleteShot, SetShot
from heron.commands.things import PutThing
from heron.demo import slack_tide
from heron.framing.composing import aimed
from heron.optics import field_of_view
from heron.scene import Scene
from heron.scene.focus import AtDistance
from heron.stage.reference import OnFigure
from heron.timebase import Frames

ODILE, BRAM = "fig-odile", "fig-bram"
#: What is wrong, and in which shot: of a cut, in the one after it.
PLANTED = (
    ("roll", "010"), ("time", "020"), ("joint-cut", "020"), ("inside", "030"), ("headroom-high", "040"), ("line-of-action", "050"),
    ("short", "060"), ("lens", "060"), ("growing-out", "070"), ("jump", "080"), ("focus", "090"), ("gap", "100"),
    ("face-hidden", "100"),
)  # fmt: skip
_CUT = (
    ("cam-a", 1064, 1110), ("knees", 1121, 1150), ("crate", 1151, 1186), ("low", 1187, 1204), ("across", 1205, 1222),
    ("near", 1223, 1230), ("pole", 1231, 1250), ("again", 1251, 1268), ("soft", 1269, 1286), ("board", 1287, 1320),
)  # fmt: skip


@cache
def first_try() -> Scene:
    """The untidy scene."""
    scene = slack_tide()
    done: list[AnyCommand] = [DeleteShot(shot=shot.id) for shot in scene.shots]
    done += [BringBack(aside=one.id) for one in scene.noting.aside]
    scene, _ = run(scene, done)
    cameras = [
        _camera(scene, "knees", "Bram, knees", BRAM, 1130, -25, 3.42, (0.0, 0.40), 40),
        _camera(scene, "crate", "From the crates", BRAM, 1170, -60, 3.2, (0.0, 0.33), 40),
        _camera(scene, "low", "Odile, low in the frame", ODILE, 1195, -150, 2.0, (0.15, -0.15), 50),
        _camera(scene, "across", "Bram, from the right", BRAM, 1213, 35, 2.0, (0.2, 0.33), 50),
        _camera(scene, "near", "Bram, very near", BRAM, 1226, -30, 0.62, (-0.2, 0.33), 18),
        _camera(scene, "pole", "Odile and the pole", ODILE, 1240, -155, 2.2, (0.15, 0.33), 40),
        _camera(scene, "again", "Odile, once more", ODILE, 1260, -145, 1.9, (0.15, 0.33), 40),
        _camera(scene, "soft", "Bram, soft", BRAM, 1277, -32, 2.0, (-0.2, 0.33), 65),
        _camera(scene, "board", "Odile behind a board", ODILE, 1300, -120, 2.4, (0.15, 0.33), 50),
    ]
    shots = [
        AddShot(
            id=f"try-{k}",
            camera=camera,
            name=f"0{k}0" if k < 10 else "100",
            stage=Frames(first=first, last=last),
        )
        for k, (camera, first, last) in enumerate(_CUT, 1)
    ]
    faults: list[AnyCommand] = [
        PutThing(thing="cam-a", frame=1064, keep="rest", roll=1.8),
        SetFocus(camera="soft", on=AtDistance(metres=1.1), frame=1269),
        SetShot(shot="try-10", gap_before=10),
        SetGlass(camera="pole", aperture=11.0),
    ]
    scene, _ = run(scene, [*cameras, *shots, *faults])
    scene, _ = run(scene, _set(scene))
    return scene.having(name="Slack Tide, first try")


def _eyes(scene: Scene, who: str, frame: int) -> np.ndarray:
    return np.asarray(Bake(scene).place(OnFigure(figure=who, joint="eyes"), np.array([frame]))[0])


def _camera(
    scene: Scene, id_: str, name: str, who: str, frame: int, bearing: float, far: float, at: tuple[float, float], focal: float
) -> AddCamera:  # fmt: skip
    """Level with somebody's eyes, so far off and so far round them, that has them at a place of the frame."""
    eyes, turn = _eyes(scene, who, frame), np.radians(bearing)
    place = eyes + far * np.array([np.sin(turn), 0.0, np.cos(turn)])
    half = np.tan(
        np.radians(field_of_view(scene.first_lens.on, scene.delivery.aspect, np.array([focal]))[0][:2]) / 2
    )
    pan, tilt = aimed(place, eyes, at, half) or (0.0, 0.0)
    x, y, z = (round(float(v), 3) for v in place)
    pose = Pose(x=x, y=y, z=z, pan=round(pan, 2), tilt=round(tilt, 2), roll=0.0)
    return AddCamera(
        id=id_, name=name, pose=pose, focal=focal, focus=OnFigure(figure=who, joint="eyes"), frame=frame
    )


def _set(scene: Scene) -> list[AnyCommand]:
    """What stands in the wrong place: behind her head, before her face, and round a camera."""

    def along(camera: str, who: str, frame: int, metres: float) -> tuple[float, float]:
        """x and z on the way from a camera past somebody's eyes: so far beyond them, or less than nothing before."""
        lens = next(one for one in scene.cameras if one.id == camera)
        place, eyes = np.array([lens.x.rest, lens.z.rest]), _eyes(scene, who, frame)[[0, 2]]
        way = (eyes - place) / np.linalg.norm(eyes - place)
        x, z = eyes + metres * way
        return round(float(x), 3), round(float(z), 3)

    crate = next(one for one in scene.cameras if one.id == "crate")
    pole, board = along("pole", ODILE, 1240, 2.4), along("board", ODILE, 1300, -1.7)
    return [
        AddPiece(name="Pole", shape="post", x=pole[0], z=pole[1], width=0.14, depth=0.14, height=4.2, base=0.0, colour="#4a3b2e"),
        AddPiece(name="Notice board", shape="box", x=board[0], z=board[1], width=0.16, depth=0.05, height=0.24, base=2.0, heading=-120),
        AddPiece(name="Net crate", shape="box", x=crate.x.rest, z=crate.z.rest, width=0.9, depth=0.9, height=0.9, base=round(crate.y.rest - 0.45, 3)),
    ]  # fmt: skip
