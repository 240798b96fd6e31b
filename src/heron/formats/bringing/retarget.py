"""A motion from elsewhere carried over to a figure's joints, in turns on the stage, with its feet set."""

from typing import Any

import numpy as np
from scipy.ndimage import gaussian_filter1d
from scipy.spatial.transform import Rotation

from heron.errors import BadInput
from heron.formats.bringing.bvh_in import Skeleton
from heron.formats.bringing.found import Floats
from heron.formats.bringing.mapping import Mapped, mapped
from heron.stage.motions.recording import LEG, Recording
from heron.stage.skeleton import INDEX, JOINTS

Bools = np.ndarray[Any, np.dtype[np.bool_]]
#: A pose on the first frame that this many joints leave by more than this by the next is for setting up, not motion.
_JUMPS, _JUMP_DEG = 3, 25.0
#: The way it faces is evened out over so many seconds.
_HEADING_S = 0.12
#: A foot is down while it is slow and low: metres a second to begin and to go on, metres over where it stands, both of
#: somebody 1.70 m tall; seconds of gaps that are closed, and of what is too short to be a step.
_BEGINS, _GOES_ON, _LOW, _GAP_S, _SHORT_S, _TALL = 0.25, 0.40, 0.05, 0.08, 0.10, 1.70


#: The bone by which the turn of each joint that hangs is found: from one joint to another.
BONES = {
    f"{joint}_{side}": (f"{a}_{side}", f"{b}_{side}")
    for side in "rl"
    for joint, a, b in (
        ("shoulder", "shoulder", "elbow"), ("elbow", "elbow", "wrist"), ("wrist", "elbow", "wrist"), ("knuckle", "elbow", "wrist"),
        ("hip", "hip", "knee"), ("knee", "knee", "ankle"),
    )
}  # fmt: skip


def standing(skeleton: Skeleton, asked: dict[str, str] | None = None) -> tuple[Mapped, bool]:
    """A person's joints in a skeleton, found in the pose at rest, else in the first frame; whether it was at rest.

    Raises:
        BadInput: it is no person's.
    """
    try:
        return mapped(
            skeleton.names, skeleton.parents, skeleton.rest[:, :3, 3], _tips(skeleton, skeleton.rest), asked
        ), True
    except BadInput as error:
        if error.field == "map":
            raise
        try:
            first = skeleton.places[0]
            return mapped(
                skeleton.names, skeleton.parents, first[:, :3, 3], _tips(skeleton, first), asked
            ), False
        except BadInput:
            raise error from None


def _tips(skeleton: Skeleton, pose: Floats) -> dict[int, Floats]:
    return {i: pose[i, :3, :3] @ tip + pose[i, :3, 3] for i, tip in skeleton.tips.items()}


