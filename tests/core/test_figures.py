"""Bodies against published proportions, and feet that stay where they are put."""

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from heron.stage.acts.body import Talk, Turn, Walk
from heron.stage.acts.hands import PointAt
from heron.stage.body import INDEX, perform
from heron.stage.figure import Figure
from heron.stage.floors import walkable_height
from heron.stage.piece import Piece
from heron.stage.reference import AtPoint
from heron.timebase import Frames

FRAMES = Frames(first=1001, last=1240)


def where(spot):
    return np.tile([spot.x, spot.y, spot.z], (FRAMES.count, 1))


def on(pieces=()):
    return lambda points: walkable_height(tuple(pieces), points)


def walker(**more):
    return Figure(
        id="w", name="W", stature=1.7, x=0.0, z=0.0, heading=20.0,
        acts=(
            Walk(frames=Frames(first=1010, last=1100), points=((0.8, -2.0), (0.0, -5.0))),
            Turn(frames=Frames(first=1105, last=1135), heading=150.0),
            Talk(frames=Frames(first=1140, last=1170)),
            PointAt(frames=Frames(first=1180, last=1230), at=AtPoint(x=3.0, y=2.0, z=-1.0)),
        ),
        **more,
    )  # fmt: skip


def test_heights_standing_are_drillis_and_continis():
    # Drillis and Contini (1966) as printed in biomechanics handbooks, from memory.
    still = perform(Figure(id="s", name="S", stature=1.8), on(), Frames(first=1, last=24), 24, where)
    for name, share in (
        ("knee_r", 0.285),
        ("hip_r", 0.530),
        ("shoulder_l", 0.818),
        ("chin", 0.870),
        ("eyes", 0.936),
        ("ankle_l", 0.039),
    ):
        height = still.landmark(name)[:, 1].mean() / 1.8
        # Standing easy loses a little height at the knees.
        assert height == pytest.approx(share, abs=0.012), name
    assert still.landmark("crown")[:, 1].max() == pytest.approx(1.8, abs=0.02)
    assert len(INDEX) >= 22


@pytest.mark.parametrize(
    "pieces", [(), (Piece(id="p", name="P", kind="platform", x=0, z=-4, width=6, depth=3, height=0.3),)]
)
def test_planted_feet_do_not_slide(pieces):
    figure = walker()
    done = perform(figure, on(pieces), FRAMES, 24, where)
    for side in "rl":
        ball = done.places[:, INDEX[f"ball_{side}"]]
        foot = done.feet[side]
        heel = foot.ankle + Rotation.from_quat(foot.turn).apply([0.0, -0.039 * 1.7, 0.25 * 0.152 * 1.7])
        down = foot.planted
        starts = np.flatnonzero(np.diff(np.r_[False, down].astype(int)) == 1)
        assert len(starts) > 3
        for start in starts:
            stop = start + int(np.argmin(np.r_[down[start:], False]))
            # What bears on the floor stays there: the heel until the toes are down, from then on the ball.
            rolls = foot.pitch[start:stop] > 0.01
            for point, bears in ((heel, rolls), (ball, ~rolls)):
                stays = point[start:stop][bears]
                assert len(stays) == 0 or np.linalg.norm(stays - stays[0], axis=-1).max() < 0.02
            under = walkable_height(tuple(pieces), done.feet[side].ankle[start : start + 1][:, [0, 2]])
            lowest = min(ball[start, 1] - 0.010 * 1.7, heel[start, 1])
            assert abs(lowest - under[0]) < 0.02 or pieces
    assert np.all(np.isfinite(done.places))


def test_one_foot_is_always_down_and_legs_keep_their_length():
    done = perform(walker(), on(), FRAMES, 24, where)
    assert np.all(done.feet["r"].planted | done.feet["l"].planted)
    for side in "rl":
        hip, knee, ankle = (done.places[:, INDEX[f"{j}_{side}"]] for j in ("hip", "knee", "ankle"))
        np.testing.assert_allclose(np.linalg.norm(hip - knee, axis=-1), 0.245 * 1.7, atol=1e-9)
        np.testing.assert_allclose(np.linalg.norm(knee - ankle, axis=-1), 0.246 * 1.7, atol=1e-9)
        # The leg really reaches its foot.
        np.testing.assert_allclose(ankle, done.feet[side].ankle, atol=2e-3)


def test_a_comfortable_walk_has_a_comfortable_cadence():
    # Handbook range for adults at 1.2 to 1.4 m/s: 100 to 120 steps a minute, from memory.
    figure = Figure(
        id="c",
        name="C",
        stature=1.7,
        acts=(Walk(frames=Frames(first=1001, last=1001 + 240), points=((0.0, -12.5),)),),
    )
    fact = perform(figure, on(), Frames(first=1001, last=1250), 24, where).facts[0]
    assert 1.2 < fact["speed"] < 1.4
    assert 100 <= fact["speed"] / fact["step_m"] * 60 <= 120


def test_nothing_pops_between_acts():
    done = perform(walker(), on(), FRAMES, 24, where)
    speed = np.linalg.norm(np.diff(done.places, axis=0), axis=-1) * 24
    root = speed[:, INDEX["root"]]
    assert root.max() < 3.0
    # A hand may move fast, but nothing on a body moves 12 m/s in a walk or a gesture.
    assert speed.max() < 12.0


def test_the_same_figure_bakes_to_the_same_bits():
    one, two = (perform(walker(), on(), FRAMES, 24, where) for _ in range(2))
    assert one.turns.tobytes() == two.turns.tobytes()


def test_ramps_rise_to_their_far_edge():
    ramp = Piece(id="r", name="R", kind="ramp", x=1, z=2, width=2, depth=4, height=1, base=0.5, heading=90)
    # Heading 90 turns −Z to −X: low at x = 3, high at x = −1.
    heights = walkable_height((ramp,), np.array([[2.9, 2.0], [1.0, 2.0], [-0.9, 2.0], [1.0, 3.2]]))
    np.testing.assert_allclose(heights, [0.525, 1.0, 1.475, 0.0], atol=1e-9)
