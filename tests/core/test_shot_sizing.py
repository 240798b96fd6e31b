"""Shots sized by name, reveals, keys that go with acts, and what moved when the acting changed."""

import json

import numpy as np
import pytest
from scipy.spatial.transform import Rotation
from test_rigs import DEMO, pixels, place, pose, samples

from heron.bake import Bake, ResultCache
from heron.commands import parse_commands, run
from heron.commands.left_behind import left_behind
from heron.errors import Refused
from heron.framing import project, shot_size
from heron.framing.moved import moved
from heron.scene import find, find_named
from heron.stage.reference import OnMover

FIRST = DEMO.frames.first


def done(scene=DEMO, **command):
    return run(scene, parse_commands(json.dumps(command)))


SIZES = [
    "extreme close-up", "close-up", "medium close-up", "medium", "medium full", "full", "wide", "extreme wide",
]  # fmt: skip


@pytest.mark.parametrize("size", SIZES)
@pytest.mark.parametrize(("letter", "frame"), [("B", 1200), ("G", 1100), ("E", 1210)])
def test_a_shot_is_given_its_size_by_going_nearer_or_farther(letter, frame, size):
    scene, said = done(
        kind="camera.shot_size", camera=f"cam-{letter.lower()}", figure="fig-odile", size=size, frame=frame
    )
    camera = find_named(scene, "cameras", letter)
    assert shot_size(Bake(scene, ResultCache()), camera, frame) == ("Odile", size)
    row, columns = samples(scene, letter).values[frame - FIRST], samples(scene, letter).columns
    eyes = place(scene, "eyes")[frame - FIRST]
    assert said[0].endswith(f"{size} from {np.linalg.norm(row[:3] - eyes):.2f} m away")
    x, y = pixels(row, columns, eyes)
    if letter != "G":  # G watches her head; the others are tilted so that her eyes are on the upper third
        assert y == pytest.approx(1080 / 3, abs=1)
    was = project(samples(DEMO, letter), place(DEMO, "eyes")).x[frame - FIRST]
    assert (x / 960 - 1) == pytest.approx(np.clip(was, -2 / 3, 2 / 3), abs=0.03)
    # By OpenCV: where the trade cuts a body (common practice), in shares of stature by the printed proportions.
    cut = {"close-up": 0.755, "medium close-up": 0.65, "medium": 0.56, "medium full": 0.2}.get(size)
    if cut:
        lowest = eyes - [0, (0.936 - cut) * 1.68, 0]
        assert pixels(row, columns, lowest)[1] == pytest.approx(1080, abs=3)


def test_a_short_figure_is_cut_at_the_hips_and_a_lens_answers_instead():
    small, _ = done(kind="figure.set", figure="fig-odile", stature=1.2)
    scene, _ = done(
        small, kind="camera.shot_size", camera="cam-b", figure="fig-odile", size="medium", frame=1200
    )
    row, eyes = samples(scene).values[1200 - FIRST], place(scene, "eyes")[1200 - FIRST]
    at_hips = eyes - [0, (0.936 - 0.50) * 1.2, 0]
    assert pixels(row, samples(scene).columns, at_hips)[1] == pytest.approx(1080, abs=3)
    scene, said = done(
        kind="camera.shot_size", camera="cam-b", figure="fig-odile", size="medium", by="lens", frame=1200
    )
    focal = samples(scene).column("focal_mm")[1200 - FIRST]
    camera = find_named(scene, "cameras", "B")
    assert said[0].endswith(f"in a medium at {focal:.3g} mm") and camera.mounted == "lens-zoom"
    np.testing.assert_array_equal(pose(scene)[1200 - FIRST, :3], pose(DEMO)[1200 - FIRST, :3])
    assert shot_size(Bake(scene, ResultCache()), camera, 1200) == ("Odile", "medium")
    for more, told in (
        ({"camera": "cam-b", "size": "extreme wide", "by": "lens"}, "No lens of the kit"),
        ({"camera": "cam-a", "size": "extreme close-up", "by": "lens"}, "Zoom 24–120 mm"),
        ({"camera": "cam-d", "size": "medium"}, "not in front of camera D"),
    ):
        with pytest.raises(Refused, match=told):
            done(kind="camera.shot_size", figure="fig-odile", frame=1200, **more)


