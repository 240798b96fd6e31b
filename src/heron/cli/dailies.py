"""Renders on the command line: the frames of a cut, and its list of shots."""

import argparse
import sys
from dataclasses import asdict

from heron.cli.scenes import read
from heron.cli.words import say
from heron.dailies.frames import frames_of_cut
from heron.dailies.shot_list import as_csv, shot_list


def do_frames(args: argparse.Namespace) -> None:
    """`heron frames`."""
    say(
        [
            {name: value for name, value in asdict(one).items() if name != "mixed" or value}
            for one in frames_of_cut(read(args.scene), args.shot)
        ]
    )


def do_shotlist(args: argparse.Namespace) -> None:
    """`heron shotlist`."""
    lines = shot_list(read(args.scene), notes=True)
    if args.to == "csv":
        # Its own line ends, which RFC 4180 asks for.
        sys.stdout.write(as_csv(lines))
    else:
        say([asdict(line) for line in lines])
