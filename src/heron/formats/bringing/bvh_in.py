"""BVH: a skeleton and its motion. The format has no standard; read as its first publishers' readers did (from memory).

Channels may come in any number and order: rotations are multiplied in the order in which they are written.
"""

import math
import re
from dataclasses import dataclass

import numpy as np
from scipy.spatial.transform import Rotation

from heron.errors import BadInput
from heron.formats.bringing.found import Floats
from heron.formats.bringing.limits import MOST_JOINTS

#: Larger files are refused, bytes.
MOST_BVH = 64 * 2**20
#: Rates that a rounded frame time is taken for, frames a second.
_RATES = (23.976023976, 24, 25, 29.97002997, 30, 48, 50, 59.94005994, 60, 72, 90, 100, 120, 200, 240)
#: How near a rounded time must be to a whole rate, and to a broken one.
_NEAR, _NEAR_BROKEN = 4e-4, 2e-5


@dataclass(frozen=True, eq=False)
class Skeleton:
    """Joints in motion, in a file's own frame and unit.

    Attributes:
        names, parents: of its joints; −1 above a root.
        tips: for each joint the ends of its bones that are no joints, (3,) each, in its own frame at rest.
        rest: (J, 4, 4) where each joint stands at rest.
        places: (n, J, 4, 4) where each is at each frame.
        rate: frames a second.
        said: what was noticed, a sentence each.
    """

    names: list[str]
    parents: list[int]
    tips: dict[int, Floats]
    rest: Floats
    places: Floats
    rate: float
    said: tuple[str, ...] = ()


def read_bvh(content: bytes, name: str) -> Skeleton:
    """A BVH file.

    Raises:
        BadInput: it is none, is damaged, has no frames, or is too large.
    """
    if len(content) > MOST_BVH:
        raise BadInput(
            f"{name} is {len(content) / 2**20:.0f} MB.",
            f"Up to {MOST_BVH // 2**20} MB are read: bring it in in parts.",
        )
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = content.decode("latin-1")
    head, found, tail = text.partition("MOTION")
    if "HIERARCHY" not in head:
        raise BadInput(f"{name} has no HIERARCHY, so it is not a BVH file.", "Give a BVH file.")
    if not found:
        raise BadInput(f"{name} has no MOTION.", "Export it again with its frames.")
    names, parents, offsets, channels, tips = _hierarchy(head, name)
    count, seconds, values = _motion(tail, name)
    wide = sum(len(one) for one in channels)
    whole = len(values) // wide if wide else 0
    said = []
    if whole < count or len(values) % max(wide, 1):
        if len(values) % max(wide, 1) or not whole:
            raise BadInput(
                f"{name} has {len(values):,} values; {count:,} frames of {wide} channels need {count * wide:,}.", "Export it again."
            )  # fmt: skip
        said.append(f"It says {count:,} frames and has {whole:,}: those are read.")
    rows = values[: min(whole, count) * wide].reshape(-1, wide)
    bad = np.flatnonzero(~np.isfinite(rows).all(axis=1))
    if len(bad):
        raise BadInput(f"{name} has values that aren't numbers, in frame {bad[0] + 1}.", "Export it again.")
    if not len(rows):
        raise BadInput(f"{name} has no frames.", "Export it again with its frames.")
    rest = np.tile(np.eye(4), (len(names), 1, 1))
    for i, parent in enumerate(parents):
        rest[i, :3, 3] = offsets[i] + (rest[parent, :3, 3] if parent >= 0 else 0.0)
    return Skeleton(
        names,
        parents,
        tips,
        rest,
        _carried(rows, parents, offsets, channels),
        _rate(seconds, name),
        tuple(said),
    )


