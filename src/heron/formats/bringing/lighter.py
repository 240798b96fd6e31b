"""Copies with fewer triangles (quadric edge collapse, by fast-simplification)."""

import fast_simplification
import numpy as np

from heron.formats.bringing.found import Floats, Ints
from heron.formats.bringing.tree import same_places

#: Surfaces with fewer triangles stay as they are.
_FEW = 200


def lightened(points: Floats, triangles: Ints, share: float) -> tuple[Ints, Ints]:
    """Which points stay, and triangles between them: about that share of what there were."""
    if len(triangles) < _FEW:
        used, again = np.unique(triangles, return_inverse=True)
        return used, again.reshape(-1, 3)
    # Points at one place are one, or edges would open.
    first, same = same_places(points)
    welded = same[triangles]
    where = points[first].astype(np.float32)
    out, faces, collapses = fast_simplification.simplify(
        where,
        welded.astype(np.int32),
        target_reduction=min(max(1.0 - share, 0.0), 0.99),
        return_collapses=True,
    )
    _, _, mapping = fast_simplification.replay_simplification(where, welded.astype(np.int32), collapses)
    # Of the points that fell together the one that lies nearest stays.
    far = np.linalg.norm(where - out[mapping], axis=1)
    order = np.lexsort((far, mapping))
    which, at = np.unique(mapping[order], return_index=True)
    stays = np.zeros(len(out), dtype=np.int64)
    stays[which] = order[at]
    return first[stays], np.asarray(faces, dtype=np.int64)
