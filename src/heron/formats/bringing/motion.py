"""Motion from whatever file has it: a BVH, or a clip of a glTF file."""

import numpy as np

from heron.errors import BadInput
from heron.formats.bringing.bvh_in import Skeleton, read_bvh
from heron.formats.bringing.found import Along, Found
from heron.formats.bringing.gltf_in import read_gltf
from heron.formats.bringing.recognise import form_of

#: Clips are read at so many frames a second.
CLIP_RATE = 60.0


def skeleton_of(
    content: bytes, name: str, along: Along, clip: str | None = None
) -> tuple[Skeleton, list[str]]:
    """A skeleton in motion, and the names of all clips of its file.

    Raises:
        BadInput: there is none, or no clip of that name.
    """
    form = form_of(content, name)
    if form == "bvh":
        return read_bvh(content, name), []
    if form != "gltf":
        raise BadInput(f"{name} holds no motion.", "Give a BVH file, or a .glb with a clip.")
    found = read_gltf(content, name, along)
    names = [one.name for one in found.clips]
    if not names:
        raise BadInput(f"{name} has no clips.", "Give a file with a clip, or a BVH file.")
    if clip is not None and clip not in names:
        raise BadInput(f"{name} has no clip {clip!r:.60}.", f"There are: {', '.join(names)}.", field="clip")
    return of_clip(found, names.index(clip) if clip is not None else 0), names


def of_clip(found: Found, which: int) -> Skeleton:
    """A clip of a glTF file as a skeleton in motion: of its skin's joints, else of all nodes that have others below them."""
    clip = found.clips[which]
    begin, end = float(clip.seconds[0]), float(clip.seconds[-1])
    count = max(round((end - begin) * CLIP_RATE) + 1, 1)
    nodes = sorted(found.bind) or [
        i for i in range(len(found.names)) if i in found.parents or found.parents[i] >= 0
    ]
    places = clip.places(begin + np.arange(count) / CLIP_RATE)[:, nodes]
    # The pose in which the skin was fixed is the one that stands; the nodes' own may be any.
    rest = np.array([found.bind.get(node, found.rest[node]) for node in nodes])
    return Skeleton(
        [found.names[node] for node in nodes], found.parents_among(nodes), {}, rest, places, CLIP_RATE
    )
