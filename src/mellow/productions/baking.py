"""Samples for the desk: what to fetch, and what a command would change."""

import json
import struct
from collections.abc import Callable, Iterator
from functools import lru_cache
from typing import Any

import numpy as np

from heron.bake import Bake, Samples, draft
from heron.cut import Clocks
from heron.cut.layout import stage_step
from heron.errors import NotFound
from heron.formats.gltf import write_body, write_mover
from heron.lines import timed
from heron.lines.moments import spoken_at
from heron.lines.timing import next_speaker
from heron.model import fingerprint
from heron.scene import Scene, Shot, find
from heron.scene.own import dressed
from heron.sound.clips import stage_first
from heron.sound.mix import period_of
from heron.stage.characters import character_of
from heron.stage.figure import Figure
from heron.stage.mover import Mover
from heron.stage.piece import Piece
from heron.stage.skeleton import JOINTS, LANDMARKS
from heron.timebase import Frames

_SHAPE_VERSION = 8
#: The clocks go under a name that no thing's id can be.
CUT, LINES, SOUNDS = "scene:cut", "scene:lines", "scene:sounds"
#: Beside a document's fields, where no field can be called so.
_BAKE = "bake of it"


def bake_of(scene: Scene) -> Bake:
    """A stored scene to be baked; asked again for the same document, the same, as long as that is kept."""
    found: Bake | None = scene.__dict__.get(_BAKE)
    if found is None:
        found = scene.__dict__.setdefault(_BAKE, Bake(scene))
    return found


def baked_things(scene: Scene) -> Iterator[tuple[str, Scene, Any]]:
    """All that can have samples: its name, the scene it is computed in, and itself.

    What a shot with changes of its own has otherwise stands under `own:<shot>:<id>`.
    """
    things = ("cameras", "figures", "movers", "perches")
    yield from ((item.id, scene, item) for table in things for item in getattr(scene, table))
    for shot in scene.shots:
        if shot.own:
            there = dressed(scene, shot)
            for table in things:
                yield from ((f"own:{shot.id}:{item.id}", there, item) for item in getattr(there, table))


def _sample_keys(scene: Scene, bake: Callable[[Scene], Bake] = bake_of) -> dict[str, tuple[str, Bake, Any]]:
    """For everything that has samples its fingerprint, the bake it is computed by, and itself.

    Of what a shot has for itself, only where that makes a difference.
    """
    bakes: dict[int, Bake] = {}
    out: dict[str, tuple[str, Bake, Any]] = {}
    for name, there, item in baked_things(scene):
        by = bakes.get(id(there)) or bakes.setdefault(id(there), bake(there))
        key = by.key(item)
        if there is scene or out[item.id][0] != key:
            out[name] = (key, by, item)
    return out


def keys(scene: Scene) -> dict[str, str]:
    """For everything the desk fetches, the fingerprint of its content: samples, shapes and the cut."""
    bake = bake_of(scene)
    out = {CUT: cut_key(scene), LINES: lines_key(scene), SOUNDS: _sounds_key(scene)}
    out |= {name: key for name, (key, _, _) in _sample_keys(scene).items()}
    for figure in scene.figures:
        out[f"shape:{figure.id}"] = _body_key(figure)
    for mover in scene.movers:
        out[f"shape:{mover.id}"] = _mover_key(mover, bake)
    for shot in scene.shots:
        if any(one.piece for one in shot.own):
            there = bake_of(dressed(scene, shot))
            for mover in there.scene.movers:
                if (key := _mover_key(mover, there)) != out[f"shape:{mover.id}"]:
                    out[f"shape:own:{shot.id}:{mover.id}"] = key
    return out


def _body_key(figure: Figure) -> str:
    if figure.character is not None and character_of(figure.character) is not None:
        return fingerprint("character", _SHAPE_VERSION, figure.stature, figure.character)
    return fingerprint("body", _SHAPE_VERSION, figure.stature, figure.look)


