"""Drawing frames: headless Chromium on the page that draws, which claims them, draws them and sends them in."""

import logging
import os
import shutil
import threading
from pathlib import Path
from typing import Any

from playwright.sync_api import Browser, Error, Playwright, sync_playwright

from mellow.dailies import desk, queue, tasks

log = logging.getLogger(__name__)
_NAMES = ("chromium", "chromium-browser")
_PLACES = (
    "/usr/bin/chromium",
    "/usr/lib/chromium/chromium",
    "/snap/bin/chromium",
    "/Applications/Chromium.app/Contents/MacOS/Chromium",
)
#: Drawn in software where there is no graphics card, and no connection but to the desk.
FLAGS = [
    "--use-angle=swiftshader", "--enable-unsafe-swiftshader", "--no-sandbox", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync", "--disable-gpu-rasterization",
]  # fmt: skip
NONE = "No Chromium is installed where pictures are drawn."
REMEDY = "Install it (on Debian: apt install chromium) and carry on, or draw in this tab."
#: A browser that ends is opened again, so often in a row.
_OPENINGS = 3
_here = threading.local()
#: How long the page may take to be there.
_OPEN_MS = 90_000
_WORK = """async ([take, by, most]) => {
  for (const begun = performance.now(); !window.heronWork; await new Promise((go) => setTimeout(go, 50))) {
    if (window.heronProblem) throw new Error(window.heronProblem);
    if (performance.now() - begun > most) throw new Error("The page that draws did not open.");
  }
  await window.heronWork(take, by);
}"""


def chromium() -> str | None:
    """Where Chromium is, if it is in one of the usual places or MELLOW_CHROMIUM says so."""
    named = os.environ.get("MELLOW_CHROMIUM")
    if named is not None:
        return named if Path(named).exists() else None
    for name in _NAMES:
        if found := shutil.which(name):
            return found
    return next((place for place in _PLACES if Path(place).exists()), None)


def draw_take(take: int, frozen: int, wide: int, high: int) -> None:
    """Draw until a take needs nothing more from here."""
    if chromium() is None:
        _say(take, f"{NONE} {REMEDY}")
        return
    try:
        workers = desk.ask("GET", "workers")
    except OSError:
        workers = []
    if sum(one["draws"] for one in workers) > 1 and getattr(_here, "told", None) != take:
        # Whoever else is free comes too, and brings the next.
        _here.told = take
        queue.put(tasks.draw, take, frozen, wide, high)
    for opening in range(_OPENINGS):
        try:
            page = _browser().new_page(viewport={"width": 320, "height": 180})
            try:
                page.goto(f"{desk.address()}/draw/{frozen}?wide={wide}&high={high}")
                page.evaluate(_WORK, [take, desk.worker_name(), _OPEN_MS])
                return
            finally:
                page.close()
        except Error as error:
            close()
            log.warning("The browser stopped while it drew take %s: %s", take, error)
            if opening == _OPENINGS - 1:
                why = str(error).splitlines()[0][:200].rstrip(". ")
                _say(take, f"The browser that draws stopped: {why}. Carry on to try again.")


def close() -> None:
    """Close this thread's browser, if it has one."""
    browser: Browser | None = getattr(_here, "browser", None)
    playwright: Playwright | None = getattr(_here, "playwright", None)
    _here.browser = _here.playwright = None
    for one in (browser and browser.close, playwright and playwright.stop):
        try:
            if one:
                one()
        except Exception:  # It may have ended already, in any of several ways.
            log.debug("The browser had ended", exc_info=True)


def _browser() -> Any:
    if getattr(_here, "browser", None) is None:
        _here.playwright = sync_playwright().start()
        _here.browser = _here.playwright.chromium.launch(executable_path=chromium(), args=FLAGS)
    return _here.browser


def _say(take: int, reason: str) -> None:
    try:
        desk.ask("POST", f"takes/{take}/trouble", {"reason": reason})
    except OSError:
        log.warning("The desk does not answer at %s", desk.address())
