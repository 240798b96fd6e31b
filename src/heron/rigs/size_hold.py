"""How tall a part of a figure stands in the frame."""

import numpy as np

from heron.rigs.context import RigContext
from heron.rigs.pose import Floats, Pose, to_camera
from heron.scene.layers import SizeHold
from heron.stage.reference import OnFigure
from heron.stage.skeleton import INDEX, LANDMARKS, REST


def share_of(layer: SizeHold, context: RigContext, pose: Pose, focal: Floats) -> Floats:
    """(n,) how tall what is measured stands in the frame, as a share of the frame's height."""
    return tall_in(np.stack(ends_of(layer, context)), pose, context.gate_mm[1] / (2 * focal))


def tall_in(ends: Floats, pose: Pose, high: Floats) -> Floats:
    """(n,) how far apart two places, (2, n, 3), stand in the frame, as a share of its height."""
    _, y, z = to_camera(ends[..., 0], ends[..., 1], ends[..., 2], pose)
    seen = y / np.maximum(-z, 1e-6) / high
    return np.asarray(np.abs(seen[0] - seen[1]) / 2)


def ends_of(layer: SizeHold, context: RigContext) -> tuple[Floats, Floats]:
    """Top and bottom of what is measured, (n, 3) metres: as posed, or upright and of rest length at its middle."""
    bottom = context.track(layer.of).place
    top = context.track(OnFigure(figure=layer.of.figure, joint=layer.to)).place
    if layer.measured == "posed":
        return top, bottom
    tall = context.stature(layer.of.figure)
    up = np.array([0.0, abs(_rest_height(layer.of.joint) - _rest_height(layer.to)) * tall / 2, 0.0])
    centre = (top + bottom) / 2
    return centre + up, centre - up


def _rest_height(name: str) -> float:
    """How high a joint or landmark is at rest, in shares of stature."""
    if name in INDEX:
        return float(REST[INDEX[name], 1])
    joint, offset = LANDMARKS[name]
    return float(REST[INDEX[joint], 1]) + offset[1]
