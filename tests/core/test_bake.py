"""Samples: by content, the same in any order, and the same once packed."""

import json
import struct

import numpy as np
import pytest

from heron.bake import Baker, camera_key, camera_samples, figure_key, mover_samples
from heron.commands import parse_commands, run
from heron.demo import slack_tide
from heron.model import changed
from heron.timebase import Frames

DEMO = slack_tide()


def after(*commands):
    return run(DEMO, parse_commands(json.dumps(list(commands))))[0]


@pytest.mark.parametrize("letter", "ABCDE")
def test_a_frame_alone_is_the_frame_of_the_whole_to_the_bit(letter):
    camera = next(c for c in DEMO.cameras if c.letter == letter)
    whole = camera_samples(DEMO, camera, DEMO.frames).values
    for frame in (1320, 1001, 1177):
        alone = camera_samples(DEMO, camera, Frames(first=frame, last=frame)).values[0]
        np.testing.assert_array_equal(alone, whole[frame - 1001])


def test_order_of_asking_does_not_matter():
    one, two = Baker(), Baker()
    forth = [one.camera(DEMO, c).values for c in DEMO.cameras]
    back = [two.camera(DEMO, c).values for c in reversed(DEMO.cameras)][::-1]
    for a, b in zip(forth, back, strict=True):
        np.testing.assert_array_equal(a, b)


def test_packed_samples_say_still_columns_once():
    samples = camera_samples(DEMO, DEMO.cameras[1], DEMO.frames)
    content = samples.packed()
    (length,) = struct.unpack_from("<I", content)
    header = json.loads(content[4 : 4 + length])
    still = {int(i): v for i, v in header["still"].items()}
    moving = [i for i in range(len(header["columns"])) if i not in still]
    rows = np.frombuffer(content[4 + length :], "<f4").reshape(-1, len(moving))
    again = np.empty((320, len(header["columns"])), "f4")
    again[:, moving] = rows
    for i, value in still.items():
        again[:, i] = value
    np.testing.assert_array_equal(again, samples.values.astype("f4"))
    assert len(content) < samples.values.size * 4 * 0.7


@pytest.mark.parametrize(
    ("command", "touched"),
    [
        ({"kind": "camera.glass", "camera": "cam-b", "iso": 400}, "B"),
        ({"kind": "focus.rack", "camera": "cam-d", "frame": 1300, "on": {"kind": "distance", "metres": 4}}, "D"),
        ({"kind": "camera.set", "camera": "cam-a", "name": "Else", "hidden": True}, ""),
        ({"kind": "keys.move", "thing": "mov-heron", "frame": 1294, "to": 1296}, "CD"),
        ({"kind": "lens.set", "lens": "lens-50", "blades": 5}, "BE"),
        ({"kind": "scene.set", "light_ev": 8}, "ABCDE"),
        ({"kind": "scene.set", "rate": "25"}, "ABCDE"),
        ({"kind": "piece.set", "piece": "set-06", "colour": "#123456"}, ""),
    ],
)  # fmt: skip
def test_a_key_changes_when_and_only_when_its_samples_can(command, touched):
    scene = after(command)
    now = {
        c.letter
        for c in scene.cameras
        if camera_key(scene, c) != camera_key(DEMO, DEMO.cameras[ord(c.letter) - 65])
    }
    assert now == set(touched)


def test_a_figures_key_knows_the_floor_it_can_meet():
    raised = after({"kind": "piece.set", "piece": "set-03", "height": 0.3})
    painted = after({"kind": "piece.set", "piece": "set-03", "colour": "#123456"})
    odile = DEMO.figures[0]
    assert figure_key(raised, odile) != figure_key(DEMO, odile) == figure_key(painted, odile)


def test_old_results_make_room():
    baker = Baker(keep_bytes=camera_samples(DEMO, DEMO.cameras[0], DEMO.frames).values.nbytes * 2)
    for turn in range(2):
        for camera in DEMO.cameras:
            baker.camera(DEMO, changed(camera, iso=50.0 + turn))
    baker.camera(DEMO, changed(DEMO.cameras[4], iso=51.0))
    assert baker.baked["camera"] == 10  # the newest was still there
    baker.camera(DEMO, changed(DEMO.cameras[0], iso=50.0))
    assert baker.baked["camera"] == 11  # the oldest was not


def test_a_mover_rests_at_its_first_and_last_key():
    heron = next(m for m in DEMO.movers if m.name == "Heron")
    rows = mover_samples(heron, Frames(first=1001, last=1320)).values
    np.testing.assert_array_equal(rows[0], rows[1284 - 1001])
    assert rows[-1, 1] == 5.4 and np.ptp(rows[:284, 1]) == 0
