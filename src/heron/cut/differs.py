"""What differs between two cuts, shot by shot, in words."""

from bisect import bisect_left
from collections.abc import Callable, Sequence
from fractions import Fraction

from heron.scene.shot import Shot


def differences(
    one: Sequence[Shot], two: Sequence[Shot], letter: Callable[[str | None], str], fps: Fraction
) -> list[str]:
    """What the second cut has otherwise than the first; shots are the same by their ids.

    Args:
        letter: of a camera by its id.
    """
    was, now = {shot.id: shot for shot in one}, {shot.id: shot for shot in two}
    said = [f"{shot.name} is gone" for shot in one if shot.id not in now]
    kept = [shot.id for shot in two if shot.id in was]
    places = {id_: i for i, id_ in enumerate(shot.id for shot in one)}
    stayed = _longest_rising([places[id_] for id_ in kept])
    for i, shot in enumerate(two):
        if shot.id not in was:
            after = f" after {two[i - 1].name}" if i else " at the beginning"
            said.append(f"{shot.name} is new{after}: {letter(shot.camera)}, {shot.stage.count} f")
            continue
        old = was[shot.id]
        changes = _changes(old, shot, letter)
        if places[shot.id] not in stayed:
            changes.insert(0, f"stands after {two[i - 1].name}" if i else "stands first")
        if changes:
            said.append(f"{shot.name} {', '.join(changes)}")
    longer = _length(two) - _length(one)
    if longer:
        seconds = abs(longer) / float(fps)
        said.append(f"It is {abs(longer)} f ({seconds:.1f} s) {'longer' if longer > 0 else 'shorter'}")
    return said


def _changes(old: Shot, new: Shot, letter: Callable[[str | None], str]) -> list[str]:
    out = [f"is called {new.name}"] if old.name != new.name else []
    if old.camera != new.camera:
        out.append(f"is {letter(new.camera)} in place of {letter(old.camera)}")
    head, tail = new.stage.first - old.stage.first, new.stage.last - old.stage.last
    if head and head == tail:
        out.append(f"shows the action {abs(head)} f {'later' if head > 0 else 'earlier'}")
    else:
        out += [f"begins {abs(head)} f {'later' if head > 0 else 'earlier'}"] if head else []
        out += [f"ends {abs(tail)} f {'later' if tail > 0 else 'earlier'}"] if tail else []
    if old.gap_before != new.gap_before:
        out.append(f"has {new.gap_before} black frames before it, not {old.gap_before}")
    if old.dissolve != new.dissolve:
        out.append(f"dissolves in over {sum(new.dissolve)} f" if new.dissolve else "is cut to plainly")
    if old.sound_lead != (lead := new.sound_lead):
        way = "leads" if lead > 0 else "trails"
        out.append(f"{way} with its sound by {abs(lead)} f" if lead else "begins with its sound")
    for name, word in (("fade_in", "in"), ("fade_out", "out")):
        if getattr(old, name) != (frames := getattr(new, name)):
            out.append(f"fades {word} over {frames} f" if frames else f"does not fade {word}")
    return out


def _length(shots: Sequence[Shot]) -> int:
    return sum(shot.gap_before + shot.stage.count for shot in shots)


def _longest_rising(places: Sequence[int]) -> set[int]:
    """The longest run of places that rise: what is not in it has moved (patience sorting)."""
    tops: list[int] = []
    before: dict[int, int | None] = {}
    for place in places:
        i = bisect_left(tops, place)
        before[place] = tops[i - 1] if i else None
        tops[i : i + 1] = [place]
    out: set[int] = set()
    at = tops[-1] if tops else None
    while at is not None:
        out.add(at)
        at = before[at]
    return out