def test_a_rise_reveals_what_is_beyond():
    scene, said = done(
        kind="rig.start", camera="cam-b", shot="rise and reveal", figures=["fig-odile"], frame=1190
    )
    assert said[0].startswith("Camera B is a rise and reveal of Odile: medium full")
    at, head = pose(scene), place(scene, "head")
    i, j = 1190 - FIRST, 1190 + 96 - FIRST
    assert at[j, 1] - at[i, 1] > 1.5 and abs(at[i, 1] - head[i, 1]) < 0.3
    seen, bram = (project(samples(scene), place(scene, "head", who)) for who in ("Odile", "Bram"))
    # Over her shoulder at about the height of her eyes, 2° above the head, and from 34° in the end, half as far again.
    away = [np.linalg.norm(at[k, :3] - head[k]) for k in (i, j)]
    assert away[1] / away[0] == pytest.approx(1.5, rel=1e-6)
    for k, degrees in ((i, 2.0), (j, 34.0)):
        assert np.degrees(
            np.arcsin((at[k, 1] - head[k, 1]) / np.linalg.norm(at[k, :3] - head[k]))
        ) == pytest.approx(degrees)
    # She sinks from the upper third to the lower, and whom she looks at comes in over her.
    eyes = project(samples(scene), place(scene, "eyes"))
    assert eyes.y[i] == pytest.approx(1 / 3, abs=3 / 540) and seen.y[j] == pytest.approx(-1 / 3)
    assert bram.inside[j] and bram.y[j] > seen.y[j] and bram.depth[j] > seen.depth[j]
    with pytest.raises(Refused, match="frames to rise in"):
        done(kind="rig.start", camera="cam-b", shot="rise and reveal", figures=["fig-odile"], frame=1319)


def bound(end="last", frame=1180):
    return done(
        kind="keys.bind", keys=[{"thing": "cam-f", "channel": "all", "frame": frame}], figure="fig-odile", act=DEMO.figures[0].acts[0].id,
        end=end,
    )  # fmt: skip


def test_a_bound_key_goes_with_its_act_and_undone_it_stays():
    scene, said = bound()
    assert said == ["Bound the key on camera F at 1180 to the end of Odile's walk"]
    np.testing.assert_array_equal(pose(scene, "F"), pose(DEMO, "F"))
    after, said = done(scene, kind="figure.pace", figure="fig-odile", speed=1.1)
    end = find_named(after, "figures", "Odile").acts[0].frames.last
    assert end > 1186 and "2 bound keys moved along" in said[0]
    frames = [k.frame for k in find_named(after, "cameras", "F").layers[0].distance_m.keys]
    assert frames == [1001, 1180 + end - 1186]
    free, _ = done(scene, kind="keys.bind", keys=[{"thing": "cam-f", "channel": "all", "frame": 1180}])
    stays, said = done(free, kind="figure.pace", figure="fig-odile", speed=1.1)
    assert [k.frame for k in find_named(stays, "cameras", "F").layers[0].distance_m.keys] == [1001, 1180]
    # Bound to the start, which stays where it is.
    stays, _ = done(bound("first")[0], kind="figure.pace", figure="fig-odile", speed=1.1)
    assert [k.frame for k in find_named(stays, "cameras", "F").layers[0].distance_m.keys] == [1001, 1180]
    # Another key in the way.
    keys = [{"thing": "cam-f", "channel": f"{find_named(scene, 'cameras', 'F').layers[0].id}.distance_m",
             "frame": 1180 + end - 1186, "value": 3.0}]  # fmt: skip
    blocked, _ = done(scene, kind="keys.set", keys=keys)
    blocked, said = done(blocked, kind="figure.pace", figure="fig-odile", speed=1.1)
    assert "stayed, for others are in the way" in said[0]
    assert 1180 in [k.frame for k in find_named(blocked, "cameras", "F").layers[0].distance_m.keys]


def test_the_panel_names_what_moved_and_exact_placements_are_not_on_it():
    scene, _ = done(kind="figure.pace", figure="fig-odile", speed=1.1)
    before, after = Bake(DEMO, ResultCache()), Bake(scene, ResultCache())
    found = moved(before, after)
    assert not {m.camera for m in found if m.what == "placement"} & {"cam-g", "cam-h", "cam-i"}
    hers = [m for m in found if m.subject == "fig-odile"]
    (placed,) = [m for m in hers if m.camera == "cam-b" and m.what == "placement"]
    seen = [
        project(b.samples(find_named(b.scene, "cameras", "B")), place(b.scene, "eyes"))
        for b in (before, after)
    ]
    air = slice(1165 - FIRST, 1233 - FIRST)  # shot 020
    off = np.hypot(seen[1].x - seen[0].x, seen[1].y - seen[0].y)[air]
    assert placed.frame == 1165 + int(np.argmax(off))
    assert (placed.was, placed.now) == pytest.approx([s.x[placed.frame - FIRST] for s in seen], abs=1e-3)
    # B's size by similar triangles: as the inverse of how far she is along its axis.
    (size,) = [m for m in hers if m.camera == "cam-b" and m.what == "size"]
    deep = [s.depth[size.frame - FIRST] for s in seen]
    assert size.now / size.was == pytest.approx(deep[0] / deep[1], rel=2e-3)
    assert moved(before, Bake(DEMO, ResultCache())) == []
    # A change of the camera itself is no news.
    own, _ = done(kind="thing.put", thing="cam-b", frame=1200, keep="path", x=-3.0)
    assert not [m for m in moved(before, Bake(own, ResultCache())) if m.camera == "cam-b"]


