"""Cameras of USD over the stage's time codes (UsdGeomCamera of OpenUSD): focal length and apertures in tenths of the stage's unit."""

from typing import Any

import numpy as np
from pxr import Gf, Usd, UsdGeom

from heron.formats.bringing.cameras_in import MOST_FRAMES
from heron.formats.bringing.found import CameraFrames, Floats

#: A focal length that is longer, taken by the stage's unit, was meant in millimetres whatever that unit is.
_LONGEST_MM = 1500.0


def usd_camera(stage: Any, prim: Any, rate: float) -> CameraFrames:
    """A camera at so many frames a second, over the time codes that its stage says."""
    begin, end = stage.GetStartTimeCode(), stage.GetEndTimeCode()
    each = stage.GetTimeCodesPerSecond() / rate
    moves = stage.HasAuthoredTimeCodeRange() and end > begin
    count = min(round((end - begin) / each) + 1, MOST_FRAMES) if moves else 1
    times = [Usd.TimeCode(begin + k * each) if moves else Usd.TimeCode.EarliestTime() for k in range(count)]
    camera, cache = UsdGeom.Camera(prim), UsdGeom.XformCache()
    places, rows = [], []
    for time in times:
        cache.SetTime(time)
        # Rows of vectors times matrices there; columns here.
        places.append(np.array(cache.GetLocalToWorldTransform(prim), dtype=np.float64).T)
        rows.append([
            float(one.Get(time) or 0.0)
            for one in (
                camera.GetFocalLengthAttr(), camera.GetHorizontalApertureAttr(), camera.GetVerticalApertureAttr(),
                camera.GetFStopAttr(), camera.GetFocusDistanceAttr(),
            )
        ])  # fmt: skip
    focal, wide, high, stop, focus = np.array(rows).T
    tenth = 100.0 * UsdGeom.GetStageMetersPerUnit(stage)
    if (focal * tenth).max() > _LONGEST_MM:
        tenth = 1.0
    told = prim.GetCustomDataByKey
    back = told("mellow_heron:film_back_mm")
    open_, shut = camera.GetShutterOpenAttr().Get(), camera.GetShutterCloseAttr().Get()
    # An open and a close of half a frame are a shutter of 180°.
    shutter = (
        360.0 * (shut - open_) if open_ is not None and shut is not None and 0 < shut - open_ <= 1 else None
    )
    whole = abs(begin - round(begin)) < 1e-6 and abs(each - 1) < 1e-6
    return CameraFrames(
        round(begin) if moves and whole else None, np.array(places), focal * tenth, wide * tenth, high * tenth,
        stop if (stop > 0).all() else None, _focus(focus), (float(back[0]), float(back[1])) if isinstance(back, Gf.Vec2d) else None,
        float(told("mellow_heron:squeeze") or 1.0), shutter, told("mellow_heron:iso"),
    )  # fmt: skip


def _focus(focus: Floats) -> Floats | None:
    """A focus distance of 0 says none."""
    return focus if (focus > 0).all() else None
