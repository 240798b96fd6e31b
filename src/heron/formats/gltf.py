"""The stage as glTF: for handing over, and for the desk to draw.

Handed over: set pieces, skinned figures and movers with their motion, cameras with theirs.
Lost: a changing focal length (glTF cameras have one field of view; the first frame's is
written, and every frame's focal length stands in the camera's extras), names of groups,
the cut.
"""

from dataclasses import replace
from typing import Any

import numpy as np
import pygltflib as g

from heron.bake import Bake
from heron.formats.glb import Glb
from heron.formats.span import Span, whole
from heron.scene import Camera
from heron.stage.body import INDEX, JOINTS
from heron.stage.characters import character_of, inverse_of, physique_of
from heron.stage.colour import linear
from heron.stage.face import FACE, FaceJoint
from heron.stage.face.rig import face_pose, numbered, shares
from heron.stage.figure import Figure
from heron.stage.floors import part_in
from heron.stage.jointed import JOINTED
from heron.stage.models import model_of
from heron.stage.mover import Mover
from heron.stage.piece import DrawnKind, Piece
from heron.stage.shapes import lay_figure, mover_shape, shape_of, shining_shape, unit_piece
from heron.stage.shapes.mesh import rgb
from heron.stage.skeleton import REST
from heron.stage.turning import Turns, about, pan_tilt_roll
from heron.timebase import parse_rate

PIECE_KINDS: tuple[DrawnKind, ...] = ("box", "post", "wall", "platform", "ramp", "backdrop", "reeds")


def write_stage(of: Bake | Span) -> bytes:
    """The stage with its motion, as `.glb`: all of a scene, or some of its frames with some of its cameras."""
    span = whole(of) if isinstance(of, Bake) else of
    bake, scene = span.bake, span.bake.scene
    glb = Glb(scene.name)
    glb.rows = span.rows
    seconds = (np.arange(scene.frames.count) / float(parse_rate(scene.rate))).astype(np.float64)
    meshes: dict[tuple[str, ...], int] = {}
    for piece in scene.visible.pieces:
        if piece.part_of is not None:
            continue
        look = (piece.kind, piece.colour, piece.finish, repr(piece.source))
        if look not in meshes:
            meshes[look] = _set_piece(glb, piece)
        glb.node(
            piece.name, mesh=meshes[look], translation=[piece.x, piece.base, piece.z],
            rotation=about("Y", np.array([piece.heading])).as_quat()[0].tolist(),
            scale=[piece.width, piece.height, piece.depth],
        )  # fmt: skip
    for figure in scene.visible.figures:
        nodes, body = _add_figure(glb, figure, prefix=f"{figure.name}/")
        done = bake.performance(figure)
        glb.animate(nodes[0], "translation", seconds, done.root)
        glb.animate(nodes[INDEX["pelvis"]], "translation", seconds, done.pelvis)
        for i, node in enumerate(nodes[: len(JOINTS)]):
            glb.animate(node, "rotation", seconds, done.turns[:, i])
        places, turns = face_pose(bake.face(figure))
        # A character's face moves by the shapes of its skin, not by joints.
        character = character_of(figure.character) if figure.character is not None else None
        if character is not None and character.face:
            glb.animate(body, "weights", seconds, shares(bake.face(figure), character.face))
        for i, node in enumerate(nodes[len(JOINTS) :]):
            glb.animate(node, "translation", seconds, places[:, i] * figure.stature)
            glb.animate(node, "rotation", seconds, turns[:, i])
    _add_movers(glb, bake, seconds)
    for camera in span.cameras:
        _add_camera(glb, span, camera, seconds)
    return glb.write()


def _set_piece(glb: Glb, piece: Piece) -> int:
    """The mesh of a piece as it would be 1 m wide, deep and high; what was brought in has its pictures."""
    part, model = part_in(piece), model_of(piece.source.file) if piece.source is not None else None
    if part is None or model is None:
        return glb.mesh(shape_of(piece), piece.kind, tint=rgb(piece.colour))
    tint = linear(rgb(piece.colour))
    surfaces = [replace(one, colours=one.colours * tint) for one in part.surfaces]
    return glb.model(surfaces, model.pictures, piece.kind)


