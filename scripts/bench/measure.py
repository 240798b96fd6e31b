"""Measuring, and saying what was measured beside what was asked."""

import time
from collections.abc import Callable
from pathlib import Path

ROOT = Path(__file__).parents[2]
#: What was said, line by line: what, asked, measured, met or not.
LINES: list[tuple[str, str, str, str]] = []


def milliseconds(work: Callable[[], object], runs: int) -> list[float]:
    """Wall time of each run, after one that does not count."""
    work()
    out = []
    for _ in range(runs):
        start = time.perf_counter()
        work()
        out.append((time.perf_counter() - start) * 1000)
    return out


def say(what: str, budget: float | None, measured: float, unit: str = "ms", more: str = "") -> None:
    """Print a line, met or NOT MET, and keep it for the page."""
    told = f"{measured:.{0 if measured >= 100 else 1 if measured >= 3 else 2}f} {unit}{more}"
    asked = "none" if budget is None else f"{budget:g} {unit}"
    verdict = "" if budget is None else "met" if measured <= budget else "NOT MET"
    LINES.append((what, asked, told, verdict))
    print(f"{what:78} budget {asked:>10}   measured {told:28} {verdict}", flush=True)


def p95(took: list[float]) -> float:
    """The 95th percentile."""
    return sorted(took)[min(int(len(took) * 0.95), len(took) - 1)]
