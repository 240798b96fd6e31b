"""Normals for surfaces that have none."""

import math

import numpy as np

from heron.formats.bringing.found import Floats, Ints
from heron.formats.bringing.tree import same_places, unit

#: Faces that meet at a greater angle have an edge between them, degrees. Common practice.
EDGE_DEG = 40.0
_MOST_AT_ONE = 48


def normals_of(points: Floats, triangles: Ints) -> Floats:
    """(3 t, 3) for the corners of triangles in turn: smooth where faces meet nearly in a plane, else each face's own."""
    c = points[triangles]
    face = np.cross(c[:, 1] - c[:, 0], c[:, 2] - c[:, 0])
    # Points at one place are one, whatever else is told of them.
    same = same_places(points)[1][triangles].reshape(-1)
    own = unit(face)
    # All pairs of corners that meet at a place, but for places where very many do: those are tips.
    order = np.argsort(same, kind="stable")
    starts = np.flatnonzero(np.r_[True, np.diff(same[order]) > 0])
    many = np.diff(np.r_[starts, len(order)])
    total = np.repeat(face, 3, axis=0)
    for count in np.unique(many[(many > 1) & (many <= _MOST_AT_ONE)]):
        corners = order[starts[many == count][:, None] + np.arange(count)]
        of = corners // 3
        near = np.einsum("mid,mjd->mij", own[of], own[of]) >= math.cos(math.radians(EDGE_DEG))
        total[corners] = np.einsum("mij,mjd->mid", near, face[of])
    return unit(total)
