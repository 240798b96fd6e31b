"""Skeletons as they come from elsewhere, moved by rules written here with scipy alone: what they do is known in advance."""

import json
import struct
from dataclasses import dataclass

import numpy as np
from scipy.spatial.transform import Rotation

#: A person facing +Z with the left at +X, Y up, 1 a leg long: names that are ours, parents, places at rest with arms out.
_TREE = (
    ("hips", None, (0, 1.08, 0)), ("spine", "hips", (0, 1.25, 0)), ("chest", "spine", (0, 1.45, 0)), ("neck", "chest", (0, 1.72, 0)),
    ("head", "neck", (0, 1.82, 0.02)), ("lclav", "chest", (0.05, 1.66, 0)), ("larm", "lclav", (0.19, 1.66, 0)), ("lfore", "larm", (0.57, 1.66, 0)),
    ("lhand", "lfore", (0.87, 1.66, 0)), ("rclav", "chest", (-0.05, 1.66, 0)), ("rarm", "rclav", (-0.19, 1.66, 0)), ("rfore", "rarm", (-0.57, 1.66, 0)),
    ("rhand", "rfore", (-0.87, 1.66, 0)), ("lthigh", "hips", (0.11, 1.06, 0)), ("lshin", "lthigh", (0.11, 0.57, 0)), ("lfoot", "lshin", (0.11, 0.08, 0)),
    ("ltoe", "lfoot", (0.11, 0.02, 0.18)), ("rthigh", "hips", (-0.11, 1.06, 0)), ("rshin", "rthigh", (-0.11, 0.57, 0)), ("rfoot", "rshin", (-0.11, 0.08, 0)),
    ("rtoe", "rfoot", (-0.11, 0.02, 0.18)),
)  # fmt: skip
OURS = {
    "pelvis": "hips", "spine": "spine", "chest": "chest", "neck": "neck", "head": "head", "clavicle_l": "lclav", "shoulder_l": "larm",
    "elbow_l": "lfore", "wrist_l": "lhand", "clavicle_r": "rclav", "shoulder_r": "rarm", "elbow_r": "rfore", "wrist_r": "rhand", "hip_l": "lthigh",
    "knee_l": "lshin", "ankle_l": "lfoot", "ball_l": "ltoe", "hip_r": "rthigh", "knee_r": "rshin", "ankle_r": "rfoot", "ball_r": "rtoe",
}  # fmt: skip
#: How others call them.
NAMES = {
    "plain": {k: k.capitalize() for k in OURS.values()},
    "words": {
        "hips": "Hips", "spine": "Spine", "chest": "Spine1", "neck": "Neck", "head": "Head", "lclav": "LeftShoulder", "larm": "LeftArm",
        "lfore": "LeftForeArm", "lhand": "LeftHand", "rclav": "RightShoulder", "rarm": "RightArm", "rfore": "RightForeArm", "rhand": "RightHand",
        "lthigh": "LeftUpLeg", "lshin": "LeftLeg", "lfoot": "LeftFoot", "ltoe": "LeftToeBase", "rthigh": "RightUpLeg", "rshin": "RightLeg",
        "rfoot": "RightFoot", "rtoe": "RightToeBase",
    },
    "prefixed": {k: f"rig:{'L_' if k[0] == 'l' else 'R_' if k[0] == 'r' else ''}{k.lstrip('lr') if k[0] in 'lr' else k}" for k in OURS.values()},
    "none": {k: f"J{i:02d}" for i, (k, _, _) in enumerate(_TREE)},
}  # fmt: skip
#: Rest poses: turns about the file's own Z of the left arm, mirrored for the right one, degrees.
RESTS = {"T": 0.0, "A": -45.0, "hanging": -88.0}


def about(axis, degrees):
    """A turn about one axis, or one for each of many angles."""
    angles = np.asarray(degrees, dtype=float)
    return Rotation.from_euler(axis, angles[:, None] if angles.ndim else angles, degrees=True)


