"""The cut as a list of shots: camera, lens, ranges, length, and the move in words."""

import csv
import io
from dataclasses import asdict, dataclass, fields
from typing import Any

import numpy as np

from heron.bake import Bake, Samples
from heron.cut import Clocks
from heron.lines.timing import said_over
from heron.notes.speaking import said_of_cut, said_of_shots
from heron.rigs.describe import sentence
from heron.scene import Camera, Scene, find
from heron.scene.document import spot_called
from heron.timebase import Frames, parse_rate

#: Less than this is not a move: metres, degrees and the ratio of focal lengths.
_LEAST_M, _LEAST_DEG, _LEAST_ZOOM = 0.05, 0.5, 1.02


@dataclass(frozen=True)
class ShotLine:
    """One shot of the cut.

    Attributes:
        timecode: of its first frame.
        seconds: its length, to a thousandth.
        lines: what is said meanwhile, and by whom.
        frame_notes: what a careful eye says of its frames and of the cut to it.
    """

    shot: str
    camera: str
    sees: str
    lens: str
    timecode: str
    first: int
    last: int
    frames: int
    seconds: float
    move: str
    note: str
    lines: str
    frame_notes: str


def shot_list(scene: Scene, notes: bool = False) -> list[ShotLine]:
    """Every shot in cut order.

    Args:
        notes: with what a careful eye says of each.
    """
    clocks, bake, fps = Clocks(scene), Bake(scene), float(parse_rate(scene.rate))
    noted = _noted(bake) if notes else {}
    out = []
    for placed in clocks.placed:
        shot = placed.shot
        camera: Camera | None = find(scene, "cameras", shot.camera) if shot.camera else None
        lens, move = _seen(scene, bake, camera, shot.stage) if camera else ("", "")
        out.append(
            ShotLine(
                shot=shot.name,
                camera=camera.letter if camera else "",
                sees=camera.name if camera else "Slate",
                lens=lens,
                timecode=clocks.timecode(placed.cut_first),
                first=shot.stage.first,
                last=shot.stage.last,
                frames=shot.stage.count,
                seconds=round(shot.stage.count / fps, 3),
                move=move,
                note=shot.note,
                lines=" / ".join(said_over(scene, shot.stage)) if camera else "",
                frame_notes=" ".join(noted.get(shot.id, ())),
            )
        )
    return out


def _noted(bake: Bake) -> dict[str, list[str]]:
    """Sentences by shot: of the cut to it first, then of its frames, the heaviest first."""
    found: dict[str, list[str]] = {}
    for note in said_of_cut(bake):
        found.setdefault(note.of[:2][-1], []).append(note.sentence)
    for placed, notes in said_of_shots(bake):
        found.setdefault(placed.shot.id, []).extend(note.sentence for note in notes)
    return found


def _seen(scene: Scene, bake: Bake, camera: Camera, stage: Frames) -> tuple[str, str]:
    """The lens of a camera over some frames, and its move, in words."""
    samples = bake.samples(camera, stage)
    focal = samples.column("focal_mm")
    lens = f"{focal[0]:.3g} mm" if _same(focal) else f"{focal[0]:.3g} to {focal[-1]:.3g} mm"
    return lens, moved(scene, camera, samples)


def moved(scene: Scene, camera: Camera, samples: Samples) -> str:
    """What a camera does over some frames, in the words of the trade: what carries it, and how it goes from first to last."""
    carried = [one for one in camera.layers if not one.off]
    told = sentence(tuple(carried), lambda spot: spot_called(scene, spot)) if carried else ""
    went = ", ".join(_went(samples))
    if told and went:
        return f"{told}; {went}"
    return told or (went[:1].upper() + went[1:]) or "Still"


def _went(samples: Samples) -> list[str]:
    first, last = samples.values[0], samples.values[-1]
    by = last[:6] - first[:6]
    pan = np.radians(first[3])
    # As seen from where it stood: ahead along the floor, to its right, and up.
    ahead, right = -by[0] * np.sin(pan) - by[2] * np.cos(pan), by[0] * np.cos(pan) - by[2] * np.sin(pan)
    said = [
        _word(ahead, _LEAST_M, "pushes in {:.2g} m", "pulls back {:.2g} m"),
        _word(right, _LEAST_M, "trucks {:.2g} m to the right", "trucks {:.2g} m to the left"),
        _word(by[1], _LEAST_M, "booms up {:.2g} m", "booms down {:.2g} m"),
        _word(by[3], _LEAST_DEG, "pans {:.3g}° to the left", "pans {:.3g}° to the right"),
        _word(by[4], _LEAST_DEG, "tilts up {:.2g}°", "tilts down {:.2g}°"),
        _word(by[5], _LEAST_DEG, "rolls {:.2g}° counter-clockwise", "rolls {:.2g}° clockwise"),
    ]
    focal = samples.column("focal_mm")
    if not _same(focal):
        said.append("zooms in" if focal[-1] > focal[0] else "zooms out")
    return [one for one in said if one]


def _word(by: float, least: float, more: str, less: str) -> str:
    return "" if abs(by) < least else (more if by > 0 else less).format(abs(by))


def _same(focal: "np.ndarray[tuple[int, ...], np.dtype[np.float64]]") -> bool:
    return float(focal.max() / focal.min()) < _LEAST_ZOOM


def as_csv(lines: list[ShotLine]) -> str:
    """The list as CSV (RFC 4180), with a line of headings."""
    out = io.StringIO()
    writer = csv.DictWriter(out, [one.name for one in fields(ShotLine)])
    writer.writeheader()
    writer.writerows({name: _cell(value) for name, value in asdict(line).items()} for line in lines)
    return out.getvalue()


def _cell(value: Any) -> Any:
    """A text that a spreadsheet would take for a formula, marked as text (common practice: OWASP, CSV injection)."""
    if isinstance(value, str) and value[:1] in ("=", "+", "-", "@", "\t", "\r"):
        return f"'{value}"
    return value