def _mover_key(mover: Mover, bake: Bake) -> str:
    parts = [_drawn(piece) for piece in bake.parts(mover)]
    light = mover.light and mover.light.colour
    return fingerprint("mover", _SHAPE_VERSION, mover.shape, mover.colour, light, parts)


def lines_key(scene: Scene) -> str:
    heard = [(one.line, one.frames) for one in scene.sounds if one.line]
    people = [(one.id, one.stature, one.voice) for one in scene.figures]
    return fingerprint("lines", scene.lines, heard, people, scene.frames.first, scene.rate)


def _sounds_key(scene: Scene) -> str:
    """Of all that is heard: other sounds, lines, shots or rates."""
    return fingerprint("sounds", scene.sounds, scene.stand_ins, lines_key(scene), cut_key(scene))


def sound_times(scene: Scene) -> list[dict[str, Any]]:
    """On which frame of its ruler each sound begins, and after how many samples a looped one begins again."""
    return [
        {
            "id": one.id,
            "first": one.first if one.on == "cut" else stage_first(scene, one),
            "period": period_of(one) if one.loop else None,
        }
        for one in scene.sounds
    ]


def line_times(scene: Scene) -> list[dict[str, Any]]:
    """When each line is said: its frames, inclusive, the first of each word, and the one after which that is over."""
    said = spoken_at(scene)
    return [
        {
            "id": one.line.id, "first": one.first, "last": one.last, "words": list(one.words),
            "over": list(said[one.line.id].over[:-1]),
        }
        for one in timed(scene)
    ]  # fmt: skip


def _lines(scene: Scene) -> dict[str, Any]:
    """When each line is said, who would say the next one, and how high each figure speaks, Hz."""
    pitches = {one.id: round(one.pitch) for one in scene.figures}
    return {"lines": line_times(scene), "next": next_speaker(scene), "pitches": pitches}


def cut_key(scene: Scene) -> str:
    """The fingerprint of all the clocks depend on."""
    return fingerprint("cut", scene.shots, scene.frames, scene.rate, scene.cut_start)


def samples(scene: Scene, thing: str) -> bytes:
    """The packed samples of a camera, figure or mover, the cut, or the lines.

    Raises:
        NotFound: no such thing.
    """
    if thing in _TABLES_SENT:
        return _TABLES_SENT[thing](scene)
    bake, item = _baked(scene, thing)
    return bake.samples(item).packed()


def samples_since(before: Scene, after: Scene, thing: str) -> bytes:
    """The packed samples of something that was there before: where those are known, only the frames that differ.

    Raises:
        NotFound: no such thing.
    """
    if thing in _TABLES_SENT:
        return _TABLES_SENT[thing](after)
    (by, item), (old, was) = _baked(after, thing), _baked(before, thing)
    new, known = by.samples(item), old.known(was)
    part = new if known is None else new.since(known)
    return part.packed(onto="" if part is new else old.key(was))


def _baked(scene: Scene, thing: str) -> tuple[Bake, Any]:
    for name, there, item in baked_things(scene):
        if name == thing:
            return bake_of(there), item
    raise NotFound(f"There is nothing called {thing:.60} on this stage.", "Load the scene again.")


def shape(scene: Scene, thing: str) -> bytes:
    """The `.glb` of a figure or mover; as a shot has it under `own:<shot>:<id>`.

    Raises:
        NotFound: no such thing.
    """
    if thing.startswith("own:"):
        of, _, thing = thing.removeprefix("own:").partition(":")
        scene = dressed(scene, find(scene, "shots", of))
    for figure in scene.figures:
        if figure.id == thing:
            return _body(figure.model_dump_json(include={"id", "name", "look", "stature", "character"}))
    for mover in scene.movers:
        if mover.id == thing:
            parts = json.dumps([_drawn(piece) for piece in bake_of(scene).parts(mover)])
            return _mover_body(
                mover.model_dump_json(include={"id", "name", "shape", "colour", "light"}), parts
            )
    raise NotFound(f"There is nothing called {thing:.60} on this stage.", "Load the scene again.")


@lru_cache(maxsize=64)
def _body(content: str) -> bytes:
    return write_body(Figure.model_validate_json(content))


