"""A character as it is kept: a `.glb` with a figure's joints, in shares of the stature, skinned as it came.

Its points stand as they did when the skin was fixed; `inverse` takes them to each joint with arms and legs hanging.
"""

from dataclasses import dataclass, field

import numpy as np

from heron.stage.models.accessors import open_glb, values
from heron.stage.models.kept import kept
from heron.stage.models.part import Floats, Ints, Surface, pictures_in, surface_in
from heron.stage.physique import Proportions
from heron.stage.skeleton import JOINTS


@dataclass(frozen=True, eq=False)
class Skin:
    """A surface and what it is fixed to.

    Attributes:
        joints: (v, 4) of a figure's joints; weights: (v, 4), 1 together.
        morphs: how its points move with a part of a face at its full, by the part as `heron.stage.face.rig` names it: (v, 3).
    """

    surface: Surface
    joints: Ints
    weights: Floats
    morphs: dict[str, Floats] = field(default_factory=dict)


@dataclass(frozen=True, eq=False)
class CharacterFile:
    """A skinned character.

    Attributes:
        skins: points in shares of the stature, feet on the floor, facing −Z.
        inverse: (J, 4, 4) from there to each joint's own frame, in shares of the stature.
    """

    skins: tuple[Skin, ...]
    inverse: Floats
    proportions: Proportions
    pictures: tuple[bytes, ...] = ()

    @property
    def triangles(self) -> int:
        """How many it has."""
        return sum(len(one.surface.triangles) for one in self.skins)

    @property
    def face(self) -> tuple[str, ...]:
        """The parts of its face that move."""
        return tuple(dict.fromkeys(part for one in self.skins for part in one.morphs))


def read_character(content: bytes) -> CharacterFile:
    """A character as `heron.formats.bringing.character_file` writes it.

    Raises:
        BadInput: it is damaged.
    """
    doc, blob = open_glb(content, "The file of a character")
    nodes = doc["nodes"]
    told = nodes[0]["extras"]
    offsets = np.array([nodes[i].get("translation", [0.0, 0.0, 0.0]) for i in range(len(JOINTS))])
    skins = tuple(
        Skin(
            surface_in(doc, blob, one),
            values(doc, [blob], one["attributes"]["JOINTS_0"]).astype(np.int64),
            np.asarray(values(doc, [blob], one["attributes"]["WEIGHTS_0"]), dtype=np.float64),
            {
                part: values(doc, [blob], target["POSITION"])
                for part, target in zip(
                    mesh.get("extras", {}).get("parts", ()), one.get("targets", ()), strict=True
                )
            },
        )
        for mesh in doc["meshes"]
        for one in mesh["primitives"]
    )
    inverse = values(doc, [blob], doc["skins"][0]["inverseBindMatrices"])
    inverse = np.asarray(inverse, dtype=np.float64).reshape(-1, 4, 4).transpose(0, 2, 1)
    landmarks = {
        name: (str(joint), (float(x), float(y), float(z)))
        for name, (joint, (x, y, z)) in told["landmarks"].items()
    }
    proportions = Proportions(offsets, landmarks, *(float(told[name]) for name in ("ankle", "hip", "foot")))
    return CharacterFile(skins, inverse, proportions, pictures_in(doc, blob))


def inverse_of(character: CharacterFile, stature: float) -> Floats:
    """(J, 4, 4) from a character's points to each joint's own frame, metres, of somebody so tall."""
    out = character.inverse.copy()
    out[:, :3] *= stature
    return out


def character_of(key: str) -> CharacterFile | None:
    """A kept character; None where its file is not here or is none."""
    return kept(key, read_character)