@dataclass
class Rig:
    """A skeleton that walks: names, rest places, and world turns of each joint at each frame, in metres with Y up facing +Z."""

    names: list
    keys: list
    parents: list
    rest: np.ndarray
    turns: dict
    root: np.ndarray
    fps: float

    def places(self):
        """(n, J, 3): forward kinematics."""
        out = np.zeros((len(self.root), len(self.keys), 3))
        for i in range(len(self.keys)):
            if self.parents[i] < 0:
                out[:, i] = self.root
            else:
                above = self.keys[self.parents[i]]
                out[:, i] = out[:, self.parents[i]] + self.turns[above].apply(
                    self.rest[i] - self.rest[self.parents[i]]
                )
        return out


def walking(names="words", rest="T", fps=30.0, seconds=3.0, speed=1.2, tall=1.0, seed=0, feet=True):
    """Somebody who walks ahead with arms that swing, feet that are put down and stay (by two-bone legs), and a turning chest."""
    rng = np.random.default_rng(seed)
    keys = [key for key, _, _ in _TREE]
    parents = [keys.index(p) if p else -1 for _, p, _ in _TREE]
    places = np.array([at for _, _, at in _TREE]) * 0.9 * tall
    arm = about("Z", RESTS[rest])
    for side, sign in (("l", 1), ("r", -1)):
        base = keys.index(f"{side}arm")
        turn = arm if sign > 0 else arm.inv()
        for part in ("fore", "hand"):
            i = keys.index(f"{side}{part}")
            places[i] = places[base] + turn.apply(places[i] - places[base])
    n = int(seconds * fps) + 1
    t = np.arange(n) / fps
    yaw = about("Y", np.degrees(0.25 * np.sin(0.7 * t)))
    step = 0.55  # seconds
    root = np.zeros((n, 3))
    root[:, 2] = speed * t
    root[:, 1] = places[0, 1] - 0.05 * tall
    turns = {k: Rotation.identity(n) for k in keys}
    turns["hips"] = yaw
    for k, amount in (("spine", 4.0), ("chest", 9.0), ("neck", -3.0), ("head", -4.0)):
        turns[k] = yaw * Rotation.from_euler(
            "YX", np.stack([amount * np.sin(np.pi * t / step), 3 * np.sin(t)], axis=1), degrees=True
        )
    for side, sign in (("l", 1.0), ("r", -1.0)):
        turns[f"{side}clav"] = turns["chest"]
        swing = sign * 25 * np.sin(np.pi * t / step) + 5 * rng.normal()
        # Down from where it is at rest, then swinging.
        down = about("Z", sign * (-80.0 - RESTS[rest]))
        turns[f"{side}arm"] = turns["chest"] * about("X", swing) * down
        bend = about("X", swing - 20.0 - 10 * np.abs(np.sin(t)))
        turns[f"{side}fore"] = turns["chest"] * bend * down
        turns[f"{side}hand"] = turns[f"{side}fore"]
        _leg(turns, keys, places, root, yaw, side, sign, t, step, speed, tall)
    return Rig([NAMES[names][k] for k in keys], keys, parents, places, turns, root, fps)


