"""Renders as a worker makes them: pictures against stills, streaks against the core, and work that outlives whoever does it."""

import contextlib
import json
import os
import signal
import socket
import subprocess
import sys
import time
from pathlib import Path

import numpy as np
import pytest
from harness import ROOT, Server
from renders import FINE, QUICK, begin, bring, do, drawer, pixels, short, told, wait

from heron.bake import Bake
from heron.dailies.asked import Render
from heron.dailies.frames import plan
from heron.framing.project import project
from heron.scene import find
from heron.scene.document import empty_scene


def media(server):
    return Path(server.env["MELLOW_VAR"]) / "media"


def child(server):
    """The worker that the server began."""
    for place in Path("/proc").glob("[0-9]*"):
        with contextlib.suppress(OSError):
            parent = int((place / "stat").read_text().rsplit(")", 1)[1].split()[1])
            if parent == server.process.pid and b"worker" in (place / "cmdline").read_bytes():
                return int(place.name)
    raise AssertionError("the server began no worker")


def light(pixels):
    """sRGB pixels as linear light (IEC 61966-2-1)."""
    value = pixels / 255
    return np.where(value <= 0.04045, value / 12.92, ((value + 0.055) / 1.055) ** 2.4)


def srgb(light):
    light = np.clip(light, 0, 1)
    return 255 * np.where(light <= 0.0031308, light * 12.92, 1.055 * light ** (1 / 2.4) - 0.055)


@pytest.mark.parametrize("quality", ["quick", "fine"])
def test_dissolves_and_fades_are_the_weighted_sums_of_the_pictures_without_them(server, page, quality):
    # Through the lens each picture takes its time: there one fade and one dissolve over fewer frames tell enough.
    fine = quality == "fine"
    over = 1 if fine else 2
    edits = [
        {"edit": "dissolve", "shots": ["020"], "frames": [over, over]},
        {"edit": "fade_in", "shots": ["010"], "frames": 2, "colour": "#ffffff"},
        *([] if fine else [{"edit": "fade_out", "shots": ["020"], "frames": 2}]),
    ]
    scene = short(3, 2) if fine else short(5, 5)
    scene_id = bring(server, do(scene, *({"kind": "cut.edit", "do": edit} for edit in edits)))
    take = begin(server, scene_id, pictures="png", slate=False, movie=False, quality=quality)
    done = wait(server, take, most=300)
    folder = media(server) / "takes" / str(take)
    pictures = [
        pixels((folder / f"pictures/{f['shot']}/Slack_Tide_{f['shot']}.{f['stage']}.png").read_bytes())
        for f in (done["frames"][at] for at in done["movie"])
    ]
    still, how = drawer(page, server, scene_id, 128, 72), QUICK if quality == "quick" else FINE
    # By hand: 010 is 1100 to 1104 on A, 020 is 1200 to 1204 on B, mixed from two frames before the cut to two after it.
    expected = {
        0: [(0.25, "cam-a", 1100), (0.75, None, 1.0)], 1: [(0.75, "cam-a", 1101), (0.25, None, 1.0)], 2: [(1, "cam-a", 1102)],
        3: [(7 / 8, "cam-a", 1103), (1 / 8, "cam-b", 1198)], 4: [(5 / 8, "cam-a", 1104), (3 / 8, "cam-b", 1199)],
        5: [(3 / 8, "cam-a", 1105), (5 / 8, "cam-b", 1200)], 6: [(1 / 8, "cam-a", 1106), (7 / 8, "cam-b", 1201)],
        8: [(0.75, "cam-b", 1203)], 9: [(0.25, "cam-b", 1204)],
    }  # fmt: skip
    if fine:
        # From one frame before the cut to one after it: a quarter and three quarters.
        expected = {1: expected[1], 2: [(0.75, "cam-a", 1102), (0.25, "cam-b", 1199)]}
    for at, parts in expected.items():
        summed = sum(
            w * (stage if camera is None else light(still(camera, stage, how))) for w, camera, stage in parts
        )
        off = np.abs(srgb(summed) - pictures[at])
        # The pictures that are summed here are rounded to a step of 255 each, and shown with half a step of noise.
        assert off.mean() < 1 and np.quantile(off, 0.99) < 3, at


