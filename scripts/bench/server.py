"""The server: edits, previews, many people, large files."""

import statistics
import threading
import time
import urllib.request
from typing import Any

import numpy as np
from measure import milliseconds, p95, say
from scenes import empty_handed, large_scene, many_keys, thousand_shots


def server() -> None:
    """Answers of the API, over rows in SQLite on disk."""
    from django.core.management import call_command
    from django.test import Client

    from heron.demo import slack_tide
    from mellow.productions import rows
    from mellow.productions.api.scenes import production

    call_command("migrate", verbosity=0)
    client = Client(headers={"host": "127.0.0.1"})
    seen: dict[int, int] = {}

    def post(path: str, body: object) -> Any:
        answer = client.post(path, body, content_type="application/json")
        assert answer.status_code == 200, answer.content
        return answer.json()

    def do(pk: int, look: list[str], **command: Any) -> None:
        body = {"seen": seen.get(pk, 0), "command": command, "look": look}
        seen[pk] = post(f"/api/scenes/{pk}/commands", body)["revision"]

    pk = rows.create(production(), many_keys()).pk
    place = iter(range(1, 10_000))

    def move() -> None:
        by = 1 if next(place) % 2 else -1
        at = 1001 + 24 * 50 + (0 if by == 1 else 1)
        do(pk, ["c7"], kind="keys.move", keys=[{"thing": "c7", "frame": at, "channel": "all"}], by=by)

    many = rows.create(production(), thousand_shots()).pk
    back_and_forth = iter(range(1, 10_000))

    def trim() -> None:
        by = 3 if next(back_and_forth) % 2 else -3
        do(many, ["scene:cut"], kind="cut.edit", do={"edit": "trim_in", "shots": ["s500"], "by": by})

    def try_trim() -> None:
        edit = {"edit": "trim_in", "shots": ["s500"], "by": next(back_and_forth) % 20 + 1}
        frames = {"first": 1100, "last": 1100}
        post(f"/api/scenes/{many}/preview", {"command": {"kind": "cut.edit", "do": edit}, "frames": frames})

    say("an edit of a cut of 1,000 shots, p95, with the cut", 60, p95(milliseconds(trim, 30)))
    say("preview during a trim there", 33, statistics.median(milliseconds(try_trim, 30)))
    say(
        "one key moved among 100 cameras × 100 keys on each channel, 2,400 frames, p95, with its samples",
        50,
        p95(milliseconds(move, 60)),
    )
    key = {"thing": "c7", "channel": "x", "frame": 1001, "value": 1.5}
    body = {
        "seen": seen[pk],
        "command": {"kind": "keys.set", "keys": [key]},
        "look": ["c7"],
        "curves": ["c7"],
    }
    answer = client.post(f"/api/scenes/{pk}/commands", body, content_type="application/json")
    say("the answer to one key set there, with its curves", 60, len(answer.content) / 1000, "kB")
    seen[pk] = answer.json()["revision"]
    put = {"kind": "thing.put", "thing": "c7", "frame": 1100, "keep": "key", "x": 0.5}

    def tried(command: object, first: int, last: int, there: int = pk) -> float:
        body = {"command": command, "frames": {"first": first, "last": last}}
        return statistics.median(milliseconds(lambda: post(f"/api/scenes/{there}/preview", body), 40))

    demo = rows.create(production(), slack_tide()).pk
    say("preview during a drag: a camera's frame, in that scene", 15, tried(put, 1100, 1100))
    say("preview during a drag: a camera over 200 frames", 25, tried(put, 1100, 1299))
    x = iter(np.linspace(0, 1, 10_000))

    def dragged(there: int) -> float:
        put = {"kind": "thing.put", "thing": "fig-odile", "frame": 1100, "keep": "path"}
        frames = {"first": 1100, "last": 1100}
        body = lambda: {"command": {**put, "x": next(x)}, "frames": frames}  # noqa: E731
        return statistics.median(milliseconds(lambda: post(f"/api/scenes/{there}/preview", body()), 80))

    limit = "the acts after the changed one, and all that watches the figure"
    apart = rows.create(production(), empty_handed(slack_tide())).pk
    say(
        "preview during a drag: a figure's frame (each new), two who look at each other", 30, dragged(apart),
        limit=limit,
    )  # fmt: skip
    say(
        "preview during a drag: a figure's frame, one more who takes a thing from it", 45, dragged(demo),
        limit=limit,
    )  # fmt: skip

    from heron.scene import Scene

    base = slack_tide()
    pieces = [
        {**base.pieces[5].model_dump(), "id": f"p{i}", "name": f"Pile {i}", "x": float(i % 100)}
        for i in range(5000)
    ]
    wide = rows.create(production(), Scene.model_validate({**base.model_dump(), "pieces": pieces})).pk
    ids = [p["id"] for p in pieces]
    say(
        "5,000 pieces moved in one command",
        1000,
        statistics.median(milliseconds(lambda: do(wide, [], kind="things.move", ids=ids, dx=0.01), 3)),
    )
    big = rows.create(production(), large_scene()).pk

    def opening() -> None:
        rows.forget()
        client.get(f"/api/scenes/{big}")
        client.get(f"/api/scenes/{big}/samples/scene:cut")

    say(
        "300 shots, 100 cameras, 30,000 frames: document and cut (part of opening)",
        3000,
        statistics.median(milliseconds(opening, 3)),
    )
    whole = {"of": "camera", "camera": "cam-a", "high": 540}
    say(
        "a render of 30,000 frames planned",
        1000,
        statistics.median(milliseconds(lambda: post(f"/api/scenes/{big}/takes/plan", whole), 3)),
    )


