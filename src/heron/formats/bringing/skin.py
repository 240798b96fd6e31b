"""A skinned file as a character: its skin on a figure's joints, with its own proportions and landmarks.

A joint of the file that a figure lacks keeps its rest beside the nearest one above it that a figure has.
"""

import re
from dataclasses import dataclass, replace

import numpy as np
from scipy.spatial.transform import Rotation

from heron.errors import BadInput
from heron.formats.bringing.faces import shapes_of_face
from heron.formats.bringing.found import Floats, Found, Ints, Shape
from heron.formats.bringing.limits import LIGHTER_CHARACTER, MOST_IN_CHARACTER
from heron.formats.bringing.mapping import Mapped, sided
from heron.formats.bringing.model_file import surface_of
from heron.formats.bringing.recognise import at_rest
from heron.formats.bringing.retarget import BONES, least_turn, standing
from heron.formats.bringing.tree import placed
from heron.stage.characters import CharacterFile, Skin
from heron.stage.physique import BALL_OF_FOOT, Proportions
from heron.stage.skeleton import BALL_UP, EYE_HALF, HAND, INDEX, JOINTS

#: A chin is looked for in so much of a head's depth, from the front; eyes are so far up from it to the crown (half way,
#: common practice of drawing heads).
_FRONT, _EYES_UP = 0.65, 0.508
#: A shape that moves less than this changes nothing, shares of the stature.
_MOVES = 1e-6
_EYE = re.compile(r"eye(?!.*(brow|lid|lash))", re.IGNORECASE)


@dataclass(frozen=True)
class ReadCharacter:
    """A character that was read.

    Attributes:
        joints: the figure's joints, and what each is called in the file.
        tall: from the sole to the crown, in the file's unit.
    """

    character: CharacterFile
    joints: dict[str, str]
    names: list[str]
    tall: float


def read_skin(found: Found, asked: dict[str, str] | None = None, lighter: bool = False) -> ReadCharacter:
    """A skinned file as a character.

    Raises:
        BadInput: its skeleton is not a person's, it has too many triangles, or nothing is fixed to its head or its feet.
    """
    if not any(shape.joints is not None for shape in found.shapes):
        raise BadInput("It has no skin.", "Give a file whose surface is fixed to a skeleton.", field="as")
    if found.triangles > MOST_IN_CHARACTER and not lighter:
        raise BadInput(
            f"It has {found.triangles:,} triangles; characters of up to {MOST_IN_CHARACTER:,} stay quick to draw.",
            "Bring in a lighter copy of it.", field="lighter",
        )  # fmt: skip
    nodes = sorted(found.bind)
    skeleton = at_rest(found)
    person, _ = standing(skeleton, asked)
    body = _Body(found, nodes, person, _with_eyes(skeleton.names, skeleton.parents, person))
    share = min(LIGHTER_CHARACTER / found.triangles, 1.0) if lighter else 1.0
    return body.made(share)


def _with_eyes(names: list[str], parents: list[int], person: Mapped) -> dict[str, int]:
    """The person's joints, and its eyes where the head has any."""
    joints = dict(person.joints)
    head = joints.get("head", joints.get("neck"))
    for i, name in enumerate(names):
        side = sided(name)
        if side is None or not _EYE.search(name):
            continue
        above = parents[i]
        while above >= 0 and above != head:
            above = parents[above]
        if above == head:
            joints.setdefault(f"eye_{side}", i)
    return joints if "eye_r" in joints and "eye_l" in joints else dict(person.joints)


