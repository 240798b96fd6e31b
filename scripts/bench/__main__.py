"""Prints each budget beside its measured figure; fails on none. Writes docs/benchmarks.md."""

import os
import platform
import tempfile

from brought import rays
from desk import browser
from measure import LINES, ROOT, refer_to_copy

from core import assembling, command_line, core, curves, noting, rigs
from server import server


def main() -> None:
    """Measure all, then write the page."""
    os.environ["MELLOW_VAR"] = tempfile.mkdtemp()
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "mellow.settings")
    import django

    django.setup()
    for part in (command_line, core, curves, rigs, assembling, noting, rays, server):
        refer_to_copy()
        part()
    browser()
    rows = "\n".join(f"| {' | '.join(line)} |" for line in LINES)
    cores = os.cpu_count()
    (ROOT / "docs/benchmarks.md").write_text(
        "# Benchmarks\n\nThe last output of `make bench`: "
        f"{cores} cores, {platform.machine()}, Python {platform.python_version()}, drawing in software.\n\n"
        "A time is also told in references measured beside it: what is computed in copies of 100 MB by numpy, what is drawn "
        "in empty pictures of 640 × 360. Budgets are meant for a machine on which the copy takes 25 ms; where it takes "
        "longer, so may they.\n\n"
        f"| what | budget | measured | in references | | limited by |\n| --- | --- | --- | --- | --- | --- |\n{rows}\n"
    )


if __name__ == "__main__":
    main()
