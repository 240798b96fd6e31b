"""Faces: expressions by the published coding of faces, blinks, and the joints that are drawn."""

import json
from pathlib import Path

import numpy as np
import pytest
from acting import frames
from scipy.spatial.transform import Rotation

from heron.formats.gltf import _face_extras
from heron.stage.acts.face import Express, FaceByHand
from heron.stage.face import EXPRESSIONS, FACE, NUMBERS, face_numbers
from heron.stage.face.rig import CALLED, face_pose, half, numbered, shares
from heron.stage.figure import Figure

PATH = Path(__file__).parents[1] / "vectors" / "faces.json"
FPS, T = 24, np.arange(1001, 1001 + 24 * 60).astype(float)
PARTS = [*CALLED, "lid_up-.l", "lid_up-.r", "brow_out+.l", "knit.l"]
AT = {name: i for i, name in enumerate(NUMBERS)}


def face(*acts, id_="p", eyes=None, t=T):
    return face_numbers(Figure(id=id_, name="P", acts=acts), t, FPS, eyes)


def test_each_expression_does_what_the_published_coding_of_faces_says():
    """Action units, Ekman and Friesen (1978), from memory: 12 raises the corners, 15 lowers them, 4 knits the brows and
    lowers them, 1 raises their inner and 2 their outer ends, 5 opens the lids wide, 6 and 7 raise the lower lid,
    9 and 10 raise the upper lip, 26 drops the jaw, 43 lets the upper lid down.
    """
    does = {
        "joy": {"corner": 1, "lid_low": 1}, "sad": {"brow_in": 1, "corner": -1}, "anger": {"knit": 1, "brow_in": -1},
        "fear": {"brow_in": 1, "brow_out": 1, "knit": 1, "lid_up": 1, "wide": 1}, "disgust": {"lip_up": 1, "corner": -1},
        "surprise": {"brow_in": 1, "brow_out": 1, "lid_up": 1, "open": 1}, "tired": {"lid_up": -1}, "laugh": {"corner": 1, "open": 1},
    }  # fmt: skip
    for name, parts in does.items():
        for amount in (0.5, 1.0):
            held = face(Express(frames=frames(1100, 1200), expression=name, amount=amount))[130]
            for part, sign in parts.items():
                assert np.sign(held[AT[part]]) == sign and abs(held[AT[part]]) > 0.15 * amount
            for part, value in EXPRESSIONS[name].items():
                assert held[AT[part]] == pytest.approx(amount * value)


def test_expressions_come_brows_first_add_up_within_their_range_and_go_again():
    one = Express(frames=frames(1100, 1200), expression="surprise", amount=1.0)
    alone = face(one)
    reach = {
        name: int(np.argmax(alone[:, AT[name]] > 0.5 * EXPRESSIONS["surprise"][name]))
        for name in ("brow_in", "open")
    }
    assert reach["open"] - reach["brow_in"] == 2  # frames
    assert np.abs(alone[220:240][:, [AT["open"], AT["brow_in"]]]).max() == 0
    both = face(one, Express(frames=frames(1120, 1180), expression="joy", amount=1.0))
    assert both[150, AT["corner"]] == pytest.approx(0.9) and both.max() <= 1.0 and both.min() >= -1.0
    # What is made by hand is added to that, within the range.
    by_hand = face(one, FaceByHand(frames=frames(1100, 1200), side=0.5, brow_out=0.4, corner=-0.3))
    assert by_hand[150, [AT["side"], AT["brow_out"], AT["corner"]]].tolist() == pytest.approx(
        [0.5, 1.0, -0.3]
    )
    short = face(Express(frames=frames(1100, 1105), expression="joy", amount=1.0))
    assert 0.2 < short[:, AT["corner"]].max() <= 0.9


def test_people_blink_by_themselves_and_when_they_look_far_elsewhere():
    """Every 3 to 6 s: Bentivoglio and others (1997), from memory."""

    def blinks(found):
        shut = found[:, AT["lid_up"]] < -0.9
        return np.flatnonzero(shut[1:] & ~shut[:-1])

    at = blinks(face())
    gaps = np.diff(at) / FPS
    assert len(at) > 9 and gaps.min() > 2.9 and gaps.max() < 6.1
    assert blinks(face(id_="q")).tolist() != at.tolist() == blinks(face()).tolist()
    # Shut within 3 frames and open within 4, an expression under it comes back.
    tired = face(Express(frames=frames(1001, 2400), expression="tired", amount=1.0))
    assert tired[at[3] - 6, AT["lid_up"]] == pytest.approx(-0.62) == tired[at[3] + 8, AT["lid_up"]]
    pan = np.where(T[0] + 500 > T, 0.0, 40.0)
    glance = face(eyes=Rotation.from_euler("Y", pan[:, None], degrees=True).as_quat())
    assert any(490 <= one <= 504 for one in blinks(glance)) and not any(490 <= one <= 504 for one in at)


def vectors():
    """Ten faces, where the joints are that draw them, as the desk is told, 1.7 m; and how far a character's shapes are moved."""
    draw = np.random.default_rng(5)
    numbers = np.concatenate([draw.uniform(-1, 1, (8, 10)), np.zeros((1, 10)), np.ones((1, 10))])
    numbers[:, [AT["knit"], AT["lid_low"], AT["open"], AT["lip_up"], AT["side"]]] **= 2
    places, turns = face_pose(numbers.round(4))
    moved = shares(numbers.round(4), PARTS)
    return {
        "shapes": [[*numbered(half(part)[0]), half(part)[1]] for part in PARTS],
        "joints": [
            {"at": (1.7 * np.array(j.at)).round(8).tolist(), "face": _face_extras(j, 1.7)} for j in FACE
        ],
        "faces": [
            {
                "numbers": n.round(4).tolist(),
                "places": (1.7 * p).round(8).tolist(),
                "turns": q.round(8).tolist(),
                "shares": s.round(8).tolist(),
            }
            for n, p, q, s in zip(numbers, places, turns, moved, strict=True)
        ],
    }


def test_the_file_that_the_desk_is_held_to_is_current():
    assert json.loads(PATH.read_text()) == json.loads(json.dumps(vectors())), (
        "Run `python tests/core/test_faces.py`."
    )


def test_lids_shut_and_lips_part_by_as_much_as_they_say():
    names = [joint.name for joint in FACE]
    numbers = np.zeros((3, 10))
    numbers[1, AT["lid_up"]], numbers[2, [AT["open"], AT["lid_up"]]] = -1, 1
    places, turns = face_pose(numbers)
    lid = Rotation.from_quat(turns[:, names.index("lid_up_r")]).magnitude()
    np.testing.assert_allclose(np.degrees(lid), [0, 60, 16], atol=1e-9)
    gap = places[:, names.index("lip_up"), 1] - places[:, names.index("lip_low"), 1]
    assert gap[2] - gap[0] == pytest.approx(0.0150)


if __name__ == "__main__":
    PATH.write_text(json.dumps(vectors(), separators=(",", ":")) + "\n")