class _Body:
    """A skin and its skeleton in the person's own axes (right, up, back), in the file's unit."""

    def __init__(self, found: Found, nodes: list[int], person: Mapped, joints: dict[str, int]) -> None:
        self.found, self.nodes, self.joints, self.axes = found, nodes, joints, person.axes
        self.names = [found.names[node] for node in nodes]
        self.parents = found.parents_among(nodes)
        self.at = np.array([found.bind[node][:3, 3] for node in nodes]) @ self.axes.T
        self.ours = self._fixed()
        self.shapes = [self._shape(shape) for shape in found.shapes]
        self.points = np.concatenate([shape.points for shape in self.shapes])
        self.owner = np.concatenate([self._owner(shape) for shape in self.shapes])
        soles = self._owned("ankle_r", "ankle_l", "ball_r", "ball_l")
        if not len(soles):
            raise BadInput("Nothing of its skin is fixed to its feet.", "Give a file with a whole body.")
        heads = self._owned("head") if len(self._owned("head")) else self._owned("neck")
        if not len(heads):
            raise BadInput("Nothing of its skin is fixed to its head.", "Give a file with a whole body.")
        self.heads = heads
        self.floor, self.crown = float(soles[:, 1].min()), float(heads[:, 1].max())
        self.tall = self.crown - self.floor
        if self.tall <= 1e-9:
            raise BadInput("Its head is no higher than its feet.", "Give a file that stands upright.")

    def _fixed(self) -> Ints:
        """(J,) which of a figure's joints each joint of the file goes with."""
        own = {theirs: INDEX[ours] for ours, theirs in self.joints.items()}
        out = np.zeros(len(self.nodes), dtype=np.int64)
        for i in range(len(self.nodes)):
            above = i
            while above >= 0 and above not in own:
                above = self.parents[above]
            out[i] = own[above] if above >= 0 else INDEX["pelvis"]
        return out

    def _shape(self, shape: Shape) -> Shape:
        """A shape in these axes, fixed to a figure's joints."""
        place = {node: k for k, node in enumerate(self.nodes)}
        points, normals, joints, weights = shape.bound, shape.bound_normals, shape.joints, shape.weights
        morphs = shape.morphs
        if points is None or joints is None or weights is None:
            # What is not skinned goes with the joint that it hangs on.
            node = shape.node
            while node >= 0 and node not in place:
                node = self.found.parents[node]
            on = node if node >= 0 else self.nodes[self.joints["pelvis"]]
            back = self.found.bind[on] @ np.linalg.inv(self.found.rest[on])
            points, normals = placed(shape.points, shape.normals, back)
            morphs = {name: moves @ back[:3, :3].T for name, moves in morphs.items()}
            joints = np.full((len(points), 1), on)
            weights = np.ones((len(points), 1))
        which = self.ours[np.vectorize(place.__getitem__, otypes=[np.int64])(joints)]
        kept, shares = _four(which, weights)
        return replace(
            shape, points=points @ self.axes.T, normals=None if normals is None else normals @ self.axes.T,
            joints=kept, weights=shares, bound=None, bound_normals=None,
            morphs={name: moves @ self.axes.T for name, moves in morphs.items()},
        )  # fmt: skip

    @staticmethod
    def _owner(shape: Shape) -> Ints:
        """(v,) the joint that counts most for each point."""
        assert shape.joints is not None and shape.weights is not None
        most = shape.weights.argmax(axis=1)
        return np.asarray(shape.joints[np.arange(len(most)), most])

    def _owned(self, *joints: str) -> Floats:
        return np.asarray(self.points[np.isin(self.owner, [INDEX[one] for one in joints])])

    def _place(self, joint: str) -> Floats | None:
        return self.at[self.joints[joint]] if joint in self.joints else None

    def made(self, share: float) -> ReadCharacter:
        bind, turns = self._bind()
        inverse = np.tile(np.eye(4), (len(JOINTS), 1, 1))
        back = turns.inv().as_matrix()
        inverse[:, :3, :3] = back
        inverse[:, :3, 3] = -np.einsum("jab,jb->ja", back, bind)
        skins = []
        face = self._face()
        for shape in self.shapes:
            moved = replace(shape, points=(shape.points - self._foot()) / self.tall)
            surface, order = surface_of(moved, 1.0, "y", share)
            if len(surface.triangles):
                assert shape.joints is not None and shape.weights is not None
                morphs = {
                    part: shape.morphs[name][order] * (much / self.tall)
                    for part, (name, much) in face.items()
                    if name in shape.morphs
                }
                skins.append(Skin(surface, shape.joints[order], shape.weights[order], morphs))
        names = {
            ours: self.names[i] for ours, i in sorted(self.joints.items(), key=lambda one: INDEX[one[0]])
        }
        proportions = self._proportions(bind, back)
        made = CharacterFile(tuple(skins), inverse, proportions, tuple(self.found.pictures))
        return ReadCharacter(made, names, self.names, self.tall)

    def _face(self) -> dict[str, tuple[str, float]]:
        """Which shapes move its face, and how much of each; the others are said to be left out."""
        moving = {
            name: float(np.abs(moves).max(initial=0.0))
            for shape in self.shapes
            for name, moves in shape.morphs.items()
        }
        names = [name for name in moving if moving[name] > _MOVES * self.tall]
        face = shapes_of_face(names)
        unused = sorted(set(names) - {name for name, _ in face.values()})
        if unused:
            some = ", ".join(unused[:4]) + (" and others" if len(unused) > 4 else "")
            self.found.tell(f"Shapes that move no part of a face we know are left out: {some}.")
        return face

    def _foot(self) -> Floats:
        """(3,) the floor between the hip joints."""
        hips = (self.at[self.joints["hip_r"]] + self.at[self.joints["hip_l"]]) / 2
        return np.array([hips[0], self.floor, hips[2]])

    def _bind(self) -> tuple[Floats, Rotation]:
        """(J, 3) where a figure's joints are in the skin, shares of the stature, and how each is turned from hanging."""
        known = {j: (self.at[i] - self._foot()) / self.tall for j, i in self.joints.items()}
        known["root"] = np.zeros(3)
        known["pelvis"] = (known["hip_r"] + known["hip_l"]) / 2
        known.setdefault("spine", (known["pelvis"] + known["chest"]) / 2)
        top = np.array([0.0, 1.0, known.get("neck", known["chest"])[2]])
        known.setdefault("neck", known["chest"] + 0.5 * (known.get("head", top) - known["chest"]))
        known.setdefault("head", known["neck"] + 0.4 * (top - known["neck"]))
        turns = {name: least_turn(known[b] - known[a]) for name, (a, b) in BONES.items()}
        for side, sign in (("r", 1.0), ("l", -1.0)):
            shoulder, chest = known[f"shoulder_{side}"], known["chest"]
            known.setdefault(
                f"clavicle_{side}",
                chest + (shoulder - chest) * [0.2, 0.9, 0.0],
            )
            hand = turns[f"wrist_{side}"].apply([0.0, -HAND / 2, 0.0])
            known.setdefault(f"knuckle_{side}", known[f"wrist_{side}"] + hand)
            ankle = known[f"ankle_{side}"]
            known.setdefault(
                f"ball_{side}", np.array([ankle[0], BALL_UP, ankle[2] - BALL_OF_FOOT * self._foot_long()])
            )
            known.setdefault(f"eye_{side}", self._eyes() + sign * np.array([EYE_HALF, 0.0, 0.0]))
        order = [joint.name for joint in JOINTS]
        still = Rotation.identity()
        return np.array([known[name] for name in order]), Rotation.concatenate(
            [turns.get(name, still) for name in order]
        )

    def _foot_long(self) -> float:
        """A foot from heel to toe, shares of the stature."""
        feet = self._owned("ankle_r", "ball_r")
        return float(np.ptp(feet[:, 2]) / self.tall) if len(feet) else 0.0

    def _chin(self) -> Floats:
        """(3,) shares of the stature: the lowest point of the front of the head."""
        heads = (self.heads - self._foot()) / self.tall
        ahead = heads[heads[:, 2] <= heads[:, 2].min() + _FRONT * np.ptp(heads[:, 2])]
        low = ahead[ahead[:, 1].argmin()]
        return np.array([0.0, low[1], low[2]])

    def _eyes(self) -> Floats:
        """(3,) shares of the stature: between the eyes, at the front of the head."""
        if "eye_r" in self.joints:
            both = (self.at[self.joints["eye_r"]] + self.at[self.joints["eye_l"]]) / 2
            return np.asarray((both - self._foot()) / self.tall)
        heads = (self.heads - self._foot()) / self.tall
        high = self._chin()[1] + _EYES_UP * (1.0 - self._chin()[1])
        near = heads[np.abs(heads[:, 1] - high) < 0.02]
        front = float((near if len(near) else heads)[:, 2].min())
        return np.array([0.0, high, front])

    def _proportions(self, bind: Floats, back: Floats) -> Proportions:
        offsets = np.zeros((len(JOINTS), 3))
        for i, joint in enumerate(JOINTS[1:], start=1):
            # What hangs on a turned bone hangs straight once that bone does.
            offsets[i] = back[joint.parent] @ (bind[i] - bind[joint.parent])
        ankle = float((bind[INDEX["ankle_r"], 1] + bind[INDEX["ankle_l"], 1]) / 2)
        legs = [
            -sum(offsets[INDEX[f"{joint}_{side}"], 1] for joint in ("hip", "knee", "ankle")) for side in "rl"
        ]
        hip = ankle + sum(legs) / 2
        # Legs that were not quite straight are longer than the hips are high.
        offsets[INDEX["pelvis"]] = [0.0, hip, 0.0]
        marks = {
            "crown": ("head", np.array([0.0, 1.0, bind[INDEX["head"], 2]])),
            "eyes": ("head", self._eyes()),
            "chin": ("head", self._chin()),
        }
        landmarks = {
            name: (joint, _told(place - bind[INDEX[joint]])) for name, (joint, place) in marks.items()
        }
        for side in "rl":
            landmarks[f"sole_{side}"] = (f"ankle_{side}", (0.0, -ankle, 0.0))
            landmarks[f"fingertips_{side}"] = (f"wrist_{side}", (0.0, self._hand(bind, back, side), 0.0))
        return Proportions(offsets, landmarks, ankle, hip, self._foot_long())

    def _hand(self, bind: Floats, back: Floats, side: str) -> float:
        """How far below the wrist a hanging hand ends, shares of the stature."""
        i = INDEX[f"wrist_{side}"]
        points = (self._owned(f"wrist_{side}", f"knuckle_{side}") - self._foot()) / self.tall
        if not len(points):
            return -HAND
        return float(((points - bind[i]) @ back[i].T)[:, 1].min())


def _told(place: Floats) -> tuple[float, float, float]:
    x, y, z = (round(float(v), 6) for v in place)
    return (x, y, z)


def _four(joints: Ints, weights: Floats) -> tuple[Ints, Floats]:
    """(v, 4) the joints that count most for each point, each once, and their shares."""
    n = len(joints)
    total = np.zeros((n, len(JOINTS)))
    np.add.at(total, (np.arange(n)[:, None], joints), weights)
    order = np.argsort(-total, axis=1, kind="stable")[:, :4]
    shares = np.take_along_axis(total, order, axis=1)
    shares /= np.maximum(shares.sum(axis=1, keepdims=True), 1e-12)
    # The standard asks that a joint without weight is the first one.
    return np.where(shares > 0, order, 0), shares
