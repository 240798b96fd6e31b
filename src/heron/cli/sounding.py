"""Sound on the command line: brought in, mixed and measured.

The files of a scene lie beside it in a folder `sounds`, each as FLAC under its key.
"""

import argparse
import shutil
from functools import lru_cache
from pathlib import Path
from typing import cast

import numpy as np

from heron.cli.scenes import read
from heron.cli.words import number, parse_int, say
from heron.commands.registry import run_one
from heron.commands.sounds import AddSound
from heron.cut import Clocks
from heron.errors import BadInput, NotFound
from heron.scene import write_scene
from heron.scene.sound import SOUND_LANES, SoundLane
from heron.sound.files import Floats, key_of, packed, read_part, read_sound
from heron.sound.level import level_of
from heron.sound.loudness import loudness
from heron.sound.mix import mix, write_wav
from heron.timebase.frames import parse_frames

SOUNDS = (".wav", ".flac", ".ogg", ".mp3")
FOLDER = "sounds"


def lay_sound(args: argparse.Namespace) -> None:
    """`heron bring` of a sound."""
    scene, path, out = read(args.scene), Path(args.file), Path(args.out)
    sound = read_sound(path.read_bytes(), path.name)
    content = packed(sound)
    key = key_of(content)
    command = AddSound(
        name=path.stem[:80], file=key, samples=len(sound.data), level=level_of(sound), lane=args.lane, line=args.line, on=args.on,
        first=None if args.at is None else parse_int(args.at, "frame"), gain_db=number(args.gain, "level", -96, 24),
        fade_in=parse_int(args.fade_in, "number of frames"), fade_out=parse_int(args.fade_out, "number of frames"),
    )  # fmt: skip
    scene, said = run_one(scene, command)
    folder, before = out.parent / FOLDER, Path(args.scene).parent / FOLDER
    folder.mkdir(exist_ok=True)
    for one in {file for other in scene.sounds for file in other.files} - {key}:
        if folder != before and (before / f"{one}.flac").exists():
            shutil.copyfile(before / f"{one}.flac", folder / f"{one}.flac")
    (folder / f"{key}.flac").write_bytes(content)
    out.write_text(write_scene(scene), encoding="utf-8")
    say({"out": args.out, "id": scene.sounds[-1].id, "said": "; ".join([said, *sound.said])})


def do_mix(args: argparse.Namespace) -> None:
    """`heron mix`."""
    scene, folder = read(args.scene), Path(args.scene).parent / FOLDER
    first, stop = 0, Clocks(scene).length
    if args.frames is not None:
        frames = parse_frames(args.frames)
        if frames.last >= stop:
            raise BadInput(
                f"Frames {frames} are not all in the cut.", f"It has frames 0 to {stop - 1}.", field="frames"
            )
        first, stop = frames.first, frames.stop
    lanes = SOUND_LANES if args.lanes is None else tuple(one.strip() for one in args.lanes.split(","))
    if wrong := [one for one in lanes if one not in SOUND_LANES]:
        raise BadInput(
            f"There is no lane {wrong[0]!r:.40}.", f"There are: {', '.join(SOUND_LANES)}.", field="lanes"
        )

    @lru_cache(maxsize=8)
    def content(key: str) -> bytes:
        path = folder / f"{key}.flac"
        if not path.exists():
            name = next(one.name for one in scene.sounds if one.file == key)
            raise NotFound(f"The file of the sound {name} is not in {folder}.", "Bring it in again.")
        return path.read_bytes()

    def data(key: str, start: int, stop: int) -> Floats:
        return read_part(content(key), start, stop)

    highest = write_wav(Path(args.out), mix(scene, data, first, stop, cast(tuple[SoundLane, ...], lanes)))
    said = []
    if highest > 1:
        said.append(
            f"It goes {20 * np.log10(highest):.1f} dB over full scale; what is over was cut off: lower some levels"
        )
    say(
        {
            "out": args.out,
            "frames": stop - first,
            "peak_dbfs": 20 * np.log10(highest) if highest else None,
            "said": said,
        }
    )


def do_loudness(args: argparse.Namespace) -> None:
    """`heron loudness`."""
    path = Path(args.file)
    lufs, peak = loudness(read_sound(path.read_bytes(), path.name))
    say({"integrated_lufs": lufs, "true_peak_dbtp": peak})
