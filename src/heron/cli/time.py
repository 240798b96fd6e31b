"""Timecode on the command line."""

import argparse

from heron.cli.words import parse_int, say
from heron.errors import BadInput
from heron.timebase import format_timecode, parse_rate, parse_timecode


def do_timecode(args: argparse.Namespace) -> None:
    """`heron timecode`."""
    rate = parse_rate(args.rate)
    if ":" in args.value or ";" in args.value:
        if args.drop and ";" not in args.value:
            raise BadInput("Drop-frame timecode is written with a semicolon.", "Write it as HH:MM:SS;FF.")
        say({"frame": parse_timecode(args.value, rate)})
    else:
        say({"timecode": format_timecode(parse_int(args.value, "frame"), rate, args.drop)})
