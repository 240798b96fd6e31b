"""Which joint of a skeleton from elsewhere is which of a figure: by shape first, by names second."""

import re
from dataclasses import dataclass

import numpy as np

from heron.errors import BadInput
from heron.formats.bringing.found import Floats
from heron.stage.skeleton import INDEX

#: Branches of at least this share of the longest way are limbs, and where the hips and the chest split.
_HIPS, _CHEST = 0.30, 0.25
#: Thigh and shank, upper arm and forearm are as long as each other within these.
_RATIO = (0.55, 1.8)
_TWIST = re.compile(r"roll|twist|helper|corrective|share", re.IGNORECASE)
#: A letter before a capital says a side; before a small one it is part of a word.
_LEFT = re.compile(r"(?i:(^|[^a-z])(l|left|lft)([^a-z]|$)|left)|^[lL](?=[A-Z][a-z])")
_RIGHT = re.compile(r"(?i:(^|[^a-z])(r|right|rgt)([^a-z]|$)|right)|^[rR](?=[A-Z][a-z])")
_REMEDY = "Give a file whose skeleton is a person's, or say which joint is which."


def sided(name: str) -> str | None:
    """Which side a joint is of by its name: r, l, or none."""
    return "l" if _LEFT.search(name) else "r" if _RIGHT.search(name) else None


@dataclass(frozen=True)
class Mapped:
    """A skeleton as a person's.

    Attributes:
        joints: the figure's joints by name, each with its place among the file's.
        axes: (3, 3) whose rows are the person's right, up and back in the file's frame.
        leg: hip to knee to ankle, in the file's unit.
    """

    joints: dict[str, int]
    axes: Floats
    leg: float


def mapped(
    names: list[str],
    parents: list[int],
    at: Floats,
    tips: dict[int, Floats],
    asked: dict[str, str] | None = None,
) -> Mapped:
    """A person's joints in a skeleton that stands.

    Args:
        at: (J, 3) where its joints are; tips: the ends of bones that are no joints, in the same frame.
        asked: the figure's joints by name, and what each is called in the file; others are found.

    Raises:
        BadInput: it is no person's, and what is missing; or something asked for is not there.
    """
    tree = _Tree(names, parents, at, tips)
    found = tree.person()
    for ours, theirs in (asked or {}).items():
        if ours not in INDEX:
            raise BadInput(
                f"A figure has no joint {ours!r:.40}.", f"There are: {', '.join(INDEX)}.", field="map"
            )
        if theirs not in names:
            raise BadInput(
                f"The file has no joint {theirs!r:.60}.", f"There are: {', '.join(names[:12])} …", field="map"
            )
        found[ours] = names.index(theirs)
    axes = _axes(found, at, tips)
    if not asked and not any(
        _LEFT.search(names[found[j]]) or _RIGHT.search(names[found[j]]) for j in ("hip_r", "shoulder_r")
    ):
        # Without names the toes say which way it faces, and so which side is which.
        found, axes = _sided(found, at, axes)
    leg = _length(at, found, "hip_r", "knee_r", "ankle_r")
    _check(found, at, axes, leg)
    return Mapped(found, axes, leg)


def _length(at: Floats, found: dict[str, int], *joints: str) -> float:
    places = [at[found[joint]] for joint in joints]
    return float(sum(np.linalg.norm(b - a) for a, b in zip(places, places[1:], strict=False)))