def _add_movers(glb: Glb, bake: Bake, seconds: Any) -> None:
    """Movers, each below what it is on; what goes through somebody's hands stands by itself."""
    nodes: dict[str, int] = {}
    waiting = list(bake.scene.movers)
    while waiting:
        mover = next(m for m in waiting if m.on is None or m.on in nodes)
        waiting.remove(mover)
        nested = mover.on is not None and not bake.journey(mover.id).legs
        parent = nodes[mover.on] if nested and mover.on else None
        samples = bake.samples(mover)
        place, turn = samples.values[:, :3], pan_tilt_roll(*(samples.values[:, i] for i in (3, 4, 5)))
        if nested and mover.on:
            over = bake.samples(bake.mover(mover.on)).values
            facing = pan_tilt_roll(*(over[:, i] for i in (3, 4, 5)))
            place, turn = facing.inv().apply(place - over[:, :3]), facing.inv() * turn
        if mover.hidden:
            # Nothing of it is seen; what is on it still goes with it.
            nodes[mover.id] = glb.node(mover.name, parent=parent)
            _animate(glb, nodes[mover.id], seconds, place, turn)
            continue
        if mover.shape not in JOINTED:
            mesh = glb.mesh(mover_shape(mover, bake.parts(mover)), mover.name)
            node = glb.node(mover.name, mesh=mesh, parent=parent)
            _animate(glb, node, seconds, place, turn)
            nodes[mover.id] = node
            _add_shining(glb, mover, bake.parts(mover), node)
            continue
        jointed = JOINTED[mover.shape]
        bones = _add_jointed(glb, mover, bake.parts(mover), prefix=f"{mover.name}/", parent=parent)
        nodes[mover.id] = bones[0]
        _add_shining(glb, mover, bake.parts(mover), bones[0])
        _animate(glb, bones[0], seconds, place, turn)
        body = np.tile(jointed.offsets[1], (len(seconds), 1))
        body[:, 1] -= samples.column("sink")
        glb.animate(bones[1], "translation", seconds, body)
        first = samples.columns.index("joint0.x")
        for i, bone in enumerate(bones[1:], start=1):
            glb.animate(bone, "rotation", seconds, samples.values[:, first + 4 * i : first + 4 * i + 4])


def _add_shining(glb: Glb, mover: Mover, parts: tuple[Piece, ...], parent: int) -> None:
    shines = shining_shape(mover, parts)
    if shines is not None:
        glb.node(f"{mover.name}/lit", mesh=glb.mesh(shines, f"{mover.name}/lit"), parent=parent)


def write_body(figure: Figure) -> bytes:
    """One figure at rest, its joints by their plain names, as `.glb`."""
    glb = Glb(figure.name)
    _add_figure(glb, figure, prefix="")
    return glb.write()


def write_mover(mover: Mover, parts: tuple[Piece, ...] = ()) -> bytes:
    """One mover at the origin, with the set pieces that are part of it, as `.glb`."""
    glb = Glb(mover.name)
    if mover.shape in JOINTED:
        _add_jointed(glb, mover, parts, prefix="")
    else:
        glb.node("shape", mesh=glb.mesh(mover_shape(mover, parts), mover.shape))
    shines = shining_shape(mover, parts)
    if shines is not None:
        glb.node("lit", mesh=glb.mesh(shines, "lit"))
    return glb.write()


def write_unit_pieces() -> bytes:
    """A white piece of each kind, 1 m in every direction, as `.glb`."""
    glb = Glb("set pieces")
    for kind in PIECE_KINDS:
        glb.node(kind, mesh=glb.mesh(unit_piece(kind), kind))
    glb.node("trees", mesh=glb.mesh(unit_piece("backdrop", "trees"), "trees"))
    return glb.write()


def _add_jointed(
    glb: Glb, mover: Mover, parts: tuple[Piece, ...], prefix: str, parent: int | None = None
) -> list[int]:
    jointed = JOINTED[mover.shape]
    nodes: list[int] = []
    for joint in jointed.joints:
        above = nodes[joint.parent] if joint.parent >= 0 else parent
        nodes.append(
            glb.node(prefix + joint.name, parent=above, translation=[float(v) for v in joint.offset])
        )
    skin = glb.skin(nodes, jointed.rest)
    # What rides on it is fixed to its root.
    mesh = glb.mesh(mover_shape(mover, parts), f"{prefix}shape", skinned=True)
    glb.node(f"{prefix}shape", mesh=mesh, skin=skin)
    return nodes


