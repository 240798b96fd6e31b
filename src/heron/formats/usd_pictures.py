"""Pictures on surfaces in USD: a UsdPreviewSurface for each, read through `st` (UsdPreviewSurface specification of OpenUSD)."""

import hashlib
from pathlib import Path
from typing import Any

import numpy as np
from pxr import Gf, Sdf, UsdGeom, UsdShade, Vt

from heron.stage.models.part import Surface

Floats = np.ndarray[Any, np.dtype[np.float64]]


class Pictures:
    """The pictures of a stage, written to a folder beside its file."""

    def __init__(self, stage: Any, folder: Path) -> None:
        self.stage, self.folder = stage, folder
        self._materials: dict[tuple[str, str], Any] = {}

    def bind(self, mesh: Any, surface: Surface, content: bytes, tint: Floats) -> None:
        """Put a picture on a mesh whose points are a surface's; it is multiplied by the surface's mean colour and by `tint` (linear)."""
        assert surface.uv is not None
        st = (surface.uv * [1.0, -1.0] + [0.0, 1.0]).astype(np.float32)
        primvar = UsdGeom.PrimvarsAPI(mesh).CreatePrimvar(
            "st", Sdf.ValueTypeNames.TexCoord2fArray, UsdGeom.Tokens.vertex
        )
        primvar.Set(Vt.Vec2fArray.FromNumpy(st))
        hue = np.round(surface.colours.mean(axis=0) * tint, 4)
        prim = mesh.GetPrim()
        UsdShade.MaterialBindingAPI.Apply(prim).Bind(self._material(content, hue))

    def _material(self, content: bytes, hue: Floats) -> Any:
        key = (hashlib.sha256(content).hexdigest()[:16], " ".join(map(str, hue)))
        if key not in self._materials:
            self._materials[key] = self._made(key[0], content, hue)
        return self._materials[key]

    def _made(self, name: str, content: bytes, hue: Floats) -> Any:
        ending = "png" if content[:4] == b"\x89PNG" else "jpg"
        self.folder.mkdir(exist_ok=True)
        (self.folder / f"{name}.{ending}").write_bytes(content)
        path = f"{self.stage.GetDefaultPrim().GetPath()}/Looks/Picture{len(self._materials) + 1}"
        if not self.stage.GetPrimAtPath(path.rsplit("/", 1)[0]):
            UsdGeom.Scope.Define(self.stage, path.rsplit("/", 1)[0])
        material = UsdShade.Material.Define(self.stage, path)
        place = UsdShade.Shader.Define(self.stage, f"{path}/Place")
        place.CreateIdAttr("UsdPrimvarReader_float2")
        place.CreateInput("varname", Sdf.ValueTypeNames.String).Set("st")
        picture = UsdShade.Shader.Define(self.stage, f"{path}/Picture")
        picture.CreateIdAttr("UsdUVTexture")
        picture.CreateInput("file", Sdf.ValueTypeNames.Asset).Set(
            Sdf.AssetPath(f"./{self.folder.name}/{name}.{ending}")
        )
        picture.CreateInput("sourceColorSpace", Sdf.ValueTypeNames.Token).Set("sRGB")
        for side in "ST":
            picture.CreateInput(f"wrap{side}", Sdf.ValueTypeNames.Token).Set("repeat")
        picture.CreateInput("scale", Sdf.ValueTypeNames.Float4).Set(
            Gf.Vec4f(*(float(one) for one in hue), 1.0)
        )
        picture.CreateInput("st", Sdf.ValueTypeNames.Float2).ConnectToSource(
            place.CreateOutput("result", Sdf.ValueTypeNames.Float2)
        )
        surface = UsdShade.Shader.Define(self.stage, f"{path}/Surface")
        surface.CreateIdAttr("UsdPreviewSurface")
        surface.CreateInput("roughness", Sdf.ValueTypeNames.Float).Set(0.9)
        surface.CreateInput("diffuseColor", Sdf.ValueTypeNames.Color3f).ConnectToSource(
            picture.CreateOutput("rgb", Sdf.ValueTypeNames.Float3)
        )
        material.CreateSurfaceOutput().ConnectToSource(
            surface.CreateOutput("surface", Sdf.ValueTypeNames.Token)
        )
        return material
