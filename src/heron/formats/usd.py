"""The stage as USD: metres, Y up, time codes are stage frames (UsdGeom, UsdSkel, UsdGeomCamera).

Set pieces and movers as meshes, figures and shapes with joints as UsdSkel, each with its motion; cameras by the schema: focal length and
apertures in tenths of the stage's unit, focus distance in its unit. Apertures are those that the delivered frame takes of the film
back, unsqueezed, so that every reader's frustum is the picture's; the film back itself stands beside them.
Pictures of what was brought in go with it in a package (`.usdz`). Left out: other pictures of surfaces, lamps as lights, the sun, haze, water, the cut.
"""

import re
import tempfile
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

import numpy as np
from pxr import Gf, Sdf, Usd, UsdGeom, UsdSkel, UsdUtils, Vt

from heron.bake import Bake
from heron.formats.span import Span, whole
from heron.formats.usd_pictures import Pictures
from heron.scene import Camera
from heron.stage.characters import CharacterFile, character_of, physique_of
from heron.stage.colour import linear, typed
from heron.stage.face import FACE
from heron.stage.face.rig import called, face_pose, shares
from heron.stage.figure import Figure
from heron.stage.floors import part_in
from heron.stage.jointed import JOINTED
from heron.stage.models import model_of
from heron.stage.models.part import Surface
from heron.stage.mover import Mover
from heron.stage.shapes import lay_figure, mover_shape, shape_of, shining_shape
from heron.stage.shapes.mesh import Mesh, rgb
from heron.stage.skeleton import INDEX, JOINTS, OFFSETS, REST
from heron.stage.turning import about, pan_tilt_roll
from heron.timebase import parse_rate

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ints = np.ndarray[Any, np.dtype[np.int64]]
#: Millimetres in a tenth of a metre.
_TENTH = 100.0


def write_usd(of: Bake | Span, ending: str = ".usdc", set_at: str | None = None) -> bytes:
    """The stage with its motion.

    Args:
        of: all of a scene, or some of its frames with some of its cameras.
        ending: `.usda` for text, `.usdc` or `.usd`, or `.usdz` for a package.
        set_at: where the file of its set lies, as seen from this one (`write_set`); it is referred to then, not in it.
    """
    span = whole(of) if isinstance(of, Bake) else of
    return _made(ending, lambda *to: _Writer(span, *to).write(apart=set_at is not None), set_at)


def write_set(of: Bake | Span, ending: str = ".usdc") -> bytes:
    """The set of a scene by itself: what stands still on its stage."""
    span = whole(of) if isinstance(of, Bake) else of
    return _made(ending, lambda *to: _Writer(span, *to).write_set())