def _add_figure(glb: Glb, figure: Figure, prefix: str) -> tuple[list[int], int]:
    """A figure's joints as nodes, the body's first (a character has those of the body alone), and the node of its skin."""
    nodes: list[int] = []
    for joint, offset in zip(JOINTS, physique_of(figure).offsets.tolist(), strict=True):
        parent = nodes[joint.parent] if joint.parent >= 0 else None
        nodes.append(glb.node(prefix + joint.name, parent=parent, translation=offset))
    character = character_of(figure.character) if figure.character is not None else None
    if character is not None:
        skinned = glb.node(
            f"{prefix}body",
            mesh=glb.skins_of(character, f"{prefix}body"),
            skin=glb.bound(nodes, inverse_of(character, figure.stature)),
        )
        return nodes, skinned
    head = REST[INDEX["head"]]
    for part in FACE:
        offset = (np.array(part.at) * figure.stature).tolist()
        extras = {"face": _face_extras(part, figure.stature)}
        nodes.append(
            glb.node(prefix + part.name, parent=nodes[INDEX["head"]], translation=offset, extras=extras)
        )
    rest = np.concatenate([REST, [head + part.at for part in FACE]])
    skin = glb.skin(nodes, rest * figure.stature)
    mesh = glb.mesh(lay_figure(figure), f"{prefix}body", skinned=True)
    return nodes, glb.node(f"{prefix}body", mesh=mesh, skin=skin)


def _face_extras(joint: FaceJoint, stature: float) -> dict[str, Any]:
    """How the ten numbers of a face move and turn a joint, for whoever draws it: by the place of a number among them.

    Each move is the number, its part (1 above 0, −1 below, 0 all of it), and metres; each turn the same, and degrees.
    """

    return {
        "moves": [[*numbered(name), *(stature * v for v in by)] for name, by in joint.moves.items()],
        "turns": [[*numbered(name), by] for name, by in joint.turns.items()],
        "axis": list(joint.axis), "left": joint.left,
    }  # fmt: skip


def _animate(glb: Glb, node: int, seconds: Any, place: Any, turn: Turns) -> None:
    glb.animate(node, "translation", seconds, place)
    glb.animate(node, "rotation", seconds, turn.quat)


def _add_camera(glb: Glb, span: Span, camera: Camera, seconds: np.ndarray[Any, Any]) -> None:
    scene, samples = span.bake.scene, span.bake.samples(camera)
    view = samples.at(span.frames.first)
    glb.doc.cameras.append(
        g.Camera(
            type="perspective", name=f"{camera.letter} {camera.name}",
            perspective=g.Perspective(
                yfov=float(np.radians(view["vertical_deg"])), aspectRatio=scene.delivery.aspect, znear=camera.near_m, zfar=camera.far_m
            ),
        )
    )  # fmt: skip
    per_m = samples.column("focus_per_m")
    with np.errstate(divide="ignore"):
        focus = np.where(per_m > 0, 1 / per_m, np.inf)
    extras = {
        "film_back_mm": [camera.lens.back.width_mm, camera.lens.back.height_mm],
        "focal_mm": _steady(glb, samples.column("focal_mm")),
        "aperture": _steady(glb, samples.column("aperture")),
        "focus_m": _steady(glb, focus),
        "shutter_deg": camera.shutter_deg,
        "iso": camera.iso,
        "squeeze": camera.lens.squeeze,
        "first_frame": span.frames.first,
    }
    node = glb.node(f"{camera.letter} {camera.name}", camera=len(glb.doc.cameras) - 1, extras=extras)
    _animate(
        glb, node, seconds, samples.values[:, :3], pan_tilt_roll(*(samples.values[:, i] for i in (3, 4, 5)))
    )


def _steady(glb: Glb, values: np.ndarray[Any, Any]) -> Any:
    """One value if it never changes, else one for each frame; infinity is null."""
    values = values[glb.rows]
    if np.all(values == values[0]):
        return float(values[0]) if np.isfinite(values[0]) else glb.later(None)
    return glb.later(values.tolist())