def crowd(running: Any) -> None:
    """Many people at one scene, and a large file asked for beside them, on a real server."""
    from heron.scene import write_scene

    pk = running.new_demo()
    took: list[float] = []

    def person(number: int) -> None:
        seen, letter = 0, "abcde"[number % 5]
        for turn in range(8):
            command = {"kind": "piece.set", "piece": f"set-{number + 1:02d}", "height": 1 + turn / 10}
            if turn % 2:
                command = {"kind": "things.move", "ids": [f"set-{number + 21:02d}"], "dx": 0.01}
            start = time.perf_counter()
            seen = running.call(
                "POST",
                f"/api/scenes/{pk}/commands",
                {"seen": seen, "command": command, "look": [f"cam-{letter}"]},
            )["revision"]
            took.append((time.perf_counter() - start) * 1000)

    people = [threading.Thread(target=person, args=(n,)) for n in range(20)]
    for one in people:
        one.start()
    for one in people:
        one.join()
    say(
        "20 people editing one scene at once, p95 of an edit", 400, p95(took),
        limit="edits of a scene come one after the other",
    )  # fmt: skip

    big = running.call("POST", "/api/scenes/import", write_scene(large_scene()).encode())["id"]
    waits: list[float] = []
    done = threading.Event()

    def others() -> None:
        while not done.is_set():
            start = time.perf_counter()
            running.call("GET", f"/api/scenes/{pk}/changes?since=0")
            waits.append((time.perf_counter() - start) * 1000)
            time.sleep(0.05)

    watcher = threading.Thread(target=others)
    watcher.start()
    start = time.perf_counter()
    with urllib.request.urlopen(f"{running.url}/api/scenes/{big}/export/glb", timeout=300) as answer:
        size = len(answer.read())
    spent = time.perf_counter() - start
    done.set()
    watcher.join()
    say("`.glb` of 100 cameras and 30,000 frames", 8, spent, "s", f" ({size / 1e6:.0f} MB)")
    say("others' wait meanwhile, p95", 200, p95(waits))


#: One frame on by the keyboard, and how long until its first picture has really been drawn.