def test_what_a_shot_has_for_itself_is_in_its_pictures_and_in_its_share_of_a_dissolve(server, page):
    plain = short(3, 3)
    changes = [
        {"kind": "scene.set", "haze_m": 8, "sun_height": 70},
        {"kind": "piece.set", "piece": "set-10", "x": 0.3},
        {"kind": "things.hide", "ids": ["fig-bram", "set-55", "set-56"], "hidden": True},
    ]
    mixed = {"kind": "cut.edit", "do": {"edit": "dissolve", "shots": ["020"], "frames": [1, 1]}}
    shot = plain.shots[1].id
    scene = do(plain, mixed, *({"kind": "shot.dress", "shot": shot, "command": one} for one in changes))
    take = begin(server, bring(server, scene), pictures="png", slate=False, movie=False)
    done = wait(server, take)
    folder = media(server) / "takes" / str(take)
    pictures = [
        pixels((folder / f"pictures/{f['shot']}/Slack_Tide_{f['shot']}.{f['stage']}.png").read_bytes())
        for f in done["frames"]
    ]
    # Those of a scene in which all is so for everybody; what is hidden might as well be deleted.
    gone = {"kind": "things.delete", "ids": ["set-55", "set-56"]}
    hide = {"kind": "things.hide", "ids": ["fig-bram"], "hidden": True}
    whole = do(plain, *changes[:2])
    stills = {}
    for name, one, wanted in (
        ("010", plain, [("cam-a", 1101), ("cam-a", 1102), ("cam-a", 1103)]),
        ("020", do(whole, changes[2]), [("cam-b", 1199), ("cam-b", 1200), ("cam-b", 1202)]),
        ("bare", do(whole, gone, hide), [("cam-a", 1102)]),
        ("hidden", do(whole, changes[2]), [("cam-a", 1102)]),
    ):
        still = drawer(page, server, bring(server, one), 128, 72)
        stills |= {(name, stage): still(camera, stage, QUICK) for camera, stage in wanted}
    assert np.abs(stills["bare", 1102] - stills["hidden", 1102]).max() < 3
    assert np.abs(stills["bare", 1102] - stills["010", 1102]).max() > 50
    assert np.abs(pictures[1] - stills["010", 1101]).mean() < 1
    assert np.abs(pictures[5] - stills["020", 1202]).mean() < 1
    # By hand: from one frame before the cut to one after it, a quarter and three quarters.
    for at, share, own in ((2, 0.25, 1199), (3, 0.75, 1200)):
        first = light(stills["010", 1102 if at == 2 else 1103])
        off = np.abs(srgb((1 - share) * first + share * light(stills["020", own])) - pictures[at])
        assert off.mean() < 1, at


def test_a_rendered_cut_is_its_cameras_pictures_frame_by_frame(server, page):
    scene_id = bring(server, short())
    take = begin(server, scene_id, pictures="png", slate=False)
    done = wait(server, take)
    folder = media(server) / "takes" / str(take)
    still = drawer(page, server, scene_id, 128, 72)
    shown = [done["frames"][at] for at in done["movie"]]
    assert [(f["camera"], f["stage"]) for f in shown] == [
        *(("A", n) for n in range(1100, 1104)),
        *(("B", n) for n in range(1200, 1204)),
    ]
    pictures = [
        pixels((folder / f"pictures/{f['shot']}/Slack_Tide_{f['shot']}.{f['stage']}.png").read_bytes())
        for f in shown
    ]
    # The frame before the cut is the old camera's, the one after it the new one's.
    for at in (0, 3, 4, 7):
        camera = {"A": "cam-a", "B": "cam-b"}[shown[at]["camera"]]
        assert np.abs(still(camera, shown[at]["stage"], QUICK) - pictures[at]).mean() < 1.0
    assert np.abs(pictures[3] - pictures[4]).mean() > 10 and np.abs(pictures[4] - pictures[5]).mean() < 10
    (movie,) = folder.glob("*.mp4")
    frames = subprocess.run(
        ["ffmpeg", "-v", "error", "-i", str(movie), "-pix_fmt", "rgb24", "-f", "rawvideo", "-"],
        capture_output=True, check=True,
    ).stdout  # fmt: skip
    frames = np.frombuffer(frames, dtype=np.uint8).reshape(-1, 72, 128, 3).astype(float)
    assert len(frames) == 8
    for at in range(8):
        # Compressed, and its colour halved; still nearer to its own picture than to any other shot's.
        assert (
            np.abs(frames[at] - pictures[at]).mean() < 6 < np.abs(frames[at] - pictures[(at + 4) % 8]).mean()
        )