def carried_over(
    skeleton: Skeleton, person: Mapped, at_rest: bool
) -> tuple[Recording, Floats, tuple[str, ...]]:
    """A skeleton's motion as a figure's; (n, j, 3) where its own joints are as the pelvis is told; and what was noticed.

    Raises:
        BadInput: it has fewer than two frames.
    """
    said = list(skeleton.said)
    places, rest = skeleton.places, skeleton.rest if at_rest else skeleton.places[0]
    if len(places) > 2 and _sets_up(places):
        places = places[1:]
        said.append("Its first frame is a pose for setting up, and is left out.")
    if len(places) < 2:
        raise BadInput("It has one frame alone.", "Give a motion of two frames or more.")
    n, axes, joints = len(places), person.axes, person.joints
    # Where joints are, in legs, with the person's own right, up and back as axes.
    at = (places[:, :, :3, 3] @ axes.T) / person.leg
    first = (rest[:, :3, 3] @ axes.T) / person.leg
    turned = axes @ (places[:, :, :3, :3] @ np.linalg.inv(rest[:, :3, :3])) @ axes.T
    turned = _rotations(turned)

    def world(ours: str, bone: tuple[str, str] | None = None) -> Rotation | None:
        if ours not in joints:
            return None
        made = Rotation.from_matrix(turned[:, joints[ours]])
        if bone is not None and all(one in joints for one in bone):
            made = made * least_turn(first[joints[bone[1]]] - first[joints[bone[0]]])
        return made

    hips = (at[:, joints["hip_r"]] + at[:, joints["hip_l"]]) / 2
    ankles = np.stack([at[:, joints[f"ankle_{s}"]] for s in "rl"], axis=1)
    balls = np.stack([at[:, joints.get(f"ball_{s}", joints[f"ankle_{s}"])] for s in "rl"], axis=1)
    lowest = float(np.quantile(ankles[..., 1].min(axis=1), 0.05))
    pelvis = world("pelvis")
    assert pelvis is not None
    ahead = pelvis.apply([0.0, 0.0, -1.0])
    heading = np.degrees(np.unwrap(np.arctan2(-ahead[:, 0], -ahead[:, 2])))
    heading = _evened(heading, _HEADING_S * skeleton.rate)
    facing = Rotation.from_euler("Y", heading[:, None], degrees=True)
    ankles, planted = _set_feet(ankles, balls, skeleton.rate)

    turns: dict[str, Rotation] = {"root": facing}
    for joint in JOINTS[1:]:
        above = turns[JOINTS[joint.parent].name]
        own = world(joint.name, BONES.get(joint.name))
        if own is None:
            own = _between(joint.name, above, turns, world)
        turns[joint.name] = own
    local = np.zeros((n, len(JOINTS), 4))
    local[:, 0, 3] = 1.0
    for joint in JOINTS[1:]:
        local[:, INDEX[joint.name]] = (turns[JOINTS[joint.parent].name].inv() * turns[joint.name]).as_quat()
    back = facing.inv()
    begin = np.array([hips[0, 0], 0.0, hips[0, 2]])
    turn = Rotation.from_euler("Y", -heading[0], degrees=True)
    way = turn.apply(hips * [1, 0, 1] - begin)
    root = hips * [1, 0, 1]
    recording = Recording(
        skeleton.rate, way[:, [0, 2]], heading - heading[0],
        back.apply(hips - root) - [0, lowest, 0], local,
        np.stack([back.apply(ankles[:, k] - root) - [0, lowest, 0] for k in range(2)], axis=1),
        np.stack([(back * turns[f"ankle_{s}"]).as_quat() for s in "rl"], axis=1), planted,
    )  # fmt: skip
    away = at - root[:, None] - [0, lowest, 0]
    bones = np.einsum("nab,njb->nja", back.as_matrix(), away)
    return recording, bones, tuple(said)


def _evened(values: Floats, frames: float) -> Floats:
    """Values evened out over so many frames; the first and the last stay what they are."""
    wide = min(int(4 * frames) + 1, len(values) - 1)
    whole = np.pad(values, wide, mode="reflect", reflect_type="odd")
    return np.asarray(gaussian_filter1d(whole, max(frames, 1e-3))[wide : wide + len(values)])


def _rotations(matrices: Floats) -> Floats:
    """The same without sizes: columns of length one."""
    return np.asarray(matrices / np.maximum(np.linalg.norm(matrices, axis=-2, keepdims=True), 1e-12))


def least_turn(bone: Floats) -> Rotation:
    """The least turn from a bone that hangs to one as it is at rest."""
    to = bone / max(float(np.linalg.norm(bone)), 1e-12)
    hangs = np.array([0.0, -1.0, 0.0])
    axis = np.cross(hangs, to)
    size = float(np.linalg.norm(axis))
    if size < 1e-9:
        return Rotation.identity() if to[1] < 0 else Rotation.from_euler("Z", 180.0, degrees=True)
    return Rotation.from_rotvec(axis / size * np.arctan2(size, float(hangs @ to)))