@lru_cache(maxsize=64)
def _mover_body(content: str, parts: str) -> bytes:
    pieces = tuple(Piece.model_validate(piece) for piece in json.loads(parts))
    return write_mover(Mover.model_validate_json(content), pieces)


def _drawn(piece: Piece) -> dict[str, Any]:
    """What of a piece can be seen."""
    return piece.model_dump(mode="json", exclude={"group", "locked", "part_of"}) | {
        "id": "part",
        "name": "part",
    }


def tried(
    before: Scene, after: Scene, frames: Frames, columns: list[str] | None = None
) -> dict[str, Samples]:
    """Samples over some frames of everything whose samples a change would change.

    They are the rows of the bake after it, to the bit; what is computed for them is kept for nobody else.
    """
    old, out = _sample_keys(before), {}
    for name, (key, by, item) in _sample_keys(after, draft).items():
        if name in old and old[name][0] == key:
            continue
        found = by.samples(item, frames)
        out[name] = found if columns is None else found.only(columns)
    return out


def other_cut(scene: Scene, shots: tuple[Shot, ...]) -> bytes:
    """Other shots over the same stage, packed as the cut is; of each its name and its camera besides."""
    return _cut(scene.having(shots=shots), named=True)


def _cut(scene: Scene, *, named: bool = False) -> bytes:
    clocks = Clocks(scene)
    shot, stage = clocks.cut_table
    labels = clocks.timecode_labels()
    packed_labels = labels @ np.array([1_000_000, 10_000, 100, 1])
    befores = [None, *clocks.placed]
    header: dict[str, Any] = {
        "length": clocks.length, "drop": clocks.drop, "first": scene.frames.first,
        "shots": [
            {
                "id": p.shot.id, "cut_first": p.cut_first, "cut_last": p.cut_last,
                "step": stage_step(before, p) if before else None,
                **({"name": p.shot.name, "camera": p.shot.camera} if named else {}),
            }
            for before, p in zip(befores, clocks.placed, strict=False)
        ],
    }  # fmt: skip
    mixed, weights = _mixed(clocks)
    header["mixed"] = mixed.shape[1]
    text = json.dumps(header).encode()
    text += b" " * (-len(text) % 4)
    columns = np.concatenate([shot, stage, packed_labels, mixed.ravel(), clocks.stage_table]).astype("<i4")
    return struct.pack("<I", len(text)) + text + columns.tobytes() + weights.tobytes()


def _mixed(clocks: Clocks) -> tuple[np.ndarray[Any, Any], np.ndarray[Any, Any]]:
    """Of the frames of the cut whose picture is more than their shot's own, which are few, (3, m): each frame, the other
    shot and its stage frame; and (5 m,) the weights of each, of the others, and the light frame after frame.
    """
    mix = clocks.mix_table
    at = mix.frames
    weights = np.concatenate([mix.own[at], mix.others[at], mix.light[at].ravel()])
    return np.array([at, mix.other[at], mix.stage[at]], dtype="<i4"), weights.astype("<f4")


def mixed(before: Scene, after: Scene) -> bytes | None:
    """Those frames of a cut, packed, where its dissolves or fades are others than before."""
    if [_joins(shot) for shot in before.shots] == [_joins(shot) for shot in after.shots]:
        return None
    frames, weights = _mixed(Clocks(after))
    return frames.tobytes() + weights.tobytes()


def _joins(shot: Shot) -> tuple[Any, ...]:
    return shot.dissolve, shot.fade_in, shot.fade_out, shot.fade_colour


#: What is sent whole whenever it changes.
_TABLES_SENT: dict[str, Callable[[Scene], bytes]] = {
    CUT: _cut, LINES: lambda scene: json.dumps(_lines(scene)).encode(),
    SOUNDS: lambda scene: json.dumps(sound_times(scene)).encode(),
}  # fmt: skip


def landmark_names() -> list[str]:
    """Every place on a body that can be named."""
    return [joint.name for joint in JOINTS] + list(LANDMARKS)