def _leg(turns, keys, places, root, yaw, side, sign, t, step, speed, tall):
    hip, knee, foot = (keys.index(side + part) for part in ("thigh", "shin", "foot"))
    thigh, shin = np.linalg.norm(places[knee] - places[hip]), np.linalg.norm(places[foot] - places[knee])
    phase = t / (2 * step) + (0.0 if sign > 0 else 0.5)
    cycle, whole = phase % 1.0, np.floor(phase)
    stands = cycle < 0.6
    stride = 2 * step * speed
    lands = whole - (0.0 if sign > 0 else 0.5)
    ahead = (lands + 0.3) * stride
    u = np.clip((cycle - 0.6) / 0.4, 0, 1)
    z = np.where(stands, ahead, ahead + stride * u**3 * (10 - 15 * u + 6 * u * u))
    y = places[foot, 1] + 0.10 * tall * np.where(stands, 0, np.sin(np.pi * u) ** 2)
    at = np.stack([np.full(len(t), places[foot, 0]), y, z], axis=1)
    hips = root + yaw.apply(places[hip] - places[0])
    way = at - hips
    far = np.minimum(np.linalg.norm(way, axis=1), 0.999 * (thigh + shin))
    bend = np.arccos(np.clip((thigh**2 + far**2 - shin**2) / (2 * thigh * far), -1, 1))
    pitch = np.arctan2(-way[:, 2], -way[:, 1])
    aside = np.arcsin(np.clip(way[:, 0] / np.linalg.norm(way, axis=1), -1, 1))
    out = about("Z", np.degrees(aside))
    upper = about("X", np.degrees(pitch - bend)) * out
    knee_at = hips + upper.apply(places[knee] - places[hip])
    lower_way = at - knee_at
    lower = about("X", np.degrees(np.arctan2(-lower_way[:, 2], -lower_way[:, 1]))) * out
    turns[f"{side}thigh"], turns[f"{side}shin"] = upper, lower
    turns[f"{side}foot"] = turns[f"{side}toe"] = Rotation.identity(len(t))


def bvh(rig, unit=1.0, up="y", faces="+z", order="ZXY", time=None):
    """The rig as a BVH file in a unit, with an axis up, facing a way, its rotations in an order."""
    to = {"y": np.eye(3), "z": np.array([[1, 0, 0], [0, 0, -1], [0, 1, 0]])}[up]
    about = Rotation.from_euler(
        "Y", {"+z": 0, "-z": 180, "+x": 90, "-x": -90}[faces], degrees=True
    ).as_matrix()
    frame = Rotation.from_matrix(to @ about)
    rest = frame.apply(rig.rest) / unit
    root = frame.apply(rig.root) / unit
    local = {}
    for i, key in enumerate(rig.keys):
        world = frame * rig.turns[key] * frame.inv()
        above = rig.parents[i]
        local[key] = world if above < 0 else (frame * rig.turns[rig.keys[above]] * frame.inv()).inv() * world
    lines, sequence = ["HIERARCHY"], []

    def write(i, deep):
        pad = "\t" * deep
        sequence.append(rig.keys[i])
        offset = rest[i] - (rest[rig.parents[i]] if rig.parents[i] >= 0 else 0)
        lines.extend(
            [
                f"{pad}{'ROOT' if deep == 0 else 'JOINT'} {rig.names[i]}",
                pad + "{",
                f"{pad}\tOFFSET " + " ".join(f"{v:.6f}" for v in offset),
            ]
        )
        moves = "Xposition Yposition Zposition " if deep == 0 else ""
        lines.append(
            f"{pad}\tCHANNELS {6 if deep == 0 else 3} {moves}" + " ".join(f"{a}rotation" for a in order)
        )
        below = [k for k, parent in enumerate(rig.parents) if parent == i]
        for k in below:
            write(k, deep + 1)
        if not below:
            tip = (
                frame.apply(
                    {"head": (0, 0.12, 0), "toe": (0, 0, 0.08)}.get(
                        rig.keys[i].lstrip("lr"), (0.0, -0.1, 0.0)
                    )
                )
                * 0.9
                / unit
            )
            lines.extend(
                [
                    f"{pad}\tEnd Site",
                    pad + "\t{",
                    f"{pad}\t\tOFFSET " + " ".join(f"{v:.6f}" for v in tip),
                    pad + "\t}",
                ]
            )
        lines.append(pad + "}")

    write(0, 0)
    columns = [root] + [local[key].as_euler(order, degrees=True) for key in sequence]
    rows = np.concatenate(columns, axis=1)
    lines += ["MOTION", f"Frames: {len(rows)}", f"Frame Time: {time or 1 / rig.fps:.7f}"]
    lines += [" ".join(f"{v:.5f}" for v in row) for row in rows]
    return "\n".join(lines).encode()