class _Tree:
    def __init__(self, names: list[str], parents: list[int], at: Floats, tips: dict[int, Floats]) -> None:
        self.names, self.parents, self.at, self.tips = names, parents, at, tips
        self.children: list[list[int]] = [[] for _ in names]
        for i, parent in enumerate(parents):
            if parent >= 0:
                self.children[parent].append(i)
        #: How far it is from each joint to the farthest end below it.
        self.reach = np.zeros(len(names))
        for i in reversed(range(len(names))):
            ends = [float(np.linalg.norm(at[c] - at[i]) + self.reach[c]) for c in self.children[i]]
            if i in tips:
                ends.append(float(np.linalg.norm(tips[i] - at[i])))
            self.reach[i] = max(ends, default=0.0)

    def branches(self, i: int, least: float) -> list[int]:
        """Children whose way on is at least so long, the longest first."""
        ways = [(float(np.linalg.norm(self.at[c] - self.at[i]) + self.reach[c]), c) for c in self.children[i]]
        return [c for length, c in sorted(ways, key=lambda way: -way[0]) if length >= least]

    def person(self) -> dict[str, int]:
        roots = [i for i, parent in enumerate(self.parents) if parent < 0]
        root = max(roots, key=lambda i: self.reach[i])
        whole = float(self.reach[root])
        if whole <= 1e-9:
            raise BadInput("Its skeleton has no bones.", _REMEDY)
        hips = self._split(root, _HIPS * whole)
        if hips is None:
            raise BadInput("Its skeleton has no hips: nowhere does it split into legs and a trunk.", _REMEDY)
        ways = self.branches(hips, _HIPS * whole)
        trunks = [(c, chest) for c in ways if (chest := self._split(c, _CHEST * whole)) is not None]
        if not trunks:
            raise BadInput("Its skeleton splits once alone: it has no legs, or no arms.", _REMEDY)
        spine, chest = max(trunks, key=lambda one: len(self.branches(one[1], _CHEST * whole)))
        legs = [c for c in ways if c != spine][:2]
        if len(legs) < 2:
            raise BadInput(
                "Its skeleton has no legs." if not legs else "Its skeleton has one leg alone.", _REMEDY
            )
        above = self.branches(chest, 0.0)
        head = self._neck(chest, above)
        arms = [c for c in self.branches(chest, _CHEST * whole) if c != head][:2]
        if len(arms) < 2:
            raise BadInput(
                "Its skeleton has one arm alone." if arms else "Its skeleton has no arms.", _REMEDY
            )
        found = {"pelvis": hips, "chest": chest}
        if spine != chest:
            found["spine"] = spine
        if head is not None:
            found["neck"] = head
            after = self._chain(head)[1:]
            called = [i for i in after if re.search(r"head", self.names[i], re.IGNORECASE)]
            if called or after:
                found["head"] = called[0] if called else after[0]
        for side, (arm, leg) in zip(("r", "l"), self._sides(arms, legs), strict=True):
            self._arm(found, arm, side)
            self._leg(found, leg, side)
        return found

    def _split(self, start: int, least: float) -> int | None:
        """The first joint on the way down from one that has two or more long branches."""
        i: int | None = start
        while i is not None:
            ways = self.branches(i, least)
            if len(ways) >= 2:
                return i
            i = ways[0] if ways else None
        return None

    def _neck(self, chest: int, above: list[int]) -> int | None:
        called = [c for c in above if re.search(r"neck|head", self.names[c], re.IGNORECASE)]
        if called:
            return called[0]
        # Of what is neither of the two longest ways, the one whose end is farthest from the hips.
        others = above[2:]
        return others[0] if others else None

    def _chain(self, start: int) -> list[int]:
        """Joints down the longest way."""
        out = [start]
        while self.children[out[-1]]:
            out.append(
                max(
                    self.children[out[-1]],
                    key=lambda c: np.linalg.norm(self.at[c] - self.at[out[-1]]) + self.reach[c],
                )
            )
        return out

    def _limb(self, start: int, what: str) -> tuple[int, int, int, list[int], list[int]]:
        """The two longest neighbouring bones of a limb that are about as long as each other."""
        chain = [i for i in self._chain(start) if not _TWIST.search(self.names[i])]
        ends = [self.at[i] for i in chain]
        if chain and chain[-1] in self.tips:
            ends.append(self.tips[chain[-1]])
        bones = [float(np.linalg.norm(b - a)) for a, b in zip(ends, ends[1:], strict=False)]
        best, where = 0.0, -1
        for k in range(min(len(bones) - 1, len(chain) - 2)):
            if (
                bones[k + 1] > 1e-9
                and _RATIO[0] <= bones[k] / bones[k + 1] <= _RATIO[1]
                and bones[k] + bones[k + 1] > best
            ):
                best, where = bones[k] + bones[k + 1], k
        if where < 0:
            raise BadInput(f"Its skeleton has {what} without two long bones.", _REMEDY)
        return chain[where], chain[where + 1], chain[where + 2], chain[:where], chain[where + 3 :]

    def _arm(self, found: dict[str, int], start: int, side: str) -> None:
        shoulder, elbow, wrist, before, after = self._limb(start, "an arm")
        found.update({f"shoulder_{side}": shoulder, f"elbow_{side}": elbow, f"wrist_{side}": wrist})
        if before:
            found[f"clavicle_{side}"] = before[-1]
        if after:
            found[f"knuckle_{side}"] = after[0]

    def _leg(self, found: dict[str, int], start: int, side: str) -> None:
        hip, knee, ankle, _, after = self._limb(start, "a leg")
        found.update({f"hip_{side}": hip, f"knee_{side}": knee, f"ankle_{side}": ankle})
        if after:
            found[f"ball_{side}"] = after[0]

    def _sides(self, arms: list[int], legs: list[int]) -> list[tuple[int, int]]:
        """The right arm and leg, and the left ones."""
        out = []
        for pair in (arms, legs):
            left = [any(_LEFT.search(self.names[i]) for i in self._chain(c)[:3]) for c in pair]
            right = [any(_RIGHT.search(self.names[i]) for i in self._chain(c)[:3]) for c in pair]
            out.append(pair[::-1] if (left[0] and not left[1]) or (right[1] and not right[0]) else pair)
        (right_arm, left_arm), (right_leg, left_leg) = out
        named = any(_LEFT.search(name) or _RIGHT.search(name) for name in self.names)
        across = self.at[right_arm] - self.at[left_arm]
        if (
            not named
            and (self.at[self._chain(right_leg)[-1]] - self.at[self._chain(left_leg)[-1]]) @ across < 0
        ):
            right_leg, left_leg = left_leg, right_leg
        return [(right_arm, right_leg), (left_arm, left_leg)]