def streak(with_, without, row):
    """How wide a streak is at half its height, pixels, and where its middle is."""
    light = np.abs(with_ - without)[row - 3 : row + 4].sum(axis=(0, 2))
    half = np.median(light[light > light.max() / 2]) / 2
    on = np.flatnonzero(light > half)
    first, last = on[0], on[-1]
    # Between two pixels, where it would be just half.
    begins = first - (light[first] - half) / (light[first] - light[first - 1])
    ends = last + (light[last] - half) / (light[last] - light[last + 1])
    return ends - begins, (begins + ends) / 2


def test_a_bright_points_streak_is_as_long_as_the_core_says_and_spans_no_jump(server, page):
    # Trucks 1 m a frame, then stands at 4 m until it is suddenly at 5 m on frame 1020.
    at = {"x": 0, "y": 1.6, "z": 0, "pan": 0, "tilt": 0, "roll": 0}
    keys = [(1010, 0, "straight"), (1014, 4, "held"), (1020, 5, "straight"), (1024, 9, "straight")]
    bare = do(
        empty_scene("Streak"),
        {"kind": "camera.add", "id": "cam-1", "name": "One", "pose": at},
        {"kind": "camera.mount", "camera": "cam-1", "lens": None},
        {"kind": "camera.glass", "camera": "cam-1", "shutter_deg": 360, "aperture": 22, "exposure": -1.5},
        {
            "kind": "keys.set",
            "keys": [
                {"thing": "cam-1", "channel": "x", "frame": f, "value": v, "before": "straight", "after": a}
                for f, v, a in keys
            ],
        },
    )
    point = {"x": 4, "z": -8, "base": 1.54, "width": 0.12, "depth": 0.12, "height": 0.12, "colour": "#000000"}
    lit = do(bare, {"kind": "piece.add", "shape": "box", **point})
    wide, high = 640, 360
    frames = [1012, 1019, 1020, 1022]
    drawn = []
    for scene in (lit, bare):
        draw = drawer(page, server, bring(server, scene), wide, high)
        drawn.append([draw("cam-1", frame, FINE) for frame in frames])
    bake, camera = Bake(lit), find(lit, "cameras", "cam-1")
    asked = plan(lit, Render(of="camera", camera="cam-1")).frames
    for i, frame in enumerate(frames):
        opens, closes = next(f.shutter for f in asked if f.stage == frame)
        # Just before the jump it is still where it was.
        ends = np.array([opens, min(closes, 1020 - 1e-6) if frame == 1019 else closes])
        rows = bake.samples(camera)
        moved = type(rows)(rows.columns, rows.frames, bake.rows(camera, ends), {})
        x = (project(moved, np.array([[4.0, 1.6, -7.94]] * 2)).x + 1) / 2 * wide
        size = 0.12 / (7.94 * np.tan(np.radians(moved.column("horizontal_deg")[0] / 2))) * wide / 2
        length, middle = streak(drawn[0][i], drawn[1][i], high // 2)
        expected = max(abs(x[1] - x[0]), size)
        assert abs(length - expected) <= max(1.0, 0.05 * expected), (frame, length, expected)
        assert abs(middle + 0.5 - x.mean()) < max(1.0, 0.02 * expected), (frame, middle, x)
    # The truck is a streak of tens of pixels; on both sides of the jump there is none.
    assert (
        streak(drawn[0][0], drawn[1][0], high // 2)[0] > 60
        and streak(drawn[0][1], drawn[1][1], high // 2)[0] < 12
    )


def test_water_mirrors_what_stands_over_it_where_the_law_of_reflection_puts_it(server, page):
    # Seen in level water, a thing is where it would be as far below the surface as it is above it.
    pose = {"x": 0, "y": 1.6, "z": 0, "pan": 0, "tilt": -10, "roll": 0}
    bare = do(
        empty_scene("Mirror"),
        {"kind": "scene.set", "water": True},
        {"kind": "camera.add", "id": "cam-1", "name": "One", "pose": pose},
        {"kind": "camera.glass", "camera": "cam-1", "aperture": 22},
    )
    box = {"x": 0.8, "z": -6, "base": 0.9, "width": 0.5, "depth": 0.1, "height": 0.5, "colour": "#d02010"}
    with_box = do(bare, {"kind": "piece.add", "shape": "box", **box})
    wide, high = 640, 360
    seen = [
        drawer(page, server, bring(server, one), wide, high)("cam-1", 1001, QUICK) for one in (with_box, bare)
    ]
    redder = (seen[0] - seen[1])[..., 0] - (seen[0] - seen[1])[..., 2]
    rows = Bake(with_box).samples(find(with_box, "cameras", "cam-1"))

    def change(x, y):
        at = project(rows, np.tile([x, y, -5.95], (rows.frames.count, 1)))
        col, row = int((at.x[0] + 1) / 2 * wide), int((1 - at.y[0]) / 2 * high)
        return redder[row - 2 : row + 3, col - 2 : col + 3].mean()

    box_itself, mirrored = change(0.8, 1.15), change(0.8, -1.15)
    assert box_itself > 40 and mirrored > 8, (box_itself, mirrored)
    # Neither the other side of the frame nor the water between them shows it.
    assert max(abs(change(-0.8, -1.15)), abs(change(0.8, -0.3))) < 2


def test_work_outlives_a_killed_worker_and_a_restarted_server(tmp_path):
    server = Server(tmp_path, MELLOW_LEASE_S="5")
    try:
        take = begin(server, bring(server, short(10, 10)), high=180)
        some = wait(server, take, lambda one: one["take"]["done"] >= 3)
        os.kill(child(server), signal.SIGKILL)
        server.kill()
        # What the desk had said was done; a picture that was just written, and not yet noted, may be drawn again.
        before = [f["proof"] for f in some["frames"] if f["state"] == "done"]
        proofs = [media(server) / "pictures" / key[:2] / f"{key}.jpg" for key in before]
        stamps = {path: path.stat().st_mtime_ns for path in proofs}
        server.start()
        done = wait(server, take)
        assert done["take"]["done"] == 20 and len(before) >= 3
        # What was drawn before was not drawn again.
        assert all(path.stat().st_mtime_ns == stamp for path, stamp in stamps.items())
        assert len(list((media(server) / "pictures").rglob("*.png"))) == 20
        assert list((media(server) / "takes" / str(take)).glob("*.mp4"))
    finally:
        server.kill()


def test_without_chromium_the_desk_says_so_and_draws_in_its_tab(tmp_path, page):
    server = Server(tmp_path, MELLOW_CHROMIUM="/nowhere/chromium")
    try:
        scene_id = bring(server, short(3, 3))
        page.goto(f"{server.url}/scene/{scene_id}")
        page.wait_for_selector("canvas[data-ready]", timeout=240_000)
        take = begin(server, scene_id)
        page.get_by_role("button", name="Dailies").click()
        job = page.locator(f"[data-take='{take}']")
        job.get_by_text("No Chromium is installed").wait_for(timeout=20_000)
        assert "apt install chromium" in job.inner_text()
        job.get_by_role("button", name="Draw in this tab").click()
        wait(server, take)
        job.get_by_role("link", name="Movie").wait_for()
        # It asks once more whether anything is left, and then the page that drew is gone.
        page.locator("iframe").wait_for(state="detached")
    finally:
        server.kill()


def redis(port, folder):
    command = [
        "redis-server",
        "--port",
        str(port),
        "--save",
        "",
        "--appendonly",
        "no",
        "--dir",
        str(folder),
        "--bind",
        "127.0.0.1",
    ]
    process = subprocess.Popen(command, stdout=subprocess.DEVNULL)
    for _ in range(100):
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                return process
        time.sleep(0.05)
    raise RuntimeError("Redis did not start")


def test_two_workers_share_a_redis_queue_and_one_may_die_in_the_middle(tmp_path):
    port = 16_400 + os.getpid() % 900
    queue = f"redis://127.0.0.1:{port}/0"
    store = redis(port, tmp_path)
    (tmp_path / "var").mkdir()
    shared = {"MELLOW_QUEUE": queue, "MELLOW_QUEUE_KEY": "one for all"}
    server = Server(tmp_path / "var", "--no-worker", **shared, MELLOW_LEASE_S="5")

    def worker(name, var, *flags):
        command = [sys.executable, "manage.py", "worker", "--name", name, "--desk", server.url, *flags]
        env = {**server.env, "MELLOW_VAR": str(var)}
        return subprocess.Popen(command, cwd=ROOT, env=env, start_new_session=True)

    # One has neither the desk's database nor its folder, as on another machine.
    away, home = worker("away", tmp_path / "elsewhere", "--draw-only"), worker("home", tmp_path / "var")
    try:
        for _ in range(150):
            if len(server.call("GET", "/api/workers")) == 2:
                break
            time.sleep(0.1)
        take = begin(server, bring(server, short(14, 14)), high=270)
        # Both are drawing.
        by = lambda: set(_column(server, "by", "state IN ('claimed', 'done')"))  # noqa: E731
        for _ in range(300):
            if by() >= {"away", "home"}:
                break
            time.sleep(0.1)
        assert by() >= {"away", "home"}
        stamps = dict(_column(server, "place, done_at", "state = 'done'", many=True))
        os.killpg(away.pid, signal.SIGKILL)
        done = wait(server, take)
        assert done["take"]["done"] == 28 and {f["state"] for f in done["frames"]} == {"done"}
        # Every frame once: what was done before stays as it was, and each has one picture.
        after = dict(_column(server, "place, done_at", "state = 'done'", many=True))
        assert all(after[place] == stamp for place, stamp in stamps.items())
        assert len(list((media(server) / "pictures").rglob("*.png"))) == 28
        assert not list((media(server) / "pictures").rglob(".*"))
    finally:
        for process in (away, home):
            if process.poll() is None:
                os.killpg(process.pid, signal.SIGKILL)
            process.wait()
        server.kill()
        store.kill()
        store.wait()


def _column(server, what, where, many=False):
    """What stands in the table of frames."""
    import sqlite3

    with sqlite3.connect(Path(server.env["MELLOW_VAR"]) / "heron.sqlite3", timeout=10) as base:
        found = base.execute(f"SELECT {what} FROM dailies_takeframe WHERE {where}").fetchall()
    return found if many else [row[0] for row in found]


def test_a_size_that_cannot_be_drawn_is_said_of_each_frame(server):
    scene = do(short(2, 1), {"kind": "scene.set", "delivery": {"label": "4:1", "aspect": 4}})
    take = begin(server, bring(server, scene), high=4320, movie=False, pictures="png")
    lacking = wait(server, take, lambda one: one["take"]["state"] == "lacking")
    assert "cannot be drawn here; at most" in lacking["frames"][0]["reason"]
    assert "Choose a smaller height" in lacking["frames"][0]["reason"]


@pytest.mark.parametrize("quality", ["timed"])
def test_as_many_drawings_as_fit_some_seconds(server, quality):
    take = begin(server, bring(server, short(3, 1)), high=72, quality=quality, seconds=0.8)
    done = wait(server, take)
    assert done["take"]["done"] == 4 and told(server, take)["take"]["render"]["seconds"] == 0.8
    json.dumps(done)
