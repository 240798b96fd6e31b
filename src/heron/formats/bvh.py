"""A figure's motion as BVH: centimetres, Y up, facing +Z, hips as root, arms out at rest, rotations Z X Y without jumps."""

from collections.abc import Callable
from typing import Any

import numpy as np
from scipy.spatial.transform import Rotation

from heron.bake import Bake
from heron.stage.figure import Figure
from heron.stage.physique import Physique, Proportions
from heron.stage.skeleton import INDEX, JOINTS
from heron.timebase import parse_rate

Floats = np.ndarray[Any, np.dtype[np.float64]]
Spread = Callable[[str], Rotation]
_CM = 100.0
_ORDER = "ZXY"
#: What stands at the ends of chains.
_ENDS = {"head": "crown", "knuckle_r": "fingertips_r", "knuckle_l": "fingertips_l"}
#: From the stage's frame, in which a figure faces −Z, to one in which it faces +Z.
_ROUND = Rotation.from_euler("Y", 180.0, degrees=True)


def write_bvh(bake: Bake, figure: Figure) -> bytes:
    """A figure over the scene's frames. Where it stands at the first frame, and the way it faces, stay what they are."""
    done, tall = bake.performance(figure), figure.stature
    out = {side: Rotation.from_euler("Z", 90.0 if side == "r" else -90.0, degrees=True) for side in "rl"}
    names = [joint.name for joint in JOINTS[1:] if not joint.name.startswith("eye")]

    def spread(name: str) -> Rotation:
        """How a joint is turned at rest, from hanging arms to arms held out."""
        limb = name.split("_")[0] in ("shoulder", "elbow", "wrist", "knuckle")
        return out[name[-1]] if limb else Rotation.identity()

    body = done.physique.shares
    rest = {name: _spread_place(name, spread, body) * tall * _CM for name in names}
    turns = {
        name: _ROUND * Rotation.from_quat(done.poses[:, INDEX[name]]) * spread(name).inv() * _ROUND.inv()
        for name in names
    }
    lines, order = ["HIERARCHY"], []
    children = {
        name: [one.name for one in JOINTS if one.name in names and JOINTS[one.parent].name == name]
        for name in names
    }

    def put(name: str, deep: int) -> None:
        pad = "\t" * deep
        order.append(name)
        above = JOINTS[JOINTS[INDEX[name]].parent].name
        offset = (
            _ROUND.apply(rest[name] - rest.get(above, 0.0)) if above in rest else _ROUND.apply(rest[name])
        )
        lines.extend(
            [f"{pad}{'JOINT' if deep else 'ROOT'} {name}", f"{pad}{{", f"{pad}\tOFFSET {_three(offset)}"]
        )
        moves = "" if deep else "Xposition Yposition Zposition "
        lines.append(
            f"{pad}\tCHANNELS {3 if deep else 6} {moves}" + " ".join(f"{axis}rotation" for axis in _ORDER)
        )
        for child in children[name]:
            put(child, deep + 1)
        if not children[name]:
            lines.extend(
                [
                    f"{pad}\tEnd Site",
                    f"{pad}\t{{",
                    f"{pad}\t\tOFFSET {_three(_end(name, spread, done.physique))}",
                    f"{pad}\t}}",
                ]
            )
        lines.append(f"{pad}}}")

    put("pelvis", 0)
    columns = [_ROUND.apply(done.places[:, INDEX["pelvis"]]) * _CM]
    for name in order:
        above = JOINTS[JOINTS[INDEX[name]].parent].name
        local = turns[above].inv() * turns[name] if above in turns else turns[name]
        angles = local.as_euler(_ORDER, degrees=True)
        columns.append(np.degrees(np.unwrap(np.radians(angles), axis=0)))
    rows = np.concatenate(columns, axis=1)
    seconds = 1 / float(parse_rate(bake.scene.rate))
    lines += ["MOTION", f"Frames: {len(rows)}", f"Frame Time: {seconds:.9f}"]
    lines += [" ".join(f"{value:.6f}" for value in row) for row in rows.tolist()]
    return ("\n".join(lines) + "\n").encode()


def _spread_place(name: str, spread: Spread, body: Proportions) -> Floats:
    """(3,) where a joint is at rest with arms held out, shares of stature."""
    joint = JOINTS[INDEX[name]]
    above = JOINTS[joint.parent].name
    if joint.parent <= 0:
        return np.array(body.rest[INDEX[name]])
    own = body.offsets[INDEX[name]]
    return np.asarray(_spread_place(above, spread, body) + spread(above).apply(own))


def _end(name: str, spread: Spread, physique: Physique) -> Floats:
    """(3,) centimetres from a last joint to where its bone ends."""
    mark, tall, body = _ENDS.get(name), physique.tall, physique.shares
    if mark is None:
        return np.asarray(_ROUND.apply([0.0, 0.0, -0.06 * tall * _CM]))
    joint, place = body.landmarks[mark]
    own = np.array(place) - (body.rest[INDEX[name]] - body.rest[INDEX[joint]])
    return np.asarray(_ROUND.apply(spread(name).apply(own)) * tall * _CM)


def _three(values: Floats) -> str:
    return " ".join(f"{float(v):.6f}" for v in values)