def _made(ending: str, write: Callable[[Any, Path | None], None], set_at: str | None = None) -> bytes:
    """A stage that something was written to, as it is kept; with a set that lies elsewhere."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / f"stage{'.usdc' if ending in ('.usdz', '.usd') else ending}"
        stage = Usd.Stage.CreateNew(str(path))
        # A file by itself can hold no pictures; a package takes in what it names.
        write(stage, Path(folder) / "pictures" if ending == ".usdz" else None)
        stage.Save()
        del stage
        if set_at is not None:
            # Not on the stage: it would look for the file, which is not there yet.
            layer = Sdf.Layer.FindOrOpen(str(path))
            layer.GetPrimAtPath("/World/Set").referenceList.Prepend(Sdf.Reference(set_at))
            layer.Save()
        if ending == ".usdz":
            packed = path.with_suffix(".usdz")
            UsdUtils.CreateNewUsdzPackage(Sdf.AssetPath(str(path)), str(packed))
            path = packed
        return path.read_bytes()


class _Writer:
    def __init__(self, span: Span, stage: Any, folder: Path | None) -> None:
        self.span, self.bake, self.stage = span, span.bake, stage
        self.pictures = None if folder is None else Pictures(stage, folder)
        self._taken: set[str] = set()

    def _begin(self, root: str) -> Any:
        UsdGeom.SetStageMetersPerUnit(self.stage, 1.0)
        UsdGeom.SetStageUpAxis(self.stage, UsdGeom.Tokens.y)
        top = UsdGeom.Xform.Define(self.stage, root)
        top.GetPrim().SetCustomDataByKey("mellow_heron:scene", self.bake.scene.name)
        self.stage.SetDefaultPrim(top.GetPrim())
        return top

    def write_set(self) -> None:
        self._begin("/Set")
        self._set("/Set")

    def _set(self, above: str) -> None:
        for piece in self.bake.scene.visible.pieces:
            if piece.part_of is not None:
                continue
            path = self._path(above, piece.name)
            xform = UsdGeom.Xform.Define(self.stage, path)
            turn = about("Y", np.array([piece.heading])).as_quat()[0]
            self._still(xform, [piece.x, piece.base, piece.z], turn, [piece.width, piece.height, piece.depth])
            part, model = part_in(piece), model_of(piece.source.file) if piece.source is not None else None
            if part is None or model is None or self.pictures is None:
                self._mesh(f"{path}/Shape", shape_of(piece), rgb(piece.colour))
                continue
            for k, one in enumerate(part.surfaces):
                made = self._mesh(f"{path}/Shape{k + 1 if k else ''}", _mesh_of(one, 1.0), rgb(piece.colour))
                self._picture(made, one, model.pictures, linear(rgb(piece.colour)))

    def _picture(self, mesh: Any, surface: Surface, pictures: Sequence[bytes], tint: Floats) -> None:
        if self.pictures is not None and surface.picture is not None:
            self.pictures.bind(mesh, surface, pictures[surface.picture], tint)

    def write(self, apart: bool = False) -> None:
        scene, stage = self.bake.scene, self.stage
        self._begin("/World")
        stage.SetTimeCodesPerSecond(float(parse_rate(scene.rate)))
        stage.SetFramesPerSecond(float(parse_rate(scene.rate)))
        stage.SetStartTimeCode(self.span.frames.first)
        stage.SetEndTimeCode(self.span.frames.last)
        seen = scene.visible
        if apart:
            UsdGeom.Xform.Define(stage, "/World/Set")
        else:
            self._set("/World/Set")
        for figure in seen.figures:
            self._figure(figure)
        for mover in seen.movers:
            self._mover(mover)
        for camera in self.span.cameras:
            self._camera(camera)

    def _path(self, above: str, name: str) -> str:
        """A path that nothing else has, of a name in letters and digits."""
        plain = re.sub(r"[^A-Za-z0-9_]", "_", name) or "Item"
        plain = f"_{plain}" if plain[0].isdigit() else plain
        if not self.stage.GetPrimAtPath(above):
            UsdGeom.Xform.Define(self.stage, above)
        path, k = f"{above}/{plain}", 2
        while path in self._taken:
            path, k = f"{above}/{plain}_{k}", k + 1
        self._taken.add(path)
        return path

    def _times(self, values: Floats) -> list[tuple[int, int]]:
        """Rows of what is handed over, and their time codes: one where nothing changes."""
        rows, first = self.span.rows, self.bake.scene.frames.first
        if np.all(values[rows] == values[rows.start]):
            return [(rows.start, self.span.frames.first)]
        return [(i, first + i) for i in range(rows.start, rows.stop)]

    @staticmethod
    def _still(xform: Any, place: Sequence[float], turn: Floats, size: Sequence[float]) -> None:
        xform.AddTranslateOp().Set(Gf.Vec3d(*map(float, place)))
        xform.AddOrientOp(UsdGeom.XformOp.PrecisionDouble).Set(_quat(turn))
        xform.AddScaleOp().Set(Gf.Vec3f(*map(float, size)))

    def _moving(self, xform: Any, place: Floats, turn: Floats) -> None:
        move, orient = xform.AddTranslateOp(), xform.AddOrientOp(UsdGeom.XformOp.PrecisionDouble)
        for values, op, make in ((place, move, _vector), (turn, orient, _quat)):
            times = self._times(values)
            for i, time in times:
                op.Set(make(values[i].tolist()), *([Usd.TimeCode(time)] if len(times) > 1 else []))

    def _mesh(self, path: str, mesh: Mesh, tint: Floats | None = None) -> Any:
        made = UsdGeom.Mesh.Define(self.stage, path)
        made.CreatePointsAttr(Vt.Vec3fArray.FromNumpy(mesh.points.astype(np.float32)))
        made.CreateFaceVertexCountsAttr(
            Vt.IntArray.FromNumpy(np.full(len(mesh.triangles), 3, dtype=np.int32))
        )
        made.CreateFaceVertexIndicesAttr(Vt.IntArray.FromNumpy(mesh.triangles.reshape(-1).astype(np.int32)))
        made.CreateNormalsAttr(Vt.Vec3fArray.FromNumpy(mesh.normals.astype(np.float32)))
        made.SetNormalsInterpolation(UsdGeom.Tokens.vertex)
        made.CreateSubdivisionSchemeAttr(UsdGeom.Tokens.none)
        made.CreateExtentAttr(UsdGeom.PointBased.ComputeExtent(made.GetPointsAttr().Get()))
        colours = linear(mesh.colours if tint is None else mesh.colours * tint)
        made.CreateDisplayColorPrimvar(UsdGeom.Tokens.vertex).Set(
            Vt.Vec3fArray.FromNumpy(colours.astype(np.float32))
        )
        return made

    def _skeleton(
        self,
        path: str,
        names: list[str],
        parents: list[int],
        bind: Floats,
        offsets: Floats,
        skins: list[tuple[Mesh, Ints, Floats]],
        moves: Floats,
        turns: Floats,
    ) -> tuple[Any, list[Any]]:
        """A body with joints: (J, 4, 4) as its skins were fixed, (J, 3) in their parents' frames, and over the frames (n, J, 3)
        and (n, J, 4); each skin with its joints and weights, (v, k). Its motion, and its bodies.
        """
        root = UsdSkel.Root.Define(self.stage, path)
        tokens: list[str] = []
        for name, parent in zip(names, parents, strict=True):
            plain = re.sub(r"[^A-Za-z0-9_]", "_", name)
            tokens.append(plain if parent < 0 else f"{tokens[parent]}/{plain}")
        skeleton = UsdSkel.Skeleton.Define(self.stage, f"{path}/Skeleton")
        skeleton.CreateJointsAttr(tokens)
        skeleton.CreateBindTransformsAttr(
            # Rows of vectors times matrices there; columns here.
            Vt.Matrix4dArray([Gf.Matrix4d(one) for one in bind.transpose(0, 2, 1).tolist()])
        )
        skeleton.CreateRestTransformsAttr(
            Vt.Matrix4dArray([Gf.Matrix4d().SetTranslate(Gf.Vec3d(*one)) for one in offsets.tolist()])
        )
        motion = UsdSkel.Animation.Define(self.stage, f"{path}/Skeleton/Motion")
        motion.CreateJointsAttr(tokens)
        motion.CreateScalesAttr(Vt.Vec3hArray([Gf.Vec3h(1, 1, 1)] * len(tokens)))
        place, turn = motion.CreateTranslationsAttr(), motion.CreateRotationsAttr()
        for i, time in self._times(np.concatenate([moves, turns], axis=2).reshape(len(moves), -1)):
            place.Set(Vt.Vec3fArray.FromNumpy(moves[i].astype(np.float32)), time)
            turn.Set(
                Vt.QuatfArray([Gf.Quatf(float(w), float(x), float(y), float(z)) for x, y, z, w in turns[i]]),
                time,
            )
        UsdSkel.BindingAPI.Apply(skeleton.GetPrim()).CreateAnimationSourceRel().SetTargets([motion.GetPath()])
        bodies = []
        for k, (mesh, joints, weights) in enumerate(skins):
            body = self._mesh(f"{path}/Body{k + 1 if k else ''}", mesh)
            bodies.append(body)
            binding = UsdSkel.BindingAPI.Apply(body.GetPrim())
            binding.CreateSkeletonRel().SetTargets([skeleton.GetPath()])
            each = joints.shape[1]
            binding.CreateJointIndicesPrimvar(False, each).Set(
                Vt.IntArray.FromNumpy(joints.astype(np.int32).reshape(-1))
            )
            binding.CreateJointWeightsPrimvar(False, each).Set(
                Vt.FloatArray.FromNumpy(weights.astype(np.float32).reshape(-1))
            )
            binding.CreateGeomBindTransformAttr(Gf.Matrix4d(1.0))
        UsdSkel.BindingAPI.Apply(root.GetPrim())
        return motion, bodies

    def _face(self, character: CharacterFile, figure: Figure, motion: Any, bodies: list[Any]) -> None:
        """How a character's face moves, as shapes of its skins and how much of each there is."""
        names = [_named(part) for part in character.face]
        motion.CreateBlendShapesAttr(names)
        amounts = shares(self.bake.face(figure), character.face)
        weights = motion.CreateBlendShapeWeightsAttr()
        for i, time in self._times(amounts):
            weights.Set(Vt.FloatArray.FromNumpy(amounts[i].astype(np.float32)), time)
        for body, skin in zip(bodies, character.skins, strict=True):
            if not skin.morphs:
                continue
            paths = []
            for part, moves in skin.morphs.items():
                shape = UsdSkel.BlendShape.Define(self.stage, f"{body.GetPath()}/{_named(part)}")
                rows = np.flatnonzero(np.abs(moves).max(axis=1) > 0)
                some = (moves[rows] * figure.stature).astype(np.float32)
                shape.CreateOffsetsAttr(Vt.Vec3fArray.FromNumpy(some))
                shape.CreatePointIndicesAttr(Vt.IntArray.FromNumpy(rows.astype(np.int32)))
                paths.append(shape.GetPath())
            binding = UsdSkel.BindingAPI(body.GetPrim())
            binding.CreateBlendShapesAttr([_named(part) for part in skin.morphs])
            binding.CreateBlendShapeTargetsRel().SetTargets(paths)

    def _figure(self, figure: Figure) -> None:
        done, tall = self.bake.performance(figure), figure.stature
        n = self.bake.scene.frames.count
        names, parents = [joint.name for joint in JOINTS], [joint.parent for joint in JOINTS]
        path = self._path("/World/Figures", figure.name)
        character = character_of(figure.character) if figure.character is not None else None
        if character is not None:
            offsets = physique_of(figure).offsets
            moves = np.tile(offsets, (n, 1, 1))
            moves[:, 0], moves[:, INDEX["pelvis"]] = done.root, done.pelvis
            inverse = character.inverse.copy()
            inverse[:, :3, 3] *= tall
            skins = [(_mesh_of(one.surface, tall), one.joints, one.weights) for one in character.skins]
            bind = np.asarray(np.linalg.inv(inverse), dtype=np.float64)
            made = self._skeleton(path, names, parents, bind, offsets, skins, moves, done.turns)
            for body, one in zip(made[1], character.skins, strict=True):
                self._picture(body, one.surface, character.pictures, np.ones(3))
            if character.face:
                self._face(character, figure, *made)
            return
        names, parents = names + [part.name for part in FACE], parents + [INDEX["head"]] * len(FACE)
        rest = np.concatenate([REST, [REST[INDEX["head"]] + part.at for part in FACE]]) * tall
        offsets = np.concatenate([OFFSETS, [part.at for part in FACE]]) * tall
        moves, turns = np.tile(offsets, (n, 1, 1)), np.zeros((n, len(names), 4))
        moves[:, 0], moves[:, INDEX["pelvis"]] = done.root, done.pelvis
        turns[:, : len(JOINTS)] = done.turns
        places, faces = face_pose(self.bake.face(figure))
        moves[:, len(JOINTS) :], turns[:, len(JOINTS) :] = places * tall, faces
        self._skeleton(
            path, names, parents, _standing(rest), offsets, [_fixed(lay_figure(figure))], moves, turns
        )

    def _mover(self, mover: Mover) -> None:
        samples, parts = self.bake.samples(mover), self.bake.parts(mover)
        place, turn = (
            samples.values[:, :3],
            pan_tilt_roll(*(samples.values[:, i] for i in (3, 4, 5))).as_quat(),
        )
        path = self._path("/World/Movers", mover.name)
        if mover.shape not in JOINTED:
            xform = UsdGeom.Xform.Define(self.stage, path)
            self._moving(xform, place, turn)
            self._mesh(f"{path}/Shape", mover_shape(mover, parts))
            shines = shining_shape(mover, parts)
            if shines is not None:
                self._mesh(f"{path}/Lit", shines)
            return
        jointed, n = JOINTED[mover.shape], len(place)
        count = len(jointed.joints)
        moves, turns = np.tile(jointed.offsets, (n, 1, 1)), np.zeros((n, count, 4))
        first = samples.columns.index("joint0.x")
        turns[:] = samples.values[:, first : first + 4 * count].reshape(n, count, 4)
        moves[:, 0], turns[:, 0] = place, turn
        moves[:, 1, 1] -= samples.column("sink")
        names, parents = [joint.name for joint in jointed.joints], [joint.parent for joint in jointed.joints]
        self._skeleton(
            path,
            names,
            parents,
            _standing(jointed.rest),
            jointed.offsets,
            [_fixed(mover_shape(mover, parts))],
            moves,
            turns,
        )

    def _camera(self, camera: Camera) -> None:
        scene, samples = self.bake.scene, self.bake.samples(camera)
        made = UsdGeom.Camera.Define(
            self.stage, self._path("/World/Cameras", f"{camera.letter} {camera.name}")
        )
        self._moving(
            made, samples.values[:, :3], pan_tilt_roll(*(samples.values[:, i] for i in (3, 4, 5))).as_quat()
        )
        focal = samples.column("focal_mm")
        high = 2 * focal * np.tan(np.radians(samples.column("vertical_deg")) / 2)
        wide = high * scene.delivery.aspect
        per_m = samples.column("focus_per_m")
        with np.errstate(divide="ignore"):
            # At infinity a focus distance is as far as anything on a stage.
            focus = np.where(per_m > 1e-6, 1 / np.maximum(per_m, 1e-6), 1e6)
        for attribute, values in (
            (made.CreateFocalLengthAttr(), focal / _TENTH), (made.CreateVerticalApertureAttr(), high / _TENTH),
            (made.CreateHorizontalApertureAttr(), wide / _TENTH), (made.CreateFocusDistanceAttr(), focus), (made.CreateFStopAttr(), samples.column("aperture")),
        ):  # fmt: skip
            times = self._times(values)
            for i, time in times:
                attribute.Set(float(values[i]), *([time] if len(times) > 1 else []))
        made.CreateClippingRangeAttr(Gf.Vec2f(camera.near_m, camera.far_m))
        half = camera.shutter_deg / 720.0
        made.CreateShutterOpenAttr(-half)
        made.CreateShutterCloseAttr(half)
        prim, back = made.GetPrim(), camera.lens.back
        prim.SetCustomDataByKey("mellow_heron:film_back_mm", Gf.Vec2d(back.width_mm, back.height_mm))
        prim.SetCustomDataByKey("mellow_heron:squeeze", float(camera.lens.squeeze))
        prim.SetCustomDataByKey("mellow_heron:iso", float(camera.iso))