def tubes(rig):
    """A skin of tubes about the rig's bones at rest, in its own metres: points, triangles, joints and weights of two each."""
    points, triangles, joints, weights = [], [], [], []
    ends = {"head": (0, 0.20, 0.0), "toe": (0, -0.01, 0.07), "hand": (0.0, 0.0, 0.0)}
    for i, key in enumerate(rig.keys):
        below = [k for k, parent in enumerate(rig.parents) if parent == i]
        name = key.lstrip("lr") if key[0] in "lr" else key
        tips = [rig.rest[k] for k in below]
        if not tips:
            way = rig.rest[i] - rig.rest[rig.parents[i]]
            tips = [
                rig.rest[i] + (0.12 * way / np.linalg.norm(way) if name == "hand" else np.array(ends[name]))
            ]
        radius = {"head": 0.08, "hips": 0.1, "chest": 0.12, "spine": 0.1, "foot": 0.05, "toe": 0.03}.get(
            name, 0.045
        )
        for tip in tips:
            way = tip - rig.rest[i]
            long = np.linalg.norm(way)
            if long < 1e-6:
                continue
            z = way / long
            x = np.cross(z, [0.3, 0.2, 0.9])
            x /= np.linalg.norm(x)
            y = np.cross(z, x)
            start = len(points)
            for ring in range(7):
                # No two tubes share a point.
                u = 0.03 + 0.9 * ring / 6
                for k in range(8):
                    a = 2 * np.pi * k / 8
                    points.append(rig.rest[i] + way * u + radius * (np.cos(a) * x + np.sin(a) * y))
                    above = rig.parents[i] if rig.parents[i] >= 0 else i
                    share = max(0.0, 0.5 - 2 * u) if above != i else 0.0
                    joints.append((i, above))
                    weights.append((1 - share, share))
            for ring in range(6):
                for k in range(8):
                    a, b = start + 8 * ring + k, start + 8 * ring + (k + 1) % 8
                    triangles += [(a, b, a + 8), (b, b + 8, a + 8)]
    return np.array(points), np.array(triangles), np.array(joints), np.array(weights)


