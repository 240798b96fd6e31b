"""Keys against scipy's interpolators."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import CubicHermiteSpline, PchipInterpolator

from heron.curves import Channel, Key, evaluate


def channel(points, kind="eased", **more):
    return Channel(
        keys=tuple(
            Key(frame=f, value=v, before=kind if kind != "held" else "eased", after=kind) for f, v in points
        ),
        **more,
    )


POINTS = [(0, 0.0), (10, 1.0), (24, 3.5), (40, 4.0), (47, 9.0), (60, 9.5)]


def test_eased_inside_is_scipys_monotone_cubic():
    # Inner segments share no end key, where ours comes to rest and PCHIP does not.
    t = np.linspace(10, 47, 300)
    expected = PchipInterpolator(*zip(*POINTS, strict=True))(t)
    np.testing.assert_allclose(evaluate(channel(POINTS), t), expected, atol=1e-12)


def test_two_eased_keys_are_a_hermite_at_rest_at_both_ends():
    t = np.linspace(1001, 1049, 97)
    expected = CubicHermiteSpline([1001, 1049], [2.0, 7.0], [0.0, 0.0])(t)
    np.testing.assert_allclose(evaluate(channel([(1001, 2.0), (1049, 7.0)]), t), expected, atol=1e-12)


def test_straight_is_linear_and_mixed_sides_are_hermite():
    t = np.linspace(0, 60, 200)
    np.testing.assert_allclose(
        evaluate(channel(POINTS, "straight"), t), np.interp(t, *zip(*POINTS, strict=True)), atol=1e-12
    )
    mixed = Channel(keys=(Key(frame=0, value=0, after="straight"), Key(frame=20, value=10, before="eased")))
    expected = CubicHermiteSpline([0, 20], [0, 10], [0.5, 0.0])(t.clip(0, 20))
    np.testing.assert_allclose(evaluate(mixed, t), expected, atol=1e-12)


def test_held_stands_until_the_next_keys_frame():
    # Common practice: a cut by keys holds the old pose to N−1 and has the new one on N.
    values = evaluate(channel([(10, 1.0), (20, 5.0), (30, 2.0)], "held"), np.arange(8, 33))
    assert values[8 - 8] == 1.0
    assert list(values[19 - 8 : 21 - 8]) == [1.0, 5.0]
    assert list(values[29 - 8 : 31 - 8]) == [5.0, 2.0]


@given(
    st.lists(
        st.tuples(st.integers(0, 500), st.floats(-1e3, 1e3)),
        min_size=1,
        max_size=12,
        unique_by=lambda p: p[0],
    )
)
def test_eased_never_overshoots_and_passes_through_its_keys(points):
    points = sorted(points)
    values = evaluate(channel(points), np.arange(-5, 506))
    for (f0, v0), (f1, v1) in zip(points, points[1:], strict=False):
        between = values[f0 + 5 : f1 + 6]
        assert between.min() >= min(v0, v1) - 1e-9
        assert between.max() <= max(v0, v1) + 1e-9
    np.testing.assert_allclose([values[f + 5] for f, _ in points], [v for _, v in points], atol=1e-9)


def test_no_keys_is_the_rest_value():
    assert list(evaluate(Channel(rest=35.0), np.arange(3))) == [35.0] * 3


def test_channels_are_alike_by_what_they_hold_though_both_were_evaluated():
    one, two = (Channel(keys=(Key(frame=1, value=0.0), Key(frame=9, value=2.0))) for _ in range(2))
    for channel in (one, two):
        evaluate(channel, np.arange(10.0))
    assert one == two
