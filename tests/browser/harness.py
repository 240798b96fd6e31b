"""A real server on a fresh database, and headless Chromium in front of it."""

import json
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path

from heron.demo import slack_tide
from heron.scene import write_scene

ROOT = Path(__file__).parents[2]
#: Software drawing, and no connection but to this machine.
FLAGS = [
    "--use-angle=swiftshader", "--enable-unsafe-swiftshader", "--no-sandbox", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
    # Without a graphics card the page's own painting is quicker on the processor than through emulated drawing.
    "--disable-gpu-rasterization",
    # A microphone that beeps once a second, and no question whether it may be used.
    "--use-fake-device-for-media-stream", "--use-fake-ui-for-media-stream",
]  # fmt: skip


#: Counts what the page has asked for and not been answered, so that a test can wait for the answers.
COUNT_ASKED = """
  const ask = window.fetch.bind(window);
  window.asked = 0;
  window.fetch = (...what) => {
    window.asked += 1;
    return ask(...what).finally(() => { window.asked -= 1; });
  };
"""
#: Drawn once with a quarter of the pixels, and no pictures on the shots: drawing in software is most of the time tests take.
DRAFT = """
  localStorage.getItem("heron-looks") ?? localStorage.setItem("heron-looks", '{"refine":false,"stills":false}');
  Object.defineProperty(window, "devicePixelRatio", { value: 0.5 });
"""
#: Nothing is asked for or being saved, over two paintings of the page, so that what came is also drawn.
QUIET = """() => new Promise((done, failed) => {
  const ends = performance.now() + 60000;
  let calm = 0;
  const look = () => {
    if (performance.now() > ends) failed(new Error(`${window.asked} answers are still waited for`));
    calm = window.asked === 0 && document.documentElement.dataset.kept !== "false" ? calm + 1 : 0;
    if (calm > 2) done();
    else requestAnimationFrame(look);
  };
  look();
})"""

#: Which frames a clock shows until it has gone back from the last to the first, looked at from inside the page, where nothing waits for a picture to be drawn.
ROUND = """where => new Promise((done, failed) => {
  const ends = performance.now() + 60000;
  const clock = document.querySelector(where), seen = [];
  const look = () => {
    const now = Number(clock.value ?? clock.innerText.match(/frame (\\d+)/)[1]), last = seen[seen.length - 1];
    if (performance.now() > ends) failed(new Error(`it did not go round: ${seen}`));
    if (now !== last) seen.push(now);
    if (now < last && seen.length > 2) done(seen);
    else requestAnimationFrame(look);
  };
  look();
})"""


def _free(port):
    with socket.socket() as probe:
        return probe.connect_ex(("127.0.0.1", port)) != 0


class Server:
    """The demo's own server, as `make demo` starts it."""

    def __init__(self, var, *flags, **env):
        # Below the ports that connections are given, so that a restart finds its own port free again.
        port = next(n for n in range(18_100 + os.getpid() % 1000, 32_000, 23) if _free(n))
        self.url = f"http://127.0.0.1:{port}"
        self.command = [sys.executable, "manage.py", "demo", "--port", str(port), "--without-files", *flags]
        self.env = {**os.environ, "MELLOW_VAR": str(var), **env}
        self.start()

    def start(self):
        self.process = subprocess.Popen(
            self.command, cwd=ROOT, env=self.env, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
        )
        for _ in range(300):
            try:
                return self.call("GET", "/api/scenes")
            except OSError:
                time.sleep(0.1)
        raise RuntimeError("the server did not start")

    def kill(self):
        self.process.send_signal(signal.SIGKILL)
        self.process.wait()

    def call(self, method, path, body=None):
        data = body if isinstance(body, bytes) else json.dumps(body).encode() if body is not None else None
        request = urllib.request.Request(
            self.url + path, data, {"Content-Type": "application/json"}, method=method
        )
        with urllib.request.urlopen(request, timeout=20) as answer:
            return json.loads(answer.read())

    def new_demo(self):
        return self.call("POST", "/api/scenes/import", write_scene(slack_tide()).encode())["id"]

    def scene(self, scene_id):
        return self.call("GET", f"/api/scenes/{scene_id}")["scene"]


