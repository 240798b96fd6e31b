"""Curves for the desk: what they hold, and that they come with what changes them."""

import base64

import numpy as np
import pytest


def unpacked(curve):
    return np.frombuffer(base64.b64decode(curve["keys"]), "<f4").reshape(-1, 8)


def test_curves_hold_each_channels_keys_handles_and_reach(desk):
    at = {"thing": "cam-b", "channel": "x", "frame": 1170}
    desk.do(kind="keys.handle", keys=[at], side="after", frames=80, value=3.0)
    found = desk.get("/curves/cam-b").json()
    x = next(c for c in desk.scene()["cameras"] if c["id"] == "cam-b")["x"]["keys"]
    keys = unpacked(found["curves"]["x"])
    assert [k["frame"] for k in x] == [int(f) for f in keys[:, 0]] == [1170, 1236]
    np.testing.assert_allclose(keys[:, 1], [k["value"] for k in x], rtol=1e-6)
    # A handle of 80 frames in a segment of 66: shortened, and it carries the curve past both values.
    assert keys[0, 4] == 66 and int(keys[0, 6]) == 2 | 8
    assert found["curves"]["x"]["high"] > max(k["value"] for k in x)
    assert [s["name"] for s in found["specs"]][:3] == ["x", "y", "z"]
    assert desk.get("/curves/nobody").status_code == 404


def test_a_try_and_a_change_bring_the_curves_that_are_others(desk):
    move = {"kind": "keys.move", "keys": [{"thing": "cam-b", "channel": "x", "frame": 1170}], "up": 0.5}
    tried = desk.post(
        "preview", {"command": move, "frames": {"first": 1180, "last": 1180}, "curves": ["cam-b"]}
    ).json()
    assert list(tried["curves"]["cam-b"]) == ["x"]
    assert tried["patch"]["parts"]["cameras"]["cam-b"].keys() == {"x"} and not tried["patch"]["items"]
    done = desk.post("commands", {"seen": desk.seen, "command": move, "curves": ["cam-b"]}).json()
    np.testing.assert_array_equal(
        unpacked(done["curves"]["cam-b"]["x"]), unpacked(tried["curves"]["cam-b"]["x"])
    )
    back = desk.post("undo", {"curves": ["cam-b"]}).json()
    assert unpacked(back["curves"]["cam-b"]["x"])[0, 1] == pytest.approx(
        unpacked(tried["curves"]["cam-b"]["x"])[0, 1] - 0.5, abs=1e-6
    )
