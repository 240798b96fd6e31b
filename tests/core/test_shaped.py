"""Shaped keys: Béziers against scipy's, and their place on the command line."""

import json

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import BPoly, CubicHermiteSpline
from scipy.optimize import brentq

from heron.cli import main
from heron.commands import parse_commands, run
from heron.curves import Channel, Key, evaluate
from heron.demo import slack_tide
from heron.errors import HeronError


def shaped(*keys):
    return Channel(
        keys=tuple(
            Key(frame=f, value=v, before="shaped", after="shaped", handle_before=b, handle_after=a)
            for f, v, b, a in keys
        )
    )


fractions = st.floats(0, 1)


@given(a=fractions, b=fractions, up=st.floats(-5, 5), down=st.floats(-5, 5), rise=st.floats(-10, 10))
def test_any_handles_are_scipys_bernstein_polynomials_in_time_and_value(a, b, up, down, rise):
    long = 40.0
    curve = shaped((0, 1.0, None, (a * long, up)), (40, 1.0 + rise, (-b * long, down), None))
    time = BPoly([[0.0], [a * long], [long - b * long], [long]], [0, 1])
    value = BPoly([[1.0], [1.0 + up], [1.0 + rise + down], [1.0 + rise]], [0, 1])
    frames = np.linspace(0.5, 39.5, 21)
    u = np.array([brentq(lambda v, f=f: float(time(v)) - f, 0, 1, xtol=1e-15) for f in frames])
    # Where time all but stands still a value is held by its moment: 1e-9 frames either side.
    steep = np.abs(value.derivative()(u)) / np.maximum(time.derivative()(u), 1e-9)
    np.testing.assert_array_less(
        np.abs(evaluate(curve, frames) - value(u)), 1e-7 + 1e-9 * np.minimum(steep, 1e9)
    )
    # To the bit in whatever company.
    alone = [float(evaluate(curve, np.array([f]))[0]) for f in frames]
    assert alone == list(evaluate(curve, frames))


def test_handles_of_a_third_are_a_hermite_and_long_ones_are_shortened():
    curve = shaped((0, 0.0, None, (10, 4.0)), (30, 6.0, (-10, 1.0), None))
    expected = CubicHermiteSpline([0, 30], [0.0, 6.0], [0.4, -0.1])(np.arange(31))
    np.testing.assert_allclose(evaluate(curve, np.arange(31)), expected, atol=1e-9)
    # Without handles a shaped key is an eased one; beside a straight side it meets the line.
    plain, eased = (
        Channel(keys=tuple(Key(frame=f, value=v, before=k, after=k) for f, v in ((0, 0), (9, 3), (30, 5))))
        for k in ("shaped", "eased")
    )
    np.testing.assert_allclose(evaluate(plain, np.arange(31)), evaluate(eased, np.arange(31)), atol=1e-9)
    # A handle of 60 frames in a segment of 30 is one of 30, half as high.
    long, cut = (shaped((0, 0.0, None, h), (30, 6.0, (-10, 0.0), None)) for h in ((60, 8.0), (30, 4.0)))
    np.testing.assert_array_equal(evaluate(long, np.arange(31)), evaluate(cut, np.arange(31)))
    assert (
        np.diff(evaluate(shaped((0, 0.0, None, (30, 0)), (30, 6.0, (-30, 0), None)), np.arange(31))) >= 0
    ).all()
    with pytest.raises(ValueError, match="the wrong way; give it 0 or more"):
        Key(frame=3, value=1, after="shaped", handle_after=(-2, 0))


def test_a_key_is_shaped_on_one_side_and_keeps_its_handle_and_what_it_goes_with():
    at = {"thing": "cam-b", "channel": "x", "frame": 1170}
    commands = [
        {"kind": "keys.bind", "keys": [at], "figure": "fig-odile", "act": "act-1", "end": "last"},
        {"kind": "keys.shape", "keys": [at], "handle_after": [12, -0.2]},
        {"kind": "keys.set", "keys": [{**at, "value": -1.5}]},
    ]
    scene, said = run(slack_tide(), parse_commands(json.dumps(commands)))
    key = scene.cameras[1].x.keys[0]
    assert (key.value, key.before, key.after, key.handle_after) == (-1.5, "eased", "shaped", (12, -0.2))
    assert key.bound is not None and key.bound.end == "last" and said[1].endswith("shaped out")
    with pytest.raises(HeronError, match="wrong way"):
        run(scene, parse_commands(json.dumps({"kind": "keys.shape", "keys": [at], "handle_before": [4, 0]})))


def test_curve_and_simplify_on_the_command_line(tmp_path, capsys):
    keys = tmp_path / "keys.json"
    keys.write_text(json.dumps([
        {"frame": 0, "value": 1.5, "after": "shaped", "handle_after": [10, 4.0]},
        {"frame": 30, "value": 7.5, "before": "straight"},
    ]))  # fmt: skip
    assert main(["curve", str(keys), "--frames", "0-30"]) == 0
    values = json.loads(capsys.readouterr().out)
    np.testing.assert_allclose(
        values, CubicHermiteSpline([0, 30], [1.5, 7.5], [0.4, 0.2])(np.arange(31)), atol=1e-9
    )
    dense = [{"frame": i, "value": float(np.sin(i / 20))} for i in range(200)]
    keys.write_text(json.dumps(dense))
    assert main(["simplify", str(keys), "--error", "0.01"]) == 0
    few = json.loads(capsys.readouterr().out)
    found = evaluate(Channel(keys=tuple(Key.model_validate(k) for k in few)), np.arange(200))
    assert len(few) < 40 and np.abs(found - np.sin(np.arange(200) / 20)).max() <= 0.01
    for wrong in ("nonsense", "[]", json.dumps([{"frame": 0}]), json.dumps([{"frame": 0, "value": 1}] * 2)):
        keys.write_text(wrong)
        assert main(["curve", str(keys), "--frames", "0-3"]) == 2
        assert capsys.readouterr().err.count("\n") == 1
