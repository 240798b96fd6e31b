"""Prints each budget beside its measured figure; fails on none. Writes docs/benchmarks.md."""

import os
import platform
import tempfile

from desk import browser
from measure import LINES, ROOT

from core import command_line, core, curves, rigs
from server import server


def main() -> None:
    """Measure all, then write the page."""
    os.environ["MELLOW_VAR"] = tempfile.mkdtemp()
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "mellow.settings")
    import django

    django.setup()
    command_line()
    core()
    curves()
    rigs()
    server()
    browser()
    rows = "\n".join(f"| {' | '.join(line)} |" for line in LINES)
    cores = os.cpu_count()
    (ROOT / "docs/benchmarks.md").write_text(
        "# Benchmarks\n\nThe last output of `make bench`: "
        f"{cores} cores, {platform.machine()}, Python {platform.python_version()}, drawing in software.\n\n"
        f"| what | budget | measured | |\n| --- | --- | --- | --- |\n{rows}\n"
    )


if __name__ == "__main__":
    main()