class Desk:
    """The desk as a person has it: a page, a mouse, a keyboard."""

    def __init__(self, server, page, scene_id):
        self.server, self.page, self.id = server, page, scene_id

    def open(self, query=""):
        self.page.goto(f"{self.server.url}/scene/{self.id}{query}")
        self.page.wait_for_selector("canvas[data-ready]", timeout=240_000)
        return self

    def scene(self):
        self.kept()
        return self.server.scene(self.id)

    def show_stills(self):
        """Pictures on the shots, which are left out here otherwise."""
        self.page.keyboard.press("c")
        self.page.get_by_role("button", name="Guides", exact=True).click()
        self.page.get_by_label("Pictures on the shots").check()
        self.page.keyboard.press("Escape")

    def kept(self):
        """Once what was done is stored, and all that was asked for has come and is drawn."""
        self.page.evaluate(QUIET)

    def refined(self, drawings):
        """Once the picture as it is now has been drawn so many times over at rest."""
        self.kept()
        self.page.wait_for_function(
            "least => Number(document.querySelector('canvas[data-ready]').dataset.drawings) >= least",
            arg=drawings,
            timeout=240_000,
        )

    def until(self, so, most=60):
        """Once something is so that only a look from outside can tell."""
        ends = time.monotonic() + most
        while not so():
            assert time.monotonic() < ends, "it did not come"
            self.page.wait_for_timeout(30)

    def frames_until_round(self):
        """The stage frames that are shown while it plays, until it has gone back from its last to its first."""
        return self.page.evaluate(ROUND, '[aria-label="Stage frame"]')

    def wheel(self, by):
        """Turn the wheel over the picture of a camera, which is moved once the wheel rests."""
        with self.page.expect_response("**/commands"):
            self.page.mouse.wheel(0, by)
        self.kept()

    def clock(self, name="Stage"):
        return self.page.get_by_label(f"{name} frame").input_value()

    def go(self, frame):
        box = self.page.get_by_label("Stage frame")
        box.fill(str(frame))
        box.press("Enter")

    def centre(self, selector):
        box = self.page.locator(selector).first.bounding_box()
        return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2

    def steady(self, locator):
        """Its box once it stays where it is: a card may still be filling above it."""
        locator.scroll_into_view_if_needed()
        was = None
        while (box := locator.bounding_box()) != was:
            was = box
            self.kept()
        return box

    def drag(self, start, by, steps=6, button="left"):
        mouse = self.page.mouse
        mouse.move(*start)
        mouse.down(button=button)
        for i in range(1, steps + 1):
            mouse.move(start[0] + by[0] * i / steps, start[1] + by[1] * i / steps)
            self.page.wait_for_timeout(30)
        mouse.up(button=button)
        self.kept()

    def name_camera(self, name):
        """Name the camera that was just made, in place on its card."""
        self.kept()
        self.page.locator("input[data-name][value^='View ']").wait_for()
        self.page.keyboard.press("F2")
        self.page.keyboard.type(name)
        self.page.keyboard.press("Enter")
        self.kept()

    def field(self, label):
        return self.page.get_by_label(label, exact=True)

    def type(self, label, value):
        self.field(label).fill(str(value))
        self.field(label).press("Enter")
        self.kept()


def new_page(chromium, refine=False):
    """A window of the usual size. Refining pictures at rest would keep both cores busy all the time."""
    context = chromium.new_context(viewport={"width": 1280, "height": 800}, accept_downloads=True)
    context.set_default_timeout(90_000)
    context.add_init_script(COUNT_ASKED)
    if not refine:
        context.add_init_script(DRAFT)
    return context.new_page()


def unreached(server):
    try:
        server.call("GET", "/api/scenes")
    except (urllib.error.URLError, OSError):
        return True
    return False