def skinned(rig, unit=1.0, up="y", faces="+z", turned=0, clip=True, shapes=None):
    """The rig in its skin as a `.glb` (Khronos glTF 2.0), its joints at rest turned at random by a seed, or not at all; its
    skin changes by `shapes`, (v, 3) metres by name.
    """
    to = {"y": np.eye(3), "z": np.array([[1, 0, 0], [0, 0, -1], [0, 1, 0]])}[up]
    way = Rotation.from_euler("Y", {"+z": 0, "-z": 180, "+x": 90, "-x": -90}[faces], degrees=True).as_matrix()
    frame = Rotation.from_matrix(to @ way)
    points, triangles, joints, weights = tubes(rig)
    points, rest = frame.apply(points) / unit, frame.apply(rig.rest) / unit
    n = len(rig.keys)
    own = Rotation.random(n, random_state=turned) if turned else Rotation.identity(n)
    blob, views, accessors = bytearray(), [], []

    def put(values, kind, component, bounds=False):
        data = np.ascontiguousarray(values)
        blob.extend(b"\0" * (-len(blob) % 4))
        views.append({"buffer": 0, "byteOffset": len(blob), "byteLength": data.nbytes})
        blob.extend(data.tobytes())
        one = {"bufferView": len(views) - 1, "componentType": component, "count": len(data), "type": kind}
        if bounds:
            flat = data.reshape(len(data), -1)
            one |= {"min": flat.min(0).tolist(), "max": flat.max(0).tolist()}
        accessors.append(one)
        return len(accessors) - 1

    inverse = np.zeros((n, 4, 4))
    nodes = []
    for i, name in enumerate(rig.names):
        inverse[i, :3, :3] = own[i].inv().as_matrix()
        inverse[i, :3, 3] = -own[i].inv().apply(rest[i])
        inverse[i, 3, 3] = 1
        above = rig.parents[i]
        back = own[above].inv() if above >= 0 else Rotation.identity()
        offset = back.apply(rest[i] - rest[above]) if above >= 0 else rest[i]
        nodes.append({
            "name": name, "translation": offset.tolist(), "rotation": (back * own[i]).as_quat().tolist(),
            "children": [k for k, parent in enumerate(rig.parents) if parent == i],
        })  # fmt: skip
    for node in nodes:
        if not node["children"]:
            del node["children"]
    four = np.zeros((len(points), 4), np.uint8)
    four[:, :2] = joints
    shares = np.zeros((len(points), 4), np.float32)
    shares[:, :2] = weights
    doc = {
        "asset": {"version": "2.0"}, "scene": 0, "scenes": [{"nodes": [0, n]}],
        "nodes": [*nodes, {"name": "Skin", "mesh": 0, "skin": 0}],
        "skins": [{
            "joints": list(range(n)),
            "inverseBindMatrices": put(inverse.transpose(0, 2, 1).astype(np.float32).reshape(n, 16), "MAT4", 5126),
        }],
        "meshes": [{"primitives": [{
            "attributes": {
                "POSITION": put(points.astype(np.float32), "VEC3", 5126, bounds=True),
                "JOINTS_0": put(four, "VEC4", 5121), "WEIGHTS_0": put(shares, "VEC4", 5126),
            },
            "indices": put(triangles.astype(np.uint32).reshape(-1), "SCALAR", 5125),
            **({"targets": [
                {"POSITION": put((frame.apply(one) / unit).astype(np.float32), "VEC3", 5126, bounds=True)} for one in shapes.values()
            ]} if shapes else {}),
        }], "extras": {"targetNames": list(shapes or {})}}],
    }  # fmt: skip
    if clip:
        seconds = put((np.arange(len(rig.root)) / rig.fps).astype(np.float32), "SCALAR", 5126, bounds=True)
        samplers, channels = [], []
        for i, key in enumerate(rig.keys):
            world = frame * rig.turns[key] * frame.inv() * own[i]
            above = rig.parents[i]
            local = (
                world
                if above < 0
                else (frame * rig.turns[rig.keys[above]] * frame.inv() * own[above]).inv() * world
            )
            samplers.append(
                {"input": seconds, "output": put(local.as_quat().astype(np.float32), "VEC4", 5126)}
            )
            channels.append({"sampler": len(samplers) - 1, "target": {"node": i, "path": "rotation"}})
        samplers.append(
            {"input": seconds, "output": put((frame.apply(rig.root) / unit).astype(np.float32), "VEC3", 5126)}
        )
        channels.append({"sampler": len(samplers) - 1, "target": {"node": 0, "path": "translation"}})
        doc["animations"] = [{"name": "Walk", "samplers": samplers, "channels": channels}]
    blob.extend(b"\0" * (-len(blob) % 4))
    doc |= {"bufferViews": views, "accessors": accessors, "buffers": [{"byteLength": len(blob)}]}
    text = json.dumps(doc).encode()
    text += b" " * (-len(text) % 4)
    chunks = (
        struct.pack("<I4s", len(text), b"JSON")
        + text
        + struct.pack("<I4s", len(blob), b"BIN\0")
        + bytes(blob)
    )
    return struct.pack("<4sII", b"glTF", 2, 12 + len(chunks)) + chunks


def skinned_at(rig, frame):
    """(v, 3) where the skin's points are on one frame, in the rig's own metres: linear blend skinning by its definition."""
    points, _, joints, weights = tubes(rig)
    places = rig.places()[frame]
    out = np.zeros_like(points)
    for k in range(joints.shape[1]):
        for i, key in enumerate(rig.keys):
            rows = joints[:, k] == i
            moved = places[i] + rig.turns[key][frame].apply(points[rows] - rig.rest[i]) if rows.any() else 0
            out[rows] += weights[rows, k, None] * moved
    return out
