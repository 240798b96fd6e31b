"""Measuring, and saying what was measured beside what was asked, also as a ratio to a reference of the same run."""

import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

import numpy as np

ROOT = Path(__file__).parents[2]
#: What was said, line by line: what, asked, measured, in references, met or not, and what limits it.
LINES: list[tuple[str, str, str, str, str, str]] = []
#: What a unit of time is in milliseconds.
_TIMES = {"ms": 1.0, "s": 1000.0, "s a frame": 1000.0}


@dataclass(frozen=True)
class Reference:
    """Something plain that is measured beside everything else, since machines differ, and one differs from hour to hour.

    Attributes:
        here: milliseconds in this run.
    """

    name: str
    here: float


#: A numpy copy of 100 MB where the budgets are meant for, milliseconds.
COPY_MS = 25.0
_NOW: dict[str, Reference] = {}


def refer_to(name: str, here: float) -> None:
    """What the lines that follow are told in."""
    _NOW["reference"] = Reference(name, here)
    print(f"-- in references of {name}, {here:.3g} ms")


def refer_to_copy() -> None:
    """A numpy copy of 100 MB, by which budgets are held on any machine."""
    block = np.ones(12_500_000)
    refer_to("a copy of 100 MB", statistics.median(milliseconds(block.copy, 9)))
    _NOW["copy"] = _NOW["reference"]


def milliseconds(work: Callable[[], object], runs: int) -> list[float]:
    """Wall time of each run, after one that does not count."""
    work()
    out = []
    for _ in range(runs):
        start = time.perf_counter()
        work()
        out.append((time.perf_counter() - start) * 1000)
    return out


def say(
    what: str, budget: float | None, measured: float, unit: str = "ms", more: str = "", limit: str = ""
) -> None:
    """Print a line, met or NOT MET, and keep it for the page.

    A time is held to its budget by the copy: on a machine half as fast it may take twice as long.

    Args:
        limit: what limits it, said where it is not met.
    """
    told = f"{measured:.{0 if measured >= 100 else 1 if measured >= 3 else 2}f} {unit}{more}"
    asked = "none" if budget is None else f"{budget:g} {unit}"
    share, slower = "", 1.0
    if unit in _TIMES:
        slower = max(_NOW["copy"].here / COPY_MS, 1.0)
        share = f"{measured * _TIMES[unit] / _NOW['reference'].here:.3g}"
    verdict = "" if budget is None else "met" if measured <= budget * slower else "NOT MET"
    LINES.append((what, asked, told, share, verdict, limit if verdict == "NOT MET" else ""))
    print(f"{what:78} budget {asked:>10}   measured {told:28} {share:>14}  {verdict}", flush=True)


def p95(took: list[float]) -> float:
    """The 95th percentile."""
    return sorted(took)[min(int(len(took) * 0.95), len(took) - 1)]