def _standing(rest: Floats) -> Floats:
    """(J, 4, 4) of joints that stand unturned at (J, 3)."""
    out = np.tile(np.eye(4), (len(rest), 1, 1))
    out[:, :3, 3] = rest
    return out


def _fixed(mesh: Mesh) -> tuple[Mesh, Ints, Floats]:
    """A mesh with the joints and weights of its points, (v, 3)."""
    joints, shares = np.zeros((len(mesh.points), 3), dtype=np.int64), np.zeros((len(mesh.points), 3))
    joints[:, 0] = mesh.joints
    if mesh.others is not None and mesh.shares is not None:
        joints[:, 1:], shares[:, 1:] = mesh.others, mesh.shares
    shares[:, 0] = 1.0 - shares[:, 1:].sum(axis=1)
    return mesh, joints, shares


def _named(part: str) -> str:
    """A part of a face in letters and digits."""
    return called(part).replace(" ", "")


def _mesh_of(surface: Surface, tall: float) -> Mesh:
    """A surface of what was brought in, so many times as large."""
    still = np.zeros(len(surface.points), dtype=np.int64)
    return Mesh(surface.points * tall, surface.normals, typed(surface.colours), surface.triangles, still)


def _vector(place: Any) -> Any:
    return Gf.Vec3d(*(float(v) for v in place))


def _quat(turn: Any) -> Any:
    x, y, z, w = (float(v) for v in turn)
    return Gf.Quatd(w, x, y, z)
