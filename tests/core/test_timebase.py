"""Timecode and rates against OpenTimelineIO and SMPTE ST 12-1's own example."""

from fractions import Fraction

import numpy as np
import opentimelineio as otio
import pytest
from hypothesis import given
from hypothesis import strategies as st

from heron.errors import BadInput
from heron.timebase import Frames, format_timecode, parse_rate, parse_timecode
from heron.timebase.timecode import labels

NTSC = Fraction(30000, 1001)


@pytest.mark.parametrize(
    ("text", "drop"), [("30000/1001", True), ("30000/1001", False), ("24", False), ("25", False)]
)
def test_a_day_reads_as_in_opentimelineio(text, drop):
    rate = parse_rate(text)
    # Without dropping, OpenTimelineIO starts 29.97 again after 24 hours of clock; labels go 86 s further.
    day = 2_589_408 if rate == NTSC else 24 * 3600 * round(rate)
    # Every 101st frame, and all those round each minute's end, where labels drop.
    ends = np.arange(0, day, 1798 if drop else 60 * round(rate))[:, None] + np.arange(-4, 5)
    frames = np.unique(np.r_[np.arange(0, day, 101), np.clip(ends, 0, day - 1).ravel()])
    sign = ";" if drop else ":"
    for frame, (h, m, s, f) in zip(frames.tolist(), labels(frames, rate, drop).tolist(), strict=True):
        theirs = otio.opentime.RationalTime(frame, float(rate)).to_timecode(float(rate), drop)
        assert f"{h:02d}:{m:02d}:{s:02d}{sign}{f:02d}" == theirs


def test_drop_frame_over_a_whole_day_is_one_to_one_and_in_order():
    # ST 12-1: two labels dropped each minute but every tenth: 2,589,408 frames in a day of 29.97.
    all_labels = labels(np.arange(2_589_408), NTSC, True) @ np.array([108_000, 1800, 30, 1])
    assert np.all(np.diff(all_labels) > 0)
    assert set(np.unique(np.diff(all_labels))) == {1, 3}
    assert format_timecode(2_589_407, NTSC, True) == "23:59:59;29"
    assert format_timecode(2_589_408, NTSC, True) == "00:00:00;00"


def test_ten_minutes_of_drop_frame():
    # ST 12-1's worked example, from memory.
    assert format_timecode(17982, NTSC, True) == "00:10:00;00"
    assert parse_timecode("00:10:00;00", NTSC) == 17982


@given(st.integers(0, 2_589_407), st.booleans())
def test_timecode_comes_back(frame, drop):
    assert parse_timecode(format_timecode(frame, NTSC, drop), NTSC) == frame


@pytest.mark.parametrize(
    "text", ["00:01:00;00", "24:00:00:00", "00:60:00:00", "00:00:00:30", "1:2:3:4", "", "aa:bb:cc:dd"]
)
def test_a_timecode_that_does_not_exist_is_refused(text):
    with pytest.raises(BadInput):
        parse_timecode(text, NTSC)


def test_drop_frame_needs_its_rate():
    with pytest.raises(BadInput, match="does not exist at 24"):
        format_timecode(0, Fraction(24), True)


@pytest.mark.parametrize(("first", "last"), [(10, 9), (0, 200_000), (-1, 5)])
def test_a_range_must_be_in_order_and_bounded(first, last):
    with pytest.raises(ValueError, match=r"ends before|longer than|greater than or equal"):
        Frames(first=first, last=last)


@pytest.mark.parametrize("text", ["0", "23", "nan", "1/0", "24000/1000.5", "🕰"])
def test_only_known_rates(text):
    with pytest.raises(BadInput):
        parse_rate(text)
