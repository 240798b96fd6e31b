"""Characters as they are kept: `heron.stage.characters.kept` reads what is written here."""

from heron.formats.glb import Glb
from heron.stage.characters import CharacterFile
from heron.stage.skeleton import JOINTS


def write_character(character: CharacterFile) -> bytes:
    """A character as it is kept; the same character, the same bytes."""
    glb = Glb("character")
    glb.doc.materials = []
    own = character.proportions
    told = {
        "ankle": own.ankle, "hip": own.hip, "foot": own.foot,
        "landmarks": {name: [joint, list(place)] for name, (joint, place) in own.landmarks.items()},
    }  # fmt: skip
    nodes: list[int] = []
    for joint, offset in zip(JOINTS, own.offsets.tolist(), strict=True):
        parent = nodes[joint.parent] if joint.parent >= 0 else None
        what = {} if nodes else {"extras": told}
        nodes.append(glb.node(joint.name, parent=parent, translation=offset, **what))
    skin = glb.bound(nodes, character.inverse)
    glb.node("body", mesh=glb.skins_of(character, "body"), skin=skin)
    return glb.write()
