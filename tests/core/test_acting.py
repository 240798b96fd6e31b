"""What figures do: runs, seats, reaches, gestures, and how one act goes over into the next."""

import numpy as np
import pytest
from acting import FPS, frames, joint, performed, slide, stances
from hypothesis import given, settings
from hypothesis import strategies as st

from heron.curves import Channel, Key
from heron.stage.acts.body import (
    Crouch,
    Flinch,
    Kneel,
    Laugh,
    Lean,
    Run,
    Sit,
    Stand,
    StandUp,
    Start,
    StepAside,
    StopShort,
    Talk,
    Turn,
    Walk,
    WalkBack,
    WalkWith,
)
from heron.stage.acts.hands import Beckon, FoldArms, HandToMouth, Reach, Shrug, Wave
from heron.stage.acts.look import LookAbout, Nod, ShakeHead
from heron.stage.acts.pose import Pose
from heron.stage.body import INDEX
from heron.stage.lanes import crowded, making_room
from heron.stage.piece import Piece
from heron.stage.reference import AtPoint


def at(done, name, frame=None):
    places = done.places[:, INDEX[name]]
    return places if frame is None else places[frame - 1001]


@pytest.mark.parametrize(("speed", "steps_a_minute"), [(2.4, 169), (3.5, 176), (5.0, 186)])
def test_a_run_has_the_cadence_and_the_flight_of_one(speed, steps_a_minute):
    """Cadence, and time on the ground of 0.35 to 0.2 of a stride: Cavagna and others (1988), from memory."""
    fps = 96
    done = performed(
        Run(frames=frames(1010, 1010 + 8 * fps), points=((0, -6.5 * speed),)), last=1800, fps=fps
    )
    v = np.hypot(*np.gradient(done.root[:, [0, 2]], axis=0).T) * fps
    steady = np.flatnonzero(v > 0.995 * v.max())
    part = slice(steady[0] + fps // 2, steady[-1] - fps // 2)
    lands = sorted(a for side in "rl" for a, _ in stances(done, side) if part.start < a < part.stop)
    cadence = 60 * fps / np.diff(lands).mean()
    assert cadence == pytest.approx(
        steps_a_minute * np.interp(v.max() / speed, [0.5, 2], [0.95, 1.1]), rel=0.05
    )
    down = done.feet["r"].planted | done.feet["l"].planted
    assert 0.1 < 1 - down[part].mean() < 0.62  # in the air at times; never so in a walk
    right = done.feet["r"].planted[part].mean()
    assert 0.18 < right < 0.40
    # In the air a body falls freely.
    fall = np.gradient(np.gradient(at(done, "pelvis")[:, 1])) * fps * fps
    air = np.flatnonzero(~down)
    inside = [i for i in air if part.start < i < part.stop and not down[i - 3 : i + 4].any()]
    np.testing.assert_allclose(fall[inside], -9.81, rtol=0.05)
    # The body rises and falls by 5 to 10 cm (the same source).
    assert 0.045 < np.ptp(at(done, "pelvis")[part, 1]) < 0.11
    assert max(slide(done, "r") + slide(done, "l")) < 0.02


@pytest.mark.parametrize("stature", [1.35, 1.7, 1.95])
def test_somebody_who_sits_is_on_the_seat_with_the_feet_where_they_stood(stature):
    seat = Piece(id="s", name="S", kind="box", x=0, z=0.45, width=0.5, depth=0.5, height=0.45)
    # With the back to it, calves at its edge.
    done = performed(
        Sit(frames=frames(1010, 1060), on="s"), StandUp(frames=frames(1090, 1135)), pieces=[seat], stature=stature,
        z=0.2 + min(0.2 * stature, 0.25) - 0.235 * stature, last=1180,
    )  # fmt: skip
    hip, knee, ankle = (at(done, f"{name}_r", 1075) for name in ("hip", "knee", "ankle"))
    assert hip[1] == pytest.approx(0.45 + 0.048 * stature, abs=0.005)
    # The knee by the law of cosines, from shares of stature as printed (thigh 0.245, shank 0.246).
    thigh, shank, away = 0.245 * stature, 0.246 * stature, np.linalg.norm(hip - ankle)
    between = np.degrees(np.arccos((thigh**2 + shank**2 - away**2) / (2 * thigh * shank)))
    found = np.degrees(np.arccos((hip - knee) @ (ankle - knee) / thigh / shank))
    assert found == pytest.approx(between, abs=0.5) and 70 < found < 125
    for side in "rl":
        ball = at(done, f"ball_{side}")
        assert np.hypot(*(ball - ball[0])[:, [0, 2]].T).max() < 0.01  # nothing has stepped
    # The root goes back with the body, and comes forward again.
    assert done.root[74, 2] - done.root[0, 2] == pytest.approx(0.235 * stature, abs=0.02)
    np.testing.assert_allclose(done.root[-1], done.root[0], atol=0.01)
    np.testing.assert_allclose(at(done, "pelvis")[-1], at(done, "pelvis")[0], atol=0.01)


def test_a_seat_that_is_not_near_is_walked_to_and_one_that_is_none_is_stood_before():
    seat = Piece(id="s", name="S", kind="box", x=2.0, z=-2.0, width=0.5, depth=0.5, height=0.45)
    done = performed(Sit(frames=frames(1010, 1150), on="s"), pieces=[seat])
    pelvis = at(done, "pelvis", 1160)
    assert abs(pelvis[0] - 2) < 0.26 and abs(pelvis[2] + 2) < 0.26 and pelvis[1] < 0.6
    for wrong in ({"height": 0.8}, {"height": 0.2}, {"kind": "ramp"}):
        other = Piece.model_validate({**seat.model_dump(), **wrong})
        stands = performed(Sit(frames=frames(1010, 1150), on="s"), pieces=[other])
        np.testing.assert_allclose(stands.root, np.zeros_like(stands.root), atol=1e-9)
        assert at(stands, "pelvis")[:, 1].min() > 0.85


@pytest.mark.parametrize("hand", ["right", "left"])
@pytest.mark.parametrize("stature", [1.2, 1.7, 2.0])
@pytest.mark.parametrize(
    "where", [(0.25, 0.75, -0.30), (0.0, 0.70, -0.36), (0.12, 0.45, -0.30), (0.05, 1.05, -0.15)]
)
def test_a_palm_that_reaches_is_there_by_a_chain_of_its_own(hand, stature, where):
    sign = 1 if hand == "right" else -1
    x, y, z = where[0] * sign * stature, where[1] * stature, where[2] * stature
    done = performed(Reach(frames=frames(1010, 1080), at=AtPoint(x=x, y=y, z=z), hand=hand), stature=stature)
    palm = joint(done, f"knuckle_{hand[0]}", stature)
    assert np.linalg.norm(palm[1040 - 1001 : 1050 - 1001] - [x, y, z], axis=1).max() < 0.001
    # It leaves from where the hand hangs and comes back there, and no foot moves.
    assert np.linalg.norm(np.diff(palm, axis=0), axis=1).max() * FPS < 5.0  # metres a second
    np.testing.assert_allclose(palm[-1], palm[0], atol=0.03)
    assert max(slide(done, "r") + slide(done, "l")) < 0.002


def test_hands_go_where_the_gesture_says():
    folds = performed(FoldArms(frames=frames(1010, 1100)))
    for side, other in ("rl", "lr"):
        palm, upper = at(folds, f"knuckle_{side}", 1060), at(folds, f"elbow_{other}", 1060)
        shoulder = at(folds, f"shoulder_{other}", 1060)
        along = (palm - shoulder) @ (upper - shoulder) / np.sum((upper - shoulder) ** 2)
        off = np.linalg.norm(palm - shoulder - along * (upper - shoulder))
        assert 0 < along < 1 and off < 0.16  # at the other upper arm
        assert palm[2] < at(folds, "chest", 1060)[2] - 0.1  # before the chest
    mouth = performed(HandToMouth(frames=frames(1010, 1080)))
    chin = mouth.landmark("chin")[1045 - 1001]
    assert np.linalg.norm(at(mouth, "knuckle_r", 1045) - chin) < 0.07
    waves = performed(Wave(frames=frames(1010, 1090)))
    hand = at(waves, "wrist_r")
    up = slice(1030 - 1001, 1070 - 1001)
    assert hand[up, 1].min() > at(waves, "shoulder_r")[up, 1].max()
    crossings = np.count_nonzero(np.diff(np.sign(hand[up, 0] - hand[up, 0].mean())))
    assert crossings == pytest.approx(2 * 2.0 * 40 / FPS, abs=1.1)  # twice a second, there and back


def test_a_beckoning_hand_comes_nearer_again_and_again_and_a_shrug_lifts_both_shoulders():
    beckons = performed(Beckon(frames=frames(1010, 1090), hand="left"))
    part = slice(1024 - 1001, 1076 - 1001)
    away = np.linalg.norm(at(beckons, "knuckle_l") - at(beckons, "shoulder_l"), axis=1)[part]
    palm = at(beckons, "knuckle_l")[part]
    assert (
        palm[:, 2].max() < -0.15 and 0.55 * 1.7 < palm[:, 1].min() < palm[:, 1].max() < 0.87 * 1.7
    )  # before its chest
    turns = np.count_nonzero(np.diff(np.sign(np.diff(away))) > 0)
    assert np.ptp(away) > 0.08 and turns == pytest.approx(1.5 * 52 / FPS, abs=1)  # 1.5 times a second
    shrugs = performed(Shrug(frames=frames(1010, 1047)))
    i = 1028 - 1001
    for side, sign in (("r", 1), ("l", -1)):
        rise = at(shrugs, f"shoulder_{side}")[:, 1] - at(shrugs, f"shoulder_{side}")[0, 1]
        assert 0.02 < rise[i] < 0.07 and abs(rise[-1]) < 0.005
        # Elbows at the sides and bent, hands out.
        elbow, wrist = at(shrugs, f"elbow_{side}")[i], at(shrugs, f"wrist_{side}")[i]
        assert (
            sign * (wrist[0] - elbow[0]) > 0.05 and wrist[1] > elbow[1] - 0.12 and wrist[2] < elbow[2] - 0.1
        )


def test_a_nod_is_up_and_down_and_a_shake_to_both_sides():
    for act, axis in ((Nod, 1), (ShakeHead, 0)):
        done = performed(act(frames=frames(1010, 1050)))
        eyes = done.landmark("eyes") - performed().landmark("eyes")
        assert np.ptp(eyes[:, axis]) > 3 * np.ptp(eyes[:, 1 - axis])
        assert np.abs(eyes[60:]).max() < 1e-6


def test_bodies_go_down_and_come_up_again_with_their_feet_still():
    for act, low in ((Crouch, 0.26), (Kneel, 0.30)):
        done = performed(act(frames=frames(1010, 1090)))
        heights = at(done, "pelvis")[:, 1] / 1.7
        assert heights.min() < low and heights[-1] == pytest.approx(heights[0], abs=1e-3)
        knees = [at(done, f"knee_{side}")[:, 1].min() / 1.7 for side in "rl"]
        assert min(knees) > 0.005 and (
            act is Crouch or min(knees) < 0.06
        )  # a knee is on the floor, not in it
        assert max(slide(done, "r") + slide(done, "l")) < 0.02
    stays = performed(Crouch(frames=frames(1010, 1050), hold=True), Stand(frames=frames(1120, 1190)))
    assert at(stays, "pelvis", 1110)[1] < 0.27 * 1.7 < 0.5 * 1.7 < at(stays, "pelvis", 1150)[1]


def test_stepping_aside_and_walking_back_go_as_far_as_they_say_facing_as_before():
    aside = performed(StepAside(frames=frames(1010, 1040), side="left", far=0.4))
    back = performed(WalkBack(frames=frames(1010, 1080), far=2.0))
    np.testing.assert_allclose(aside.root[-1], [-0.4, 0, 0], atol=1e-6)
    np.testing.assert_allclose(back.root[-1], [0, 0, 2.0], atol=1e-6)
    for done in (aside, back):
        assert np.abs(done.turns[:, 0, 1]).max() < 1e-9
        assert max(slide(done, "r") + slide(done, "l")) < 0.01
    assert len(stances(aside, "l")) == len(stances(aside, "r")) == 2  # one step, and the other foot closes up


@pytest.mark.parametrize(
    ("place", "side", "far"), [("beside", "left", 0.8), ("beside", "right", 1.2), ("behind", "left", 1.5)]
)
def test_somebody_walks_beside_or_behind_what_goes_at_its_distance(place, side, far):
    way = np.zeros((400, 3))
    pace = np.clip(np.minimum(np.arange(400) - 60, 300 - np.arange(400)) / 24, 0, 1)
    u = np.cumsum(pace) / pace.sum()
    way[:, 0], way[:, 2] = 3 * np.sin(u * np.pi / 2), -8 * u  # a long bend, at 1 m/s
    done = performed(
        WalkWith(frames=frames(1010, 1390), at=AtPoint(x=0, y=0, z=0), place=place, side=side, far=far), last=1400, where=way, x=-0.5, z=1.5
    )  # fmt: skip
    off = done.root[150:280, [0, 2]] - way[150:280, [0, 2]]
    ahead = np.gradient(way[:, [0, 2]], axis=0)[150:280]
    ahead /= np.linalg.norm(ahead, axis=1)[:, None]
    along, right = np.sum(off * ahead, axis=1), off[:, 1] * ahead[:, 0] - off[:, 0] * ahead[:, 1]
    if place == "beside":
        np.testing.assert_allclose(np.linalg.norm(off, axis=1), far, atol=0.03)
        # The right of who walks along −Z is at +X.
        assert np.abs(along).max() < 0.12 and (np.sign(right) == (1 if side == "right" else -1)).all()
    else:
        np.testing.assert_allclose(-along, far, atol=0.06)
        assert np.abs(right).max() < 0.2
    assert max(slide(done, "r") + slide(done, "l")) < 0.02
    speed = np.linalg.norm(np.diff(done.root[:, [0, 2]], axis=0), axis=1) * FPS
    assert np.abs(np.diff(speed)).max() < 0.25 and speed[-5:].max() < 0.02


def test_what_an_act_holds_can_be_slipped_stretched_and_repeated():
    plain = at(performed(Wave(frames=frames(1010, 1069))), "wrist_r")
    quick = at(performed(Wave(frames=frames(1010, 1039), speed=2.0)), "wrist_r")
    # At twice the speed each of its frames shows every other one, but for breath and the ends of the blend.
    assert np.abs(quick[20:28] - plain[31:47:2]).max() < 0.03
    twice = at(performed(Wave(frames=frames(1010, 1129), repeat=2)), "wrist_r")
    assert (
        np.abs(twice[20:60] - plain[20:60]).max() < 1e-9 and np.abs(twice[80:119] - plain[20:59]).max() < 0.03
    )
    later = at(performed(Wave(frames=frames(1020, 1069), slip=10)), "wrist_r")
    assert np.abs(later[30:60] - plain[30:60]).max() < 1e-9


def test_the_next_act_begins_where_the_last_one_left_it_even_when_that_changes():
    for end in (-3.0, -4.5):
        done = performed(
            Walk(frames=frames(1010, 1110), points=((0, end),)), Turn(frames=frames(1111, 1140), heading=90),
            WalkBack(frames=frames(1141, 1190), far=1.0),
        )  # fmt: skip
        np.testing.assert_allclose(done.root[-1], [1.0, 0, end], atol=1e-6)
        # Facing −X its right foot stands at −Z, half the width of the hips away (Drillis and Contini, from memory).
        apart = [at(done, f"ankle_{side}")[-1] - done.root[-1] for side in "rl"]
        np.testing.assert_allclose([a[[0, 2]] for a in apart], [[0, -0.095], [0, 0.095]], atol=0.01)


def test_two_walks_that_overlap_are_one_way_without_a_stop():
    one, two = (
        Walk(frames=frames(1010, 1100), points=((0, -4),)),
        Walk(frames=frames(1080, 1170), points=((-3, -7),)),
    )
    done = performed(one, two)
    v = np.hypot(*np.diff(done.root[:, [0, 2]], axis=0).T) * FPS
    assert v[1030 - 1001 : 1150 - 1001].min() > 0.6
    np.testing.assert_allclose(done.root[-1, [0, 2]], [-3, -7], atol=1e-6)
    assert max(slide(done, "r") + slide(done, "l")) < 0.02
    # Feet go in turn.
    lands = sorted((a, side) for side in "rl" for a, _ in stances(done, side)[1:])
    assert all(a[1] != b[1] for a, b in zip(lands, lands[1:], strict=False))


BODIES = st.sampled_from(
    [Walk, Run, Start, StopShort, Stand, Turn, StepAside, WalkBack, Crouch, Lean, Laugh, Flinch, Talk]
)


@st.composite
def performances(draw):
    """Two to five acts of a body, most of them overlapping the one before; walks and runs at a pace that people have."""
    acts, first, place = [], 1005, np.zeros(2)
    for _ in range(draw(st.integers(2, 5))):
        kind, count = draw(BODIES), draw(st.integers(36, 100))
        way = {}
        if kind in (Walk, Run):
            pace = draw(st.floats(0.7, 1.5) if kind is Walk else st.floats(2.3, 3.5))
            turn = draw(st.floats(-0.9, 0.9))
            place = place + pace * (count / FPS - 1.3) * np.array([np.sin(turn), -np.cos(turn)])
            # Quicker here, slower there, where it is keyed.
            paces = draw(st.lists(st.floats(0.6, 1.3), max_size=2))
            keys = tuple(Key(frame=first + 30 * i + 10, value=v) for i, v in enumerate(paces))
            way = {"points": (tuple(place),), "pace": Channel(rest=1, keys=keys)}
        elif kind is Start:
            place = place + 1.3 * (count / FPS - 0.9) * np.array([0.0, -1.0])
        elif kind is Turn:
            way = {"heading": draw(st.floats(-60, 60))}
        acts.append(kind(frames=frames(first, first + count - 1), **way))
        first += count - draw(st.integers(-8, count // 3))
    out = []
    for act in acts:
        out, _ = making_room(out, act)
    return tuple(out), acts[-1].frames.last + 30


@settings(max_examples=30, deadline=None)
@given(performances())
def test_whatever_overlaps_no_foot_slides_sinks_or_tears(made):
    acts, last = made
    done = performed(*acts, last=last)
    assert np.isfinite(done.places).all() and np.isfinite(done.turns).all()
    running = any(isinstance(act, Run) for act in acts)
    speeds = [fact.get("speed", 0.0) for fact in done.facts]
    if max(speeds) > (4.6 if running else 1.8):
        return  # what follows an earlier act may have too little time; the commands refuse that
    for side in "rl":
        assert (
            at(done, f"ball_{side}")[:, 1].min() > 0.010 * 1.7 - 0.006
        )  # the sole is on the floor, not in it
        assert at(done, f"ankle_{side}")[:, 1].min() > 0.02 * 1.7
        assert max(slide(done, side), default=0) < (0.035 if running else 0.02)
    dots = np.abs(np.sum(done.turns[1:] * done.turns[:-1], axis=-1)).clip(0, 1)
    fastest = np.degrees(2 * np.arccos(dots)).max()
    assert fastest < (90 if running else 60)
    # The body never jumps: its speed changes by no more than a person's can in a frame.
    speed = np.diff(done.root[:, [0, 2]], axis=0) * FPS
    assert np.hypot(*np.diff(speed, axis=0).T).max() < (1.6 if running else 0.65)


@settings(max_examples=100, deadline=None)
@given(st.lists(st.tuples(st.integers(0, 200), st.integers(1, 90)), min_size=1, max_size=8))
def test_no_overlap_is_longer_than_half_of_the_shorter_whatever_is_put_where(spans):
    lane = []
    for i, (first, count) in enumerate(spans):
        act = Talk(id=f"t{i}", frames=frames(first, first + count - 1))
        lane, told = making_room(lane, act)
        assert crowded(lane) is None and act in lane
        assert all(was is not act for was, _ in told)


def test_a_pose_made_by_hand_moves_what_it_says_over_whatever_runs_and_is_mirrored():
    wave = Wave(frames=frames(1010, 1120))
    plain = performed(wave)
    pose = Pose(
        frames=frames(1030, 1110),
        left_hand_up=0.35,
        left_hand_ahead=0.3,
        hips_up=-0.12,
        head_turn=25.0,
        right_foot_ahead=0.2,
    )
    held = performed(wave, pose)
    i = 1070 - 1001
    # Hips 12 cm lower; the left palm 35 cm higher than it would be then, and 30 cm ahead; the right one goes on waving.
    assert at(held, "pelvis")[i, 1] == pytest.approx(at(plain, "pelvis")[i, 1] - 0.12, abs=0.01)
    by = at(held, "knuckle_l")[i] - at(plain, "knuckle_l")[i]
    np.testing.assert_allclose(by, [0, 0.35 - 0.12, -0.3], atol=0.02)
    assert np.ptp(at(held, "wrist_r")[i - 12 : i + 12, 0]) > 0.1
    assert at(held, "ankle_r")[i, 2] == pytest.approx(at(plain, "ankle_r")[i, 2] - 0.2, abs=0.005)
    np.testing.assert_allclose(held.places[-1], plain.places[-1], atol=1e-6)
    # Mirrored, the other side does it: by the pose's own mirror image in the plane x = 0.
    one, two = performed(pose), performed(pose.mirrored())
    for right, left in (("knuckle_r", "knuckle_l"), ("ankle_r", "ankle_l")):
        np.testing.assert_allclose(at(one, left)[i] * [-1, 1, 1], at(two, right)[i], atol=0.03)
    with pytest.raises(ValueError, match="45"):
        Pose(frames=frames(1030, 1110), twist=50.0)


@pytest.mark.parametrize("act", [Nod, ShakeHead, LookAbout, Wave, Shrug, Laugh])
def test_an_act_of_which_one_frame_alone_is_in_the_scene_is_performed(act):
    done = performed(act(frames=frames(1030, 1090)), last=1030)
    assert np.isfinite(done.poses).all()
