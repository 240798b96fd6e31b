"""Sound at the desk: brought in, moved, trimmed, and heard in step with the picture."""

import numpy as np
import pytest
from scipy.io import wavfile

#: Notes when each buffer begins to sound, in milliseconds of the page, and where in it the first loud sample lies.
LISTEN = """
  window.starts = [];
  const start = AudioBufferSourceNode.prototype.start;
  AudioBufferSourceNode.prototype.start = function (when = 0, offset = 0, ...rest) {
    const data = this.buffer.getChannelData(0), at = data.findIndex((v) => Math.abs(v) > 0.3);
    const { currentTime, outputLatency } = this.context;
    const begins = performance.now() + (when - currentTime + (outputLatency || 0)) * 1000;
    window.starts.push({ loud: at < 0 ? null : begins + (at / 48000 - offset) * 1000 });
    return start.call(this, when, offset, ...rest);
  };
  window.addEventListener("keydown", (e) => { if (e.key === " ") window.pressed = performance.now(); }, true);
"""


@pytest.fixture
def clap(desk, tmp_path):
    """Two seconds with a click one second in, brought in on the stage at its first frame."""
    data = np.zeros(96_000)
    data[48_000:48_480] = 0.8
    path = tmp_path / "clap.wav"
    wavfile.write(path, 48_000, (data * 32_767).astype("<i2"))
    page = desk.page
    page.evaluate(LISTEN)
    page.keyboard.press("Shift+T")
    page.get_by_label("Bring in a sound").set_input_files(path)
    page.locator("[data-sound]").wait_for()
    desk.file = path
    return desk


def test_a_sound_is_moved_trimmed_and_turned_down(clap):
    page = clap.page
    (sound,) = clap.scene()["sounds"]
    assert (sound["name"], sound["on"], sound["first"], sound["frames"]) == ("clap", "stage", 1001, 48)
    block = page.locator("[data-sound]")
    per_frame = block.bounding_box()["width"] / 48
    box = block.bounding_box()
    page.keyboard.down("Control")
    clap.drag((box["x"] + 20, box["y"] + 6), (30 * per_frame, 0))
    page.keyboard.up("Control")
    clap.until(lambda: clap.scene()["sounds"][0]["first"] == 1031)
    box = page.locator("[data-sound-end='last']").bounding_box()
    page.keyboard.down("Control")
    clap.drag((box["x"] + 2, box["y"] + 6), (-12 * per_frame, 0))
    page.keyboard.up("Control")
    clap.until(lambda: clap.scene()["sounds"][0]["frames"] == 36)
    block.get_by_role("button", name="Sound clap, 1031 to 1066 of the stage").press("ArrowLeft")
    clap.until(lambda: clap.scene()["sounds"][0]["first"] == 1030)
    block.hover()
    page.get_by_label("More of the sound clap").click()
    clap.type("Level", -12)
    clap.type("Fade out", 6)
    (sound,) = clap.scene()["sounds"]
    assert (sound["gain_db"], sound["fade_out"]) == (-12, 6)
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")
    clap.until(lambda: clap.scene()["sounds"][0]["fade_out"] == 0)


def test_a_sound_is_slipped_faded_and_looped(clap):
    page = clap.page
    block = page.locator("[data-sound]")
    box = block.bounding_box()
    per_frame = box["width"] / 48
    page.keyboard.down("Shift")
    clap.drag((box["x"] + 20, box["y"] + 9), (-6 * per_frame, 0))
    page.keyboard.up("Shift")
    # Six frames of 2,000 samples are left out at its start.
    clap.until(lambda: clap.scene()["sounds"][0]["slip"] == 12_000)
    block.hover()
    x, y = clap.centre("[data-sound-fade='fade_out']")
    clap.drag((x, y), (-8 * per_frame, 0))
    clap.until(lambda: clap.scene()["sounds"][0]["fade_out"] == 8)
    block.hover()
    page.get_by_label("More of the sound clap").click()
    page.get_by_label("loop it").click()
    clap.until(lambda: clap.scene()["sounds"][0]["loop"])


def test_a_lane_is_muted_and_heard_alone(clap):
    page = clap.page
    page.keyboard.press("Home")
    asks = lambda with_, without: lambda r: "/heard" in r.url and with_ in r.url and without not in r.url  # noqa: E731
    page.get_by_label("Mute Effects").click()
    with page.expect_request(asks("lanes=music", "lanes=effects")):
        page.keyboard.press(" ")
    page.get_by_label("Mute Effects").click()
    with page.expect_request(asks("lanes=effects", "lanes=music")):
        page.get_by_label("Solo Effects").click()
    page.keyboard.press(" ")


def test_what_plays_is_heard_in_step_and_can_be_silenced(clap):
    page = clap.page
    page.keyboard.press("Home")
    page.keyboard.press(" ")
    page.wait_for_function("() => window.starts.some((one) => one.loud !== null)")
    loud, pressed = page.evaluate("[window.starts.find((one) => one.loud !== null).loud, window.pressed]")
    page.keyboard.press(" ")
    # The click is frame 1025, a second after the first: heard within a frame of when that is due.
    assert abs(loud - pressed - 1000) < 1000 / 24, loud - pressed
    # Once heard, a frame that is stepped to sounds.
    count = page.evaluate("window.starts.length")
    page.keyboard.press("ArrowRight")
    page.wait_for_function("n => window.starts.length > n", arg=count)
    page.keyboard.press("Alt+m")
    page.get_by_role("button", name="Sound on").wait_for()


