"""Clips of a glTF file: where each node is over time (Khronos glTF 2.0 specification, 3.11)."""

from collections.abc import Callable
from typing import Any

import numpy as np
from scipy.spatial.transform import Rotation, Slerp

from heron.errors import BadInput
from heron.formats.bringing.found import Clip, Floats, Found
from heron.formats.bringing.tree import downwards, trs


def clips_of(doc: dict[str, Any], array: Callable[[Any], Any], found: Found) -> list[Clip]:
    """All clips of a file; what moves weights alone is none."""
    out = []
    for i, one in enumerate(doc.get("animations", [])):
        tracks: dict[tuple[int, str], tuple[Floats, Floats, str]] = {}
        for channel in one["channels"]:
            target = channel["target"]
            if "node" not in target or target["path"] not in ("translation", "rotation", "scale"):
                continue
            sampler = one["samplers"][channel["sampler"]]
            times = np.asarray(array(sampler["input"]), dtype=np.float64)
            if not len(times) or (np.diff(times) <= 0).any():
                raise BadInput("A clip has times that do not run forwards.", "Export it again.")
            tracks[target["node"], target["path"]] = (
                times, np.asarray(array(sampler["output"]), dtype=np.float64), sampler.get("interpolation", "LINEAR"),
            )  # fmt: skip
        if tracks:
            times = np.unique(np.concatenate([track[0] for track in tracks.values()]))
            out.append(Clip(str(one.get("name") or f"Clip {i + 1}")[:80], times, _places(doc, tracks, found)))
    return out


def _places(
    doc: dict[str, Any], tracks: dict[tuple[int, str], tuple[Floats, Floats, str]], found: Found
) -> Callable[[Floats], Floats]:
    def at(seconds: Floats) -> Floats:
        n, nodes = len(seconds), doc.get("nodes", [])
        out = np.zeros((n, len(nodes), 4, 4))
        for i in downwards(found.parents, "The file"):
            node = nodes[i]
            moving = [path for path in ("translation", "rotation", "scale") if (i, path) in tracks]
            if moving:
                rest = {"translation": [0.0, 0, 0], "rotation": [0.0, 0, 0, 1], "scale": [1.0, 1, 1]}
                got = [
                    _sampled(*tracks[i, path], seconds, path == "rotation")
                    if path in moving
                    else np.tile(np.array(node.get(path, usual), dtype=np.float64), (n, 1))
                    for path, usual in rest.items()
                ]
                local = trs(*got)
            else:
                above = found.parents[i]
                own = found.rest[i] if above < 0 else np.linalg.solve(found.rest[above], found.rest[i])
                local = np.tile(own, (n, 1, 1))
            out[:, i] = local if found.parents[i] < 0 else out[:, found.parents[i]] @ local
        return out

    return at


def _sampled(times: Floats, values: Floats, how: str, at: Floats, turns: bool) -> Floats:
    """(n, k) what a track has at some times; before its first and after its last key it holds."""
    at = np.clip(at, times[0], times[-1])
    if how == "CUBICSPLINE":
        keys = values.reshape(len(times), 3, -1)
        if len(times) == 1:
            return np.tile(keys[0, 1], (len(at), 1))
        k = np.clip(np.searchsorted(times, at, side="right") - 1, 0, len(times) - 2)
        wide = (times[k + 1] - times[k])[:, None]
        u = (at - times[k])[:, None] / wide
        out = (
            (2 * u**3 - 3 * u**2 + 1) * keys[k, 1] + wide * (u**3 - 2 * u**2 + u) * keys[k, 2]
            + (3 * u**2 - 2 * u**3) * keys[k + 1, 1] + wide * (u**3 - u**2) * keys[k + 1, 0]
        )  # fmt: skip
        return np.asarray(out)
    values = values.reshape(len(times), -1)
    if len(times) == 1:
        return np.tile(values[0], (len(at), 1))
    if how == "STEP":
        return np.asarray(values[np.clip(np.searchsorted(times, at, side="right") - 1, 0, len(times) - 1)])
    if turns:
        safe = np.where(np.linalg.norm(values, axis=1, keepdims=True) > 1e-9, values, [0.0, 0, 0, 1])
        return np.asarray(Slerp(times, Rotation.from_quat(safe))(at).as_quat())
    return np.stack([np.interp(at, times, column) for column in values.T], axis=1)