def _hierarchy(
    text: str, name: str
) -> tuple[list[str], list[int], Floats, list[list[str]], dict[int, Floats]]:
    names: list[str] = []
    parents: list[int] = []
    offsets: list[list[float]] = []
    channels: list[list[str]] = []
    tips: dict[int, Floats] = {}
    stack: list[int] = []
    ends = False
    waiting: int | None = None
    try:
        for raw in text.replace("{", "\n{\n").replace("}", "\n}\n").splitlines():
            line = raw.strip()
            if not line or line == "HIERARCHY":
                continue
            word, _, rest = line.partition(" ") if " " in line else line.partition("\t")
            if word in ("ROOT", "JOINT"):
                if len(names) >= MOST_JOINTS:
                    raise BadInput(
                        f"{name} has more than {MOST_JOINTS} joints.", "Leave fingers and twists out."
                    )
                names.append(rest.strip()[:80] or f"Joint {len(names) + 1}")
                parents.append(stack[-1] if stack else -1)
                offsets.append([0.0, 0.0, 0.0])
                channels.append([])
                waiting = len(names) - 1
            elif re.match(r"End\s+Site", line, re.IGNORECASE):
                ends = True
            elif line == "{":
                if not ends and waiting is not None:
                    stack.append(waiting)
            elif line == "}":
                if ends:
                    ends = False
                else:
                    stack.pop()
            elif word == "OFFSET":
                numbers = [float(one) for one in rest.split()]
                if len(numbers) != 3 or not all(map(math.isfinite, numbers)):
                    raise ValueError(line)
                if ends:
                    tips[stack[-1]] = np.array(numbers)
                else:
                    offsets[stack[-1]] = numbers
            elif word == "CHANNELS":
                listed = rest.split()
                channels[stack[-1]] = listed[1:]
                if int(listed[0]) != len(listed) - 1 or not all(
                    re.fullmatch(r"[XYZ](position|rotation)", one) for one in listed[1:]
                ):
                    raise ValueError(line)
            else:
                raise ValueError(line)
    except (ValueError, IndexError):
        raise BadInput(
            f"{name} has a hierarchy that cannot be read: {line[:60]!r}.", "Export it again."
        ) from None
    if not names or stack:
        raise BadInput(
            f"{name} has a hierarchy without {'joints' if not names else 'an end'}.", "Export it again."
        )
    return names, parents, np.array(offsets), channels, tips


def _motion(text: str, name: str) -> tuple[int, float, Floats]:
    lines = text.strip().split("\n", 2)
    frames = re.match(r"Frames\s*:\s*(\d+)", lines[0].strip(), re.IGNORECASE) if lines else None
    time = re.match(r"Frame\s*Time\s*:\s*(\S+)", lines[1].strip(), re.IGNORECASE) if len(lines) > 1 else None
    if frames is None or int(frames[1]) == 0:
        raise BadInput(f"{name} has no frames.", "Export it again with its frames.")
    try:
        seconds = float(time[1]) if time else math.nan
    except ValueError:
        seconds = math.nan
    if not 1e-4 <= seconds <= 1.0:
        raise BadInput(
            f"{name} has a frame time of {time[1] if time else 'nothing'}.",
            "Export it again with one of 0.0001 to 1 second.",
        )
    words = lines[2].split() if len(lines) > 2 else []
    try:
        values = np.array(words, dtype=np.float64)
    except ValueError:
        raise BadInput(f"{name} has values that aren't numbers.", "Export it again.") from None
    return int(frames[1]), seconds, values


def _rate(seconds: float, name: str) -> float:
    """Frame times are rounded: the known rate that one stands for, else what it says."""
    rate = 1 / seconds
    for known in _RATES:
        if abs(rate / known - 1) < (_NEAR if float(known).is_integer() else _NEAR_BROKEN):
            return float(known)
    return rate


def _carried(rows: Floats, parents: list[int], offsets: Floats, channels: list[list[str]]) -> Floats:
    """(n, J, 4, 4) of all joints, from the values of their channels."""
    n, column = len(rows), 0
    out = np.zeros((n, len(parents), 4, 4))
    out[..., 3, 3] = 1.0
    for i, listed in enumerate(channels):
        own = rows[:, column : column + len(listed)]
        column += len(listed)
        turns = [(one[0], own[:, k]) for k, one in enumerate(listed) if one.endswith("rotation")]
        local = np.tile(np.eye(4), (n, 1, 1))
        if turns:
            order = "".join(axis for axis, _ in turns)
            angles = np.stack([values for _, values in turns], axis=1)
            local[:, :3, :3] = Rotation.from_euler(order, angles, degrees=True).as_matrix()
        moves = {"XYZ".index(one[0]): own[:, k] for k, one in enumerate(listed) if one.endswith("position")}
        place = np.tile(offsets[i], (n, 1))
        if moves:
            moved = np.stack([moves.get(axis, np.zeros(n)) for axis in range(3)], axis=1)
            # Some files add positions to the offset, others mean them absolutely: near the offset they cannot be both.
            size = np.linalg.norm(offsets[i])
            absolute = size < 1e-9 or np.linalg.norm(moved[0] - offsets[i]) < 0.25 * size
            place = moved if absolute else place + moved
        local[:, :3, 3] = place
        out[:, i] = local if parents[i] < 0 else out[:, parents[i]] @ local
    return out