def test_a_loop_is_heard_each_time_round(clap):
    page = clap.page
    clap.go(1015)
    page.keyboard.press("Shift+Home")
    clap.go(1038)
    page.keyboard.press("Shift+End")
    clap.go(1015)
    page.keyboard.press(" ")
    page.wait_for_function("() => window.starts.filter((one) => one.loud !== null).length > 1")
    page.keyboard.press(" ")
    first, second = page.evaluate(
        "window.starts.map((one) => one.loud).filter((at) => at !== null).slice(0, 2)"
    )
    # 24 frames, a second, from one click to the next.
    assert abs(second - first - 1000) < 1000 / 24, (first, second)


@pytest.mark.parametrize(
    ("begin", "slow", "key", "due"),
    [
        # The click is frame 1025, at half speed two seconds after 1001; backwards from 1048, the end of its frame comes
        # 24 frames after the end of that.
        (1001, 1, " ", 2000),
        (1048, 0, "Shift+ ", 1000 - 10),
    ],
)
def test_slower_and_backwards_it_is_heard_in_step(clap, begin, slow, key, due):
    page = clap.page
    clap.go(begin)
    for _ in range(slow):
        page.keyboard.press("r")
    page.keyboard.press(key)
    page.wait_for_function("() => window.starts.some((one) => one.loud !== null)")
    loud, pressed = page.evaluate("[window.starts.find((one) => one.loud !== null).loud, window.pressed]")
    page.keyboard.press(" ")
    assert abs(loud - pressed - due) < 2 * 1000 / 24, loud - pressed


def test_the_sounds_cut_is_dragged_apart_from_the_pictures(clap):
    page = clap.page
    lead = lambda: clap.scene()["shots"][1]["sound_lead"]  # noqa: E731
    joint = page.locator("[data-sound-joint]").first
    bar = page.locator("[data-shot-sound]").first
    shot = clap.scene()["shots"][0]["stage"]
    per_frame = (bar.bounding_box()["width"] + 1) / (shot["last"] - shot["first"] + 1)
    box = joint.bounding_box()
    page.keyboard.down("Alt")
    clap.drag((box["x"] + box["width"] / 2, box["y"] + 8), (-9 * per_frame, 0))
    page.keyboard.up("Alt")
    clap.until(lambda: lead() == 9)
    page.locator("[data-joint]").first.focus()
    page.keyboard.press(".")
    clap.until(lambda: lead() == 8)
    page.get_by_text("leads 8 f").wait_for()
    # The picture alone is rolled by Shift: the sound's cut stays.
    box = page.locator("[data-joint]").first.bounding_box()
    page.keyboard.down("Shift")
    page.keyboard.down("Alt")
    clap.drag((box["x"] + box["width"] / 2, box["y"] + box["height"] / 2), (-4 * per_frame, 0))
    page.keyboard.up("Alt")
    page.keyboard.up("Shift")
    clap.until(lambda: lead() == 4)


def test_the_sound_of_a_line_gives_it_its_length(clap):
    page = clap.page
    field = page.get_by_role("textbox", name="New line")
    field.fill("You've missed the tide.")
    field.press("Enter")
    page.locator("[data-row]").wait_for()
    page.locator("[data-line] button").click()
    page.get_by_label("Bring in a sound").set_input_files(clap.file)
    # Two seconds at 24 frames.
    page.locator("[data-row]").get_by_text("2.0 s").wait_for()
    line, sounds = clap.scene()["lines"][0], clap.scene()["sounds"]
    assert [one["line"] for one in sounds] == [None, line["id"]]


def test_what_is_no_sound_is_said_and_nothing_is_laid(clap, tmp_path):
    path = tmp_path / "notes.wav"
    path.write_text("text")
    clap.page.get_by_label("Bring in a sound").set_input_files(path)
    clap.page.get_by_text("notes.wav is not a sound file that can be read.").first.wait_for()
    assert len(clap.scene()["sounds"]) == 1


def test_a_line_is_recorded_over_the_picture_and_its_tries_are_kept(desk):
    page = desk.page
    page.keyboard.press("Shift+T")
    desk.go(1020)
    field = page.get_by_role("textbox", name="New line")
    field.fill("Bram!")
    field.press("Enter")
    page.locator("[data-row]").wait_for()
    sounds = lambda: desk.scene()["sounds"]  # noqa: E731
    for n, name in enumerate(("Odile", "Odile 2"), 1):
        page.get_by_role("button", name="Record “Bram!” by microphone").click()
        # It counts, then has the words said; the microphone beeps once a second.
        page.get_by_test_id("voice-recording").get_by_role("status").wait_for()
        page.get_by_test_id("voice-recording").get_by_role("status").wait_for(state="detached")
        page.wait_for_function(
            "() => Number(document.querySelector('[aria-label=\"Stage frame\"]').value) > 1055"
        )
        page.keyboard.press(" ")
        desk.until(lambda n=n, name=name: [(s["name"], len(s["tries"]) + 1) for s in sounds()] == [(name, n)])
    (sound,) = sounds()
    assert sound["line"] == desk.scene()["lines"][0]["id"] and sound["samples"] > sound["slip"] > 0
    # Nineteen frames lie before it on the stage: the rest of the count of three is over a still picture.
    assert sound["slip"] == pytest.approx(3 * 48_000, rel=0.25)
    page.get_by_label("Try of “Bram!”").select_option("Odile")
    desk.until(lambda: sounds()[0]["name"] == "Odile")
    page.get_by_label("Try of “Bram!”").select_option("drop")
    desk.until(lambda: [(s["name"], s["tries"]) for s in sounds()] == [("Odile 2", [])])
    # Escape lets go of one.
    page.get_by_role("button", name="Record “Bram!” by microphone").click()
    page.get_by_test_id("voice-recording").wait_for()
    page.keyboard.press("Escape")
    page.get_by_test_id("voice-recording").wait_for(state="detached")
    assert len(sounds()[0]["tries"]) == 0