def test_a_thing_that_moves_has_a_line_of_its_own_where_it_is_seen():
    """Where the boat's middle sits, by the pinhole of an unturned reading of the camera's own row."""
    on, _ = done(kind="things.move", ids=["mov-boat"], dx=1.0)
    before, after = Bake(DEMO, ResultCache()), Bake(on, ResultCache())
    found = [m for m in moved(before, after) if m.subject == "mov-boat"]
    (line,) = [m for m in found if m.camera == "cam-a"]
    assert line.what == "placement" and line.sentence.startswith("Rowing boat sits at ")
    row = samples(DEMO, "A").values[line.frame - FIRST]
    eye, turn = row[:3], Rotation.from_euler("YXZ", row[3:6], degrees=True).inv()
    half = 36 / 2 / samples(DEMO, "A").column("focal_mm")[0]
    for bake, x in ((before, line.was), (after, line.now)):
        boat = bake.place(OnMover(mover="mov-boat"), np.array([line.frame]))[0]
        own = turn.apply(boat - eye)
        assert x == pytest.approx(own[0] / -own[2] / half, abs=0.01)
    # Whoever does not see it has no line for it.
    assert "cam-g" not in {m.camera for m in found}


def test_what_comes_between_and_what_goes_soft_are_named():
    b, eyes = pose(DEMO)[1200 - FIRST, :3], place(DEMO, "eyes")[1200 - FIRST]
    x, _, z = b + 0.5 * (eyes - b)
    wall, _ = done(kind="piece.add", shape="post", name="New post", x=x, z=z, width=0.3, depth=0.3, height=4)
    (way,) = [m for m in moved(Bake(DEMO, ResultCache()), Bake(wall, ResultCache())) if m.camera == "cam-b"]
    assert way.what == "in the way" and way.sentence.startswith("New post hides Odile's eyes at 1")
    # G watches her from its rail, focused by hand on where she stands in the end: led two metres off, she is soft there
    # by the thin lens (beyond the far limit that is printed for it), and as exactly placed as she was.
    deep = project(samples(DEMO, "G"), place(DEMO, "eyes")).depth[-1]
    fixed, _ = done(kind="focus.set", camera="cam-g", on={"kind": "distance", "metres": float(deep)})
    far = 1 / samples(fixed, "G").column("sharp_far_per_m")[-1]
    on, _ = done(fixed, kind="things.move", ids=["fig-odile"], dx=2.0)
    assert project(samples(on, "G"), place(on, "eyes")).depth[-1] > far
    news = {
        m.what: m for m in moved(Bake(fixed, ResultCache()), Bake(on, ResultCache())) if m.camera == "cam-g"
    }
    assert set(news) == {"size", "focus"} and news["focus"].was < 1 < news["focus"].now


def test_keys_left_behind_by_an_act_are_named_and_brought_along():
    scene, _ = done(kind="figure.pace", figure="fig-odile", speed=1.1)
    end = find_named(scene, "figures", "Odile").acts[0].frames.last
    (left,) = left_behind(DEMO, scene)
    assert left.by == end - 1186 and left.thing == "cam-g" and left.frame == 1186
    assert left.sentence == (
        f"1 key of camera G stood on the end of Odile's walk, which now ends at {end}: at 1186 it is "
        f"{end - 1186} frames early"
    )
    after, _ = done(scene, kind="keys.move", keys=[k.model_dump() for k in left.keys], by=left.by)
    assert left_behind(DEMO, after) == []
    assert (
        left_behind(bound()[0], done(bound()[0], kind="figure.pace", figure="fig-odile", speed=1.1)[0]) != []
    )


@pytest.mark.parametrize(("camera", "by"), [("cam-b", "distance"), ("cam-b", "lens"), ("cam-g", "distance")])
def test_two_people_are_framed_together(camera, by):
    """Both in the frame, the higher eyes on the upper third, their middle in its middle (common practice)."""
    size = {"kind": "camera.shot_size", "camera": camera, "figure": "fig-bram", "also": "fig-odile"}
    scene, said = done(**size, size="medium", by=by, frame=1200)
    letter = find(scene, "cameras", camera).letter
    both = [project(samples(scene, letter), place(scene, "eyes", who)) for who in ("Odile", "Bram")]
    i = 1200 - FIRST
    xs, ys = [one.x[i] for one in both], [one.y[i] for one in both]
    assert max(ys) == pytest.approx(1 / 3, abs=3 / 540) and sum(xs) == pytest.approx(0, abs=6 / 960)
    assert max(map(abs, xs)) < 0.63 and "frames Bram and Odile together" in said[0]


def test_a_focus_goes_to_whom_the_shot_is_sized_for():
    scene, _ = done(kind="camera.shot_size", camera="cam-b", figure="fig-bram", size="wide", frame=1200)
    assert find_named(scene, "cameras", "B").focus.on.figure == "fig-bram"