def _between(name: str, above: Rotation, turns: dict[str, Rotation], world: object) -> Rotation:
    """A joint that the file lacks: half way to the next one it has, else with the one above it."""
    following = {"spine": "chest", "neck": "head"}.get(name)
    ahead = world(following) if following and callable(world) else None
    if ahead is None:
        return above
    return above * Rotation.from_rotvec(0.5 * (above.inv() * ahead).as_rotvec())


def _sets_up(places: Floats) -> bool:
    one, two = _rotations(places[0, :, :3, :3]), _rotations(places[1, :, :3, :3])
    local = np.einsum("jab,jac->jbc", one, two)
    angle = np.degrees(np.arccos(np.clip((np.trace(local, axis1=1, axis2=2) - 1) / 2, -1, 1)))
    three, four = _rotations(places[1, :, :3, :3]), _rotations(places[2, :, :3, :3])
    goes_on = np.degrees(
        np.arccos(
            np.clip((np.trace(np.einsum("jab,jac->jbc", three, four), axis1=1, axis2=2) - 1) / 2, -1, 1)
        )
    )
    return bool((angle > _JUMP_DEG).sum() > _JUMPS and (goes_on > _JUMP_DEG).sum() <= _JUMPS)


def _set_feet(ankles: Floats, balls: Floats, rate: float) -> tuple[Floats, Bools]:
    """Feet that stand where they stand: ankles (n, 2, 3) in legs, and whether each is down, (n, 2)."""
    leg = LEG * _TALL
    out, down = ankles.copy(), np.zeros(ankles.shape[:2], dtype=bool)
    for k in range(2):
        ball, ankle = balls[:, k] * leg, ankles[:, k] * leg
        down[:, k] = _down(ball, ankle, rate)
        offset = np.full(ball.shape, np.nan)
        for first, stop in _runs(down[:, k]):
            lock = np.median(ball[first:stop, [0, 2]], axis=0)
            offset[first:stop, [0, 2]] = lock - ball[first:stop][:, [0, 2]]
            offset[first:stop, 1] = 0.0
        out[:, k] += _filled(offset) / leg
    return out, down


def _down(ball: Floats, ankle: Floats, rate: float) -> Bools:
    """(n,) whether a foot is down."""

    def slow_and_low(at: Floats, speed: float) -> Bools:
        pace = np.linalg.norm(np.gradient(at, axis=0), axis=1) * rate
        low = at[:, 1] < np.quantile(at[:, 1], 0.03) + _LOW
        return np.asarray((pace <= speed) & low)

    begins = slow_and_low(ball, _BEGINS) | slow_and_low(ankle, _BEGINS)
    goes_on = slow_and_low(ball, _GOES_ON) | slow_and_low(ankle, _GOES_ON)
    down = np.zeros(len(ball), dtype=bool)
    for first, stop in _runs(goes_on):
        down[first:stop] = begins[first:stop].any()
    for first, stop in _runs(~down):
        if first > 0 and stop < len(down) and stop - first < _GAP_S * rate:
            down[first:stop] = True
    for first, stop in _runs(down):
        if stop - first < _SHORT_S * rate:
            down[first:stop] = False
    return down


def _runs(flags: Bools) -> list[tuple[int, int]]:
    edges = np.flatnonzero(np.diff(np.r_[False, flags, False].astype(int)))
    return [(int(a), int(b)) for a, b in zip(edges[::2], edges[1::2], strict=True)]


def _filled(offset: Floats) -> Floats:
    """Offsets where there are none: eased from the one before to the one after; nothing where there is none at all."""
    known = np.flatnonzero(np.isfinite(offset[:, 0]))
    if not len(known):
        return np.zeros_like(offset)
    out = offset.copy()
    out[: known[0]], out[known[-1] :] = offset[known[0]], offset[known[-1]]
    for a, b in zip(known, known[1:], strict=False):
        if b - a > 1:
            u = np.linspace(0, 1, b - a + 1)[1:-1, None]
            share = u**3 * (10 - 15 * u + 6 * u * u)
            out[a + 1 : b] = offset[a] * (1 - share) + offset[b] * share
    return out