def _axes(found: dict[str, int], at: Floats, tips: dict[int, Floats]) -> Floats:
    """Rows right, up and back: up is the file's axis nearest to the way from the feet to the head."""
    feet = (at[found["ankle_r"]] + at[found["ankle_l"]]) / 2
    top = at[found.get("head", found.get("neck", found["chest"]))]
    way = top - feet
    up = np.zeros(3)
    axis = int(np.argmax(np.abs(way)))
    up[axis] = np.sign(way[axis]) or 1.0
    right = at[found["hip_r"]] - at[found["hip_l"]] + at[found["shoulder_r"]] - at[found["shoulder_l"]]
    right = right - (right @ up) * up
    if np.linalg.norm(right) < 1e-9:
        raise BadInput("Its skeleton has both sides in one place.", _REMEDY)
    right = right / np.linalg.norm(right)
    return np.stack([right, up, np.cross(right, up)])


def _sided(found: dict[str, int], at: Floats, axes: Floats) -> tuple[dict[str, int], Floats]:
    if "ball_r" not in found or "ball_l" not in found:
        return found, axes
    toes = sum((at[found[f"ball_{s}"]] - at[found[f"ankle_{s}"]] for s in "rl"), np.zeros(3))
    if toes @ -axes[2] >= 0:
        return found, axes
    swapped = {
        (f"{k[:-1]}{'l' if k[-1] == 'r' else 'r'}" if k[-2:] in ("_r", "_l") else k): v
        for k, v in found.items()
    }
    return swapped, np.stack([-axes[0], axes[1], -axes[2]])


def _check(found: dict[str, int], at: Floats, axes: Floats, leg: float) -> None:
    """Whether it stands as a person does.

    Raises:
        BadInput: it does not.
    """
    own = at @ axes.T
    trunk = own[found["chest"]] - own[found["pelvis"]]
    upright = trunk[1] / max(float(np.linalg.norm(trunk)), 1e-9)
    under = own[found["pelvis"], 1] - max(own[found["ankle_r"], 1], own[found["ankle_l"], 1])
    if upright < np.cos(np.radians(25.0)) or under < 0.8 * leg:
        raise BadInput(
            "Its skeleton does not stand upright in its first pose.",
            "Give a file that begins with somebody standing.",
            field="pose",
        )


def joint_names(found: Mapped, names: list[str]) -> dict[str, str]:
    """The figure's joints, and what each is called in the file."""
    return {
        ours: names[theirs] for ours, theirs in sorted(found.joints.items(), key=lambda one: INDEX[one[0]])
    }
